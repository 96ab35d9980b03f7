import { EFFECTS } from "../../api/choices.gen";
import type { Picture } from "../../api/figures";
import type { NewPanel, NewPlate, NewSource, Sheet } from "../../api/plates";
import type { Table, Variable } from "../../api/studies";
import { listHere, usePreferences } from "../../state/preferences";
import { isNumeric, titled } from "../../words/kinds";
import { groupingsOf } from "../compare/GroupsSentence";
import { differencesPicture, groupsPicture, resultsPicture, sharesPicture } from "../compare/pictures";
import { columnsOf, looksLikeResults } from "../compare/resultColumns";
import { type CompareChoices, readCompare } from "../compare/useCompareChoices";
import { agreementPicture, pairPictures, UNDER_EACH_OTHER } from "../relate/pictures";
import { rolesOf } from "../relate/roles";
import { readRelate } from "../relate/useRelateChoices";
import { scalePicture } from "../rescale/pictures";
import { wayIn } from "../rescale/ways";
import { distancesPicture, relationPicture, rulesPicture } from "../screen/pictures";
import { readScreen, STATISTICS } from "../screen/useScreenChoices";
import { usualPredictors, usualTogether } from "../screen/usualVariables";
import { firstToLookAt } from "../spread/firstToLookAt";
import {
  CONTROL_SHEET,
  controlPictures,
  countsPicture,
  cumulativePicture,
  MOST_PANELS,
  onLogs,
  orderPicture,
  panelled,
  quantilesPicture,
  shapePicture,
  sheetOf,
  timesPicture,
} from "../spread/pictures";
import { canOrder, canSplit, controlRoles } from "../spread/Sentence";
import { USUAL } from "../spread/statistics";
import { readSpread } from "../spread/useSpreadChoices";

/** A picture beside the main one of a stage. */
export type Beside = "quantiles" | "differences" | "fit";
type Settings = Partial<NewPanel>;
type Found = NewPlate | string;

export const NO_PICTURE = "There is no picture here to keep. Look at a variable under Spread, then press P.";

/** What a stage shows, as a plate: read from its address, which holds all that was chosen. Else why there is none. */
export function plateAt(pathname: string, search: string, table: Table, beside?: Beside): Found {
  const query = new URLSearchParams(search);
  const address = `${pathname}${search}`;
  const stage = pathname.split("/").at(-1) ?? "";
  const make = MAKERS[stage];
  return make ? make({ table, query, address, beside }) : NO_PICTURE;
}

type StageAddress = { table: Table; query: URLSearchParams; address: string; beside: Beside | undefined };

const one = (name: string, address: string, source: NewSource, settings: Settings = {}): NewPlate => ({
  name: titled(name),
  panels: [{ ...settings, source, address }],
});

const find = (table: Table, symbol: string | null) => table.variables.find((variable) => variable.symbol === symbol);

