import type { Scene } from "../api/plates";
import { rampColour } from "../plot/ramps";
import { lighter, rgbHex } from "./look";

/** How far up its shades a scene's values stand, from 0 to 1: counts in steps of equal ratio. */
export function shareOf({ values_high: high, values_scale: scale }: Scene): (value: number) => number {
  if (scale !== "log10") return (value) => value / (high || 1);
  return (value) => Math.log(value) / Math.max(Math.log(high), 1e-9);
}

/** The shade of a share of the highest value. */
export const shade = (share: number, colours: string, ramp: Scene["values_ramp"]) =>
  colours === "graphite"
    ? lighter("#1F1A24", 1 - (0.08 + 0.92 * share))
    : rgbHex(rampColour(ramp, 0.06 + 0.94 * share));

/** The values that a key of shades names: counts from 1 by powers of ten, else none, half and all. */
export function keyed({ values_high: high, values_scale: scale }: Scene): number[] {
  if (scale !== "log10") return [0, high / 2, high];
  const result = [1];
  for (let power = 10; power < high * 0.6; power *= 10) result.push(power);
  return high > 1 ? [...result, high] : result;
}
