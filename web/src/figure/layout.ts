import type { AxisSettings, Furnishings, Layer, Panel, PlateDocument, Scene, SceneAxis } from "../api/plates";
import { nth } from "../values";
import { type NumberStyle, whole } from "../words/numbers";
import { axisOf, endsOf, type PlateAxis } from "./axis";
import { type Look, looksOf } from "./look";
import { inLines, widthOf } from "./text";

/** Points of type and lines in a millimetre; the unit in which a plate is drawn. */
export const POINTS_PER_MM = 72 / 25.4;
/** Air at the edges of a panel: larger type needs more. */
export const airOf = (size: number) => Math.max(5, size * 0.72);
const TICK = 3;
/** How wide the title of a key is at most, in sizes of type. */
export const KEY_TITLE = 5.2;
const LINE = 1.22;

export type Rect = { x: number; y: number; width: number; height: number };
export type Side = "across" | "up";
/** x, y: of its line of words, from the corner of the legend. */
export type LegendEntry = { look: Look; label: string; x: number; y: number };
export type LegendPlan = { rect: Rect; title: string; entries: LegendEntry[] };
export type DirectLabel = { look: Look; x: number; y: number; end: number };

/** Where everything on a panel stands, in points from the sheet's upper left corner. */
export type PanelPlan = {
  i: number;
  panel: Panel;
  scene: Scene;
  letter: string;
  frame: Rect;
  area: Rect;
  across: PlateAxis;
  up: PlateAxis;
  /** Rooms for marks without a height, beneath the low end of their axis. */
  strips: PlateAxis[];
  titles: Record<Side, string>;
  /** Whether names and numbers stand at the ticks: inner panels that share an axis go without. */
  named: Record<Side, boolean>;
  levelNames: Record<Side, string[][]>;
  looks: Map<string, Look>;
  legend: LegendPlan | null;
  ends: DirectLabel[];
  /** Room at the right for the key of a shade. */
  keyAt: number | null;
};

export type SheetPlan = { width: number; height: number; panels: PanelPlan[]; titleAt: number };

export function lettersOf(n: number, form: string): string[] {
  if (n < 2 || form === "none") return Array(n).fill("");
  const start = form === "a" ? 97 : 65;
  return Array.from({ length: n }, (_, i) =>
    i < 26 ? String.fromCharCode(start + i) : `${String.fromCharCode(start + (i % 26))}${Math.floor(i / 26) + 1}`,
  );
}

/** The title of an axis: as it was typed, or the words of the data with their unit. */
export function titleOf(axis: SceneAxis, own: AxisSettings): string {
  if (own.title !== null && own.title !== undefined) return own.title;
  if (axis.kind === "bare") return "";
  return axis.unit && axis.title ? `${axis.title} (${axis.unit})` : axis.title || axis.unit;
}

/** n under the name of each level, where the axis has them and they are wanted. */
export const countsShown = (axis: SceneAxis, own: AxisSettings) =>
  axis.kind === "levels" && own.counts && axis.counts.length === axis.levels.length && axis.counts.length > 0;

export const countWords = (n: number, style: NumberStyle) => `n = ${whole(n, style)}`;

/** Strips take at most so much of the room of their axis. */
const MOST_OF_STRIPS = 0.42;

/** How much of an axis its strips take; nothing but them stands along a bare one. */
function stripsOf({ strips, kind }: SceneAxis, room: number, size: number): number {
  const wanted = strips.reduce((sum, strip) => sum + strip, 0) * size;
  return kind === "bare" && wanted > 0 ? room : Math.min(wanted, MOST_OF_STRIPS * room);
}

