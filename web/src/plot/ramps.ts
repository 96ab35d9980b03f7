import { scaleLinear } from "d3-scale";

const SEQUENTIAL = ["#F5F1E6", "#CBDEE1", "#96BED0", "#669BB8", "#487C9F", "#466189", "#4F4A74", "#553058", "#45112C"];
const ALTERNATE = ["#F5F1E6", "#DCDEBE", "#B5C48F", "#89A66F", "#678B58", "#4B744F", "#2D5C46", "#1A423A", "#0C2626"];
const DIVERGING = ["#184C6A", "#3C789B", "#6FA2BE", "#B9D0DA", "#F6F2E8", "#E4C5C6", "#C48D94", "#A35D6F", "#782E47"];

/** From none to most, or from one end over the middle to the other; share from 0 to 1. */
const through = (colours: string[]) =>
  scaleLinear<string>()
    .domain(colours.map((_, i) => i / (colours.length - 1)))
    .range(colours)
    .clamp(true);
export const sequential = through(SEQUENTIAL);
export const alternate = through(ALTERNATE);
export const diverging = through(DIVERGING);

/** Ink that can be read on a colour of a ramp. */
export function inkOn(colour: string): string {
  const [r = 0, g = 0, b = 0] = (colour.match(/\d+/g) ?? []).map(Number);
  return 0.3 * r + 0.59 * g + 0.11 * b > 140 ? "#1d1a22" : "#fffefb";
}

/** The colour of one of n ordered answers; about the neutral one where there is such. */
export function orderedColour(place: number, n: number, neutral: number | null): string {
  if (neutral === null) return sequential(n < 2 ? 0.5 : 0.08 + (0.82 * place) / (n - 1));
  const reach = Math.max(neutral, n - 1 - neutral, 1);
  return diverging(0.5 + (0.46 * (place - neutral)) / reach);
}
