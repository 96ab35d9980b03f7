import { rgb } from "d3-color";
import { scaleLinear } from "d3-scale";
import look from "../../../core/heron/figure/look.json";

/** From none to most, or from one end over the middle to the other; share from 0 to 1. */
const through = (colours: string[]) =>
  scaleLinear<string>()
    .domain(colours.map((_, i) => i / (colours.length - 1)))
    .range(colours)
    .clamp(true);
const RAMPS = new Map(Object.entries(look.ramps).map(([name, colours]) => [name, through(colours)]));
const sequential = through(look.ramps.sequential);

/** The colour of a share along a ramp. */
export const rampColour = (ramp: string, share: number) => (RAMPS.get(ramp) ?? sequential)(share);

/** Ink that can be read on a colour of a ramp. */
export function inkOn(colour: string): string {
  const { r, g, b } = rgb(colour);
  return 0.3 * r + 0.59 * g + 0.11 * b > 140 ? "#1d1a22" : "#fffefb";
}
