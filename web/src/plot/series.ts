const SERIES = [
  { stroke: "stroke-series-heron", fill: "fill-heron-fill", text: "fill-heron-text" },
  { stroke: "stroke-series-velvet", fill: "fill-velvet-fill", text: "fill-velvet-text" },
  { stroke: "stroke-series-ochre", fill: "fill-ochre-fill", text: "fill-ochre-text" },
  { stroke: "stroke-series-moss", fill: "fill-moss-fill", text: "fill-moss-text" },
  { stroke: "stroke-series-rust", fill: "fill-rust-fill", text: "fill-rust-text" },
  { stroke: "stroke-series-lagoon", fill: "fill-lagoon-fill", text: "fill-lagoon-text" },
  { stroke: "stroke-series-dusk", fill: "fill-dusk-fill", text: "fill-dusk-text" },
  { stroke: "stroke-series-bark", fill: "fill-bark-fill", text: "fill-bark-text" },
] as const;

/** The colours of a group, by its place in the order of the levels; beyond the last they begin again. */
export const seriesOf = (place: number) => nth(SERIES, place % SERIES.length);

const ROOT3 = Math.sqrt(3);
/** Outlines about the origin, of about the same area as a circle of radius r. */
const SHAPES: ((r: number) => string)[] = [
  (r) => `M${r} 0A${r} ${r} 0 1 1 ${-r} 0A${r} ${r} 0 1 1 ${r} 0Z`,
  (r) => `M${-0.89 * r} ${-0.89 * r}H${0.89 * r}V${0.89 * r}H${-0.89 * r}Z`,
  (r) => `M0 ${-1.34 * r}L${(1.34 * r * ROOT3) / 2} ${0.67 * r}H${(-1.34 * r * ROOT3) / 2}Z`,
  (r) => `M0 ${-1.3 * r}L${1.3 * r} 0L0 ${1.3 * r}L${-1.3 * r} 0Z`,
  (r) => `M0 ${1.34 * r}L${(1.34 * r * ROOT3) / 2} ${-0.67 * r}H${(-1.34 * r * ROOT3) / 2}Z`,
];

/** The shape of a group's mark, by its place likewise: with eight colours and five shapes, forty groups differ. */
export const shapeOf = (place: number, radius: number): string => nth(SHAPES, place % SHAPES.length)(radius);

import { nth } from "../values";
