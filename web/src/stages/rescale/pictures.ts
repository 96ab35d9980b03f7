import type { Picture } from "../../api/figures";
import type { Table, Variable } from "../../api/studies";
import { quantilesPicture, shapePicture } from "../spread/pictures";
import { type readSpread, USUAL_LAYERS } from "../spread/useSpreadChoices";

export type Drawn = "stack" | "qq";

/** A variable on its own scale, or as if a way had made it: its shape, or its quantiles within the levels of `by`. */
export function scalePicture(
  table: Table,
  variable: Variable,
  by: Variable | undefined,
  choices: ReturnType<typeof readSpread>,
  drawn: Drawn,
  as_if: string | null,
): Picture {
  // What was set for the classes and the curve of Spread is in the unit of the variable as it came.
  const usual = { ...choices, layers: choices.by ? USUAL_LAYERS : choices.layers, upright: false, slip: null };
  const picture =
    drawn === "qq"
      ? quantilesPicture(table, variable.symbol, by?.symbol ?? "", { family: "normal", plot: "quantiles" })
      : shapePicture(table, variable, undefined, { ...usual, classes: {}, density: {}, axis: "linear" }, []);
  return { ...picture, source: { ...picture.source, as_if } as Picture["source"] };
}
