import { type KeyboardEvent, type PointerEvent, type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import type { Layer } from "../api/plates";
import type { Table } from "../api/studies";
import type { PlateAxis } from "../figure/axis";
import { axesOf, type PanelPlan } from "../figure/layout";
import { asideOf } from "../figure/paths";
import { PaintedDots } from "../plot/Dots";
import { useSelectedRows, useSelection } from "../state/selection";
import { Readout } from "../ui/Readout";
import { eachOf, nth } from "../values";
import { counted, whole } from "../words/numbers";
import { isWithin } from "./outline";

/** A point: where it lies on the paper, and what it is there. row: 0 for one that counts several. */
export type Spot = {
  x: number;
  y: number;
  row: number;
  across: number;
  up: number;
  count: number;
  role: Layer["role"];
};
/** The ends of both axes: across from and to, up from and to. */
export type Window = [number, number, number, number];
type Corner = [number, number];

type PointsOverlayProps = {
  table: Table;
  plan: PanelPlan;
  label: string;
  /** Where the keys begin to walk. */
  begin?: "first" | "last";
  /** What dragging does. */
  drag?: "box" | "outline" | "move";
  /** What one point stands for. */
  noun?: string;
  /** What is said of a point, after its row. */
  wordsOf: (spot: Spot) => string[];
  /** The rows within an outline in the units of the axes, where not every row has a point of its own. */
  enclosed?: ((corners: Corner[]) => Promise<number[]>) | undefined;
  /** The part that is looked at changes: null for all of it. */
  onWindow?: (window: Window | null) => void;
  /** What is drawn over the points for the moment. */
  children?: ReactNode;
};

const REACH = 13;
const DRAGGED_FROM = 5;
const DRAWN_UP_TO = 1_500;
const MOST_CORNERS = 1_500;
const ZOOM = 1.2;
const KEY_ZOOM = 1.4;

/** Points from left to right; those outside of the axes are not there. */
function spotsOf(plan: PanelPlan): Spot[] {
  const spots: Spot[] = [];
  for (const layer of plan.scene.layers) {
    const counted = layer.role === "counted";
    if (layer.form !== "points" || (layer.rows.length === 0 && !counted) || layer.role === "jumps") continue;
    const { across, up } = axesOf(plan, layer);
    const [xs, ys] = [asideOf(layer.x, layer.aside_x, across), asideOf(layer.y, layer.aside_y, up)];
    for (let i = 0; i < layer.x.length; i++) {
      const [a, b] = [nth(layer.x, i), nth(layer.y, i)];
      if (a >= across.low && a <= across.high && b >= up.low && b <= up.high)
        spots.push({
          x: nth(xs, i),
          y: nth(ys, i),
          row: counted ? 0 : nth(layer.rows, i),
          across: a,
          up: b,
          count: counted ? nth(layer.value, i) : 1,
          role: layer.role,
        });
    }
  }
  return spots.sort((a, b) => a.x - b.x);
}

/** Over points: read off under the pointer, walked from left to right or from ring to ring, and selected alone or with
 *  their neighbours in a box or an outline; the part that is looked at is narrowed, moved and widened. */
export function PointsOverlay(props: PointsOverlayProps) {
  const { table, plan, label, begin = "first", drag = "box", noun = "row", wordsOf, enclosed, onWindow } = props;
  const { frame } = plan;
  const spots = useMemo(() => spotsOf(plan), [plan]);
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const [place, setPlace] = useState<number | null>(null);
  const [outline, setOutline] = useState<Corner[]>([]);
  const start = useRef<{ at: Corner; plan: PanelPlan } | null>(null);
  const ground = useRef<HTMLDivElement>(null);
  const rings = useMemo(() => Array.from(spots.keys()).filter((i) => nth(spots, i).role === "beyond"), [spots]);
  const chosen = useMemo(
    () => (selected.size === 0 ? [] : spots.filter(({ row }) => selected.has(row))),
    [selected, spots],
  );
  const at = (event: { clientX: number; clientY: number }): Corner => {
    const own = ground.current?.getBoundingClientRect();
    return [event.clientX - (own?.left ?? 0) + frame.x, event.clientY - (own?.top ?? 0) + frame.y];
  };
  const find = ([px, py]: Corner): number | null => {
    let best: number | null = null;
    let distance = REACH;
    for (let i = firstFrom(spots, px - REACH); i < spots.length && nth(spots, i).x <= px + REACH; i++) {
      const away = Math.hypot(nth(spots, i).x - px, nth(spots, i).y - py);
      if (away < distance) [best, distance] = [i, away];
    }
    return best;
  };
  const take = async (corners: Corner[], words: string, add: boolean) => {
    const rows = await enclosed?.(corners);
    if (rows && rows.length > 0) select(table.id, rows, words, add);
  };
  const choose = (i: number, add: boolean) => {
    const { row, across, up, count } = nth(spots, i);
    if (row > 0) select(table.id, [row], `row ${whole(row)}`, add);
    else take(around(across, up), `${counted(count, noun)} at one place`, add);
  };
  const inValues = ([px, py]: Corner): Corner => [plan.across.invert(px), plan.up.invert(py)];
  const zoom = (factor: number, [px, py]: Corner) => {
    const ends = ({ from, to, invert }: PlateAxis, middle: number) =>
      eachOf([from, to], (end) => invert(middle + (end - middle) * factor));
    onWindow?.([...ends(plan.across, px), ...ends(plan.up, py)]);
  };
  const middle: Corner = [(plan.across.from + plan.across.to) / 2, (plan.up.from + plan.up.to) / 2];
  const onWheel = useRef<(event: WheelEvent) => void>(() => undefined);
  onWheel.current = (event) => {
    if (!onWindow) return;
    event.preventDefault();
    zoom(event.deltaY > 0 ? ZOOM : 1 / ZOOM, at(event));
  };
  useEffect(() => {
    const node = ground.current;
    const turn = (event: WheelEvent) => onWheel.current(event);
    node?.addEventListener("wheel", turn, { passive: false });
    return () => node?.removeEventListener("wheel", turn);
  }, []);
  const move = (event: PointerEvent<HTMLDivElement>) => {
    const now = at(event);
    const held = start.current;
    if (!held || Math.hypot(now[0] - held.at[0], now[1] - held.at[1]) < DRAGGED_FROM) return setPlace(find(now));
    setPlace(null);
    if (drag === "move" && onWindow) {
      const moved = ({ from, to, invert }: PlateAxis, by: number) => eachOf([from, to], (end) => invert(end - by));
      const [dx, dy] = [now[0] - held.at[0], now[1] - held.at[1]];
      onWindow([...moved(held.plan.across, dx), ...moved(held.plan.up, dy)]);
    } else if (drag === "outline")
      setOutline((drawn) => (drawn.length < MOST_CORNERS ? [...(drawn.length > 0 ? drawn : [held.at]), now] : drawn));
    else setOutline([held.at, [now[0], held.at[1]], now, [held.at[0], now[1]]]);
  };
  const drop = (event: PointerEvent<HTMLDivElement>) => {
    const add = event.shiftKey || event.ctrlKey || event.metaKey;
    const moved = start.current?.plan !== plan && drag === "move";
    if (outline.length > 2) {
      const words = `${noun}s within ${drag === "outline" ? "an outline" : "a box"}`;
      if (enclosed) take(outline.map(inValues), words, add);
      else {
        const inside = spots.filter(({ x, y }) => isWithin(outline, x, y));
        const rows = [...new Set(inside.map(({ row }) => row))];
        if (rows.length > 0) select(table.id, rows, words, add);
      }
    } else if (!moved) {
      const near = find(at(event));
      if (near !== null) choose(near, add);
    }
    start.current = null;
    setOutline([]);
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
    else if (onWindow && (event.key === "+" || event.key === "=")) zoom(1 / KEY_ZOOM, middle);
    else if (onWindow && event.key === "-") zoom(KEY_ZOOM, middle);
    else if (onWindow && event.key === "0") onWindow(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const spot = place === null ? undefined : spots[place];
  return (
    <div
      ref={ground}
      role="application"
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
      tabIndex={0}
      className="absolute touch-none select-none"
      style={{ left: frame.x, top: frame.y, width: frame.width, height: frame.height }}
      onPointerDown={(event) => {
        start.current = { at: at(event), plan };
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={() => {
        start.current = null;
        setOutline([]);
      }}
      onPointerLeave={() => !start.current && setPlace(null)}
      onDoubleClick={() => onWindow?.(null)}
      onBlur={() => setPlace(null)}
      onKeyDown={onKeyDown}
    >
      <svg
        aria-hidden="true"
        viewBox={`${frame.x} ${frame.y} ${frame.width} ${frame.height}`}
        className="pointer-events-none absolute inset-0 h-full w-full"
      >
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
        {props.children}
        {outline.length > 1 && (
          <path
            d={`M${outline.map((corner) => corner.join(" ")).join("L")}Z`}
            className="fill-accent-tint stroke-accent"
            fillOpacity={0.45}
          />
        )}
        {spot && <circle cx={spot.x} cy={spot.y} r={6.5} fill="none" className="stroke-[1.5] stroke-accent" />}
      </svg>
      {spot && (
        <Readout
          x={spot.x - frame.x}
          y={spot.y - frame.y}
          room={frame.width}
          words={[
            spot.row > 0 ? `row ${whole(spot.row)}` : `${counted(spot.count, noun)} at one place`,
            ...wordsOf(spot),
          ]}
        />
      )}
    </div>
  );
}

/** An outline about one place, as close as numbers stand. */
function around(x: number, y: number): Corner[] {
  const [a, b] = eachOf([x, y], (value) => Math.max(Math.abs(value) * 1e-12, 1e-300));
  return [
    [x - a, y - b],
    [x + a, y - b],
    [x + a, y + b],
    [x - a, y + b],
  ];
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
