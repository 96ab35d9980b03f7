import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, type Ref, useEffect, useId, useMemo, useRef, useState } from "react";
import { enclosedRows, type Fits, type Pairs, pairReading, type Series } from "../../api/relate";
import type { Table } from "../../api/studies";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { Dots } from "../../plot/Dots";
import { seriesOf, shapeOf } from "../../plot/series";
import { timeTicks } from "../../plot/timeTicks";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Readout } from "../../ui/Readout";
import type { Size } from "../../ui/useSize";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { moment, significant, whole } from "../../words/numbers";
import { raisedParts } from "../../words/raised";
import type { Change } from "../useAddress";
import {
  BandLayer,
  CountKey,
  DensityKey,
  DensityLayer,
  HexagonLayer,
  ImageLayer,
  Legend,
  LineLayer,
  Margins,
  StackLayer,
} from "./Layers";
import { joinedPath, type Plan, planOf, type Spots, spotsOf, within } from "./relateLayout";
import type { RelateChoices } from "./useRelateChoices";

type RelatePlotProps = {
  table: Table;
  reading: Pairs;
  pair: { x: string; y: string };
  fits: Fits | undefined;
  choices: RelateChoices;
  size: Size;
  drawing: Ref<SVGSVGElement>;
  change: (changes: Change, replace?: boolean) => void;
};

const REACH = 12;
/** Up to so many, marks take the shape of their group and the size of a variable. */
const SHAPED_UP_TO = 1_200;
const GRAIN = 2;
type Spot = { series: number; place: number };

