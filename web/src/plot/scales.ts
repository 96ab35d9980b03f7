import { scaleLinear, scaleLog } from "d3-scale";
import { nth } from "../values";
import { fixed, significant } from "../words/numbers";

export type Domain = readonly [number, number];
export type Scale = ((value: number) => number) & {
  domain: () => Domain;
  range: () => Domain;
  invert: (at: number) => number;
  ticks: (about: number) => number[];
  /** Whether equal steps are equal ratios. */
  log?: boolean;
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

/** A scale on which equal steps are equal ratios; both ends of its domain lie above 0. */
export function logarithmic(domain: Domain, from: number, to: number): Scale {
  const inner = scaleLog([domain[0], domain[1]], [from, to]);
  const decades = Math.log10(domain[1]) - Math.log10(domain[0]);
  const steps = decades > 3.5 ? [1] : decades > 2.2 ? [1, 3] : [1, 2, 5];
  return Object.assign((value: number) => inner(value), {
    domain: () => domain,
    range: () => [from, to] as const,
    invert: (at: number) => inner.invert(at),
    ticks: (about: number) => {
      if (decades < 0.7)
        return scaleLinear()
          .domain([...domain])
          .ticks(about);
      const found: number[] = [];
      for (let power = Math.floor(Math.log10(domain[0])); power <= Math.log10(domain[1]); power++)
        for (const step of steps) found.push(Number(`${step}e${power}`));
      const inside = found.filter((tick) => tick >= domain[0] && tick <= domain[1]);
      return inside.filter((_, i) => i % Math.max(1, Math.ceil(inside.length / (2 * about))) === 0);
    },
    log: true,
  });
}

/** A domain that leaves a little air at both ends, in equal ratio. */
export function airedLog(low: number, high: number, share = 0.02): Domain {
  const ratio = low === high ? 1.5 : 10 ** ((Math.log10(high) - Math.log10(low)) * share);
  return [Math.max(low / ratio, Number.MIN_VALUE), Math.min(high * ratio, Number.MAX_VALUE)];
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

export type Tick = { at: number; value: number; text: string };

/** Ticks at round values, written with the decimals that their step needs. */
export function ticksOf(scale: Scale, about: number): Tick[] {
  const values = scale.ticks(about);
  if (scale.log) return values.map((value) => ({ at: scale(value), value, text: significant(value, 4) }));
  const step = values.length > 1 ? nth(values, 1) - nth(values, 0) : 1;
  const decimals =
    step > 0 && Number.isFinite(step) ? Math.min(Math.max(0, -Math.floor(Math.log10(step) + 1e-9)), 12) : 0;
  const needs = values.some((value) => Math.abs(value * 10 ** decimals - Math.round(value * 10 ** decimals)) > 1e-6);
  return values.map((value) => ({ at: scale(value), value, text: fixed(value, needs ? decimals + 1 : decimals) }));
}
