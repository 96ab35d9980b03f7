import { LOG_BASES, POWERS, WAYS } from "../../api/choices.gen";
import type { Way } from "../../api/ledger";
import type { LadderReading } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { significant } from "../../words/numbers";
import { settingWords } from "../../words/recipes";
import { canSplit } from "../spread/Sentence";

/** The powers with a name, from the lowest, without the cube root, which stands beside the ladder. */
export const LADDER = Object.keys(POWERS)
  .map(Number)
  .filter((step) => Number.isInteger(2 * step))
  .sort((a, b) => a - b);
export type ScaleWay = Extract<Way, { how: "scale" }>;
type Setting = ScaleWay["setting"];

export const scaled = (setting: Setting): ScaleWay => ({ how: "scale", setting });
export const power = (value: number): ScaleWay => scaled({ way: "power", power: value });

/** The scales offered by name besides the ladder, with a word on each. */
export function otherScales(ladder: LadderReading["ladder"] | undefined): { way: ScaleWay; note: string }[] {
  const estimate = ladder?.estimate;
  const fitted: { way: ScaleWay; note: string }[] = [];
  if (estimate) {
    const value = Number(estimate.power.toPrecision(3));
    fitted.push({
      way: scaled({ way: ladder.family === "Box-Cox" ? "box-cox" : "yeo-johnson", power: value }),
      note: `Of largest likelihood, ${estimate.power_low === null ? "below" : significant(estimate.power_low)} to ${estimate.power_high === null ? "above" : significant(estimate.power_high)}.`,
    });
  }
  return [
    ...fitted,
    { way: scaled({ way: "log", base: "2", offset: 0 }), note: LOG_BASES[2].help },
    { way: scaled({ way: "log", base: "e", offset: 0 }), note: LOG_BASES.e.help },
    { way: power(1 / 3), note: "For volumes and weights." },
    { way: scaled({ way: "logit", squeeze: false }), note: WAYS.logit.help },
    { way: scaled({ way: "arcsine-root" }), note: WAYS["arcsine-root"].help },
    { way: scaled({ way: "z" }), note: WAYS.z.help },
    { way: scaled({ way: "robust-z" }), note: WAYS["robust-z"].help },
    { way: scaled({ way: "rank" }), note: WAYS.rank.help },
    { way: scaled({ way: "normal-score" }), note: WAYS["normal-score"].help },
    { way: scaled({ way: "centre", at: "mean" }), note: "The same unit, 0 at the mean." },
    { way: scaled({ way: "centre", at: "median" }), note: "The same unit, 0 at the median." },
    { way: scaled({ way: "centre", at: 0 }), note: "A value of your own, typed in." },
  ];
}

const WAY_WORDS = {
  expression: "an expression",
  percent: "percent of a baseline",
  along: "change along an order",
  classes: "ranges with labels",
  recode: "levels renamed",
  "pulled-in": "values pulled in",
};

export const wayWords = (way: Way): string => (way.how === "scale" ? settingWords(way.setting) : WAY_WORDS[way.how]);

/** Where a variable's recipe can be changed: the stage in which its like is made. */
export function recipeAddress(table: Table, variable: Variable): string {
  const {
    of,
    label: _label,
    unit: _unit,
    ...way
  } = variable.recipe as { of: string[] | string; label: string; unit: string };
  const [source = ""] = [of].flat();
  const query = new URLSearchParams({ variable: source });
  const recodes = (way as { how?: string }).how === "recode";
  query.set(recodes ? "recode" : "way", recodes ? variable.symbol : JSON.stringify(way));
  if (!recodes) query.set("instead", variable.symbol);
  return `/tables/${table.id}/${recodes ? "spread" : "rescale"}?${query}`;
}

/** The ways that are not scales, as they start for a variable; null where the table has nothing to make one with. */
export function otherWays(table: Table, variable: Variable): { way: Way; note: string }[] {
  const group = table.variables.find((other) => other !== variable && canSplit(other) && other.levels.length > 1);
  const order = table.variables.find(
    (other) => other !== variable && (other.kind === "date-time" || other.kind === "ordered"),
  );
  return [
    ...(group?.levels[0]
      ? [
          {
            way: { how: "percent", by: group.symbol, level: group.levels[0], centre: "mean" } as Way,
            note: `Of a group or a row, such as ${group.label} ${group.levels[0]}.`,
          },
        ]
      : [{ way: { how: "percent", row: 1, centre: "mean" } as Way, note: "Of a group or a row." }]),
    {
      way: { how: "along", take: "difference", steps: 1, ...(order ? { order: order.symbol } : {}) } as Way,
      note: "Difference, ratio or value of rows before.",
    },
    { way: { how: "classes", boundaries: [], closed: "left" } as Way, note: "Numbers to a few named levels." },
    { way: { how: "expression", text: variable.symbol } as Way, note: "In ordinary arithmetic." },
  ];
}

/** The way that an address holds, or the log. */
export function wayIn(text: string | null): Way {
  try {
    const result: Way = JSON.parse(text ?? "");
    if (result && typeof result === "object" && "how" in result) return result;
  } catch {
    // Nothing chosen yet, or nothing that can be read.
  }
  return power(0);
}
