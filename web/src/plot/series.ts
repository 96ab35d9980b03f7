const SERIES = [
  { stroke: "stroke-series-heron", fill: "fill-heron-fill" },
  { stroke: "stroke-series-velvet", fill: "fill-velvet-fill" },
  { stroke: "stroke-series-ochre", fill: "fill-ochre-fill" },
  { stroke: "stroke-series-moss", fill: "fill-moss-fill" },
  { stroke: "stroke-series-rust", fill: "fill-rust-fill" },
] as const;

/** The colours of a group, by its place in the order of the levels; beyond the last they begin again. */
export const seriesOf = (place: number) => SERIES[place % SERIES.length] as (typeof SERIES)[number];
