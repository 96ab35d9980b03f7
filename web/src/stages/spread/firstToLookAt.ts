import type { Table, Variable } from "../../api/studies";
import { isSet, resultsNamed } from "../resultNames";

const OF_ROWS =
  /^(id|no|nr|#|index|row|record|serial|code|case|subject|sample|specimen|plot|tag)\b|\b(id|code|number|no)$/;

/** Whether a variable only tells rows apart: by its kind, or as a number by its name. */
export const tellsRows = ({ kind, label }: Variable) =>
  kind === "identifier" ||
  kind === "text" ||
  (kind !== "continuous" && OF_ROWS.test(label.toLowerCase().replace(/_/g, " ")));

/** The variables of a table as a fresh eye should see them: measured ones first, then counts, then answers; never what
 *  tells rows apart while there is something else, nor a width or a limit of another. */
export function worthALook(table: Table): Variable[] {
  const { lower, upper, widths } = resultsNamed(table);
  const ends = lower && upper ? [lower, upper, ...widths] : widths;
  const rank = (variable: Variable) =>
    tellsRows(variable)
      ? 5
      : ends.includes(variable)
        ? 4
        : variable.kind === "continuous"
          ? isSet(variable)
            ? 1.5
            : 0
          : variable.kind === "count"
            ? 1
            : variable.kind === "date-time"
              ? 3
              : 2;
  // Sorting keeps those of one rank in the order of the table.
  return [...table.variables].sort((a, b) => rank(a) - rank(b));
}

/** The variable a fresh eye should see first: of measured ones that with the longest tail to the right by its small
 *  shape, else the first that is worth a look. */
export function firstToLookAt(table: Table): Variable | undefined {
  const tail = ({ shape }: Variable) => {
    const total = shape.reduce((sum, height) => sum + height, 0) || 1;
    const middle = shape.reduce((sum, height, i) => sum + height * i, 0) / total;
    return (shape.length - 1) / 2 - middle;
  };
  const worth = worthALook(table);
  const first = worth[0];
  if (first?.kind !== "continuous") return first;
  const { centres } = resultsNamed(table);
  return (
    worth
      .filter((other) => other.kind === "continuous" && centres.includes(other) && !isSet(other))
      .sort((a, b) => tail(b) - tail(a))[0] ?? first
  );
}
