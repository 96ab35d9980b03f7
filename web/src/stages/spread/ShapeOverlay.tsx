import { type KeyboardEvent, type MouseEvent, useMemo, useState } from "react";
import type { PlateDocument } from "../../api/plates";
import type { Classes, Density } from "../../api/readings";
import type { Table } from "../../api/studies";
import { PaintedDots } from "../../plot/Dots";
import { useSelectedRows } from "../../state/selection";
import { Readout } from "../../ui/Readout";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { BandwidthHandle, EdgeHandles, type WidthChoice, WidthHandle } from "./Handles";
import { SlipGrip } from "./SlipGrip";
import {
  asideMarks,
  axesOf,
  boxMarks,
  classesOf,
  classMark,
  clearAt,
  type Drawn,
  layerOf,
  type Mark,
  markAt,
  type Points,
  pointMark,
  pointStrip,
  pointsOf,
  type Seen,
  turned,
} from "./shapeMarks";

type Handled = {
  /** As they were worked: with their width, the curve with its bandwidth. */
  classes: Classes | undefined;
  density: Density | undefined;
  /** Whether boundaries are moved one by one. */
  byHand: boolean;
  onWidth: (choice: WidthChoice) => void;
  onBoundaries: (boundaries: number[]) => void;
  onBandwidth: (bandwidth: number) => void;
  onSlip: (place: [number, number]) => void;
  onEnd: () => void;
};

type ShapeOverlayProps = Seen & {
  table: Table;
  document: PlateDocument;
  /** Takes hold of classes and curve, where they can be. */
  handles?: Handled;
  onSelect: (mark: Mark, add: boolean) => void;
};

/** Over the shape of a variable: what is under the pointer, walked and selected; classes, curve and slip in hand. */
export function ShapeOverlay(props: ShapeOverlayProps) {
  const { table, plan, upright, spread, document, handles, onSelect } = props;
  const seen = useMemo(() => ({ plan, upright, spread }), [plan, upright, spread]);
  const drawn = useMemo(() => classesOf(seen), [seen]);
  const { value, heights } = axesOf(seen);
  const points = useMemo(() => pointsOf({ plan, upright } as Seen), [plan, upright]);
  const box = useMemo(() => boxMarks(seen), [seen]);
  const aside = useMemo(() => asideMarks(seen, pointStrip(seen)), [seen]);
  const selected = useSelectedRows(table.id);
  const chosen = useMemo(() => {
    const places: number[] = [];
    if (selected.size > 0)
      for (let i = 0; i < points.rows.length; i++) if (selected.has(nth(points.rows, i))) places.push(i);
    return places;
  }, [selected, points]);
  const [opened, setOpened] = useState<{ mark: Mark; walked: boolean; plan: Seen["plan"] } | null>(null);
  const lanes = marksByLane(seen, drawn, points, box);
  const mark = stillThere(opened, plan, lanes);
  const setMark = (result: Mark | null, walked = false) => setOpened(result && { mark: result, walked, plan });
  const find = (event: MouseEvent<HTMLDivElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    return markAt(seen, points, box, aside, event.clientX - frame.left, event.clientY - frame.top);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.target !== event.currentTarget) return;
    if ((event.key === "Enter" || event.key === " ") && mark) onSelect(mark, event.shiftKey);
    else {
      const next = walk(lanes, mark, event.key, event.shiftKey, upright);
      if (!next) return;
      setMark(next, true);
    }
    event.preventDefault();
  };
  const title = titled(named(spread.subject));
  return (
    <div
      role="application"
      aria-label={`${title}: arrows walk the marks, Enter selects their rows`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
      tabIndex={0}
      className="absolute inset-0"
      onPointerMove={(event) => setMark(find(event))}
      onPointerLeave={() => setMark(null)}
      onBlur={() => setMark(null)}
      onClick={(event) => {
        const result = find(event);
        if (result) onSelect(result, event.shiftKey || event.ctrlKey || event.metaKey);
      }}
      onKeyDown={onKeyDown}
    >
      <svg aria-hidden={!handles} className="pointer-events-none absolute inset-0 h-full w-full">
        <Threads seen={seen} />
        {drawn && <SelectedShares {...{ seen, drawn, points, chosen }} />}
        {drawn && <MarkedClass {...{ seen, drawn, mark }} />}
        <MarkedBump seen={seen} mark={mark} />
        {aside.map(({ key, x, y }) => (
          <circle
            key={key}
            data-aside=""
            cx={x}
            cy={y}
            r={3.4}
            fill="none"
            strokeDasharray="2 2"
            className="stroke-[1.3] stroke-danger"
          />
        ))}
        <Chosen seen={seen} points={points} chosen={chosen} box={box} />
        {mark && /^(row|ring|aside)-/.test(mark.key) && (
          <circle cx={mark.x} cy={mark.y} r={6.5} fill="none" className="stroke-[1.5] stroke-accent" />
        )}
        {handles && !upright && value.scale === "linear" && heights.kind === "number" && (
          <>
            {drawn && handles.classes && !handles.byHand && (
              <WidthHandle
                spread={spread}
                classes={handles.classes}
                axis={value}
                base={heights.from}
                onDrag={handles.onWidth}
                onEnd={handles.onEnd}
              />
            )}
            {drawn && handles.classes && handles.byHand && (
              <EdgeHandles
                classes={handles.classes}
                unit={spread.subject.unit}
                axis={value}
                base={heights.from}
                onDrag={handles.onBoundaries}
                onEnd={handles.onEnd}
              />
            )}
            {layerOf(plan, "density") && handles.density && (
              <BandwidthHandle
                spread={spread}
                density={handles.density}
                axis={value}
                base={heights.from}
                clearAt={(at) => clearAt(seen, at)}
                taken={slipAt(plan)}
                onDrag={handles.onBandwidth}
                onEnd={handles.onEnd}
              />
            )}
          </>
        )}
        {handles &&
          plan.panel.furniture
            .filter(({ kind }) => kind === "slip")
            .map((slip) => <SlipGrip key={slip.kind} {...{ plan, document, slip }} onPlace={handles.onSlip} />)}
      </svg>
      {mark && <Readout x={mark.x} y={mark.y} room={plan.frame.width} words={mark.words} />}
    </div>
  );
}

