import { AXIS_SCALES } from "../../api/choices.gen";
import type { Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { ChoiceLine } from "../../ui/ChoiceLine";
import { Choices } from "../../ui/Choices";
import { Floating } from "../../ui/Floating";
import { NumberFields } from "../../ui/NumberFields";
import { Range } from "../../ui/Range";
import { Tick } from "../../ui/Tick";
import { labelsOf, withOrWithout } from "../../values";
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

const DIRECTIONS = { upright: "vertical", along: "horizontal" } as const;
/** Lines where the values themselves are not drawn. */
const OF_CENTRES = { none: LINES.none, centres: LINES.centres } as typeof LINES;
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
      label="Display"
      align="end"
      className="w-[25rem] px-3.5 py-2"
      trigger={
        <Button look="word" className="text-small!">
          display
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
          options={labelsOf(AXIS_SCALES)}
          chosen={choices.log ? "log" : "linear"}
          onChoose={(next) => change({ scale: next === "log" ? "log" : null, floor: null, ceiling: null })}
        />
        <NumberFields
          key={`${choices.floor} ${choices.ceiling}`}
          fields={{ "Axis from": choices.floor, to: choices.ceiling }}
          empty="all"
          onSet={([floor, ceiling]) => change({ floor, ceiling })}
        />
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
            <Range label="How far points are scattered" value={choices.jitter} onSet={(jitter) => change({ jitter })} />
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
          <Tick
            className="text-small"
            checked={choices.rings}
            onChange={(on) => change({ rings: on ? null : "no" })}
            label="rows beyond the whiskers ringed"
          />
        </ChoiceLine>
      )}
      <ChoiceLine name="Bars">
        <Choices
          label="Sides of the bars"
          options={SIDES}
          chosen={choices.side}
          onChoose={(next) => change({ side: next === "both" ? null : next })}
        />
        <Tick
          className="text-small"
          checked={choices.caps}
          onChange={(on) => change({ caps: on ? "yes" : null })}
          label="caps at their ends"
        />
        {!variable.true_zero && (
          <p className="text-muted-ink text-small">
            Bars from zero are offered only where zero means none; of {variable.label} it does not. What zero means is
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
            options={choices.withValues ? LINES : OF_CENTRES}
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
    const next = withOrWithout(choices.hidden, place, hidden);
    change({ hidden: next.join(" ") || null });
  };
  return (
    <ul className="max-h-44 w-full overflow-y-auto">
      {all.map((place, i) => (
        <li key={place} className="flex min-h-7 items-center gap-2">
          <Tick
            className="min-w-0 flex-1"
            checked={!choices.hidden.includes(place)}
            disabled={!choices.hidden.includes(place) && choices.hidden.length >= all.length - 1}
            onChange={(on) => hide(place, !on)}
          >
            <span className="truncate">{labelOf(place)}</span>
          </Tick>
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