function spread({ table, query, address, beside }: StageAddress): Found {
  const choices = readSpread(query);
  const variable = find(table, choices.variable) ?? firstToLookAt(table);
  if (!variable) return NO_PICTURE;
  const by = find(table, choices.by);
  const split = by && by !== variable && canSplit(by) ? by : undefined;
  const numeric = isNumeric(variable);
  const titleOf = (of: Variable | undefined) => (of ? `${variable.label} by ${of.label}` : variable.label);
  if (beside === "quantiles") {
    const levels = split && choices.view === "shape" ? split.symbol : "";
    const logs = onLogs(choices);
    const of = logs && choices.family === "normal" ? `Logs of ${variable.label}` : variable.label;
    const name = `${of} against ${choices.family === "normal" ? "normal scores" : `the ${choices.family}`}`;
    return kept(name, address, [quantilesPicture(table, variable.symbol, levels, choices, logs)]);
  }
  if (split && choices.view === "table")
    return one(titleOf(split), address, {
      kind: "shares",
      table: table.id,
      variable: variable.symbol,
      by: split.symbol,
      stacked: true,
    });
  if (variable.kind === "date-time") return kept(variable.label, address, [timesPicture(table, variable, choices)]);
  if (!numeric) return kept(variable.label, address, [countsPicture(table, variable, choices)]);
  if (choices.view === "order") {
    const along = find(table, choices.along);
    const set = along && along !== variable && canOrder(along) ? along : undefined;
    return kept(`${variable.label} in order`, address, [orderPicture(table, variable, set, choices)]);
  }
  if (choices.view === "control") {
    const pictures = controlPictures(table, variable, controlRoles(table, variable, choices), choices);
    return {
      ...kept(`Control chart of ${variable.label}`, address, pictures),
      sheet: { ...CONTROL_SHEET, width: 120, height: 110 },
    };
  }
  if (choices.view === "cumulative")
    return kept(variable.label, address, [cumulativePicture(table, variable, choices)]);
  const other = find(table, choices.each);
  const splitBy = choices.view === "shape" && other && other !== variable && canSplit(other) ? other : undefined;
  const within = choices.view === "shape" ? split : undefined;
  const statistics = listHere(usePreferences.getState()).statistics ?? USUAL;
  const pictures = panelled(splitBy, (only) => shapePicture(table, variable, within, choices, statistics, only));
  return kept(titleOf(within), address, pictures, sheetOf(pictures.length, choices));
}

/** Pictures of a stage as a plate, which knows the way back. */
function kept(name: string, address: string, pictures: Picture[], sheet: Partial<Sheet> = {}): NewPlate {
  const rows = Math.ceil(pictures.length / (sheet.columns ?? 1));
  return {
    name: titled(name),
    panels: pictures.map((picture) => ({ ...picture, address })),
    ...(pictures.length > 1 ? { sheet: { ...sheet, width: 175, height: Math.min(55 * rows, 240) } } : {}),
  };
}

function overview({ table, address }: StageAddress): Found {
  const numeric = table.variables.filter(isNumeric).slice(0, MOST_PANELS);
  if (numeric.length === 0) return NO_PICTURE;
  const columns = Math.min(numeric.length, numeric.length > 6 ? 4 : 3);
  const rows = Math.ceil(numeric.length / columns);
  return {
    name: `Variables of ${table.name}`,
    sheet: { width: 175, height: 42 * rows, columns },
    panels: numeric.map((variable) => ({
      address,
      source: {
        table: table.id,
        variable: variable.symbol,
        kind: "shape",
        layers: ["classes", "density", "box"],
      },
    })),
  };
}

function rescale({ table, query, address }: StageAddress): Found {
  const choices = readSpread(query);
  const variable = find(table, choices.variable);
  const way = wayIn(query.get("way"));
  if (!variable) return NO_PICTURE;
  if (way.how === "classes" || way.how === "recode")
    return "Ranges and levels are made here, and drawn under Spread: adopt them, then keep their picture there.";
  const by = find(table, choices.by);
  const within = by && by !== variable && canSplit(by) ? by : undefined;
  const drawn = query.get("picture") === "qq" ? "qq" : "stack";
  const panels = [null, JSON.stringify(way)].map((as_if) => ({
    ...scalePicture(table, variable, within, choices, drawn, as_if),
    address,
  }));
  return {
    name: `${titled(variable.label)}, before and after`,
    sheet: { width: 175, height: 70, columns: 2 },
    panels,
  };
}

