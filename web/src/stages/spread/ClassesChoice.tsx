import { type FormEvent, useState } from "react";
import type { Classes, ClassesAsked } from "../../api/readings";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { RULE_WORDS } from "./caption";
import { type Change, setsNoClasses } from "./useSpreadChoices";

type ClassesChoiceProps = {
  classes: Classes;
  asked: ClassesAsked;
  unit: string;
  shown: string;
  rule: string;
  onChange: (changes: Change) => void;
};

const RULES = ["freedman-diaconis", "scott", "sturges", "square-root", "integers"] as const;

/** Classes by a named rule, by number, or by width and start; and which side of a class is closed. */
export function ClassesChoice({ classes, asked, unit, shown, rule, onChange }: ClassesChoiceProps) {
  const [open, setOpen] = useState(false);
  return (
    <Floating
      label="Classes"
      open={open}
      onOpenChange={setOpen}
      side="top"
      className="w-80 p-3.5"
      trigger={
        <Button look="word" aria-label={`Classes: ${shown}`} className="text-small!">
          {shown}
        </Button>
      }
    >
      <p className="mb-2 text-muted-ink text-small">Now: {rule}</p>
      <fieldset className="mb-3">
        <legend className="mb-1 font-serif text-lead">By a rule</legend>
        <div className="flex flex-wrap gap-1.5">
          {RULES.map((name) => (
            <Button
              key={name}
              aria-pressed={asked.rule === name}
              className="text-small! aria-pressed:border-accent aria-pressed:text-accent"
              onClick={() => onChange({ ...setsNoClasses, rule: name })}
            >
              {RULE_WORDS[name]}
            </Button>
          ))}
        </div>
      </fieldset>
      <TypedClasses classes={classes} unit={unit} onChange={onChange} />
      <fieldset className="mt-3">
        <legend className="mb-1 font-serif text-lead">Closed side</legend>
        <div className="flex gap-1.5">
          {(["left", "right"] as const).map((side) => (
            <Button
              key={side}
              aria-pressed={classes.closed === side}
              className="aria-pressed:border-accent aria-pressed:text-accent"
              onClick={() => onChange({ closed: side === "left" ? null : side })}
            >
              {side === "left" ? "left, [a, b)" : "right, (a, b]"}
            </Button>
          ))}
        </div>
      </fieldset>
    </Floating>
  );
}

type TypedClassesProps = Pick<ClassesChoiceProps, "classes" | "unit" | "onChange">;

function TypedClasses({ classes, unit, onChange }: TypedClassesProps) {
  const [count, setCount] = useState(String(classes.counts.length));
  const [width, setWidth] = useState(classes.width === null ? "" : String(Number(classes.width.toPrecision(6))));
  const [start, setStart] = useState(String(Number((classes.boundaries[0] ?? 0).toPrecision(9))));
  const byCount = (event: FormEvent) => {
    event.preventDefault();
    const number = Number(count);
    if (Number.isInteger(number) && number >= 1 && number <= 512) onChange({ ...setsNoClasses, count: number });
  };
  const byWidth = (event: FormEvent) => {
    event.preventDefault();
    if (Number(width) > 0)
      onChange({ ...setsNoClasses, width: Number(width), start: start === "" ? null : Number(start) });
  };
  const [edges, setEdges] = useState(classes.width === null ? classes.boundaries.join(" ") : "");
  const byBoundaries = (event: FormEvent) => {
    event.preventDefault();
    const typed = edges.split(/[\s;]+/).filter(Boolean);
    if (typed.length > 1 && typed.every((edge) => Number.isFinite(Number(edge)))) {
      onChange({ ...setsNoClasses, boundaries: typed.join(" ") });
    }
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
          label="Boundaries, ascending, parted by blanks"
          inputMode="decimal"
          value={edges}
          onChange={(event) => setEdges(event.target.value)}
        />
        <Button type="submit">Set</Button>
      </form>
    </>
  );
}