/** An axis with the strips beneath its low end. */
function axisWithStrips(
  scene: SceneAxis,
  own: AxisSettings,
  from: number,
  to: number,
  { style, numbers }: PlateDocument,
) {
  const room = Math.abs(to - from);
  const taken = stripsOf(scene, room, style.type_size);
  const sign = to >= from ? 1 : -1;
  const axis = axisOf(scene, own, from + sign * Math.min(taken, room - 1), to, numbers);
  const whole = scene.strips.reduce((sum, strip) => sum + strip, 0);
  let end = from + sign * taken;
  const strips = scene.strips.map((strip): PlateAxis => {
    const top = end;
    end -= (sign * taken * strip) / whole;
    return axisOf(BARE, AS_IT_FOLLOWS, end, top, numbers);
  });
  return { axis, strips };
}

const BARE: SceneAxis = {
  title: "",
  unit: "",
  kind: "bare",
  scale: "linear",
  low: -0.5,
  high: 0.5,
  levels: [],
  counts: [],
  heads: [],
  beside: [],
  strips: [],
  mirrored: false,
  from_zero: false,
  lost: 0,
  above_zero: 0,
};
const AS_IT_FOLLOWS = { low: null, high: null, scale: null } as unknown as AxisSettings;

/** The axes on which a layer stands: where it is in a strip, that in place of the axis that the strip lies beneath. */
export function axesOf({ across, up, strips }: PanelPlan, { strip, upright }: Layer) {
  if (strip == null) return { across, up };
  const own = nth(strips, strip);
  return upright ? { across: own, up } : { across, up: own };
}

type Needs = { left: number; right: number; top: number; bottom: number };

/** The ends that panels with shared axes have in common. */
function sharedEnds(panels: Panel[], scenes: Scene[], side: Side): [number, number] | null {
  const first = scenes[0]?.[side];
  if (
    !first ||
    scenes.some((scene) => scene[side].kind !== first.kind || scene[side].levels.join() !== first.levels.join())
  )
    return null;
  const ends = panels.map((panel, i) => endsOf(nth(scenes, i)[side], panel[side]));
  return [Math.min(...ends.map(([low]) => low)), Math.max(...ends.map(([, high]) => high))];
}

/** Where the rows of a sheet stand: as high beside each other as was said, 1 where nothing was. */
function rowsOf(heights: number[], rows: number, top: number, height: number): { y: number; height: number }[] {
  const said = Array.from({ length: rows }, (_, row) => heights[row] ?? 1);
  const whole = said.reduce((sum, share) => sum + share, 0);
  let y = top;
  return said.map((share) => {
    const own = { y, height: ((height - top) * share) / whole };
    y += own.height;
    return own;
  });
}