const slipAt = ({ panel, area }: Seen["plan"]): number | null => {
  const slip = panel.furniture.find(({ kind }) => kind === "slip");
  return slip ? area.x + (slip.x ?? 0) * area.width : null;
};

/** Threads from the bodies down to the box, at the quartiles. */
function Threads({ seen }: { seen: Seen }) {
  const { plan, upright } = seen;
  const { value, heights } = axesOf(seen);
  const box = layerOf(plan, "box");
  const { area } = plan;
  if (!box?.x.length || box.strip == null || heights.kind === "bare") return null;
  const foot = upright ? area.x : area.y + area.height;
  const at = [box.q1[0], upright ? box.y[0] : box.x[0], box.q3[0]].map((end) => value.place(end ?? Number.NaN));
  const d = at.filter(Number.isFinite).map((end) => {
    const [from, to] = [turned(upright, end, heights.from), turned(upright, end, foot)];
    return `M${from.join(" ")}L${to.join(" ")}`;
  });
  return <path d={d.join("")} strokeDasharray="1.5 3.5" className="stroke-line-strong" />;
}

type Picked = { seen: Seen; points: Points; chosen: number[] };

/** Of each class the share of its rows that are selected, where all rows are here. */
function SelectedShares({ seen, drawn, points, chosen }: Picked & { drawn: Drawn }) {
  if (chosen.length === 0 || points.rows.length < drawn.n) return null;
  const edges = drawn.boundaries;
  const counts = new Array<number>(drawn.counts.length).fill(0);
  for (const i of chosen) {
    const at = nth(points.values, i);
    const next = edges.findIndex((edge) => (drawn.closed === "left" ? edge > at : edge >= at));
    const place = next < 0 ? counts.length - 1 : Math.max(next - 1, 0);
    counts[place] = (counts[place] ?? 0) + 1;
  }
  const d = counts.map((count, i) =>
    count === 0 ? "" : block(seen, drawn, i, (nth(drawn.tops, i) * count) / Math.max(nth(drawn.counts, i), 1)),
  );
  return <path data-of="selected-share" d={d.join("")} className="fill-accent opacity-60" />;
}

/** The outline of a class up to a height. */
function block(seen: Seen, { boundaries }: Drawn, i: number, height: number) {
  const { value, heights } = axesOf(seen);
  const [a, b] = [value.place(nth(boundaries, i)), value.place(nth(boundaries, i + 1))];
  const [from, to] = [heights.place(0), heights.place(height)];
  const corners = [
    [a, from],
    [a, to],
    [b, to],
    [b, from],
  ] as const;
  return `M${corners.map(([along, off]) => turned(seen.upright, along, off).join(" ")).join("L")}Z`;
}

function MarkedClass({ seen, drawn, mark }: { seen: Seen; drawn: Drawn; mark: Mark | null }) {
  if (!mark?.key.startsWith("class-")) return null;
  const i = Number(mark.key.slice(6));
  const top = drawn.tops[i];
  if (top === undefined) return null;
  return <path d={block(seen, drawn, i, top)} fill="none" className="stroke-[1.6] stroke-accent" />;
}

