import type { TABLE_LINES } from "../../api/choices.gen";

type Line = keyof typeof TABLE_LINES;

/** The lines of a summary table that hold the statistics of a list. */
export function linesOf(statistics: readonly string[]): Line[] {
  const has = (...ids: string[]) => ids.some((id) => statistics.includes(id));
  const lines: [Line, boolean][] = [
    ["n", true],
    ["mean_sd", has("mean", "sd", "variance", "cv")],
    ["mean_interval", has("mean_interval")],
    ["median_quartiles", has("median", "quartiles", "iqr")],
    ["geometric", has("geometric", "geometric_interval")],
    ["range", has("extremes", "range")],
  ];
  return lines.filter(([, on]) => on).map(([line]) => line);
}