/** Everything on a sheet in its place. */
export function planOf(document: PlateDocument, scenes: Scene[], furnishings: Furnishings): SheetPlan {
  const { sheet, style } = document;
  const [width, height] = [sheet.width * POINTS_PER_MM, sheet.height * POINTS_PER_MM];
  const panels = document.panels.slice(0, scenes.length);
  const columns = Math.min(sheet.columns, panels.length);
  const rows = Math.ceil(panels.length / columns);
  const top = sheet.title ? style.title_size * 1.9 : 0;
  const cellWidth = width / columns;
  const tall = rowsOf(sheet.heights, rows, top, height);
  const letters = lettersOf(panels.length, sheet.letters);
  const common = {
    across: sheet.share_across && panels.length > 1 ? sharedEnds(panels, scenes, "across") : null,
    up: sheet.share_up && panels.length > 1 ? sharedEnds(panels, scenes, "up") : null,
  };
  const settings = panels.map((panel) => ({
    across: common.across ? { ...panel.across, low: common.across[0], high: common.across[1] } : panel.across,
    up: common.up ? { ...panel.up, low: common.up[0], high: common.up[1] } : panel.up,
  }));
  const columnOf = (i: number) => i % columns;
  const rowOf = (i: number) => Math.floor(i / columns);
  const named = panels.map((_, i) => ({
    across: !common.across || i + columns >= panels.length,
    up: !common.up || columnOf(i) === 0,
  }));
  const looks = panels.map((panel, i) => looksOf(panel, nth(scenes, i), style, furnishings));

  // Ticks depend on the room that is left, and the room on how wide their words are: twice is enough.
  let needs: Needs[] = panels.map(() => ({ left: 34, right: 9, top: 12, bottom: 30 }));
  for (let pass = 0; pass < 2; pass++) {
    const before = needs;
    needs = panels.map((panel, i) =>
      needsOf({
        panel,
        scene: nth(scenes, i),
        own: nth(settings, i),
        named: nth(named, i),
        looks: nth(looks, i),
        letter: letters[i] ?? "",
        document,
        cell: { width: cellWidth, height: nth(tall, rowOf(i)).height },
        before: nth(before, i),
      }),
    );
    // Data areas in one column begin at the same place, those in one row end on the same line.
    needs = needs.map((own, i) => ({
      ...own,
      left: Math.max(...needs.filter((_, j) => columnOf(j) === columnOf(i)).map(({ left }) => left)),
      right: Math.max(...needs.filter((_, j) => columnOf(j) === columnOf(i)).map(({ right }) => right)),
      top: Math.max(...needs.filter((_, j) => rowOf(j) === rowOf(i)).map((need) => need.top)),
      bottom: Math.max(...needs.filter((_, j) => rowOf(j) === rowOf(i)).map(({ bottom }) => bottom)),
    }));
  }
  const made = panels.map((panel, i): PanelPlan => {
    const scene = nth(scenes, i);
    const own = nth(needs, i);
    const frame = { x: columnOf(i) * cellWidth, width: cellWidth, ...nth(tall, rowOf(i)) };
    const area = {
      x: frame.x + own.left,
      y: frame.y + own.top,
      width: Math.max(frame.width - own.left - own.right, 10),
      height: Math.max(frame.height - own.top - own.bottom, 10),
    };
    const set = nth(settings, i);
    const { axis: across, strips } = axisWithStrips(scene.across, set.across, area.x, area.x + area.width, document);
    const { axis: up, strips: below } = axisWithStrips(scene.up, set.up, area.y + area.height, area.y, document);
    const own_looks = nth(looks, i);
    const plan: PanelPlan = {
      i,
      panel,
      scene,
      letter: letters[i] ?? "",
      frame,
      area,
      across,
      up,
      strips: [...strips, ...below],
      titles: { across: titleOf(scene.across, panel.across), up: titleOf(scene.up, panel.up) },
      named: nth(named, i),
      levelNames: {
        across: levelLines(scene.across, across, document, panel.across),
        up: levelLines(scene.up, up, document, panel.up, own.left - airOf(document.style.type_size) - TICK - 3),
      },
      looks: own_looks,
      legend: null,
      ends: [],
      keyAt: scene.values_title || scene.sizes_title ? area.x + area.width + 8 : null,
    };
    plan.ends = endsShown(panel, scene) ? directLabels(plan, document) : [];
    plan.legend = legendOf(plan, document);
    return plan;
  });
  return { width, height, panels: made, titleAt: style.title_size * 1.4 };
}

type NeedsProps = {
  panel: Panel;
  scene: Scene;
  own: Record<Side, AxisSettings>;
  named: Record<Side, boolean>;
  looks: Map<string, Look>;
  letter: string;
  document: PlateDocument;
  cell: { width: number; height: number };
  before: Needs;
};

