import type { Comparison } from "../api/compare";
import type { Furnishings, PlateDocument, Scene, Source } from "../api/plates";
import type { Spread } from "../api/readings";
import type { Table } from "../api/studies";
import text from "./answers.gen.json?raw";

type PlateName =
  | "groups"
  | "shape"
  | "densities"
  | "pair"
  | "logs"
  | "hexagons"
  | "contours"
  | "counted"
  | "boxed"
  | "days"
  | "trays"
  | "estimates";
type Answers = {
  table: Table;
  furnishings: Furnishings;
  plates: Record<PlateName, { document: PlateDocument; scene: Scene }>;
  /** Columns that are hard to draw, in pictures of each kind. */
  edges: { source: Source; scene: Scene }[];
  spread: Spread;
  compare: Comparison;
};

/** Numbers as they come out of an envelope; what is no number was written as null. */
const asUnpacked = (_: string, value: unknown) =>
  value !== null &&
  typeof value === "object" &&
  "numbers" in value &&
  Object.keys(value).length === 1 &&
  Array.isArray(value.numbers)
    ? Float64Array.from(value.numbers, (value_) => value_ ?? Number.NaN)
    : value;

/** What the server answers of a small made-up table; a test of the server keeps it true. */
export const answers: Answers = JSON.parse(text, asUnpacked);
