import { rgb } from "d3-color";
import { symbolCross, symbolStar, symbolWye } from "d3-shape";
import look from "../../../core/heron/figure/look.json";
import type { Furnishings, MarkSettings, Panel, PlateStyle, Scene } from "../api/plates";
import { rampColour } from "../plot/ramps";
import { shapeOf } from "../plot/series";
import { nth } from "../values";

/** How the marks of one series look, everything decided. */
export type Look = {
  key: string;
  label: string;
  place: number;
  colour: string;
  fill: string;
  outline: string | null;
  filled: boolean | null;
  shape: number;
  size: number;
  line: number;
  dash: number;
  hatch: number;
  opacity: number;
  hidden: boolean;
  /** Whether its colour is that of its rank. */
  ranked: boolean;
};

export const SHAPE_NAMES = look.shapes;
export const DASHES = look.dashes;
/** How lines of one kind are dashed, whatever their series. */
export const ROLE_DASHES: Partial<Record<string, string>> = look.role_dashes;
export const DASH_NAMES = ["solid", "dashed", "dotted", "dash and dot", "short dashes", "long dashes"];
export const HATCH_NAMES = ["none", "rising", "falling", "vertical", "horizontal", "crossed"];
/** Beyond a limit, whatever the colours of the series; on the page as its theme has what is in danger. */
export const beyondOf = ({ ink }: PlateStyle) => (ink.startsWith("var(") ? "var(--danger)" : look.beyond);

const MORE = [symbolCross, symbolStar, symbolWye];

/** A mark's outline about 0, 0. */
export function markPath(shape: number, radius: number): string {
  if (shape < 5) return shapeOf(shape, radius);
  const made = MORE[(shape - 5) % MORE.length];
  let d = "";
  const pen = {
    moveTo: (x: number, y: number) => {
      d += `M${x.toFixed(3)} ${y.toFixed(3)}`;
    },
    lineTo: (x: number, y: number) => {
      d += `L${x.toFixed(3)} ${y.toFixed(3)}`;
    },
    closePath: () => {
      d += "Z";
    },
  };
  made?.draw(pen as unknown as CanvasRenderingContext2D, Math.PI * radius * radius);
  return d;
}

export function coloursOf(style: PlateStyle, furnishings: Furnishings) {
  return furnishings.sets.find(({ name }) => name === style.colours) ?? nth(furnishings.sets, 0);
}

/** The look of a series by its place in the style, with what was set for it, and for marks of one kind. */
export function lookOf(
  key: string,
  place: number,
  label: string,
  panel: Panel,
  style: PlateStyle,
  furnishings: Furnishings,
  ranked: string | null = null,
): Look {
  const { colours, fills } = coloursOf(style, furnishings);
  const own: Partial<MarkSettings> = panel.series[key] ?? {};
  const colour = own.colour ?? ranked ?? nth(colours, place % colours.length);
  return {
    key,
    label: own.name ?? label,
    place,
    colour,
    fill: own.colour || ranked ? lighter(own.colour ?? ranked ?? "") : nth(fills, place % fills.length),
    outline: own.outline ?? null,
    filled: own.fill ?? null,
    shape: own.shape ?? (style.shapes ? place % look.shapes_in_turn : 0),
    size: own.size ?? style.point_size,
    line: own.line ?? style.mark_line,
    dash: own.dash ?? (style.dashes ? place % DASHES.length : 0),
    hatch: own.hatch ?? (style.hatches ? (place % 5) + 1 : 0),
    opacity: own.opacity ?? style.opacity,
    hidden: own.hidden ?? false,
    ranked: ranked !== null || own.colour != null,
  };
}

/** All series of a panel; marks without one are those of the first place. */
export function looksOf(panel: Panel, scene: Scene, style: PlateStyle, furnishings: Furnishings): Map<string, Look> {
  const result = new Map([["", lookOf("", 0, "", panel, style, furnishings)]]);
  for (const { key, label, place, rank } of scene.series) {
    const ranked = rank == null || !scene.ramp ? null : rankColour(rank, scene.ramp, style.colours);
    result.set(key, lookOf(key, place, label, panel, style, furnishings, ranked));
  }
  return result;
}

/** What was set for all marks of one kind ("points", "box") over the look of a series. */
export function roleLook(look: Look, panel: Panel, role: string): Look {
  const own = panel.marks[role];
  if (!own) return look;
  const result = { ...look };
  if (own.colour) Object.assign(result, { colour: own.colour, fill: lighter(own.colour) });
  for (const name of ["shape", "size", "line", "dash", "hatch", "opacity", "outline"] as const) {
    const value = own[name];
    if (value !== null && value !== undefined) Object.assign(result, { [name]: value });
  }
  if (own.fill !== null && own.fill !== undefined) result.filled = own.fill;
  result.hidden = look.hidden || own.hidden;
  return result;
}

/** The colour of a rank along a ramp, from 0 to 1; in print without colour, a share of ink. */
export const rankColour = (rank: number, ramp: string, colours: string) =>
  colours === "graphite" ? lighter("#1F1A24", 1 - (0.1 + 0.8 * rank)) : rgbHex(rampColour(ramp, rank));

/** Colours of scales come as rgb(), which not every program of print reads. */
export const rgbHex = (colour: string) => rgb(colour).formatHex();

/** A colour as the ground of a mark: four fifths of the way to paper. */
export function lighter(colour: string, share = 0.78): string {
  const { r, g, b } = rgb(colour);
  const towards = (part: number) => part + (255 - part) * share;
  return rgb(towards(r), towards(g), towards(b)).formatHex();
}
