import { type FormEvent, useState } from "react";
import type { Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { ChoiceLine } from "../../ui/ChoiceLine";
import { Choices } from "../../ui/Choices";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import type { Change } from "../useAddress";
import type { LevelShown } from "./levelOrder";
import { type CompareChoices, LINES, ORDERS, POINTS, SIDES, VIOLINS } from "./useCompareChoices";

type DrawingChoiceProps = {
  /** Each level drawn or hidden, in the order in which they stand. */
  levels: LevelShown[];
  /** How many levels the second grouping has. */
  seconds: number;
  variable: Variable;
  choices: CompareChoices;
  change: (changes: Change) => void;
  numbered: boolean;
};

const DIRECTIONS = { upright: "upright", along: "along" } as const;
const SCALES = { straight: "straight", log: "logarithmic" } as const;
const WRITTEN = { none: "not written", d0: "0", d1: "1", d2: "2", d3: "3 decimals" } as const;
const AXES = { even: "evenly apart", numbers: "on a number axis" } as const;

/** How the marks are drawn, on which axis, and in which order. */
export function DrawingChoice(props: DrawingChoiceProps) {
  const { levels, seconds, variable, choices, change, numbered } = props;
  const has = (mark: CompareChoices["marks"][number]) => choices.marks.includes(mark);
  const two = seconds === 2 || (seconds < 2 && levels.length === 2);
  const { facing, ...notFacing } = VIOLINS;
  return (
    <Floating
      label="How it is drawn"
      align="end"
      className="w-[25rem] px-3.5 py-2"
      trigger={
        <Button look="word" className="text-small!">
          how it is drawn
        </Button>
      }
    >
      <ChoiceLine name="Values">
        <Choices
          label="Direction"
          options={DIRECTIONS}
          chosen={choices.upright ? "upright" : "along"}
          onChoose={(next) => change({ upright: next === "along" ? "no" : null })}
        />
        <Choices
          label="Scale of the axis"
          options={SCALES}
          chosen={choices.log ? "log" : "straight"}
          onChoose={(next) => change({ scale: next === "log" ? "log" : null, floor: null, ceiling: null })}
        />
        <AxisEnds key={`${choices.floor} ${choices.ceiling}`} {...{ choices, change }} />
      </ChoiceLine>
      {has("points") && (
        <ChoiceLine name="Points">
          <Choices
            label="Points"
            options={POINTS}
            chosen={choices.points}
            onChoose={(next) => change({ points: next })}
          />
          {choices.points === "scattered" && (
            <label className="flex items-center gap-2 text-small">
              how far
              <input
                type="range"
                min={0}
                max={1}
                step={0.05}
                value={choices.jitter}
                aria-label="How far points are scattered"
                className="w-32 accent-[var(--accent)]"
                onChange={(event) => change({ jitter: event.target.value })}
              />
            </label>
          )}
        </ChoiceLine>
      )}
      {has("violin") && (
        <ChoiceLine name="Density">
          <Choices
            label="Density"
            options={(two ? VIOLINS : notFacing) as Record<keyof typeof VIOLINS, string>}
            chosen={choices.violin}
            onChoose={(next) => change({ violin: next === "whole" ? null : next })}
          />
        </ChoiceLine>
      )}
      {has("box") && (
        <ChoiceLine name="Boxes">
          <label className="flex min-h-6 items-center gap-1.5 text-small">
            <input
              type="checkbox"
              className="accent-[var(--accent)]"
              checked={choices.rings}
              onChange={(event) => change({ rings: event.target.checked ? null : "no" })}
            />
            rows beyond the whiskers ringed
          </label>
        </ChoiceLine>
      )}
      <ChoiceLine name="Bars">
        <Choices
          label="Sides of the bars"
          options={SIDES}
          chosen={choices.side}
          onChoose={(next) => change({ side: next === "both" ? null : next })}
        />
        <label className="flex min-h-6 items-center gap-1.5 text-small">
          <input
            type="checkbox"
            className="accent-[var(--accent)]"
            checked={choices.caps}
            onChange={(event) => change({ caps: event.target.checked ? "yes" : null })}
          />
          caps at their ends
        </label>
        {!variable.true_zero && (
          <p className="text-muted-ink text-small">
            Bodies from zero are offered only where zero means none; of {variable.label} it does not. What zero means is
            set under the variable.
          </p>
        )}
      </ChoiceLine>
      <ChoiceLine name="Numbers">
        <Choices
          label="Values as labels"
          options={WRITTEN}
          chosen={(choices.decimals === null ? "none" : `d${choices.decimals}`) as keyof typeof WRITTEN}
          onChoose={(next) => change({ values: next === "none" ? null : next.slice(1) })}
        />
      </ChoiceLine>
      {numbered && (
        <ChoiceLine name="Groups stand">
          <Choices
            label="Axis of groups"
            options={AXES}
            chosen={choices.onNumbers ? "numbers" : "even"}
            onChoose={(next) => change({ axis: next === "numbers" ? "numbers" : null, line: null })}
          />
        </ChoiceLine>
      )}
      {numbered && (
        <ChoiceLine name="Fitted line">
          <Choices
            label="Fitted line"
            options={LINES}
            chosen={choices.line}
            onChoose={(next) => change({ line: next === "none" ? null : next })}
          />
        </ChoiceLine>
      )}
      <ChoiceLine name="Order">
        <Choices
          label="Order of groups"
          options={ORDERS}
          chosen={choices.order}
          onChoose={(next) =>
            change({
              order: next === "levels" ? null : next,
              ...(next === "hand" ? { hand: levels.map(({ place }) => place).join(" ") } : {}),
            })
          }
        />
        <Levels {...{ levels, choices, change }} />
      </ChoiceLine>
    </Floating>
  );
}

function AxisEnds({ choices, change }: Pick<DrawingChoiceProps, "choices" | "change">) {
  const [from, setFrom] = useState(choices.floor === null ? "" : String(choices.floor));
  const [to, setTo] = useState(choices.ceiling === null ? "" : String(choices.ceiling));
  const set = (event: FormEvent) => {
    event.preventDefault();
    const number = (text: string) => (text.trim() && Number.isFinite(Number(text)) ? Number(text) : null);
    change({ floor: number(from), ceiling: number(to) });
  };
  return (
    <form onSubmit={set} className="flex items-end gap-2">
      <Field
        label="Axis from"
        className="w-20!"
        inputMode="decimal"
        placeholder="all"
        value={from}
        onChange={(event) => setFrom(event.target.value)}
      />
      <Field
        label="to"
        className="w-20!"
        inputMode="decimal"
        placeholder="all"
        value={to}
        onChange={(event) => setTo(event.target.value)}
      />
      <Button type="submit">Set</Button>
    </form>
  );
}

/** The levels in their order: moved one place up or down, hidden or shown. Hidden ones stay counted. */
function Levels({ levels, choices, change }: Pick<DrawingChoiceProps, "levels" | "choices" | "change">) {
  const all = levels.map(({ place }) => place);
  const labelOf = (place: number) => levels.find((level) => level.place === place)?.label ?? "";
  const moved = (i: number, step: number) => {
    const next = [...all];
    const [taken] = next.splice(i, 1);
    if (taken !== undefined) next.splice(i + step, 0, taken);
    change({ order: "hand", hand: next.join(" ") });
  };
  const hide = (place: number, hidden: boolean) => {
    const next = hidden ? [...choices.hidden, place] : choices.hidden.filter((each) => each !== place);
    change({ hidden: next.join(" ") || null });
  };
  return (
    <ul className="max-h-44 w-full overflow-y-auto">
      {all.map((place, i) => (
        <li key={place} className="flex min-h-7 items-center gap-2">
          <label className="flex min-w-0 flex-1 items-center gap-2">
            <input
              type="checkbox"
              className="accent-[var(--accent)]"
              checked={!choices.hidden.includes(place)}
              disabled={!choices.hidden.includes(place) && choices.hidden.length >= all.length - 1}
              onChange={(event) => hide(place, !event.target.checked)}
            />
            <span className="truncate">{labelOf(place)}</span>
          </label>
          {i > 0 && (
            <Button
              look="word"
              className="text-small!"
              aria-label={`${labelOf(place)} before`}
              onClick={() => moved(i, -1)}
            >
              before
            </Button>
          )}
          {i < all.length - 1 && (
            <Button
              look="word"
              className="text-small!"
              aria-label={`${labelOf(place)} after`}
              onClick={() => moved(i, 1)}
            >
              after
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
