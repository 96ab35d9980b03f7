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
  const [red, green, blue] = [r, g, b].map((part) => ((part / 255 + 0.055) / 1.055) ** 2.4);
  const light = 0.2126 * (red ?? 0) + 0.7152 * (green ?? 0) + 0.0722 * (blue ?? 0);
  // Where black and white stand out equally, and well enough.
  return light > 0.179 ? "#000000" : "#ffffff";
}
