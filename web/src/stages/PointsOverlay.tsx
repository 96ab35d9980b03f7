import { type KeyboardEvent, type MouseEvent, useMemo, useState } from "react";
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
};

const REACH = 13;
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

/** Over points that stand for rows: read off under the pointer, walked from left to right, and selected. */
export function PointsOverlay({ table, plan, label, begin = "first", wordsOf }: PointsOverlayProps) {
  const spots = useMemo(() => spotsOf(plan), [plan]);
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const [place, setPlace] = useState<number | null>(null);
  const chosen = useMemo(
    () => (selected.size === 0 ? [] : spots.filter(({ row }) => selected.has(row))),
    [selected, spots],
  );
  const find = (event: MouseEvent<HTMLDivElement>): number | null => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [px, py] = [event.clientX - frame.left, event.clientY - frame.top];
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
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (step !== undefined && spots.length > 0) {
      const start = begin === "first" ? 0 : spots.length - 1;
      const next = place === null ? start : place + step * (event.shiftKey ? 10 : 1);
      setPlace(Math.min(Math.max(next, 0), spots.length - 1));
    } else if ((event.key === "Enter" || event.key === " ") && place !== null) choose(place, event.shiftKey);
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
      className="absolute inset-0"
      onPointerMove={(event) => setPlace(find(event))}
      onPointerLeave={() => setPlace(null)}
      onBlur={() => setPlace(null)}
      onClick={(event) => {
        const at = find(event);
        if (at !== null) choose(at, event.shiftKey || event.ctrlKey || event.metaKey);
      }}
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
