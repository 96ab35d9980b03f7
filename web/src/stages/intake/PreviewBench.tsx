import { useCallback, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { type Choices, type Job, type Preview, type Remedy, type Study, useReread, useStore } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { listIn } from "../../values";
import { titled } from "../../words/kinds";
import { counted, sizeWords } from "../../words/numbers";
import { FirstRows } from "./FirstRows";
import { Looking } from "./Looking";
import { OpenPackage } from "./OpenPackage";
import { Questions } from "./Questions";
import { Storing, useStoring } from "./Storing";
import { Understood } from "./Understood";

type PreviewBenchProps = { study: Study; first: Preview; onLeave: () => void };

const tableName = (file: string) =>
  titled(
    file
      .replace(/\.[^.]*$/, "")
      .replace(/[_-]+/g, " ")
      .trim(),
  ) || "Untitled table";

/** The file as it was understood, its questions, and its first rows as they will be read. */
export function PreviewBench({ study, first, onLeave }: PreviewBenchProps) {
  const [result, setFound] = useState(first);
  const [choices, setChoices] = useState<Choices>(first.choices);
  const [kept, setKept] = useState<string[]>([]);
  const [name, setName] = useState(tableName(first.file_name));
  const reread = useReread(first.upload_id);
  const again = study.tables.find(({ id }) => id === first.again);
  // Each answer stands on those before it, also on one that is still being read.
  const [readWith, wanted] = [useRef(first.choices), useRef(first.choices)];
  const want = (next: Choices) => {
    wanted.current = next;
    setChoices(next);
  };
  const change = (changes: Choices) => {
    const next = { ...wanted.current, ...changes };
    want(next);
    reread.mutate(next, {
      onSuccess: (read) => {
        setFound(read);
        readWith.current = next;
      },
      onError: () => want(readWith.current),
    });
  };
  const answer = (symbol: string, remedy: Remedy) => {
    const before = wanted.current;
    if (remedy.keep !== null) setKept((now) => [...now, `${symbol} ${remedy.keep}`]);
    const codes = remedy.missing_codes;
    const known = before.missing_codes ?? listIn(result.found.missing_codes?.value).map(String);
    if (codes) change({ missing_codes: [...new Set([...known, ...codes])] });
    if (remedy.parts) change({ parts: remedy.parts });
    if (remedy.totals) change({ totals: remedy.totals });
    if (remedy.kinds) change({ kinds: { ...before.kinds, ...remedy.kinds } });
    if (remedy.date_orders) change({ date_orders: { ...before.date_orders, ...remedy.date_orders } });
    if (remedy.one_spelling) change({ one_spelling: [...(before.one_spelling ?? []), ...remedy.one_spelling] });
    if (remedy.below_limits) change({ below_limits: { ...before.below_limits, ...remedy.below_limits } });
  };
  return (
    <div className="flex h-full min-h-0 flex-col gap-3.5 px-4.5 pb-3.5">
      <div className="-mb-3.5 flex min-h-[56px] flex-wrap items-center justify-between gap-x-6">
        <h1 className="text-head">
          Read <span className="text-accent">{result.file_name}</span> {again ? "again into " : "into "}
          <span className="text-accent">{again ? again.name : study.title}</span>
        </h1>
        <p className="figures text-muted-ink">
          {counted(result.n_rows, "row")}
          {!result.whole && " in the first 4 MB"} · {counted(result.variables.length, "variable")} ·{" "}
          {sizeWords(result.size)}
        </p>
      </div>
      {result.package && (result.package.study || result.package.n_tables > 1) && (
        <OpenPackage found={result} onOpened={onLeave} />
      )}
      {result.variables.length === 0 && (
        <p>
          <Button onClick={onLeave}>Cancel</Button>
        </p>
      )}
      {reread.error && (
        <Notice
          problem={titled(reread.error.message)}
          remedy={`${"remedy" in reread.error ? reread.error.remedy : ""} What was read before stays.`}
        />
      )}
      {result.variables.length > 0 && (
        <>
          <div className="grid max-h-[46%] min-h-[150px] grid-cols-[300px_minmax(0,1fr)] gap-3.5">
            <Understood found={result} choices={choices} onChange={change} />
            <Questions found={result} kept={kept} onAnswer={answer} />
          </div>
          <Card
            title="First rows as they will be read"
            className="flex-1"
            aside={
              <StoreForm
                {...{ found: result, choices, name, setName, onLeave }}
                reading={reread.isPending}
                slow={reread.job}
              />
            }
            footer={
              <span>
                {again && <strong className="font-semibold text-ink">{matchWords(result)} </strong>}
                {result.rows.length < result.n_rows
                  ? `${result.rows.length} of ${counted(result.n_rows, "row")}. `
                  : ""}
                Kept as it came, byte for byte: {result.file_name}, SHA-256 {result.sha256.slice(0, 16)}…
              </span>
            }
          >
            <FirstRows
              found={result}
              onKind={(symbol, kind) => change({ kinds: { ...choices.kinds, [symbol]: kind } })}
            />
          </Card>
        </>
      )}
    </div>
  );
}

function matchWords(result: Preview): string {
  if (!result.whole) return "How its rows match is reported when the whole file is read.";
  return result.match.join(" ");
}

type StoreFormProps = {
  found: Preview;
  choices: Choices;
  name: string;
  setName: (name: string) => void;
  onLeave: () => void;
  /** Whether it is being read once more, and so not yet known to be readable with the choices. */
  reading: boolean;
  slow: Job | undefined;
};

function StoreForm({ found, choices, name, setName, onLeave, reading, slow }: StoreFormProps) {
  const store = useStore(found.upload_id, found.again !== null);
  const navigate = useNavigate();
  const { working, said } = useStoring(
    store.data,
    useCallback(
      (stored: string) => {
        onLeave();
        navigate(`/tables/${stored}/spread`, { state: { stored } });
      },
      [onLeave, navigate],
    ),
  );
  if (working) return <Storing job={working} />;
  if (slow) return <Looking job={slow} className="w-80" />;
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        store.mutate({ name, choices });
      }}
    >
      {said && <Notice className="py-1!" problem={said} />}
      {store.error && !said && (
        <Notice
          className="py-1!"
          problem={store.error.message}
          remedy={"remedy" in store.error ? String(store.error.remedy) : ""}
        />
      )}
      {found.again === null && (
        <input
          aria-label="Name of the table"
          required
          maxLength={200}
          value={name}
          onChange={(event) => setName(event.target.value)}
          className="min-h-6 w-48 rounded-lg border border-line-strong/60 bg-surface px-2"
        />
      )}
      <Button onClick={onLeave}>Cancel</Button>
      <Button type="submit" look="primary" disabled={store.isPending || reading}>
        {found.again === null ? "Store the table" : "Read it so from here on"}
      </Button>
    </form>
  );
}
