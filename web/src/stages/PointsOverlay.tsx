import {
  type KeyboardEvent,
  type MouseEvent,
  type PointerEvent,
  type ReactNode,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Layer } from "../api/plates";
import type { Table } from "../api/studies";
import { axesOf, type PanelPlan } from "../figure/layout";
import { PaintedDots } from "../plot/Dots";
import { useSelectedRows, useSelection } from "../state/selection";
import { Readout } from "../ui/Readout";
import { nth } from "../values";
import { whole } from "../words/numbers";

/** A point that stands for a row: where it lies on the paper, and what it is there. */
export type Spot = { x: number; y: number; row: number; across: number; up: number; role: Layer["role"] };

type PointsOverlayProps = {
  table: Table;
  plan: PanelPlan;
  label: string;
  /** Where the keys begin to walk. */
  begin?: "first" | "last";
  /** What is said of a point, after its row. */
  wordsOf: (spot: Spot) => string[];
  /** What is drawn over the points for the moment. */
  children?: ReactNode;
};

type Box = { left: number; top: number; right: number; bottom: number };

const REACH = 13;
const DRAGGED_FROM = 5;
const DRAWN_UP_TO = 1_500;

/** Points that stand for rows, from left to right; those outside of the axes are not there. */
function spotsOf(plan: PanelPlan): Spot[] {
  const spots: Spot[] = [];
  for (const layer of plan.scene.layers) {
    if (layer.form !== "points" || layer.rows.length === 0 || layer.role === "jumps") continue;
    const { across, up } = axesOf(plan, layer);
    for (let i = 0; i < layer.x.length; i++) {
      const [a, b] = [nth(layer.x, i), nth(layer.y, i)];
      if (a >= across.low && a <= across.high && b >= up.low && b <= up.high)
        spots.push({
          x: across.place(a),
          y: up.place(b),
          row: nth(layer.rows, i),
          across: a,
          up: b,
          role: layer.role,
        });
    }
  }
  return spots.sort((a, b) => a.x - b.x);
}

/** Over points that stand for rows: read off under the pointer, walked from left to right or from ring to ring, and
 *  selected alone or with their neighbours in a box. */
export function PointsOverlay({ table, plan, label, begin = "first", wordsOf, children }: PointsOverlayProps) {
  const spots = useMemo(() => spotsOf(plan), [plan]);
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const [place, setPlace] = useState<number | null>(null);
  const [box, setBox] = useState<Box | null>(null);
  const start = useRef<[number, number] | null>(null);
  const rings = useMemo(() => Array.from(spots.keys()).filter((i) => nth(spots, i).role === "beyond"), [spots]);
  const chosen = useMemo(
    () => (selected.size === 0 ? [] : spots.filter(({ row }) => selected.has(row))),
    [selected, spots],
  );
  const at = (event: MouseEvent<HTMLDivElement>): [number, number] => {
    const frame = event.currentTarget.getBoundingClientRect();
    return [event.clientX - frame.left, event.clientY - frame.top];
  };
  const find = ([px, py]: [number, number]): number | null => {
    let best: number | null = null;
    let distance = REACH;
    for (let i = firstFrom(spots, px - REACH); i < spots.length && nth(spots, i).x <= px + REACH; i++) {
      const away = Math.hypot(nth(spots, i).x - px, nth(spots, i).y - py);
      if (away < distance) [best, distance] = [i, away];
    }
    return best;
  };
  const choose = (i: number, add: boolean) => {
    const { row } = nth(spots, i);
    select(table.id, [row], `row ${whole(row)}`, add);
  };
  const move = (event: PointerEvent<HTMLDivElement>) => {
    const now = at(event);
    const from = start.current;
    if (!from || Math.hypot(now[0] - from[0], now[1] - from[1]) < DRAGGED_FROM) return setPlace(find(now));
    setPlace(null);
    setBox({
      left: Math.min(from[0], now[0]),
      top: Math.min(from[1], now[1]),
      right: Math.max(from[0], now[0]),
      bottom: Math.max(from[1], now[1]),
    });
  };
  const drop = (event: PointerEvent<HTMLDivElement>) => {
    const add = event.shiftKey || event.ctrlKey || event.metaKey;
    if (box) {
      const inside = spots.filter(({ x, y }) => x >= box.left && x <= box.right && y >= box.top && y <= box.bottom);
      const rows = [...new Set(inside.map(({ row }) => row))];
      if (rows.length > 0) select(table.id, rows, "rows within a box", add);
    } else {
      const near = find(at(event));
      if (near !== null) choose(near, add);
    }
    start.current = null;
    setBox(null);
  };
  const walk = (list: readonly number[], by: number) => {
    const now = place === null ? -1 : list.indexOf(place);
    const first = begin === "first" ? 0 : list.length - 1;
    setPlace(list[now < 0 ? first : Math.min(Math.max(now + by, 0), list.length - 1)] ?? null);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const along = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    const far = event.shiftKey ? 10 : 1;
    if (along !== undefined) walk([...spots.keys()], along * far);
    else if (up !== undefined) walk(rings.length > 0 ? rings : [...spots.keys()], rings.length > 0 ? -up : up * far);
    else if ((event.key === "Enter" || event.key === " ") && place !== null) choose(place, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const spot = place === null ? undefined : spots[place];
  return (
    <div
      role="application"
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
      tabIndex={0}
      className="absolute inset-0 touch-none select-none"
      onPointerDown={(event) => {
        start.current = at(event);
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={() => {
        start.current = null;
        setBox(null);
      }}
      onPointerLeave={() => !start.current && setPlace(null)}
      onBlur={() => setPlace(null)}
      onKeyDown={onKeyDown}
    >
      <svg aria-hidden="true" className="pointer-events-none absolute inset-0 h-full w-full">
        {chosen.length > DRAWN_UP_TO ? (
          <PaintedDots
            xs={chosen.map(({ x }) => x)}
            ys={chosen.map(({ y }) => y)}
            radius={2.6}
            className="stroke-accent"
          />
        ) : (
          chosen.length > 0 && (
            <path
              data-dots="selected"
              d={chosen.map(({ x, y }) => `M${x.toFixed(1)} ${y.toFixed(1)}h0`).join("")}
              fill="none"
              strokeWidth={6.4}
              strokeLinecap="round"
              className="stroke-accent"
            />
          )
        )}
        {children}
        {box && (
          <rect
            x={box.left}
            y={box.top}
            width={box.right - box.left}
            height={box.bottom - box.top}
            className="fill-accent-tint stroke-accent"
            fillOpacity={0.45}
          />
        )}
        {spot && <circle cx={spot.x} cy={spot.y} r={6.5} fill="none" className="stroke-[1.5] stroke-accent" />}
      </svg>
      {spot && (
        <Readout x={spot.x} y={spot.y} room={plan.frame.width} words={[`row ${whole(spot.row)}`, ...wordsOf(spot)]} />
      )}
    </div>
  );
}

/** The first of the spots that does not lie left of a place. */
function firstFrom(spots: readonly Spot[], x: number): number {
  let [low, high] = [0, spots.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (nth(spots, middle).x < x) low = middle + 1;
    else high = middle;
  }
  return low;
}
