import type { Fits, Pairs } from "../../api/relate";
import { named, titled } from "../../words/kinds";
import { fixed, significant, whole } from "../../words/numbers";
import { unraised } from "../../words/raised";
import { weightsWords } from "../../words/weights";
import { lostOnLog } from "./relateLayout";
import { BANDS, type RelateChoices } from "./useRelateChoices";

const MANY_WORDS: Record<RelateChoices["form"], string> = {
  points: "",
  counts: "The area of a mark counts pairs at one place.",
  hexagons: "Hexagons count pairs, in steps of equal ratio.",
  density: "",
  image: "Each dot counts pairs, in steps of equal ratio.",
};

/** What the picture shows, for whoever sees it without the rest. */
export function captionOf(reading: Pairs, fits: Fits | undefined, choices: RelateChoices): string {
  const names = reading.series.map(({ subject }) => named(subject)).join(", ");
  const parts = [`${titled(names)} against ${named(reading.x)}${reading.by ? `, by ${reading.by}` : ""}.`];
  if (reading.size) parts.push(`The area of a mark follows ${reading.size}.`);
  if (MANY_WORDS[choices.form]) parts.push(MANY_WORDS[choices.form]);
  if (choices.form === "density")
    parts.push(
      `Areas enclose 25, 50, 75, 90 and 95 % of the pairs (product normal kernel${choices.widths[0] === null ? ", its width the SD over the sixth root of n" : ""})${choices.sparse > 0 ? `; the ${choices.sparse} pairs in the sparsest places are drawn on top` : ""}.`,
    );
  if (choices.scatter[0] > 0 || choices.scatter[1] > 0) parts.push("Points are scattered by a little, by chance.");
  if (choices.joined) parts.push("Lines join values in order and break where one is missing.");
  for (const { label, fit, equation, carried_back: back, median, smooth } of fits?.groups ?? []) {
    const of = label ? ` of ${label}` : "";
    if (fit)
      parts.push(
        `Line${of}: ${unraised(back || equation)}${fit.r_squared === null ? "" : `, R² ${fit.r_squared.toFixed(3)}${back ? " on the scales" : ""}`}${back && fit.original_r_squared !== null ? ` and ${fixed(fit.original_r_squared, 3)} in its units` : ""}, n ${whole(fit.n_pairs)}.`,
      );
    if (median) parts.push(`Dashed${of}: median of slopes, ${significant(median.slope, 4)}.`);
    if (smooth) parts.push(`Dotted${of}: lowess over ${Math.round(100 * smooth.span)} %.`);
  }
  if (fits && choices.bands !== "none") parts.push(`Bands ${BANDS[choices.bands]}, 95 %.`);
  const counts = reading.series.map(
    ({ subject, n_pairs }) =>
      `n${reading.series.length > 1 ? ` of ${subject.label}` : ""}\u00a0=\u00a0${whole(n_pairs)}`,
  );
  parts.push(`${counts.join(", ")}.`);
  const lost = lostOnLog(reading, choices);
  if (lost) parts.push(lost);
  return parts.join(" ") + weightsWords(reading.weighted_by);
}
