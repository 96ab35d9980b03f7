import { useState } from "react";
import type { PlateDocument, PlateWords } from "../../api/plates";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { counted } from "../../words/numbers";
import type { EditOf } from "./editing";

/** What holds words that keep in step with data. */
type Worded = Pick<PlateDocument, "caption" | "alternative">;
type WordsCardProps<Document extends Worded> = {
  document: Document;
  words: Pick<PlateWords, "caption" | "alternative"> | undefined;
  edit: EditOf<Document>;
};

const WHICH = { caption: "Caption", alternative: "Alternative text" } as const;

export const wordsIn = (text: string) => text.split(/\s+/).filter(Boolean).length;

/** The caption and the alternative text: in step with the data until they are edited, then offered what changed. */
export function WordsCard<Document extends Worded>({ document, words, edit }: WordsCardProps<Document>) {
  const [which, setWhich] = useState<keyof typeof WHICH>("caption");
  const own = document[which] ?? {};
  const written = words?.[which] ?? "";
  const inStep = own.text === null || own.text === undefined;
  const text = own.text ?? written;
  const differs = !inStep && words !== undefined && own.written !== written;
  const set = (next: { text: string | null; written: string }, hand = "") =>
    edit((now) => ({ ...now, [which]: next }), hand);
  return (
    <Card
      title="Caption"
      className="min-h-[190px] flex-1"
      aside={
        <span className="text-muted-ink text-small">
          {inStep && !words
            ? "being written"
            : `${counted(wordsIn(text), "word")}, ${inStep ? "keeps in step" : "edited"}`}
        </span>
      }
      footer={
        <>
          <Choices label="Which text" options={WHICH} chosen={which} onChoose={setWhich} />
          {!inStep && !differs && (
            <Button look="link" className="text-small!" onClick={() => set({ text: null, written: "" })}>
              follow the data again
            </Button>
          )}
        </>
      }
    >
      {differs && (
        <div role="alert" className="border-line border-b bg-caution-tint px-3.5 py-2 text-small">
          <p>The data have changed since. They would now say:</p>
          <p className="my-1 font-serif text-body">{written}</p>
          <Button className="text-small!" onClick={() => set({ text: null, written: "" })}>
            Use it
          </Button>{" "}
          <Button className="text-small!" onClick={() => set({ text: own.text ?? "", written })}>
            Keep mine
          </Button>
        </div>
      )}
      <textarea
        aria-label={WHICH[which]}
        value={text}
        onChange={(event) => set({ text: event.target.value, written }, which)}
        className="min-h-24 w-full flex-1 resize-none bg-transparent px-3.5 py-2.5 font-serif text-lead leading-snug outline-offset-[-2px]"
      />
    </Card>
  );
}
