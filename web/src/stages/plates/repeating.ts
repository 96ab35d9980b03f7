import type { Panel, PlateDocument, Source } from "../../api/plates";
import type { Variable } from "../../api/studies";

const UNSET = {
  low: null,
  high: null,
  every: null,
  at: null,
  crosses: null,
  gap_from: null,
  gap_to: null,
  title: null,
};
const IN_STEP = { text: null, written: "" };

/** What a panel looks at, with another variable in the place of its own. */
function ofVariable(source: Source, symbol: string): Source {
  if (source.kind === "pair" || source.kind === "agreement") return { ...source, y: symbol };
  if (source.kind === "influence") return { ...source, response: symbol };
  return "variable" in source ? { ...source, variable: symbol } : source;
}

/** The variable whose values a panel shows; none where it shows several alike. */
export const ownVariable = (source: Source): string | undefined =>
  source.kind === "pair" || source.kind === "agreement"
    ? source.y
    : source.kind === "influence"
      ? source.response
      : "variable" in source
        ? source.variable
        : undefined;

/** Variables that a panel stands on besides its own. */
export const rolesOf = (source: Source): string[] => [
  ...("by" in source && source.by ? [source.by] : []),
  ...("second" in source && source.second ? [source.second] : []),
  ...(source.kind === "pair" || source.kind === "agreement" ? [source.x] : []),
];

const fresh = (panel: Panel, source: Source): Panel => ({
  ...panel,
  source,
  across: { ...panel.across, ...UNSET },
  up: { ...panel.up, ...UNSET },
  // What stood at places of the old variable stands nowhere now.
  furniture: panel.furniture.filter(({ kind }) => kind === "slip"),
  address: "",
});

/** The plate once more, of another variable: ranges and titles follow its data, all looks stay. */
export function repeatedOf(document: PlateDocument, symbol: string): PlateDocument {
  const panels = document.panels.map((panel) => fresh(panel, ofVariable(panel.source, symbol)));
  return { ...document, panels, caption: IN_STEP, alternative: IN_STEP };
}

/** The plate once more, of the rows at one level alone: on the same axes where they were set. */
export function repeatedAt(document: PlateDocument, by: string, level: string): PlateDocument {
  const panels = document.panels.map((panel) => ({ ...panel, source: { ...panel.source, only: { by, level } } }));
  return { ...document, panels, caption: IN_STEP, alternative: IN_STEP };
}

/** The variable that a plate is of, and those of its kind that could stand in its place. */
export function likeOf(source: Source, variables: Variable[]): Variable[] {
  const own = ownVariable(source);
  const now = variables.find(({ symbol }) => symbol === own);
  const others = rolesOf(source);
  const numeric = now !== undefined && now.decimals !== null && now.kind !== "category";
  if (source.kind === "estimates" || source.kind === "distances") return [];
  return variables.filter(
    (variable) =>
      variable.symbol !== own &&
      !others.includes(variable.symbol) &&
      (numeric
        ? ["continuous", "count"].includes(variable.kind) || (variable.kind === "ordered" && variable.decimals !== null)
        : variable.kind === now?.kind),
  );
}