function needsOf({ panel, scene, own, named, looks, letter, document, cell, before }: NeedsProps): Needs {
  const { font, type_size: size, title_size: titled, letter_size, bold_titles: bold } = document.style;
  const widths = { across: cell.width - before.left - before.right, up: cell.height - before.top - before.bottom };
  const { axis: across } = axisWithStrips(scene.across, own.across, 0, Math.max(widths.across, 10), document);
  const { axis: up } = axisWithStrips(scene.up, own.up, Math.max(widths.up, 10), 0, document);
  const upTitle = named.up ? titleOf(scene.up, panel.up) : "";
  const acrossTitle = named.across ? titleOf(scene.across, panel.across) : "";
  const air = airOf(size);
  const titleLines = (text: string, room: number) => inLines(text, room, titled, font, bold).length * titled * LINE;
  let left = air + (upTitle ? titleLines(upTitle, widths.up + 20) + 2 : 0) + TICK + 3;
  if (named.up) {
    const most = up.kind === "levels" ? cell.width * 0.4 : Number.POSITIVE_INFINITY;
    const words = up.ticks.map(({ value, text }) => (scene.up.heads?.includes(value) ? 0 : widthOf(text, size, font)));
    const counts = countsShown(scene.up, panel.up)
      ? scene.up.counts.map((n) => widthOf(countWords(n, document.numbers), size, font))
      : [];
    const turned = panel.up.rotation === 90 ? size : Math.max(0, ...words, ...counts);
    left += Math.min(turned, most);
  }
  let bottom = air + TICK + 2 + (acrossTitle ? titleLines(acrossTitle, widths.across + 30) + 2 : 0);
  if (named.across && across.kind !== "bare") {
    const { rotation } = panel.across;
    if (rotation === 0 || across.kind !== "levels") {
      const lines = levelLines(scene.across, across, document, panel.across).map((levelLine) => levelLine.length);
      bottom += Math.max(1, ...lines) * size * LINE;
    } else {
      const longest = Math.max(0, ...across.ticks.map(({ text }) => widthOf(text, size, font)));
      bottom += rotation === 90 ? longest + 2 : longest * 0.71 + size;
    }
    if (countsShown(scene.across, panel.across)) bottom += size * LINE;
  }
  // The last number of an axis stands half over its end.
  const last =
    across.kind === "levels"
      ? 0
      : Math.max(0, ...across.ticks.slice(-1).map(({ text }) => widthOf(text, size, font) / 2));
  let right = Math.max(air + 2, last + 1);
  if (scene.up.beside?.length) right += 10 + Math.max(...scene.up.beside.map((text) => widthOf(text, size, font)));
  if (scene.sizes_title && !scene.values_title)
    right +=
      12 + 2.2 * size + Math.max(widthOf("0.00e0", size, font), widthOf(scene.sizes_title, size, font) - 2.2 * size);
  if (scene.values_title)
    right +=
      12 +
      Math.max(
        widthOf("0.00e0", size, font),
        ...inLines(scene.values_title, KEY_TITLE * size, size, font).map((line) => widthOf(line, size, font) - 10),
      );
  if (endsShown(panel, scene))
    right +=
      6 + Math.max(0, ...[...looks.values()].filter(({ key }) => key).map(({ label }) => widthOf(label, size, font)));
  const head = Math.max(letter ? letter_size * 1.15 : 0, panel.title ? titled * LINE : 0);
  const above = legendAbove(panel, scene) ? legendRows(looks, scene, document, widths.across).height + 4 : 0;
  const top = air + (head ? head + 2 : size * 0.4) + above;
  return { left, right, top, bottom };
}

/** Names of levels in lines that fit between their neighbours; along the up axis, in the room at its left. */
function levelLines(
  axis: SceneAxis,
  made: PlateAxis,
  { style }: PlateDocument,
  own: AxisSettings,
  roomAtLeft?: number,
): string[][] {
  if (made.kind !== "levels") return made.ticks.map(({ text }) => [text]);
  const step = Math.abs(made.place(1) - made.place(0));
  const room = roomAtLeft ?? step * 0.96;
  return made.ticks.map(({ text }) => {
    if (own.rotation !== 0) return [text];
    const lines = inLines(text, room, style.type_size, style.font);
    const most =
      roomAtLeft === undefined
        ? 4
        : Math.max(1, Math.floor((step - (countsShown(axis, own) ? style.type_size : 0)) / (style.type_size * LINE)));
    return lines.length > most ? [...lines.slice(0, most - 1), lines.slice(most - 1).join(" ")] : lines;
  });
}

