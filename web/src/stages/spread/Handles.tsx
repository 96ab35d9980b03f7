import type { Classes, Density, Spread } from "../../api/readings";
import type { PlateAxis } from "../../figure/axis";
import { Grip } from "../../ui/Grip";
import { nth } from "../../values";
import { significant } from "../../words/numbers";
import { unitOf } from "./classWords";

/** A length in the variable's unit, rounded to what a hand can mean on this axis: about a pixel. */
export function rounded(value: number, perPixel: number): number {
  const step = 10 ** Math.floor(Math.log10(Math.max(perPixel, Number.MIN_VALUE)));
  const times = Math.max(Math.round(value / step), 1);
  return Number((times * step).toPrecision(6));
}

const perPixel = (axis: PlateAxis) => Math.abs(axis.invert(1) - axis.invert(0));

export type WidthChoice = { width: number; start: number };

type WidthHandleProps = {
  spread: Spread;
  classes: Classes;
  axis: PlateAxis;
  /** Where bodies stand. */
  base: number;
  onDrag: (choice: WidthChoice) => void;
  onEnd: () => void;
};

/** The right edge of the fullest class: drag it, and every class takes its width. */
export function WidthHandle({ spread, classes, axis, base, onDrag, onEnd }: WidthHandleProps) {
  const fullest = classes.counts.reduce((best, count, i) => (count > (classes.counts[best] ?? 0) ? i : best), 0);
  const left = nth(classes.boundaries, fullest);
  const right = nth(classes.boundaries, fullest + 1);
  const { minimum, maximum } = spread.summary;
  if (classes.width === null || minimum === null || maximum === null || minimum === maximum) return null;
  const step = perPixel(axis);
  const least = Math.max((maximum - minimum) / 500, step);
  const take = (wanted: number) => {
    const width = rounded(Math.min(Math.max(wanted, least), maximum - minimum), step);
    // The grabbed class keeps its left edge; as many whole classes as needed go before it.
    const start = left - Math.ceil((left - minimum) / width - 1e-9) * width;
    onDrag({ width, start: Number(start.toPrecision(12)) });
  };
  const width = right - left;
  return (
    <Grip
      x={axis.place(right)}
      y={base}
      label="Class width"
      value={width}
      valueText={`${significant(width, 4)}${unitOf(spread.subject.unit)}`}
      onDrag={(px) => take(axis.invert(px) - left)}
      onStep={(steps) => {
        take(width + 2 * steps * step);
        onEnd();
      }}
      onEnd={onEnd}
    >
      <path d="M0 -11V11" className="stroke-accent stroke-[2]" strokeLinecap="round" />
      <path d="M-4.5 -3.5L-8 0L-4.5 3.5M4.5 -3.5L8 0L4.5 3.5" fill="none" className="stroke-[1.4] stroke-accent" />
    </Grip>
  );
}

type EdgeHandlesProps = {
  classes: Classes;
  unit: string;
  axis: PlateAxis;
  /** Where bodies stand. */
  base: number;
  onDrag: (boundaries: number[]) => void;
  onEnd: () => void;
};

const MOST_EDGES = 60;

/** Every boundary a grip: dragged between its neighbours; Delete takes it out, Insert halves the class behind it. */
export function EdgeHandles({ classes, unit, axis, base, onDrag, onEnd }: EdgeHandlesProps) {
  const edges = classes.boundaries;
  if (edges.length > MOST_EDGES) return null;
  const step = perPixel(axis);
  const put = (i: number, wanted: number) => {
    const [before, after] = [edges[i - 1] ?? Number.NEGATIVE_INFINITY, edges[i + 1] ?? Number.POSITIVE_INFINITY];
    const rough = Math.min(Math.max(wanted, before + step), after - step);
    const unitStep = 10 ** Math.floor(Math.log10(Math.max(step, Number.MIN_VALUE)));
    const value = Number((Math.round(rough / unitStep) * unitStep).toPrecision(12));
    if (value > before && value < after) onDrag(edges.map((edge, place) => (place === i ? value : edge)));
  };
  return edges.map((edge, i) => (
    <Grip
      // biome-ignore lint/suspicious/noArrayIndexKey: a boundary is its place
      key={i}
      x={axis.place(edge)}
      y={base}
      label={`Boundary ${i + 1} of ${edges.length}`}
      value={edge}
      valueText={`${significant(edge, 6)}${unitOf(unit)}`}
      onDrag={(px) => put(i, axis.invert(px))}
      onStep={(steps) => {
        put(i, edge + 2 * steps * step);
        onEnd();
      }}
      onKey={(key) => {
        const next = edges[i + 1];
        if (key === "Delete" && edges.length > 2) onDrag(edges.filter((_, place) => place !== i));
        else if (key === "Insert" && next !== undefined)
          onDrag([...edges.slice(0, i + 1), Number(((edge + next) / 2).toPrecision(9)), ...edges.slice(i + 1)]);
        else return;
        onEnd();
      }}
      onEnd={onEnd}
    >
      <path d="M0 -9V9" className="stroke-accent stroke-[2]" strokeLinecap="round" />
      <circle r={3.2} className="fill-raised stroke-[1.6] stroke-accent" />
    </Grip>
  ));
}