/** The bump of the row that is being asked. */
function MarkedBump({ seen, mark }: { seen: Seen; mark: Mark | null }) {
  const layer = layerOf(seen.plan, "bumps");
  if (!layer || !mark?.key.startsWith("row-")) return null;
  const row = Number(mark.key.slice(4));
  const spots: string[] = [];
  for (let i = 0; i < layer.x.length; i++)
    if (layer.rows[i] === row && Number.isFinite(layer.y[i] ?? Number.NaN) && Number.isFinite(layer.x[i] ?? Number.NaN))
      spots.push(`${seen.plan.across.place(nth(layer.x, i))} ${seen.plan.up.place(nth(layer.y, i))}`);
  return spots.length > 0 ? (
    <path data-bump={row} d={`M${spots.join("L")}`} className="fill-accent-tint stroke-[2] stroke-accent" />
  ) : null;
}

/** The rows that are selected, among the points and beyond the whiskers. */
function Chosen({ seen: { upright }, points, chosen, box }: Picked & { box: Mark[] }) {
  const selected = useMemo(() => new Set(chosen.map((i) => nth(points.rows, i))), [chosen, points]);
  const rings = box.filter(({ key, rows }) => key.startsWith("ring-") && selected.has(rows?.[0] ?? -1));
  const spots = [
    ...chosen.map((i) => turned(upright, nth(points.along, i), nth(points.off, i))),
    ...rings.map(({ x, y }) => [x, y] as [number, number]),
  ];
  if (spots.length === 0) return null;
  if (spots.length > 1_500)
    return (
      <PaintedDots xs={spots.map(([x]) => x)} ys={spots.map(([, y]) => y)} radius={2.6} className="stroke-accent" />
    );
  return (
    <path
      data-dots="selected"
      d={spots.map(([x, y]) => `M${x.toFixed(1)} ${y.toFixed(1)}h0`).join("")}
      fill="none"
      strokeWidth={6.4}
      strokeLinecap="round"
      className="stroke-accent"
    />
  );
}

type LaneMarks = { length: number; at: (place: number) => Mark }[];

/** The marks that the arrow keys walk, lane by lane from the bodies outwards. */
function marksByLane(seen: Seen, drawn: Drawn | null, points: Points, box: Mark[]): LaneMarks {
  const lanes: LaneMarks = [];
  if (drawn) lanes.push({ length: drawn.counts.length, at: (i) => classMark(seen, drawn, i) });
  if (box.length > 0) lanes.push({ length: box.length, at: (i) => nth(box, i) });
  if (points.order.length > 0)
    lanes.push({ length: points.order.length, at: (i) => pointMark(seen, points, nth(points.order, i)) });
  return lanes;
}

/** When the picture changes, what was under the pointer stands elsewhere, and what the keys walked to moves. */
function stillThere(
  opened: { mark: Mark; walked: boolean; plan: Seen["plan"] } | null,
  plan: Seen["plan"],
  lanes: LaneMarks,
): Mark | null {
  if (!opened || opened.plan === plan) return opened?.mark ?? null;
  if (!opened.walked) return null;
  for (const { length, at } of lanes)
    for (let place = 0; place < length; place++) if (at(place).key === opened.mark.key) return at(place);
  return null;
}

/** The mark to which an arrow leads; along the values, or to another lane. */
function walk(lanes: LaneMarks, now: Mark | null, key: string, far: boolean, upright: boolean): Mark | null {
  const [on, back, out, home] = upright
    ? ["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"]
    : ["ArrowRight", "ArrowLeft", "ArrowDown", "ArrowUp"];
  const along = key === on ? 1 : key === back ? -1 : 0;
  const across = key === out ? 1 : key === home ? -1 : 0;
  const first = lanes[0];
  if ((along === 0 && across === 0) || !first) return null;
  if (!now) return first.at(0);
  const kinds = ["class-", "row-"];
  const kind = kinds.find((start) => now.key.startsWith(start));
  let lane = lanes.findIndex(
    ({ length, at }) =>
      length > 0 && (kind ? at(0).key.startsWith(kind) : !kinds.some((start) => at(0).key.startsWith(start))),
  );
  lane = Math.min(Math.max(lane, 0) + across, lanes.length - 1);
  const there = lanes[Math.max(lane, 0)] ?? first;
  const place = (mark: Mark) => (upright ? -mark.y : mark.x);
  if (across === 0)
    for (let i = 0; i < there.length; i++)
      if (there.at(i).key === now.key)
        return there.at(Math.min(Math.max(i + along * (far ? 10 : 1), 0), there.length - 1));
  let best = there.at(0);
  for (let i = 1; i < there.length; i++) {
    const mark = there.at(i);
    if (Math.abs(place(mark) - place(now)) < Math.abs(place(best) - place(now))) best = mark;
  }
  return best;
}
