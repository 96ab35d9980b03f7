import type { Panel, Source } from "../../api/plates";
import { keysOf } from "../../values";
import { said, type Written, words } from "../said";
import { OPTIONS } from "./useScreenChoices";

type Of<Kind extends Source["kind"]> = Extract<Source, { kind: Kind }>;

const rules = (source: Of<"rules">): Written => ({
  variable: source.variable,
  rules: words(source.rules),
  ...said({
    by: [source.by, ""],
    ...Object.fromEntries(keysOf(OPTIONS).map((name) => [name, [source[name], OPTIONS[name].usual]])),
    definition: [source.quantile_definition, 7],
  }),
});

const relation = (source: Of<"influence">): Written => ({
  mode: "relation",
  variable: source.response,
  from: words(source.predictors),
  ...said({
    product: [words(source.product), ""],
    plot: [source.view, "fit"],
    coefficient: [source.coefficient, 1],
    measure: [source.row_measure, "cooks"],
  }),
});

/** The address under which Screen shows a panel, with all that was chosen; null for a panel of another stage. */
export function screenAddress({ source }: Pick<Panel, "source">): string | null {
  if (source.only || ("as_if" in source && source.as_if)) return null;
  const written =
    source.kind === "rules"
      ? rules(source)
      : source.kind === "left-out"
        ? { variable: source.variable, without: source.statistic }
        : source.kind === "distances"
          ? { mode: "together", variable: source.variables[0] ?? "", together: words(source.variables) }
          : source.kind === "influence"
            ? relation(source)
            : null;
  return written && `/tables/${source.table}/screen?${new URLSearchParams(written)}`;
}
