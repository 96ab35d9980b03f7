import { type RefObject, useMemo } from "react";
import type { Figure } from "../../api/figures";
import { enclosedRows } from "../../api/relate";
import type { Table, Variable } from "../../api/studies";
import type { PanelPlan } from "../../figure/layout";
import type { Shown } from "../../figure/screen";
import type { Size } from "../../ui/useSize";
import { isNumeric } from "../../words/kinds";
import { moment, significant } from "../../words/numbers";
import { PointsOverlay, type Spot } from "../PointsOverlay";
import { StageFigure } from "../StageFigure";
import type { Change } from "../useAddress";
import { UNDER_EACH_OTHER } from "./pictures";
import type { RelateChoices } from "./useRelateChoices";

type PairsPictureProps = {
  table: Table;
  figure: Figure;
  x: Variable;
  variable: Variable;
  choices: RelateChoices;
  change: (changes: Change, replace?: boolean) => void;
  /** Whether each pair has a point of its own. */
  every: boolean;
  size: Size;
  drawing: RefObject<Shown | null>;
};

const DAY = 86_400;

/** The part that is looked at, before its words have come. */
function windowed(figure: Figure, window: RelateChoices["window"]): Figure {
  const [x0, x1, y0, y1] = window ?? [null, null, null, null];
  const panels = figure.panels.map((panel, i) => ({
    ...panel,
    across: { ...panel.across, low: x0, high: x1 },
    up: i === 0 ? { ...panel.up, low: y0, high: y1 } : panel.up,
  }));
  return { ...figure, panels };
}

/** Pairs, and below them what the lines leave: read off, selected, narrowed and moved by hand. */
export function PairsPicture(props: PairsPictureProps) {
  const { table, figure, x, variable, choices, change, every, size, drawing } = props;
  const { window } = choices;
  const shown = useMemo(() => windowed(figure, window), [figure, window]);
  const factor = x.kind === "date-time" ? DAY : 1;
  const wordsOf = (plan: PanelPlan) => (spot: Spot) => [
    `${plan.titles.across} ${isNumeric(x) ? significant(spot.across, 6) : moment(spot.across * DAY)}`,
    `${plan.titles.up} ${significant(spot.up, 6)}`,
  ];
  return (
    <StageFigure {...{ size, drawing }} figure={shown} sheet={figure.panels.length > 1 ? UNDER_EACH_OTHER : undefined}>
      {(plan) =>
        plan.i === 0 ? (
          <PointsOverlay
            {...{ table, plan }}
            noun="pair"
            drag={choices.drag}
            label={`${plan.titles.up} against ${plan.titles.across}: arrows walk the pairs, plus and minus zoom, 0 shows all, Enter selects, dragging selects many`}
            wordsOf={wordsOf(plan)}
            onWindow={(next) => change({ window: next ? next.join(" ") : null }, true)}
            enclosed={
              every
                ? undefined
                : (corners) =>
                    enclosedRows(
                      table,
                      { x: x.symbol, y: variable.symbol },
                      corners.map(([a, b]) => [a * factor, b]),
                    )
            }
          />
        ) : (
          <PointsOverlay
            {...{ table, plan }}
            label="Residuals of the line over the same x: left and right walk them, Enter selects, dragging selects many"
            wordsOf={wordsOf(plan)}
          />
        )
      }
    </StageFigure>
  );
}