function screen({ table, query, address, beside }: StageAddress): Found {
  const choices = readScreen(query);
  const variable = find(table, choices.variable);
  if (!variable) return NO_PICTURE;
  if (choices.mode === "together") {
    const variables = choices.together.length > 0 ? choices.together : usualTogether(table, variable);
    return kept("Robust distances", address, [distancesPicture(table, variables)]);
  }
  if (choices.mode === "relation") {
    const predictors = usualPredictors(table, variable, choices.predictors);
    const fit = beside === "fit";
    const name = fit ? `${variable.label}, fitted` : `${variable.label}, fitted: which rows matter`;
    return kept(name, address, [relationPicture(table, variable, predictors, choices, fit)]);
  }
  const by = find(table, choices.by);
  const name = choices.without
    ? `${STATISTICS[choices.without]} of ${variable.label} without each row`
    : variable.label;
  const within = by && by !== variable ? by : undefined;
  return kept(choices.without ? name : `${name} with the limits of rules`, address, [
    rulesPicture(table, variable, within, choices),
  ]);
}

function compare({ table, query, address, beside }: StageAddress): Found {
  const choices = readCompare(query);
  if ((choices.mode ?? (looksLikeResults(table) ? "results" : "groups")) === "results")
    return results(table, choices, address);
  const variable = find(table, choices.variable);
  if (!variable) return NO_PICTURE;
  const groupings = groupingsOf(table, variable);
  const by = groupings.find(({ symbol }) => symbol === choices.by) ?? groupings[0];
  if (!by) return NO_PICTURE;
  const name = `${variable.label} by ${by.label}`;
  if (!isNumeric(variable) || (choices.asShare && canSplit(variable)))
    return kept(name, address, [sharesPicture(table, variable, by, choices)]);
  const other = (symbol: string | null) => {
    const result = find(table, symbol);
    return result && result !== variable && result !== by ? result : undefined;
  };
  const [second, pair] = [other(choices.second), other(choices.pair)];
  if (beside === "differences")
    return kept(`${titled(EFFECTS[choices.measure].label)} of ${variable.label} between ${by.label}`, address, [
      differencesPicture(table, variable, { by, pair }, choices),
    ]);
  const split = second && canSplit(second) ? second : undefined;
  const picture = groupsPicture(table, variable, { by, second: split, pair }, choices);
  return kept(split ? `${name} and ${split.label}` : name, address, [picture]);
}

function results(table: Table, choices: CompareChoices, address: string): Found {
  const columns = columnsOf(table, choices);
  if (columns.of.length === 0) return NO_PICTURE;
  const title = find(table, columns.of[0] ?? null)?.label ?? "Estimates";
  return kept(`${title} of ${table.name}`, address, [resultsPicture(table, choices)]);
}

function relate({ table, query, address }: StageAddress): Found {
  const choices = readRelate(query);
  const { usual, roles } = rolesOf(table, choices);
  if (choices.view === "matrix") {
    const several = choices.together.flatMap((symbol) => find(table, symbol) ?? []);
    return matrix(table, (several.length > 1 ? several : usual).slice(0, 5), address);
  }
  if (!roles) return NO_PICTURE;
  if (choices.view === "agreement") {
    const name = `Agreement of ${roles.variable.label} and ${roles.x.label}`;
    return kept(name, address, [agreementPicture(table, roles, choices)]);
  }
  const pictures = pairPictures(table, roles, choices);
  const { variable, x, by } = roles;
  const newPlate = kept(`${variable.label} on ${x.label}${by ? ` by ${by.label}` : ""}`, address, pictures);
  return pictures.length > 1 ? { ...newPlate, sheet: { ...UNDER_EACH_OTHER, width: 120, height: 110 } } : newPlate;
}

function matrix(table: Table, several: Variable[], address: string): Found {
  const panels: NewPanel[] = several.flatMap((y, j) =>
    several.slice(0, j).map((x) => ({
      address,
      source: { table: table.id, kind: "pair" as const, x: x.symbol, y: y.symbol, lines: [] },
    })),
  );
  if (panels.length === 0) return NO_PICTURE;
  const columns = Math.min(3, panels.length);
  const sheet = { width: 175, height: 52 * Math.ceil(panels.length / columns), columns };
  return { name: `Pairs of ${table.name}`, sheet, panels };
}

const MAKERS: Record<string, (read: StageAddress) => Found> = { spread, overview, rescale, screen, compare, relate };
