import { type KeyboardEvent, type MouseEvent, type Ref, useMemo, useState } from "react";
import type { Bumps as BumpsData, Classes, Density, Spread } from "../../api/readings";
import { AsideRings } from "../../plot/AsideRings";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { BoxGlyph, Rings } from "../../plot/BoxGlyph";
import { Bumps } from "../../plot/Bumps";
import { ClassBlocks, MarkedClass } from "../../plot/ClassBlocks";
import { Curve, heightAt } from "../../plot/Curve";
import { Dots } from "../../plot/Dots";
import { LimitLines } from "../../plot/LimitLines";
import { type Domain, linear } from "../../plot/scales";
import { Violin } from "../../plot/Violin";
import { Readout } from "../../ui/Readout";
import type { Size } from "../../ui/useSize";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { significant } from "../../words/numbers";
import { classesWords, densityWords, unitOf } from "./caption";
import { BandwidthHandle, EdgeHandles, type WidthChoice, WidthHandle } from "./Handles";
import { NumberSlip } from "./NumberSlip";
import { boxFigures, EDGE, factorOf, heightsOf, lanesOf, limitsOf, tallest } from "./stackLayout";
import { asideMarks, boxMarks, classMark, type Mark, markAt, placePoints, pointMark } from "./stackMarks";
import type { SpreadChoices } from "./useSpreadChoices";

type StackProps = {
  spread: Spread;
  classes: Classes | undefined;
  density: Density | undefined;
  domain: Domain;
  choices: SpreadChoices;
  selected: ReadonlySet<number>;
  size: Size;
  bumps: BumpsData | undefined;
  /** Whether classes and curve can be taken hold of here. */
  handles?: boolean;
  onSlip: (place: [number, number]) => void;
  drawing: Ref<SVGSVGElement>;
  onSelect: (mark: Mark, add: boolean) => void;
  onWidth: (choice: WidthChoice) => void;
  onBoundaries: (boundaries: number[]) => void;
  onBandwidth: (bandwidth: number) => void;
  onDragEnd: () => void;
};

const measureTitle = (measure: SpreadChoices["measure"], axis: Spread["axis"]) =>
  ({
    density: axis === "log" ? "Density per power of ten" : "Density (area 1)",
    count: "Rows",
    percent: "Percent of rows",
  })[measure];

