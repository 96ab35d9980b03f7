import type { Furnishings, Panel, PlateDocument, PlateStyle, Scene, Sheet } from "../api/plates";
import { numbersOnScreen } from "../words/numbers";
import { POINTS_PER_MM } from "./layout";

/** The name of the look of the page. */
export const SCREEN = "screen";
const SERIES = ["heron", "velvet", "ochre", "moss", "rust", "lagoon", "dusk", "bark"];

/** The colours of the page, light or dark, as a set that a figure can take. */
const COLOURS: Furnishings = {
  sets: [
    {
      name: "screen",
      words: "the colours of the page",
      colours: SERIES.map((name) => `var(--series-${name})`),
      fills: SERIES.map((name) => `var(--${name}-fill)`),
    },
  ],
  built_in: [],
  kept: [],
  widths: {},
  views: {},
};

const MANY = 2_000;
const POINT = 4.4;

/** How a figure looks on a stage: in the type, ink and colours of the page. */
const styleOf = (n: number): PlateStyle => ({
  name: SCREEN,
  font: "page" as PlateStyle["font"],
  type_size: 12.5,
  title_size: 13.5,
  letter_size: 15,
  axis_line: 1,
  mark_line: 1.5,
  point_size: n > MANY ? 2.6 : POINT,
  opacity: n > MANY ? 0.4 : 0.5,
  colours: "screen",
  frame: "open",
  ticks: "out",
  gridlines: false,
  bold_titles: false,
  shapes: true,
  dashes: false,
  hatches: false,
  ink: "var(--ink)",
  paper: "var(--raised)",
});

/** Centres stay as large as they are among few points, however small many points are. */
const withCentres = (panel: Panel): Panel => {
  const { bars } = panel.marks;
  return {
    ...panel,
    marks: { ...panel.marks, bars: { ...bars, hidden: bars?.hidden ?? false, size: bars?.size ?? POINT } },
  };
};

/** Panels as a sheet on the screen, a point of it a pixel. n: how many points they have; set: how they stand together. */
export function onScreen(
  panels: Panel[],
  n: number,
  width: number,
  height: number,
  set: Partial<Sheet> = {},
): { document: PlateDocument; furnishings: Furnishings } {
  const sheet = {
    width: width / POINTS_PER_MM,
    height: height / POINTS_PER_MM,
    columns: 1,
    heights: [],
    letters: "none" as const,
    share_across: false,
    share_up: false,
    title: "",
    ...set,
  };
  const text = { text: null, written: "" };
  return {
    document: {
      format: "velvet-heron-plate",
      version: 4,
      sheet,
      style: styleOf(n),
      panels: n > MANY ? panels.map(withCentres) : panels,
      numbers: numbersOnScreen(),
      caption: text,
      alternative: text,
    },
    furnishings: COLOURS,
  };
}

/** A figure as the page draws it. */
export type Shown = { document: PlateDocument; scenes: Scene[] };

/** The same look on paper: the colours of the light page written out, in type that can be shipped. */
export function onPaper(shown: PlateDocument): { document: PlateDocument; furnishings: Furnishings } {
  const room = window.document.createElement("div");
  room.dataset.theme = "light";
  window.document.body.append(room);
  const page = getComputedStyle(room);
  const written = (colour: string) => page.getPropertyValue(colour.slice("var(".length, -1)).trim();
  const sets = COLOURS.sets.map((set) => ({
    ...set,
    name: "paper",
    colours: set.colours.map(written),
    fills: set.fills.map(written),
  }));
  const { style } = shown;
  const own = { name: "paper", colours: "paper", font: "sans", ink: written(style.ink), paper: written(style.paper) };
  room.remove();
  return { document: { ...shown, style: { ...style, ...own } as PlateStyle }, furnishings: { ...COLOURS, sets } };
}
