import { type FormEvent, useId, useState } from "react";
import type { Classes } from "../../api/readings";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { listTyped, readNumber, typed } from "../../words/numbers";
import type { Change } from "../useAddress";
import { boundariesTyped } from "./boundariesTyped";
import { setsNoClasses } from "./useSpreadChoices";

type TypedClassesProps = { classes: Classes; unit: string; onChange: (changes: Change) => void };

/** Classes by number, by width and start, or by boundaries as typed. */
export function TypedClasses({ classes, unit, onChange }: TypedClassesProps) {
  const id = useId();
  const [count, setCount] = useState(String(classes.counts.length));
  const [width, setWidth] = useState(classes.width === null ? "" : typed(classes.width, 6));
  const [start, setStart] = useState(typed(classes.boundaries[0] ?? 0, 9));
  const byCount = (event: FormEvent) => {
    event.preventDefault();
    const number = Number(count);
    if (Number.isInteger(number) && number >= 1 && number <= 512) onChange({ ...setsNoClasses, count: number });
  };
  const byWidth = (event: FormEvent) => {
    event.preventDefault();
    const wide = readNumber(width) ?? 0;
    if (wide > 0) onChange({ ...setsNoClasses, width: wide, start: readNumber(start) });
  };
  const [edges, setEdges] = useState(classes.width === null ? listTyped(classes.boundaries) : "");
  const [wrong, setWrong] = useState("");
  const byBoundaries = (event: FormEvent) => {
    event.preventDefault();
    const read = boundariesTyped(edges);
    setWrong(typeof read === "string" ? read : "");
    if (typeof read !== "string") onChange({ ...setsNoClasses, boundaries: read.join(" ") });
  };
  return (
    <>
      <form onSubmit={byCount} className="mb-3 flex items-end gap-2">
        <Field
          label="Number of classes"
          type="number"
          min={1}
          max={512}
          value={count}
          onChange={(event) => setCount(event.target.value)}
        />
        <Button type="submit">Set</Button>
      </form>
      <form onSubmit={byWidth} className="flex items-end gap-2">
        <Field
          label={unit ? `Width (${unit})` : "Width"}
          inputMode="decimal"
          value={width}
          onChange={(event) => setWidth(event.target.value)}
        />
        <Field label="Start" inputMode="decimal" value={start} onChange={(event) => setStart(event.target.value)} />
        <Button type="submit">Set</Button>
      </form>
      <form onSubmit={byBoundaries} className="mt-3 flex items-end gap-2">
        <Field
          label="Boundaries, from the lowest to the highest"
          value={edges}
          aria-invalid={wrong !== ""}
          aria-describedby={wrong ? id : undefined}
          onChange={(event) => setEdges(event.target.value)}
        />
        <Button type="submit">Set</Button>
      </form>
      {wrong && (
        <p id={id} role="alert" className="mt-1 text-danger text-small">
          {wrong}
        </p>
      )}
    </>
  );
}
