import { significant } from "./numbers";

type Setting = { way: string; power?: number; base?: string; offset?: number; at?: string | number; squeeze?: boolean };
const POWERS: Record<string, string> = {
  "-2": "negative reciprocal square",
  "-1": "negative reciprocal",
  "-0.5": "negative reciprocal root",
  "0": "log₁₀",
  "0.5": "square root",
  "1": "as measured",
  "2": "square",
  "3": "cube",
};
const PLAIN: Record<string, string> = {
  "arcsine-root": "arcsine root",
  z: "z score",
  "robust-z": "robust z score",
  rank: "rank",
  "normal-score": "normal score",
};

/** A scale in words: "log₁₀", "square root", "z score". */
export function settingWords(setting: Setting): string {
  const { way, power = 1, base = "10", offset = 0, at = "mean", squeeze } = setting;
  if (way === "power")
    return POWERS[String(power)] ?? (Math.abs(power - 1 / 3) < 1e-9 ? "cube root" : `power ${significant(power)}`);
  if (way === "log") {
    const name = base === "e" ? "ln" : base === "2" ? "log₂" : "log₁₀";
    return offset === 0 ? name : `${name}(x ${offset > 0 ? "+" : "\u2212"} ${significant(Math.abs(offset), 4)})`;
  }
  if (way === "box-cox") return `Box-Cox, power ${significant(power)}`;
  if (way === "yeo-johnson") return `Yeo-Johnson, power ${significant(power)}`;
  if (way === "logit") return squeeze ? "logit, 0 and 1 pulled in" : "logit";
  if (way === "centre")
    return typeof at === "number" ? `distance from ${significant(at, 6)}` : `distance from the ${at}`;
  return PLAIN[way] ?? way;
}

export const TAKES = {
  difference: "difference from",
  ratio: "ratio to",
  "percent-change": "percent change from",
  earlier: "value of",
} as const;
