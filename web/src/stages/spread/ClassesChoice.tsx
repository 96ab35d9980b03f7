import { useState } from "react";
import { CLASS_RULES, CLOSED_SIDES } from "../../api/choices.gen";
import type { Classes } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { Floating } from "../../ui/Floating";
import { labelsOf } from "../../values";
import type { Change } from "../useAddress";
import { classesWords, interval, ruleWords } from "./classWords";
import { KeptClasses } from "./KeptClasses";
import { TypedClasses } from "./TypedClasses";
import { type SpreadChoices, setsNoClasses } from "./useSpreadChoices";

type ClassesChoiceProps = {
  table: Table;
  variable: Variable;
  classes: Classes;
  choices: Pick<SpreadChoices, "classes" | "axis">;
  onChange: (changes: Change) => void;
};

/** Classes by a named rule, by number, or by width and start; and which side of a class is closed. */
export function ClassesChoice({ table, variable, classes, choices, onChange }: ClassesChoiceProps) {
  const [open, setOpen] = useState(false);
  const { classes: chosen, axis } = choices;
  const shown = `${classesWords(classes, variable.unit, axis)}, ${interval(classes, 0)} …`;
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
      <p className="mb-2 text-muted-ink text-small">Now: {ruleWords(classes.rule)}</p>
      <fieldset className="mb-3">
        <legend className="mb-1 font-serif text-lead">By a rule</legend>
        <Choices
          label="Rule"
          options={labelsOf(CLASS_RULES)}
          chosen={chosen.rule ?? undefined}
          onChoose={(rule) => onChange({ ...setsNoClasses, rule })}
        />
      </fieldset>
      <TypedClasses classes={classes} unit={variable.unit} onChange={onChange} />
      {!chosen.boundaries && classes.boundaries.length <= 60 && (
        <Button
          look="link"
          className="mt-1"
          onClick={() => {
            onChange({ ...setsNoClasses, boundaries: classes.boundaries.join(" ") });
            setOpen(false);
          }}
        >
          move each boundary by hand
        </Button>
      )}
      <fieldset className="mt-3">
        <legend className="mb-1 font-serif text-lead">Closed side</legend>
        <Choices
          label="Closed side"
          options={labelsOf(CLOSED_SIDES)}
          chosen={classes.closed}
          onChoose={(side) => onChange({ closed: side === "left" ? null : side })}
        />
      </fieldset>
      <KeptClasses {...{ table, variable, classes, onChange }} />
    </Floating>
  );
}
