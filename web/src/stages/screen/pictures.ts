import type { Picture } from "../../api/figures";
import type { Table, Variable } from "../../api/studies";
import type { ScreenChoices } from "./useScreenChoices";

/** The values of a variable with the limits of rules, in lanes of the levels within which they are judged; or a
 *  statistic without each row. */
export function rulesPicture(
  table: Table,
  variable: Variable,
  by: Variable | undefined,
  { settings, without }: Pick<ScreenChoices, "settings" | "without">,
): Picture {
  const of = { table: table.id, variable: variable.symbol };
  if (without) return { source: { kind: "left-out", ...of, statistic: without } };
  return { source: { kind: "rules", ...of, ...settings, by: by?.symbol ?? "", form: "lanes" } };
}

/** Robust over plain distances. */
export const distancesPicture = (table: Table, variables: string[]): Picture => ({
  source: { kind: "distances", table: table.id, variables },
});

/** A diagnostic plot of a relation, or the relation itself. */
export function relationPicture(
  table: Table,
  response: Variable,
  predictors: string[],
  {
    product,
    diagnostic,
    measure,
    coefficient,
  }: Pick<ScreenChoices, "product" | "diagnostic" | "measure" | "coefficient">,
  fit = false,
): Picture {
  return {
    source: {
      kind: "influence",
      table: table.id,
      response: response.symbol,
      predictors,
      product: product.length === 2 ? product : [],
      view: fit ? "fit" : diagnostic,
      row_measure: measure,
      coefficient,
    },
  };
}
