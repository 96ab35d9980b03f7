import { LOG_BASES, POWERS, WAYS } from "../api/choices.gen";
import { significant } from "./numbers";

type Setting = { way: string; power?: number; base?: string; offset?: number; at?: string | number; squeeze?: boolean };
const powerNames: Readonly<Record<string, { label: string; help: string }>> = POWERS;
const wayNames: Readonly<Record<string, { label: string }>> = WAYS;
const baseNames: Readonly<Record<string, { label: string }>> = LOG_BASES;

/** A step of the ladder as it is written: "√x". */
export const powerSign = (power: number) => powerNames[String(power)]?.help ?? significant(power);

/** A scale in words: "log₁₀", "square root", "z score". */
export function settingWords(setting: Setting): string {
  const { way, power = 1, base = "10", offset = 0, at = "mean", squeeze } = setting;
  if (way === "power") return powerNames[String(power)]?.label ?? `power ${significant(power)}`;
  if (way === "log") {
    const name = baseNames[base]?.label ?? base;
    return offset === 0 ? name : `${name}(x ${offset > 0 ? "+" : "\u2212"} ${significant(Math.abs(offset), 4)})`;
  }
  if (way === "box-cox") return `${WAYS[way].label}, power ${significant(power)}`;
  if (way === "yeo-johnson") return `${WAYS[way].label}, power ${significant(power)}`;
  if (way === "logit") return squeeze ? `${WAYS.logit.label}, 0 and 1 pulled in` : WAYS.logit.label;
  if (way === "centre")
    return typeof at === "number" ? `distance from ${significant(at, 6)}` : `distance from the ${at}`;
  return wayNames[way]?.label ?? way;
}
