import type { Condition, How, Stem, TableRecipe } from "../../../api/making";
import type { Table } from "../../../api/studies";

export const HOWS: { value: How; label: string; note: string }[] = [
  { value: "longer", label: "repeated columns as rows", note: "wide to long" },
  { value: "wider", label: "levels as columns", note: "long to wide" },
  { value: "part", label: "some rows or variables only", note: "by rule" },
  { value: "look-up", label: "variables looked up elsewhere", note: "by a key" },
  { value: "stack", label: "rows of other tables below", note: "stack" },
  { value: "split", label: "a variable split", note: "at a mark" },
  { value: "join", label: "variables joined", note: "into one" },
];

/** What has been said so far, for every way of making; each way takes what it needs. */
export type Draft = {
  /** Repeated columns: the name of what they measure, and the columns in their order. */
  sets: { name: string; symbols: string[] }[];
  marks: string[];
  markName: string;
  keys: string[];
  mark: string;
  values: string[];
  variable: string;
  at: string;
  names: string;
  variables: string[];
  between: string;
  name: string;
  others: string[];
  /** The variables by which others are looked up, here and in the other table. */
  pairs: [string, string][];
  conditions: Condition[];
  kept: string[];
};

export function startOf(table: Table, stems: Stem[]): Draft {
  const [stem] = stems;
  const together = stem ? stems.filter(({ marks }) => marks.join() === stem.marks.join()) : [];
  const labels = table.variables.filter(({ kind }) => kind !== "continuous").map(({ symbol }) => symbol);
  return {
    sets: together.map(({ label, symbols }) => ({ name: label, symbols })),
    marks: stem?.marks ?? [],
    markName: stem?.mark_name || "occasion",
    keys: labels.slice(0, 1),
    mark: labels[1] ?? "",
    values: table.variables
      .filter(({ kind }) => kind === "continuous")
      .map(({ symbol }) => symbol)
      .slice(0, 1),
    variable: table.variables.find(({ kind }) => kind === "text" || kind === "identifier")?.symbol ?? labels[0] ?? "",
    at: "-",
    names: "",
    variables: labels.slice(0, 2),
    between: " ",
    name: "joined",
    others: [],
    pairs: [[labels[0] ?? "", ""]],
    conditions: [],
    kept: [],
  };
}

/** The recipe that a draft comes to; null as long as something is missing. */
export function recipeOf(table: Table, how: How, draft: Draft): TableRecipe | null {
  const of = [table.id];
  switch (how) {
    case "longer": {
      const sets = Object.fromEntries(draft.sets.map(({ name, symbols }) => [name, symbols]));
      const complete = draft.sets.length > 0 && draft.marks.length > 1 && draft.markName.trim() !== "";
      return complete ? { of, options: { how, sets, marks: draft.marks, mark_name: draft.markName } } : null;
    }
    case "wider":
      return draft.keys.length > 0 && draft.mark && draft.values.length > 0
        ? { of, options: { how, keys: draft.keys, mark: draft.mark, values: draft.values } }
        : null;
    case "split": {
      const names = draft.names.split(",").map((name) => name.trim());
      return draft.variable && draft.at
        ? { of, options: { how, variable: draft.variable, at: draft.at, names: draft.names ? names : [] } }
        : null;
    }
    case "join":
      return draft.variables.length > 1 && draft.name.trim()
        ? { of, options: { how, variables: draft.variables, between: draft.between, name: draft.name } }
        : null;
    case "stack":
      return draft.others.length > 0 ? { of: [...of, ...draft.others], options: { how, name: "table" } } : null;
    case "look-up": {
      const [other] = draft.others;
      const [key, other_key] = [0, 1].map((side) => draft.pairs.map((pair) => pair[side] ?? "")) as [
        string[],
        string[],
      ];
      return other && [...key, ...other_key].every(Boolean) && draft.values.length > 0
        ? { of: [table.id, other], options: { how, key, other_key, symbols: draft.values } }
        : null;
    }
    case "part":
      return { of, options: { how, conditions: draft.conditions, symbols: draft.kept } };
    default:
      return null;
  }
}
