import { scaleUtc } from "d3-scale";
import type { Scale, Tick } from "./scales";

const DAY = 86_400;
const FORMATS: [number, Intl.DateTimeFormatOptions][] = [
  [2 * DAY, { hour: "2-digit", minute: "2-digit" }],
  [300 * DAY, { day: "numeric", month: "short" }],
  [1500 * DAY, { month: "short", year: "numeric" }],
  [Number.POSITIVE_INFINITY, { year: "numeric" }],
];

/** Ticks at round dates and times of a scale in seconds since 1970. */
export function timeTicks(scale: Scale): Tick[] {
  const [from = 0, to = 0] = scale.domain();
  const times = scaleUtc([new Date(from * 1000), new Date(to * 1000)], scale.range());
  const format = FORMATS.find(([upTo]) => to - from <= upTo)?.[1];
  const write = new Intl.DateTimeFormat("en-GB", { ...format, timeZone: "UTC" });
  return times.ticks(7).map((time) => ({ at: times(time), value: time.getTime(), text: write.format(time) }));
}