/** A legend is drawn where series are told apart by it alone, or where it is asked for. */
export function legendShown(panel: Panel, scene: Scene): boolean {
  const shown = scene.series.filter(({ key }) => !panel.series[key]?.hidden);
  if (panel.legend.shown === "yes") return shown.length > 0;
  return panel.legend.shown === "auto" && shown.length > 1 && !scene.told_by_place;
}

export const endsShown = (panel: Panel, scene: Scene) => panel.legend.shown === "ends" && scene.series.length > 0;

export const SWATCH = 15;

/** Whether a legend stands above the data: beside what fills it from end to end there is no room. */
const legendAbove = (panel: Panel, scene: Scene): boolean =>
  legendShown(panel, scene) && panel.legend.x == null && scene.layers.some(({ role }) => role === "answers");

const entriesOf = (looks: Map<string, Look>, scene: Scene) =>
  scene.series.flatMap(({ key }) => looks.get(key) ?? []).filter(({ hidden }) => !hidden);

/** Entries side by side, in as many lines as the room asks for. */
function legendRows(looks: Map<string, Look>, scene: Scene, { style }: PlateDocument, room: number) {
  const { type_size: size, font } = style;
  const rowHeight = size * 1.32;
  let [x, row] = [3, 0];
  const entries = entriesOf(looks, scene).map((look): LegendEntry => {
    const width = SWATCH + 4 + widthOf(look.label, size, font) + size;
    if (x + width > room && x > 3) [x, row] = [3, row + 1];
    const entry = { look, label: look.label, x, y: 3 + size * 0.82 + row * rowHeight };
    x += width;
    return entry;
  });
  return { entries, height: (row + 1) * rowHeight + 5 };
}

function legendOf(plan: PanelPlan, document: PlateDocument): LegendPlan | null {
  const { panel, scene, area } = plan;
  if (!legendShown(panel, scene)) return null;
  const { type_size: size, font } = document.style;
  if (legendAbove(panel, scene)) {
    const { entries, height } = legendRows(plan.looks, scene, document, area.width);
    return { rect: { x: area.x, y: area.y - height - 4, width: area.width, height }, title: "", entries };
  }
  const title = panel.legend.title ?? scene.series_title;
  const rowHeight = size * 1.32;
  const first = 3 + size * 0.82 + (title ? rowHeight : 0);
  const entries = entriesOf(plan.looks, scene).map((look, i) => ({
    look,
    label: look.label,
    x: 3,
    y: first + i * rowHeight,
  }));
  const width =
    Math.max(widthOf(title, size, font, true), ...entries.map(({ label }) => SWATCH + 4 + widthOf(label, size, font))) +
    6;
  const height = (title ? rowHeight : 0) + entries.length * rowHeight + 5;
  const { x, y } = panel.legend;
  const rect =
    x != null && y != null
      ? { x: area.x + x * area.width, y: area.y + y * area.height, width, height }
      : emptiest(plan, width, height);
  return { rect, title, entries };
}

/** The corner, or the middle of an edge, where a box of a size covers the fewest marks. */
function emptiest(plan: PanelPlan, width: number, height: number): Rect {
  const area = besideStrips(plan, width, height);
  const rights = area.x + area.width - width - 2;
  const lefts = area.x + 4;
  const middle = area.x + (area.width - width) / 2;
  const tops = area.y + 2;
  const bottoms = area.y + area.height - height - 4;
  const places = [
    [rights, tops],
    [lefts, tops],
    [rights, bottoms],
    [lefts, bottoms],
    [middle, tops],
    [middle, bottoms],
    [rights, area.y + (area.height - height) / 2],
  ] as [number, number][];
  const spots = spotsOf(plan, 1500);
  let best = nth(places, 0);
  let least = Number.POSITIVE_INFINITY;
  for (const [x, y] of places) {
    const covered = spots.filter(within({ x: x - 3, y: y - 3, width: width + 6, height: height + 6 })).length;
    if (covered < least) [best, least] = [[x, y], covered];
  }
  return { x: best[0], y: best[1], width, height };
}