export function RelatePlot(props: RelatePlotProps) {
  const { table, reading, pair, fits, choices, size, drawing, change } = props;
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const [at, setAt] = useState<Spot | null>(null);
  const [outline, setOutline] = useState<[number, number][]>([]);
  const held = useRef<{ x: number; y: number; plan: Plan } | null>(null);
  const svg = useRef<SVGSVGElement | null>(null);
  const clip = useId();
  const plan = useMemo(() => planOf(reading, choices, size), [reading, choices, size]);
  const spots = useMemo(() => reading.series.map((each) => spotsOf(each, plan, choices)), [reading, plan, choices]);
  const { x, y, edge } = plan;
  const straight = !x.log && !y.log;
  const many = straight ? choices.form : choices.form === "counts" ? "counts" : "points";
  const showPoints = many === "points";
  const first = nth(reading.series, 0);
  const window: [number, number, number, number] = [...x.domain(), ...y.domain()];
  const asked = { ...pair };
  const density = useQuery({
    ...pairReading("pair-density", table, {
      ...asked,
      grid: choices.grid,
      sparse: choices.sparse,
      ...(choices.widths[0] !== null && choices.widths[1] !== null
        ? { width_x: choices.widths[0], width_y: choices.widths[1] }
        : {}),
    }),
    placeholderData: keepPreviousData,
    enabled: many === "density",
  });
  const aspect = (size.height - edge.top - edge.bottom) / Math.max(size.width - edge.left - edge.right, 1);
  const hexagons = useQuery({
    ...pairReading("hexagons", table, {
      ...asked,
      across: choices.across,
      aspect: +Math.min(Math.max(aspect, 0.1), 10).toFixed(2),
    }),
    placeholderData: keepPreviousData,
    enabled: many === "hexagons",
  });
  const stacks = useQuery({
    ...pairReading("stacks", table, {
      ...asked,
      ...(choices.by && reading.levels.length > 0 ? { by: choices.by } : {}),
    }),
    placeholderData: keepPreviousData,
    enabled: many === "counts",
  });
  const image = useQuery({
    ...pairReading("window", table, {
      ...asked,
      x_from: window[0],
      x_to: window[1],
      y_from: window[2],
      y_to: window[3],
      columns: Math.min(Math.max(Math.round((size.width - edge.left - edge.right) / GRAIN), 8), 1000),
      rows: Math.min(Math.max(Math.round((size.height - edge.top - edge.bottom) / GRAIN), 8), 1000),
    }),
    placeholderData: keepPreviousData,
    enabled: many === "image",
  });
  const place = (event: { clientX: number; clientY: number }): [number, number] => {
    const frame = svg.current?.getBoundingClientRect();
    return [event.clientX - (frame?.left ?? 0), event.clientY - (frame?.top ?? 0)];
  };
  const nearest = ([mx, my]: [number, number]): Spot | null => {
    let best: Spot | null = null;
    let distance = REACH;
    if (showPoints)
      spots.forEach(({ xs, ys }, series) => {
        for (let i = 0; i < xs.length; i++) {
          const away = Math.hypot(nth(xs, i) - mx, nth(ys, i) - my);
          if (away < distance) [best, distance] = [{ series, place: i }, away];
        }
      });
    return best;
  };
  const zoom = (factor: number, [mx, my]: [number, number]) => {
    const ends = (scale: typeof x, middle: number) => {
      const [from, to] = scale.range();
      const far = (end: number) => scale.invert(middle + (end - middle) * factor);
      return [far(from), far(to)];
    };
    change({ window: [...ends(x, mx), ...ends(y, my)].join(" ") }, true);
  };
  const onWheel = useRef<(event: WheelEvent) => void>(() => undefined);
  onWheel.current = (event) => {
    event.preventDefault();
    zoom(event.deltaY > 0 ? 1.2 : 1 / 1.2, place(event));
  };
  useEffect(() => {
    const node = svg.current;
    const turn = (event: WheelEvent) => onWheel.current(event);
    node?.addEventListener("wheel", turn, { passive: false });
    return () => node?.removeEventListener("wheel", turn);
  }, []);
  const onMove = (event: PointerEvent<SVGSVGElement>) => {
    const spot = place(event);
    const from = held.current;
    if (!from) return setAt(nearest(spot));
    setAt(null);
    if (choices.drag === "move") {
      const [dx, dy] = [spot[0] - from.x, spot[1] - from.y];
      const moved = (scale: typeof x, by: number) => scale.range().map((end) => scale.invert(end - by));
      change({ window: [...moved(from.plan.x, dx), ...moved(from.plan.y, dy)].join(" ") }, true);
    } else if (choices.drag === "lasso") setOutline((now) => (now.length < 1_500 ? [...now, spot] : now));
    else if (Math.hypot(spot[0] - from.x, spot[1] - from.y) > 5)
      setOutline([[from.x, from.y], [spot[0], from.y], spot, [from.x, spot[1]]]);
  };
  const onUp = async (event: PointerEvent<SVGSVGElement>) => {
    const add = event.shiftKey || event.ctrlKey || event.metaKey;
    const drawn = outline;
    held.current = null;
    setOutline([]);
    if (drawn.length >= 3 && choices.drag !== "move") {
      const words = choices.drag === "box" ? "pairs within a box" : "pairs within an outline";
      if (first.thinned || !showPoints) {
        const corners = drawn.map(([a, b]): [number, number] => [x.invert(a), y.invert(b)]);
        const rows = await enclosedRows(table, pair, corners);
        if (rows.length > 0) select(table.id, rows, words, add);
        return;
      }
      const rows = new Set<number>();
      spots.forEach(({ xs, ys }, s) => {
        for (let i = 0; i < xs.length; i++)
          if (within(drawn, nth(xs, i), nth(ys, i))) rows.add(nth(nth(reading.series, s).positions, i));
      });
      if (rows.size > 0) select(table.id, rows, words, add);
      return;
    }
    const near = nearest(place(event));
    if (near) choose(near, add);
  };
  const choose = ({ series, place: i }: Spot, add: boolean) => {
    const row = nth(nth(reading.series, series).positions, i);
    select(table.id, [row], `row ${whole(row)}`, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const middle: [number, number] = [(x.range()[0] + x.range()[1]) / 2, (y.range()[0] + y.range()[1]) / 2];
    if (step !== undefined) {
      const series = at?.series ?? 0;
      const own = spots[series]?.xs ?? [];
      let next = at === null ? (step > 0 ? -1 : own.length) : at.place;
      const far = event.shiftKey ? 10 : 1;
      for (let k = 0; k < far; k++)
        do next += step;
        while (next >= 0 && next < own.length && Number.isNaN(nth(own, next)));
      if (next >= 0 && next < own.length) setAt({ series, place: next });
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown")
      setAt((now) => ({ series: ((now?.series ?? 0) + 1) % reading.series.length, place: now?.place ?? 0 }));
    else if (event.key === "+" || event.key === "=") zoom(1 / 1.4, middle);
    else if (event.key === "-") zoom(1.4, middle);
    else if (event.key === "0") change({ window: null }, true);
    else if ((event.key === "Enter" || event.key === " ") && at) choose(at, event.shiftKey);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const [left, right] = x.range();
  const [bottom, top] = y.range();
  const yTitle = titled(reading.series.length > 1 ? commonTitle(reading) : named(first.subject));
  const readAt = at && { series: nth(reading.series, at.series), spot: nth(spots, at.series), i: at.place };
  return (
    <div className="absolute inset-0">
      <svg
        ref={(node) => {
          svg.current = node;
          if (typeof drawing === "function") drawing(node);
          else if (drawing) drawing.current = node;
        }}
        role="application"
        aria-label={`${yTitle} against ${named(reading.x)}: arrows walk the pairs, plus and minus zoom, 0 shows all, Enter selects, dragging selects many`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
        tabIndex={0}
        width={size.width}
        height={size.height}
        className="touch-none select-none"
        onPointerDown={(event) => {
          const [px, py] = place(event);
          held.current = { x: px, y: py, plan };
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerLeave={() => !held.current && setAt(null)}
        onDoubleClick={() => change({ window: null }, true)}
        onBlur={() => setAt(null)}
        onKeyDown={onKeyDown}
      >
        <AxisLeft scale={y} title={yTitle} x={left} to={right} />
        <clipPath id={clip}>
          <rect x={left} y={top} width={Math.max(right - left, 0)} height={Math.max(bottom - top, 0)} />
        </clipPath>
        <g clipPath={`url(#${clip})`}>
          {many === "density" && density.data && <DensityLayer found={density.data} plan={plan} ramp={choices.ramp} />}
          {many === "hexagons" && hexagons.data && (
            <HexagonLayer found={hexagons.data} plan={plan} ramp={choices.ramp} />
          )}
          {many === "image" && image.data && <ImageLayer found={image.data} plan={plan} ramp={choices.ramp} />}
          {many === "counts" && stacks.data && <StackLayer found={stacks.data} {...{ plan, reading }} />}
        </g>
        {choices.joined &&
          reading.series.map((series, i) => (
            <path
              key={series.subject.symbol}
              data-joined={series.subject.symbol}
              d={joinedPath(plan, series, choices.rowOrder)}
              clipPath={`url(#${clip})`}
              fill="none"
              strokeLinejoin="round"
              className={`stroke-[1.3] ${seriesOf(i).stroke}`}
            />
          ))}
        {fits && (
          <g clipPath={`url(#${clip})`}>
            <BandLayer {...{ fits, plan, choices }} />
          </g>
        )}
        {showPoints && <Points {...{ reading, spots, choices }} />}
        {many === "density" && density.data && choices.sparse > 0 && (
          <Dots
            xs={Float64Array.from(density.data.sparse_x, (value) => x(value))}
            ys={Float64Array.from(density.data.sparse_y, (value) => y(value))}
            radius={1.5}
            opacity={0.75}
            className="stroke-series-velvet"
          />
        )}
        {fits && (
          <g clipPath={`url(#${clip})`}>
            <LineLayer {...{ fits, plan }} />
          </g>
        )}
        <Chosen {...{ reading, spots, selected }} />
        {choices.margins !== "none" && <Margins {...{ reading, plan, choices }} />}
        {many === "density" && density.data && <DensityKey found={density.data} plan={plan} ramp={choices.ramp} />}
        {many === "hexagons" && hexagons.data && (
          <CountKey
            most={hexagons.data.counts.reduce((a, b) => Math.max(a, b), 1)}
            title="pairs in a hexagon"
            plan={plan}
            ramp={choices.ramp}
          />
        )}
        {(reading.levels.length > 0 || reading.series.length > 1) && (
          <Legend reading={reading} right={right} top={12} />
        )}
        {choices.equation && fits && <Equations fits={fits} left={left} top={top} />}
        {outline.length > 1 && (
          <path
            data-screen-only
            d={`M${outline.map((spot) => spot.join(" ")).join("L")}Z`}
            className="fill-accent-tint stroke-accent"
            fillOpacity={0.45}
          />
        )}
        {readAt && (
          <circle
            data-screen-only
            cx={readAt.spot.xs[readAt.i]}
            cy={readAt.spot.ys[readAt.i]}
            r={7}
            fill="none"
            className="stroke-[1.5] stroke-accent"
          />
        )}
        <AxisBottom
          scale={x}
          title={titled(named(reading.x))}
          y={bottom}
          about={size.width > 420 ? 8 : 5}
          {...(reading.x_is_time ? { ticks: timeTicks(x) } : {})}
        />
      </svg>
      {readAt && (
        <Readout
          x={nth(readAt.spot.xs, readAt.i)}
          y={nth(readAt.spot.ys, readAt.i)}
          room={size.width}
          words={wordsOf(reading, readAt.series, readAt.i)}
        />
      )}
      {many === "counts" && stacks.error && <Said words={stacks.error.message} />}
      {many === "density" && density.error && <Said words={density.error.message} />}
      {many === "hexagons" && hexagons.error && <Said words={hexagons.error.message} />}
      {!straight && choices.form !== many && (
        <Said words={`On a logarithmic axis pairs are shown as points: choose straight axes for ${choices.form}.`} />
      )}
    </div>
  );
}

function Said({ words }: { words: string }) {
  return (
    <p
      role="alert"
      className="absolute top-2 left-20 z-10 max-w-[70%] rounded-lg bg-caution-tint px-2.5 py-1 text-small"
    >
      {words}
    </p>
  );
}

/** What several measured variables have in common, for their axis. */
function commonTitle({ series }: Pairs): string {
  const units = [...new Set(series.map(({ subject }) => subject.unit))];
  const names = series.map(({ subject }) => subject.label).join(", ");
  return units.length === 1 && units[0] ? `${names} (${units[0]})` : names;
}

function wordsOf(reading: Pairs, series: Series, i: number): string[] {
  const [a, b] = [nth(series.x, i), nth(series.y, i)];
  const unit = (of: { unit: string }) => (of.unit ? ` ${of.unit}` : "");
  const level = reading.levels[nth(series.group, i)];
  return [
    `row ${whole(nth(series.positions, i))}`,
    `${reading.x.label} ${reading.x_is_time ? moment(a) : `${significant(a, 6)}${unit(reading.x)}`}`,
    `${series.subject.label} ${significant(b, 6)}${unit(series.subject)}`,
    ...(level ? [level] : []),
    ...(reading.size ? [`${reading.size} ${significant(nth(series.size, i), 4)}`] : []),
  ];
}

/** The points: few with the shape of their group and the size of a variable, many as dots of its colour. */
function Points({ reading, spots, choices }: { reading: Pairs; spots: Spots[]; choices: RelateChoices }) {
  const several = reading.series.length > 1;
  return reading.series.map((series, s) => {
    const { xs, ys } = nth(spots, s);
    const shaped = xs.length <= SHAPED_UP_TO && (reading.levels.length > 0 || several || reading.size);
    if (shaped && !choices.joined) {
      const most = reading.size ? series.size.reduce((a, b) => Math.max(a, b), 0) : 0;
      return (
        <g key={series.subject.symbol} opacity={choices.opacity}>
          {Array.from(xs, (px, i) => {
            if (Number.isNaN(px)) return null;
            const kind = several ? s : reading.levels.length > 0 ? Math.max(nth(series.group, i), 0) : 0;
            const part = most > 0 ? Math.max(nth(series.size, i), 0) / most : 0;
            const radius = reading.size ? Math.max(8 * Math.sqrt(part), 1.2) : 3;
            return (
              <path
                key={series.positions[i]}
                d={shapeOf(kind, radius)}
                transform={`translate(${px.toFixed(1)},${nth(ys, i).toFixed(1)})`}
                fillOpacity={0.35}
                className={`stroke-[1.2] ${seriesOf(kind).stroke} ${seriesOf(kind).fill}`}
              />
            );
          })}
        </g>
      );
    }
    const kinds = new Map<number, number[]>();
    for (let i = 0; i < xs.length; i++) {
      if (Number.isNaN(xs[i])) continue;
      const kind = several ? s : reading.levels.length > 0 ? nth(series.group, i) : 0;
      const own = kinds.get(kind % 8);
      if (own) own.push(i);
      else kinds.set(kind % 8, [i]);
    }
    const radius = xs.length > 5_000 ? 1.2 : xs.length > 1_000 ? 1.6 : choices.joined ? 1.3 : 2.5;
    return [...kinds].map(([kind, places]) => (
      <Dots
        key={`${series.subject.symbol} ${kind}`}
        xs={Float64Array.from(places, (i) => nth(xs, i))}
        ys={Float64Array.from(places, (i) => nth(ys, i))}
        radius={radius}
        opacity={choices.opacity}
        className={seriesOf(Math.max(kind, 0)).stroke}
      />
    ));
  });
}

type ChosenProps = { reading: Pairs; spots: Spots[]; selected: ReadonlySet<number> };

function Chosen({ reading, spots, selected }: ChosenProps) {
  const found = useMemo(() => {
    const [xs, ys]: [number[], number[]] = [[], []];
    if (selected.size > 0)
      reading.series.forEach((series, s) => {
        const own = nth(spots, s);
        for (let i = 0; i < own.xs.length; i++)
          if (selected.has(nth(series.positions, i)) && !Number.isNaN(own.xs[i])) {
            xs.push(nth(own.xs, i));
            ys.push(nth(own.ys, i));
          }
      });
    return { xs, ys };
  }, [reading, spots, selected]);
  return found.xs.length > 0 ? <Dots xs={found.xs} ys={found.ys} radius={3.2} className="stroke-accent" /> : null;
}

function Equations({ fits, left, top }: { fits: Fits; left: number; top: number }) {
  const lines = fits.groups.flatMap(({ label, fit, equation, carried_back: back }) =>
    fit
      ? [
          `${label ? `${label}: ` : ""}${back || equation}${fit.r_squared === null ? "" : `, R² ${fit.r_squared.toFixed(3)}`}`,
        ]
      : [],
  );
  return lines.map((line, i) => (
    <text
      key={line}
      x={left + 10}
      y={top + 18 + 17 * i}
      strokeWidth={4}
      paintOrder="stroke"
      className="fill-ink stroke-raised text-body"
    >
      {raisedParts(line).map(({ words, raised }, k, all) => (
        <tspan key={words} dy={raised ? -5 : all[k - 1]?.raised ? 5 : 0} className={raised ? "text-small" : ""}>
          {words}
        </tspan>
      ))}
    </text>
  ));
}
