import type { Way } from "../../api/ledger";
import type { LadderReading } from "../../api/readings";
import { significant } from "../../words/numbers";
import { settingWords } from "../../words/recipes";

export const LADDER = [-2, -1, -0.5, 0, 0.5, 1, 2, 3] as const;
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
      note: `of largest likelihood, ${estimate.low === null ? "below" : significant(estimate.low)} to ${estimate.high === null ? "above" : significant(estimate.high)}`,
    });
  }
  return [
    ...fitted,
    { way: scaled({ way: "log", base: "2", offset: 0 }), note: "a step is a doubling" },
    { way: scaled({ way: "log", base: "e", offset: 0 }), note: "natural logarithm" },
    { way: power(1 / 3), note: "for volumes and weights" },
    { way: scaled({ way: "logit", squeeze: false }), note: "shares; a model for proportions is often better" },
    { way: scaled({ way: "arcsine-root" }), note: "shares; the logit is easier to read" },
    { way: scaled({ way: "z" }), note: "distance from the mean in SDs" },
    { way: scaled({ way: "robust-z" }), note: "distance from the median in scaled MADs" },
    { way: scaled({ way: "rank" }), note: "order alone" },
    { way: scaled({ way: "normal-score" }), note: "order, laid on a normal curve" },
    { way: scaled({ way: "centre", at: "mean" }), note: "same unit, 0 at the mean" },
    { way: scaled({ way: "centre", at: "median" }), note: "same unit, 0 at the median" },
  ];
}

export const wayWords = (way: Way): string =>
  way.how === "scale" ? settingWords(way.setting) : way.how === "expression" ? "an expression" : way.how;

/** The way that an address holds, or the log. */
export function wayIn(text: string | null): Way {
  try {
    const found = JSON.parse(text ?? "") as Way;
    if (found && typeof found === "object" && "how" in found) return found;
  } catch {
    // Nothing chosen yet, or nothing that can be read.
  }
  return power(0);
}