/** The data area without the strips beneath its axes, where a box has room there. */
function besideStrips({ area, across, up }: PanelPlan, width: number, height: number): Rect {
  const own = { x: across.from, y: area.y, width: across.to - across.from, height: up.from - area.y };
  return own.width > width * 1.2 && own.height > height * 1.2 ? own : area;
}

type Spot = [number, number];
const SHARES = [0, 0.25, 0.5, 0.75, 1];

const within =
  ({ x, y, width, height }: Rect) =>
  ([a, b]: Spot) =>
    a > x && a < x + width && b > y && b < y + height;

/** Places that marks take: of each its own, and some along what reaches from one value to another. At most so many
 *  marks of a layer are looked at. */
function spotsOf(plan: PanelPlan, most = Number.POSITIVE_INFINITY): Spot[] {
  const spots: Spot[] = [];
  for (const layer of plan.scene.layers) {
    const { x, y, high_x, high_y, low, high, upright } = layer;
    const { across, up } = axesOf(plan, layer);
    const step = Math.max(1, Math.floor(x.length / most));
    for (let i = 0; i < x.length; i += step) {
      const [a, b] = [nth(x, i), nth(y, i)];
      spots.push([across.place(a), up.place(b)]);
      for (const share of SHARES) {
        const between = (from: number, to: number) => from + share * (to - from);
        if (high_x.length > 0)
          spots.push([across.place(between(a, nth(high_x, i))), up.place(between(b, nth(high_y, i)))]);
        if (low.length > 0) {
          const value = between(nth(low, i), nth(high, i));
          spots.push(upright ? [across.place(a), up.place(value)] : [across.place(value), up.place(b)]);
        }
      }
    }
  }
  return spots;
}

/** How a box lies on its panel: whether over marks, and where it would be free of them, if anywhere. */
export function boxOverMarks(plan: PanelPlan, rect: Rect): { over: boolean; free: Rect | null } {
  const spots = spotsOf(plan);
  const covers = (at: Rect) => spots.some(within(at));
  const best = emptiest(plan, rect.width, rect.height);
  return { over: covers(rect), free: covers(best) ? null : best };
}

/** Names at the ends of lines, moved apart where they would cover each other. */
function directLabels(plan: PanelPlan, { style }: PlateDocument): DirectLabel[] {
  const { scene, area } = plan;
  const result: DirectLabel[] = [];
  for (const { key } of scene.series) {
    const look = plan.looks.get(key);
    if (!look || look.hidden) continue;
    let end: [number, number] | null = null;
    for (const layer of scene.layers) {
      if (layer.series !== key || layer.form === "blocks") continue;
      const { across, up } = axesOf(plan, layer);
      for (let i = 0; i < layer.x.length; i++) {
        const x = across.place(nth(layer.x, i));
        const y = up.place(nth(layer.y, i));
        if (!(x <= area.x + area.width + 1) || !(y >= area.y - 1 && y <= area.y + area.height + 1)) continue;
        if (!end || x > end[0] || (layer.form === "line" && x >= end[0])) end = [x, y];
      }
    }
    if (end) result.push({ look, x: end[0], y: end[1], end: end[1] });
  }
  result.sort((a, b) => a.y - b.y);
  const least = style.type_size * 1.15;
  for (let i = 1; i < result.length; i++) {
    const before = nth(result, i - 1);
    const own = nth(result, i);
    if (own.y - before.y < least) own.y = before.y + least;
  }
  const over = (result.at(-1)?.y ?? 0) - (area.y + area.height);
  if (over > 0) for (const directLabel of result) directLabel.y -= over;
  return result;
}
