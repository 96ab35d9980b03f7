import type { Drawing, DrawnGroup } from "../../api/compare";

export type Result = {
  label: string;
  second: string;
  place: number;
  second_place: number;
  number: number | null;
  center: number | null;
  low: number | null;
  high: number | null;
  n: number;
  n_missing: number;
};

const NOTHING = new Float64Array();

/** Centres with bars that came as they are, for the picture of groups: no rows stand behind them here. */
export function drawingOf(
  results: Result[],
  of: { subject: { label: string; unit: string }; by: string; second: string; second_labels: string[] },
): Drawing {
  const groups = results.map(
    ({ label, second, place, second_place, number, center, low, high, n, n_missing }): DrawnGroup => ({
      label,
      second,
      place,
      second_place,
      number,
      centred: {
        label: second ? `${label} ${second}` : label,
        n,
        n_missing,
        center,
        low,
        high,
        summary: { minimum: null, maximum: null },
        undefined: {},
      },
      box: {
        q1: null,
        median: null,
        q3: null,
        whisker_low: null,
        whisker_high: null,
        outlier_rows: NOTHING,
        outlier_values: NOTHING,
      },
      x: NOTHING,
      heights: NOTHING,
      n_lost: 0,
    }),
  );
  return {
    ...of,
    by_unit: "",
    groups,
    values: NOTHING,
    positions: NOTHING,
    of_group: NOTHING,
    lines: [],
    pair_label: "",
    pair_names: [],
    pair_values: NOTHING,
    unit_label: "",
  };
}
