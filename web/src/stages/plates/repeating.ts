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
  if (source.pair) return { ...source, pair: { ...source.pair, y: symbol } };
  if (source.influence) return { ...source, influence: { ...source.influence, response: symbol } };
  return { ...source, variable: symbol };
}

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
  const own = source.pair?.y ?? source.influence?.response ?? source.variable;
  const now = variables.find(({ symbol }) => symbol === own);
  const others = [
    source.groups?.by,
    source.groups?.second,
    source.pair?.x,
    source.pair?.by,
    source.shape?.by,
    source.shares?.by,
  ];
  const numeric = now !== undefined && now.decimals !== null && now.kind !== "category";
  if (source.kind === "estimates" || source.kind === "distances") return [];
  return variables.filter(
    (each) =>
      each.symbol !== own &&
      !others.includes(each.symbol) &&
      (numeric
        ? ["continuous", "count"].includes(each.kind) || (each.kind === "ordered" && each.decimals !== null)
        : each.kind === now?.kind),
  );
}
