import {
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  type Ref,
  useId,
  useMemo,
  useRef,
  useState,
} from "react";
import { AxisBottom, AxisLeft } from "../plot/Axes";
import { Dots } from "../plot/Dots";
import { aired, linear, type Scale } from "../plot/scales";
import { Readout } from "../ui/Readout";
import type { Size } from "../ui/useSize";
import { nth } from "../values";

export type Guide = { on: "x" | "y"; value: number; words: string; strong?: boolean };
type Numbers = ArrayLike<number>;

type PointPlotProps = {
  label: string;
  size: Size;
  xs: Numbers;
  ys: Numbers;
  /** The row of each point, from 1. */
  rows: Numbers;
  xTitle: string;
  yTitle: string;
  /** Names of the lanes at 0, 1, …, in place of a number axis at the left. */
  lanes?: readonly string[] | undefined;
  guides?: readonly Guide[];
  /** Values that the axes must reach besides the points. */
  reach?: { x?: readonly number[]; y?: readonly number[] };
  selected: ReadonlySet<number>;
  /** Rows that are ringed: with a tick beyond, dashed where they are set aside. */
  ringed?: ReadonlyMap<number, "beyond" | "aside">;
  /** Size of each mark, where they differ. */
  radii?: Numbers | undefined;
  words: (place: number) => string[];
  onSelect: (rows: number[], words: string, add: boolean) => void;
  children?: (x: Scale, y: Scale) => ReactNode;
  drawing?: Ref<SVGSVGElement>;
};

const EDGE = { left: 58, right: 18, top: 16, bottom: 46 };
const REACH = 14;
const DRAGGED_FROM = 5;
/** Beyond so many, marks are painted and all of one size. */
const SIZED_UP_TO = 1_500;
type Box = { x0: number; y0: number; x1: number; y1: number };

function extent(values: Numbers, more: readonly number[] = []): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  const take = (value: number) => {
    if (!Number.isFinite(value)) return;
    low = Math.min(low, value);
    high = Math.max(high, value);
  };
  for (let i = 0; i < values.length; i++) take(nth(values, i));
  more.forEach(take);
  return Number.isFinite(low) ? [low, high] : [0, 1];
}

