import { type FormEvent, useState } from "react";
import { BOX_MARKS } from "../../api/choices.gen";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { readNumber, significant, typed } from "../../words/numbers";
import type { Change } from "../useAddress";
import type { BoxMark, Layer, SpreadChoices } from "./useSpreadChoices";

const reaches = () =>
  ({ "1.5": `${typed(1.5)} IQR`, "3": "3 IQR", range: "the range", percentiles: "percent points" }) as const;
type Reach = keyof ReturnType<typeof reaches>;
/** The whiskers' reach as a word of the footer. */
export function reachWords({ reach, whiskers, share }: SpreadChoices["box"]): string {
  if (whiskers === "range") return "whiskers over the range";
  if (whiskers === "percentiles") {
    const low = 100 * (share ?? 0.05);
    return `whiskers from ${significant(low, 4)} to ${significant(100 - low, 4)} %`;
  }
  return `whiskers to ${significant(reach ?? 1.5)} IQR`;
}

type BoxChoiceProps = Pick<SpreadChoices, "box" | "layers" | "rings"> & {
  marks: readonly BoxMark[];
  onChange: (changes: Change, replace?: boolean) => void;
};

/** How far the whiskers go, and what is drawn on the box besides. */
export function BoxChoice({ box, layers, rings, marks, onChange }: BoxChoiceProps) {
  const [reach, setReach] = useState(typed(box.reach ?? 1.5));
  const [share, setShare] = useState(typed(100 * (box.share ?? 0.05), 5));
  const chosen: Reach | undefined =
    box.whiskers === "range" || box.whiskers === "percentiles"
      ? box.whiskers
      : ({ "1.5": "1.5", "3": "3" } as const)[String(box.reach ?? 1.5)];
  const choose = (next: Reach) => {
    if (next === "range") onChange({ whiskers: "range", reach: null, share: null });
    else if (next === "percentiles")
      onChange({ whiskers: "percentiles", reach: null, share: (readNumber(share) ?? 5) / 100 });
    else onChange({ whiskers: null, share: null, reach: next === "1.5" ? null : Number(next) });
  };
  const set = (event: FormEvent) => {
    event.preventDefault();
    const value = readNumber(chosen === "percentiles" ? share : reach) ?? -1;
    if (chosen === "percentiles") {
      if (value > 0 && value < 50) onChange({ share: value / 100 });
    } else if (value >= 0 && value <= 100) onChange({ whiskers: null, reach: value });
  };
  const toggle = (mark: BoxMark) => {
    const next: Layer[] = withOrWithout(layers, mark, !layers.includes(mark));
    onChange({ layers: next.join(" ") }, true);
  };
  return (
    <Floating
      label="Box"
      side="top"
      className="w-80 p-3.5"
      trigger={
        <Button look="word" className="text-small!">
          {reachWords(box)}
        </Button>
      }
    >
      <p className="mb-1 font-serif text-lead">Whiskers reach</p>
      <Choices label="Whiskers reach" options={reaches()} chosen={chosen} onChoose={choose} />
      <form onSubmit={set} className="mt-2 flex items-end gap-2">
        {chosen === "percentiles" ? (
          <Field
            label="Percent left out at each end"
            inputMode="decimal"
            value={share}
            onChange={(event) => setShare(event.target.value)}
          />
        ) : (
          <Field
            label="Reach in IQRs from the quartiles"
            inputMode="decimal"
            value={reach}
            onChange={(event) => setReach(event.target.value)}
          />
        )}
        <Button type="submit">Set</Button>
      </form>
      <p className="mt-3 mb-1 font-serif text-lead">On the box</p>
      <Tick
        checked={rings}
        onChange={() => onChange({ rings: rings ? "no" : null }, true)}
        label="rows beyond the whiskers, ringed"
      />
      {marks.map((mark) => (
        <Tick key={mark} checked={layers.includes(mark)} onChange={() => toggle(mark)}>
          {BOX_MARKS[mark].label}
        </Tick>
      ))}
    </Floating>
  );
}