type BandwidthHandleProps = {
  spread: Spread;
  density: Density;
  axis: PlateAxis;
  /** Where bodies stand. */
  base: number;
  /** Height of the drawing above the axis at a value, in pixels from the top. */
  clearAt: (value: number) => number;
  /** From where a number slip lies, about as wide as this handle. */
  taken: number | null;
  onDrag: (bandwidth: number) => void;
  onEnd: () => void;
};

const BUMP_HEIGHT = 26;
/** The grips stand this far outside one SD, so that a narrow bump can still be taken hold of. */
const CLEAR_OF = 6;
const SLIP_WIDTH = 210;
const bell = (z: number) => Math.exp(-0.5 * z * z);

/** A bump as wide as the kernel, set where the picture is emptiest: its two grips are one SD from its middle. */
export function BandwidthHandle({ spread, density, axis, base, clearAt, taken, onDrag, onEnd }: BandwidthHandleProps) {
  const { from, to } = axis;
  const { bandwidth } = density;
  const half = Math.abs(axis.place(bandwidth) - axis.place(0));
  const reach = Math.min(Math.max(3 * half, 40), (to - from) / 2);
  const places = [0.82, 0.18, 0.7, 0.3, 0.5].map((share) =>
    Math.min(Math.max(from + share * (to - from), from + reach), to - reach),
  );
  const clear = (middle: number) =>
    taken !== null && middle + reach > taken && middle - reach < taken + SLIP_WIDTH
      ? 0
      : Math.min(...[-1, -0.5, 0, 0.5, 1].map((part) => clearAt(axis.invert(middle + part * reach))));
  const middle = places.reduce((best, place) => (clear(place) > clear(best) + 8 ? place : best));
  const y = Math.max(Math.min(clear(middle) - 34, base - 120), 34 + BUMP_HEIGHT + 8);
  const step = perPixel(axis) / 2;
  const take = (wanted: number) => onDrag(rounded(Math.max(wanted, step), step));
  const outline = Array.from({ length: 61 }, (_, i) => {
    const z = (i - 30) / 10;
    return `${(middle + z * half).toFixed(1)} ${(y - BUMP_HEIGHT * bell(z)).toFixed(1)}`;
  });
  const grips = [-1, 1] as const;
  return (
    <g data-screen-only>
      <path d={`M${outline.join("L")}Z`} className="fill-heron-fill stroke-series-heron opacity-80" />
      <text x={middle} y={y + 14} textAnchor="middle" className="fill-muted-ink text-small">
        drag to smooth
      </text>
      {grips.map((side) => (
        <Grip
          key={side}
          x={middle + side * (half + CLEAR_OF)}
          y={y - BUMP_HEIGHT * bell(1)}
          label={side === 1 ? "Bandwidth" : "Bandwidth, from the left"}
          value={bandwidth}
          valueText={`${significant(bandwidth)}${unitOf(spread.subject.unit)}`}
          onDrag={(px) => take(axis.invert(Math.abs(px - middle) - CLEAR_OF) - axis.invert(0))}
          onStep={(steps) => {
            take(bandwidth + 2 * side * steps * step);
            onEnd();
          }}
          onEnd={onEnd}
        >
          <circle r={5.5} className="fill-raised stroke-[2] stroke-accent" />
        </Grip>
      ))}
    </g>
  );
}