/** One variable seen in several ways on one axis: classes, curves, box and points, one over the other. */
export function Stack(props: StackProps) {
  const { spread, classes, density, domain, choices, selected, size } = props;
  const { layers } = choices;
  const { axis } = spread;
  const handles = props.handles !== false && axis === "straight";
  const has = (layer: (typeof layers)[number]) => layers.includes(layer);
  const measure = classes?.width ? choices.measure : "density";
  const lanes = useMemo(() => lanesOf({ ...size, layers, domain, axis }), [size, layers, domain, axis]);
  const factor = factorOf(measure, classes, spread.summary.n);
  const top = tallest({ spread, classes, density, layers, measure });
  const y = useMemo(() => linear([0, top * 1.06], lanes.base, EDGE.top), [top, lanes.base]);
  const points = useMemo(() => placePoints(spread, lanes), [spread, lanes]);
  const seen = useMemo(
    () => ({ spread, classes, density, lanes, top: EDGE.top + 20 }),
    [spread, classes, density, lanes],
  );
  const box = useMemo(() => boxMarks(seen), [seen]);
  const [asked, setAsked] = useState<Asked>(null);
  const ladder = marksByLane({ seen, points, box, layers });
  const mark = stillThere(asked, size, ladder);
  const setMark = (found: Mark | null, walked = false) => setAsked(found && { mark: found, size, walked });

  const chosen = useMemo(() => {
    const places: number[] = [];
    if (selected.size === 0) return places;
    for (let i = 0; i < points.rows.length; i++) if (selected.has(nth(points.rows, i))) places.push(i);
    return places;
  }, [selected, points]);
  const { limited, known } = useMemo(() => {
    const rows = new Set(spread.limited_rows);
    if (rows.size === 0) return { limited: [], known: null };
    const places = Array.from(points.rows.keys());
    const isLimited = (i: number) => rows.has(nth(points.rows, i));
    return { limited: places.filter(isLimited), known: places.filter((i) => !isLimited(i)) };
  }, [spread, points]);
  const shares = useMemo(() => {
    if (!classes || chosen.length === 0 || spread.values.length < spread.n_points) return undefined;
    const edges = classes.boundaries;
    const counts = new Array<number>(classes.counts.length).fill(0);
    for (const i of chosen) {
      const value = nth(spread.values, i);
      const next = edges.findIndex((edge) => (classes.closed === "left" ? edge > value : edge >= value));
      const place = next < 0 ? counts.length - 1 : Math.max(next - 1, 0);
      counts[place] = (counts[place] ?? 0) + 1;
    }
    return counts.map((count, i) => count / Math.max(classes.counts[i] ?? 1, 1));
  }, [chosen, classes, spread]);

  const findMark = (event: MouseEvent<SVGSVGElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    const shown = { classes: has("classes"), density: has("density") };
    return markAt(seen, points, box, shown, event.clientX - frame.left, event.clientY - frame.top);
  };
  const onKeyDown = (event: KeyboardEvent<SVGSVGElement>) => {
    if (event.target !== event.currentTarget) return;
    if ((event.key === "Enter" || event.key === " ") && mark) {
      event.preventDefault();
      props.onSelect(mark, event.shiftKey);
      return;
    }
    const next = walk(ladder, mark, event.key, event.shiftKey);
    if (next) {
      event.preventDefault();
      setMark(next, true);
    }
  };

  const figures = boxFigures(spread.box);
  const rings = useMemo(() => {
    const far = new Set(spread.box.far_rows);
    const places = (isFar: boolean) =>
      box.filter((part) => part.rows && far.has(part.rows[0] ?? 0) === isFar).map((part) => part.x);
    return { near: places(false), far: places(true) };
  }, [box, spread]);
  const ringed = useMemo(() => {
    const beyond = new Set(spread.box.outlier_rows);
    return chosen.filter((i) => beyond.has(nth(points.rows, i))).map((i) => nth(points.xs, i));
  }, [chosen, spread, points]);
  const markedClass = mark?.key.startsWith("class-") ? Number(mark.key.slice(6)) : null;
  const clearAt = (value: number) => {
    const inClass = classes
      ? (heightsOf(measure, classes)[classes.boundaries.findIndex((edge) => edge > value) - 1] ?? 0)
      : 0;
    const onCurve = density ? factor * (heightAt(density.x, density.density, value) ?? 0) : 0;
    const onNormal = spread.normal ? factor * (heightAt(spread.normal.x, spread.normal.density, value) ?? 0) : 0;
    return y(Math.max(has("classes") ? inClass : 0, has("density") ? onCurve : 0, has("normal") ? onNormal : 0));
  };
  const title = titled(named(spread.subject));
  return (
    <div className="absolute inset-0">
      <svg
        ref={props.drawing}
        role="application"
        aria-label={`${title}: arrows walk the marks, Enter selects their rows`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
        tabIndex={0}
        width={size.width}
        height={size.height}
        onPointerMove={(event) => setMark(findMark(event))}
        onPointerLeave={() => setMark(null)}
        onBlur={() => setMark(null)}
        onClick={(event) => {
          const found = findMark(event);
          if (found) props.onSelect(found, event.shiftKey || event.ctrlKey || event.metaKey);
        }}
        onKeyDown={onKeyDown}
      >
        <clipPath id="stack-room">
          <rect x={EDGE.left} y={0} width={size.width - EDGE.left - EDGE.right} height={lanes.base} />
        </clipPath>
        <AxisLeft scale={y} title={measureTitle(measure, axis)} x={EDGE.left} to={size.width - EDGE.right} />
        <Key {...{ spread, classes, density, layers }} short={size.width < 460} />
        <g clipPath="url(#stack-room)">
          {has("classes") && classes && (
            <ClassBlocks
              boundaries={classes.boundaries}
              heights={heightsOf(measure, classes)}
              x={lanes.x}
              y={y}
              selected={shares}
            />
          )}
          {markedClass !== null && classes && (
            <MarkedClass
              boundaries={classes.boundaries}
              heights={heightsOf(measure, classes)}
              x={lanes.x}
              y={y}
              i={markedClass}
            />
          )}
          {has("bumps") && props.bumps && density && (
            <Bumps
              xs={props.bumps.x}
              heights={props.bumps.heights}
              n={props.bumps.rows.length}
              {...{ factor, x: lanes.x, y }}
              marked={bumpOf(mark, props.bumps)}
            />
          )}
          {has("normal") && spread.normal && (
            <Curve xs={spread.normal.x} heights={spread.normal.density} {...{ factor, x: lanes.x, y }} look="normal" />
          )}
          {has("density") && density && (
            <Curve xs={density.x} heights={density.density} {...{ factor, x: lanes.x, y }} look="density" />
          )}
        </g>
        <line
          x1={EDGE.left}
          x2={size.width - EDGE.right}
          y1={lanes.base}
          y2={lanes.base}
          className="stroke-chart-axis"
        />
        {has("rug") && <path d={rugOf(points.xs, lanes.base)} className="stroke-series-heron opacity-60" />}
        {figures && (lanes.hasBox || lanes.hasViolin || lanes.hasPoints) && (
          <path
            d={[figures.q1, figures.median, figures.q3]
              .map((value) => `M${lanes.x(value)} ${lanes.base}V${lanes.foot}`)
              .join("")}
            strokeDasharray="1.5 3.5"
            className="stroke-line-strong"
          />
        )}
        <LimitLines limits={limitsOf(spread)} x={lanes.x} top={EDGE.top - 12} foot={lanes.foot} />
        {lanes.hasPoints && limited.length > 0 && (
          <g fill="none" className="stroke-[1.2] stroke-series-heron">
            {limited.map((i) => (
              <circle key={points.rows[i]} cx={points.xs[i]} cy={points.ys[i]} r={3} />
            ))}
          </g>
        )}
        {lanes.hasPoints && (
          <Dots
            xs={known ? known.map((i) => nth(points.xs, i)) : points.xs}
            ys={known ? known.map((i) => nth(points.ys, i)) : points.ys}
            radius={points.rows.length > 3000 ? 1.4 : 2.2}
            opacity={0.45}
            className="stroke-series-heron"
          />
        )}
        {lanes.hasPoints && <AsideRings marks={asideMarks(seen)} />}
        {lanes.hasViolin && density && figures && (
          <Violin
            xs={density.x}
            heights={density.density}
            scale={lanes.violinHalf / Math.max(tallestOf(density.density), Number.MIN_VALUE)}
            x={lanes.x}
            y={lanes.boxAt}
            from={spread.summary.minimum ?? 0}
            to={spread.summary.maximum ?? 0}
            quartiles={lanes.hasBox ? [] : [figures.q1, figures.median, figures.q3]}
            fill="fill-heron-fill"
            stroke="stroke-series-heron"
          />
        )}
        {lanes.hasBox && figures && (
          <>
            <BoxGlyph
              box={figures}
              x={lanes.x}
              y={lanes.boxAt}
              height={lanes.boxHeight}
              showFences={has("fences")}
              showNotch={has("notch")}
              mean={has("mean") ? spread.summary.mean : null}
            />
            <Rings near={rings.near} far={rings.far} y={lanes.boxAt} />
          </>
        )}
        {chosen.length > 0 && lanes.hasPoints && (
          <Dots
            xs={chosen.map((i) => nth(points.xs, i))}
            ys={chosen.map((i) => nth(points.ys, i))}
            radius={3.2}
            of="selected"
            className="stroke-accent"
          />
        )}
        {ringed.length > 0 && lanes.hasBox && (
          <Dots xs={ringed} ys={ringed.map(() => lanes.boxAt)} radius={3.2} className="stroke-accent" />
        )}
        <AxisBottom scale={lanes.x} title={title} y={lanes.foot} about={size.width < 460 ? 4 : 8} />
        {handles && has("classes") && classes && !choices.classes.boundaries && (
          <WidthHandle {...{ spread, classes, lanes }} onDrag={props.onWidth} onEnd={props.onDragEnd} />
        )}
        {handles && has("classes") && classes && choices.classes.boundaries && (
          <EdgeHandles
            {...{ classes, lanes }}
            unit={spread.subject.unit}
            onDrag={props.onBoundaries}
            onEnd={props.onDragEnd}
          />
        )}
        {handles && has("density") && density && (
          <BandwidthHandle
            {...{ spread, density, lanes, clearAt }}
            taken={choices.slip ? choices.slip[0] * size.width : null}
            onDrag={props.onBandwidth}
            onEnd={props.onDragEnd}
          />
        )}
        {choices.slip && <NumberSlip spread={spread} place={choices.slip} size={size} onPlace={props.onSlip} />}
        {mark?.key.startsWith("row-") || mark?.key.startsWith("ring-") ? (
          <circle
            data-screen-only
            cx={mark.x}
            cy={mark.y}
            r={6.5}
            fill="none"
            className="pointer-events-none stroke-[1.5] stroke-accent"
          />
        ) : null}
      </svg>
      {mark && <Readout x={mark.x} y={mark.y} room={size.width} words={mark.words} />}
    </div>
  );
}

/** A short upright stroke for each value, on the axis. */
function rugOf(xs: ArrayLike<number>, base: number): string {
  const strokes = new Set<string>();
  for (let i = 0; i < xs.length; i++) strokes.add(`M${nth(xs, i).toFixed(1)} ${base}v-9`);
  return [...strokes].join("");
}

const tallestOf = (heights: Float64Array) => heights.reduce((top, height) => Math.max(top, height), 0);

/** Which bump belongs to the row that is being asked. */
function bumpOf(mark: Mark | null, bumps: BumpsData): number | null {
  if (!mark?.key.startsWith("row-")) return null;
  const place = bumps.rows.indexOf(Number(mark.key.slice(4)));
  return place < 0 ? null : place;
}

type KeyProps = Pick<StackProps, "spread" | "classes" | "density"> & {
  layers: SpreadChoices["layers"];
  /** Whether there is room for names only. */
  short: boolean;
};

/** What each line and block is, above the plot. */
function Key({ spread, classes, density, layers, short }: KeyProps) {
  const unit = spread.subject.unit;
  const items: { name: "classes" | "density" | "normal"; words: string }[] = [];
  if (layers.includes("density") && density)
    items.push({ name: "density", words: `density, ${densityWords(density, unit, spread.axis)}` });
  if (layers.includes("normal") && spread.normal) {
    items.push({
      name: "normal",
      words:
        spread.axis === "log"
          ? `normal of log₁₀, mean ${significant(spread.normal.mean)}, SD ${significant(spread.normal.sd)}`
          : `normal, mean ${significant(spread.normal.mean)}, SD ${significant(spread.normal.sd)}${unitOf(unit)}`,
    });
  }
  if (layers.includes("classes") && classes)
    items.push({ name: "classes", words: classesWords(classes, unit, spread.axis) });
  let x = EDGE.left;
  return (
    <g className="figures text-small">
      {items.map(({ name, words: whole }) => {
        const at = x;
        const words = short ? name : whole;
        x += 34 + words.length * 5.7;
        return (
          <g key={name} transform={`translate(${at},16)`}>
            {name === "density" && (
              <path d="M0 -4H16" className="stroke-[2.2] stroke-series-heron" strokeLinecap="round" />
            )}
            {name === "normal" && (
              <path
                d="M0 -4H16"
                className="stroke-[1.6] stroke-series-velvet"
                strokeLinecap="round"
                strokeDasharray="0.1 4.5"
              />
            )}
            {name === "classes" && <rect x={2} y={-9} width={10} height={10} rx={2} className="fill-blocks" />}
            <text x={21} className="fill-muted-ink">
              {words}
            </text>
          </g>
        );
      })}
    </g>
  );
}

type LaneMarks = { length: number; at: (place: number) => Mark }[];
type Drawn = {
  seen: Parameters<typeof boxMarks>[0];
  points: ReturnType<typeof placePoints>;
  box: Mark[];
  layers: SpreadChoices["layers"];
};

/** The marks that the arrow keys walk, lane by lane from the top. */
function marksByLane({ seen, points, box, layers }: Drawn): LaneMarks {
  const lanes: LaneMarks = [];
  if (layers.includes("classes") && seen.classes) {
    lanes.push({ length: seen.classes.counts.length, at: (i) => classMark(seen, i) });
  }
  if (layers.includes("box") && box.length > 0) lanes.push({ length: box.length, at: (i) => nth(box, i) });
  if (layers.includes("points") && points.order.length > 0) {
    lanes.push({ length: points.order.length, at: (i) => pointMark(seen, points, nth(points.order, i)) });
  }
  return lanes;
}

type Asked = { mark: Mark; size: Size; walked: boolean } | null;

/** When the picture changes its size, what was under the pointer stands elsewhere, and what the keys walked to moves. */
function stillThere(asked: Asked, size: Size, lanes: LaneMarks): Mark | null {
  if (!asked || asked.size === size) return asked?.mark ?? null;
  if (!asked.walked) return null;
  for (const { length, at } of lanes) {
    for (let place = 0; place < length; place++) if (at(place).key === asked.mark.key) return at(place);
  }
  return null;
}

function walk(lanes: LaneMarks, now: Mark | null, key: string, far: boolean): Mark | null {
  const along = { ArrowRight: 1, ArrowLeft: -1 }[key] ?? 0;
  const across = { ArrowDown: 1, ArrowUp: -1 }[key] ?? 0;
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
  if (across !== 0) return nearestIn(there, now.x);
  for (let place = 0; place < there.length; place++) {
    if (there.at(place).key === now.key)
      return there.at(Math.min(Math.max(place + along * (far ? 10 : 1), 0), there.length - 1));
  }
  return nearestIn(there, now.x);
}

function nearestIn(lane: LaneMarks[number], x: number): Mark {
  let best = lane.at(0);
  for (let place = 1; place < lane.length; place++) {
    const mark = lane.at(place);
    if (Math.abs(mark.x - x) < Math.abs(best.x - x)) best = mark;
  }
  return best;
}
