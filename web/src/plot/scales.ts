import { scaleLinear } from "d3-scale";

export type Domain = readonly [number, number];
export type Scale = ((value: number) => number) & {
  domain: () => Domain;
  range: () => Domain;
  invert: (at: number) => number;
  ticks: (about: number) => number[];
};

/**
 * A straight scale. The span of a domain near ±1e308 is itself too large a number, so it is worked in quarters; near the
 * smallest numbers steps would vanish, so it is worked in multiples of 1e-300.
 */
export function linear(domain: Domain, from: number, to: number): Scale {
  const largest = Math.max(Math.abs(domain[0]), Math.abs(domain[1]));
  const part = largest > 0 && largest < 1e-290 ? 1e-300 : Number.isFinite(domain[1] - domain[0]) ? 1 : 4;
  const inner = scaleLinear([domain[0] / part, domain[1] / part], [from, to]);
  return Object.assign((value: number) => inner(value / part), {
    domain: () => domain,
    range: () => [from, to] as const,
    invert: (at: number) => inner.invert(at) * part,
    ticks: (about: number) => inner.ticks(about).map((tick) => tick * part),
  });
}

/** A domain that leaves a little air at both ends; one value gets room on both sides. */
export function aired(low: number, high: number, share = 0.02): Domain {
  if (low === high) {
    const half = Math.abs(low) > 1e15 ? Math.abs(low) * 1e-3 : 0.5;
    return [low - half, high + half];
  }
  const air = (high / 2 - low / 2) * 2 * share;
  const limit = Number.MAX_VALUE;
  return [Math.max(low - air, -limit), Math.min(high + air, limit)];
}