/** Points that stand for rows: each can be read, selected alone or with its neighbours, and reached by arrows. */
export function PointPlot(props: PointPlotProps) {
  const { label, size, xs, ys, rows, lanes, guides = [], reach, selected, ringed, radii, words, onSelect } = props;
  const [place, setPlace] = useState<number | null>(null);
  const [box, setBox] = useState<Box | null>(null);
  const clip = useId();
  const start = useRef<{ x: number; y: number } | null>(null);
  const left = lanes ? Math.min(140, 24 + 6.4 * Math.max(...lanes.map((lane) => lane.length), 4)) : EDGE.left;
  const { x, y, px, py } = useMemo(() => {
    const x = linear(aired(...extent(xs, reach?.x), 0.03), left, size.width - EDGE.right);
    const span = lanes ? ([lanes.length - 0.5, -0.5] as const) : aired(...extent(ys, reach?.y), 0.05);
    const y = linear(span, size.height - EDGE.bottom, EDGE.top);
    const at = (values: Numbers, scale: Scale) => Float64Array.from(values, (value) => scale(value));
    return { x, y, px: at(xs, x), py: at(ys, y) };
  }, [xs, ys, size, reach, lanes, left]);
  const chosen = useMemo(() => {
    const found: number[] = [];
    if (selected.size > 0) for (let i = 0; i < rows.length; i++) if (selected.has(nth(rows, i))) found.push(i);
    return found;
  }, [selected, rows]);
  const rings = useMemo(() => {
    const found: number[] = [];
    if (ringed?.size) for (let i = 0; i < rows.length; i++) if (ringed.has(nth(rows, i))) found.push(i);
    return found.sort((a, b) => nth(xs, a) - nth(xs, b));
  }, [ringed, rows, xs]);
  const order = useMemo(() => Array.from(px.keys()).sort((a, b) => (px[a] ?? 0) - (px[b] ?? 0)), [px]);
  const near = (event: PointerEvent<SVGSVGElement>): [number, number, number | null] => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [mx, my] = [event.clientX - frame.left, event.clientY - frame.top];
    let best: number | null = null;
    let distance = REACH;
    for (let i = 0; i < px.length; i++) {
      const away = Math.hypot(nth(px, i) - mx, nth(py, i) - my);
      if (away < distance) [best, distance] = [i, away];
    }
    return [mx, my, best];
  };
  const onMove = (event: PointerEvent<SVGSVGElement>) => {
    const [mx, my, best] = near(event);
    const from = start.current;
    if (from && Math.hypot(mx - from.x, my - from.y) > DRAGGED_FROM) {
      setBox({
        x0: Math.min(from.x, mx),
        x1: Math.max(from.x, mx),
        y0: Math.min(from.y, my),
        y1: Math.max(from.y, my),
      });
      setPlace(null);
    } else setPlace(best);
  };
  const add = (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) =>
    event.shiftKey || event.ctrlKey || event.metaKey;
  const onUp = (event: PointerEvent<SVGSVGElement>) => {
    const [, , best] = near(event);
    if (box) {
      const found: number[] = [];
      for (let i = 0; i < px.length; i++) {
        const [ax, ay] = [nth(px, i), nth(py, i)];
        if (ax >= box.x0 && ax <= box.x1 && ay >= box.y0 && ay <= box.y1) found.push(nth(rows, i));
      }
      if (found.length > 0) onSelect(found, "rows within a box", add(event));
    } else if (best !== null) onSelect([nth(rows, best)], `row ${rows[best]}`, add(event));
    start.current = null;
    setBox(null);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const walked = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const jumped = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const step = (list: number[], by: number) => {
      const now = place === null ? -1 : list.indexOf(place);
      const next = now < 0 ? (by > 0 ? 0 : list.length - 1) : Math.min(Math.max(now + by, 0), list.length - 1);
      setPlace(list[next] ?? null);
    };
    if (walked !== undefined) step(order, walked * (event.shiftKey ? 10 : 1));
    else if (jumped !== undefined && rings.length > 0) step(rings, jumped);
    else if ((event.key === "Enter" || event.key === " ") && place !== null)
      onSelect([nth(rows, place)], `row ${rows[place]}`, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const bottom = size.height - EDGE.bottom;
  const right = size.width - EDGE.right;
  return (
    <div className="absolute inset-0">
      <svg
        ref={props.drawing}
        role="application"
        aria-label={`${label}: left and right walk the rows, up and down those that are ringed, Enter selects, dragging selects many`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
        tabIndex={0}
        width={size.width}
        height={size.height}
        className="touch-none select-none"
        onPointerDown={(event) => {
          const [mx, my] = near(event);
          start.current = { x: mx, y: my };
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerLeave={() => !start.current && setPlace(null)}
        onBlur={() => setPlace(null)}
        onKeyDown={onKeyDown}
      >
        {lanes ? (
          <LaneNames lanes={lanes} y={y} left={left} right={right} />
        ) : (
          <AxisLeft scale={y} title={props.yTitle} x={left} to={right} />
        )}
        {guides.map(({ on, value, words: said, strong }) => (
          <g key={`${on}${value}${said}`}>
            <path
              d={on === "y" ? `M${left} ${y(value)}H${right}` : `M${x(value)} ${EDGE.top}V${bottom}`}
              strokeDasharray={strong ? "7 3" : "3 3"}
              className={strong ? "stroke-[1.3] stroke-danger" : "stroke-[1.1] stroke-line-strong"}
            />
          </g>
        ))}
        <clipPath id={clip}>
          <rect x={left} y={EDGE.top} width={Math.max(right - left, 0)} height={Math.max(bottom - EDGE.top, 0)} />
        </clipPath>
        <g clipPath={`url(#${clip})`}>{props.children?.(x, y)}</g>
        {radii && rows.length <= SIZED_UP_TO ? (
          <g className="fill-series-heron stroke-raised" fillOpacity={0.6} strokeWidth={0.3}>
            {order.map((i) => (
              <circle key={i} cx={px[i]} cy={py[i]} r={radii[i]} />
            ))}
          </g>
        ) : (
          <Dots
            xs={px}
            ys={py}
            radius={rows.length > 1_000 ? 1.6 : 2.4}
            opacity={0.6}
            className="stroke-series-heron"
          />
        )}
        {rings.map((i) => (
          <Ring key={i} x={nth(px, i)} y={nth(py, i)} kind={ringed?.get(nth(rows, i)) ?? "beyond"} />
        ))}
        {guides.map(({ on, value, words: said, strong }, i) => (
          <text
            key={`${on}${value}${said}`}
            x={on === "y" ? left + (right - left) * (radii ? 0.72 : 1) - 3 : x(value) + 4}
            y={on === "y" ? y(value) - 4 : EDGE.top + 8 + 12 * i}
            textAnchor={on === "y" ? "end" : "start"}
            strokeWidth={3}
            paintOrder="stroke"
            className={`stroke-raised text-small ${strong ? "fill-danger" : "fill-muted-ink"}`}
          >
            {said}
          </text>
        ))}
        {chosen.length > 0 && (
          <Dots
            xs={chosen.map((i) => nth(px, i))}
            ys={chosen.map((i) => nth(py, i))}
            radius={3.4}
            className="stroke-accent"
          />
        )}
        {place !== null && (
          <circle
            data-screen-only
            cx={px[place]}
            cy={py[place]}
            r={7}
            fill="none"
            className="stroke-[1.5] stroke-accent"
          />
        )}
        {box && (
          <rect
            data-screen-only
            x={box.x0}
            y={box.y0}
            width={box.x1 - box.x0}
            height={box.y1 - box.y0}
            className="fill-accent-tint stroke-accent"
            fillOpacity={0.45}
          />
        )}
        <AxisBottom scale={x} title={props.xTitle} y={bottom} about={size.width > 420 ? 8 : 5} />
      </svg>
      {place !== null && <Readout x={nth(px, place)} y={nth(py, place)} room={size.width} words={words(place)} />}
    </div>
  );
}

/** Open ring with a short tick: beyond a limit. Dashed ring: set aside. */
function Ring({ x, y, kind }: { x: number; y: number; kind: "beyond" | "aside" }) {
  if (kind === "aside")
    return (
      <circle cx={x} cy={y} r={4.6} fill="none" strokeDasharray="2.2 1.8" className="stroke-[1.3] stroke-danger" />
    );
  return (
    <g fill="none" className="stroke-[1.4] stroke-danger">
      <circle cx={x} cy={y} r={4.4} />
      <path d={`M${x} ${y - 4.4}v-4`} />
    </g>
  );
}

type LaneNamesProps = { lanes: readonly string[]; y: Scale; left: number; right: number };

function LaneNames({ lanes, y, left, right }: LaneNamesProps) {
  const wide = Math.floor((left - 16) / 6.2);
  return (
    <g className="figures text-small">
      {lanes.map((lane, i) => (
        <g key={lane}>
          <path d={`M${left} ${y(i)}H${right}`} className="stroke-chart-grid" />
          <text x={left - 8} y={y(i)} dy="0.32em" textAnchor="end" className="fill-ink">
            {lane.length > wide ? `${lane.slice(0, wide - 1)}…` : lane}
          </text>
        </g>
      ))}
    </g>
  );
}
