import type { Table, Variable } from "../api/studies";
import { isNumeric } from "../words/kinds";

const LOWER = /\b(low|lower|lowest|lo|from|lcl|min(imum)?)\b/;
const UPPER = /\b(high|higher|upper|hi|up|to|ucl|max(imum)?)\b/;
const WIDTH = /\b(sd|se|sem|s\.d\.|s\.e\.|error|half.?width|stdev|deviation)\b/;
const CENTRE = /\b(mean|average|avg|median|estimate|standard|of|the|limit|bound|ci|95|%)\b/g;
const MOST_ROWS = 300;

const wordsOf = ({ label }: Variable) => label.toLowerCase().replace(/_/g, " ");
const named = (pattern: RegExp) => (variable: Variable) => pattern.test(wordsOf(variable));

const SET =
  /\b(time|date|hours?|days?|weeks?|months?|years?|age|dose|dosage|conc|concentration|temp|temperature)\b|^x$/;

/** Whether a name is of something that is set rather than measured, such as a time or a dose. */
export const isSet = named(SET);

/** What a name is of, without what it says of limits and centres: "rate" of "mean rate" and of "rate, SE". */
const subjectOf = (variable: Variable) =>
  [WIDTH, LOWER, UPPER]
    .reduce((text, pattern) => text.replace(pattern, " "), wordsOf(variable))
    .replace(CENTRE, " ")
    .replace(/[^\p{L}\p{N}]+/gu, " ")
    .trim();

/** What the names of a table's columns say of results that it holds. */
export function resultsNamed(table: Table) {
  const numeric = table.variables.filter(isNumeric);
  const lower = numeric.find(named(LOWER));
  const upper = numeric.find((other) => named(UPPER)(other) && other !== lower);
  const widths = numeric.filter(named(WIDTH));
  const taken = [lower, upper, ...widths];
  const centres = numeric.filter((other) => !taken.includes(other));
  return { lower, upper, widths, centres };
}

/** The columns of the bars of a variable, as their names say, in a table that is small enough to hold results: its width
 *  to each side, or its two limits. others: how many variables might have been meant. */
export function barsNamed(table: Table, variable: Variable, others: Variable[]): Variable[] {
  if (table.n_rows > MOST_ROWS) return [];
  const { lower, upper, widths } = resultsNamed(table);
  const own = subjectOf(variable);
  const alone = others.length === 0;
  // A name that is nothing but "SD" or "lower" belongs to the only variable that there is.
  const belongs = (other: Variable) => subjectOf(other) === own || (alone && subjectOf(other) === "");
  const width = widths.find(belongs);
  if (width) return [width];
  return lower && upper && belongs(lower) && belongs(upper) ? [lower, upper] : [];
}
