import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { line } from "d3-shape";
import { type KeyboardEvent, type MouseEvent, useMemo, useRef, useState } from "react";
import { type OrderReading, orderOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { Dots } from "../../plot/Dots";
import { aired, linear } from "../../plot/scales";
import { timeTicks } from "../../plot/timeTicks";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { Readout } from "../../ui/Readout";
import { type Size, useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { decimalsFor, fixed, moment, significant, whole } from "../../words/numbers";
import { RowLinks } from "../RowLinks";
import { nWords } from "./caption";
import { TakeAway } from "./TakeAway";
import type { useSpreadChoices } from "./useSpreadChoices";

const EDGE = { left: 58, right: 84, top: 18, bottom: 46 };
const REACH = 14;

type OrderSpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable };

/** Values in the order of the rows, or of another variable, with runs and jumps said in words. */
export function OrderSpread({ table, variable, choices }: OrderSpreadProps) {
  const { data: found, error } = useQuery({
    ...orderOf(table, variable.symbol, choices.along ?? ""),
    placeholderData: keepPreviousData,
  });
  const [room, size] = useSize();
  const drawing = useRef<SVGSVGElement>(null);
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const order = found?.found;
  return (
    <>
      <Card
        title={found?.along ? `In the order of ${found.along}` : "In the order of the rows"}
        className="stack-card"
        footer={
          found && (
            <TakeAway
              drawing={drawing}
              caption={captionOf(found)}
              table={table}
              variable={variable}
              definition={choices.definition}
              classes={choices.classes}
            />
          )
        }
      >
        {error && <Notice problem={error.message} remedy={remedy} className="m-3.5" />}
        {order?.n === 0 && (
          <p className="m-auto max-w-80 py-16 text-center font-serif text-lead text-muted-ink">
            No row has a value here. Once there are some, they stand here one after the other.
          </p>
        )}
        <div ref={room} className="relative min-h-[300px] flex-1">
          {found && order && order.n > 0 && size && size.width > 80 && (
            <OrderPlot table={table} reading={found} size={size} drawing={drawing} />
          )}
          {!found && !error && <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />}
        </div>
      </Card>
      <Card title="Reading" className="self-start">
        <div className="flex flex-col gap-2 px-3.5 py-2.5 font-serif text-lead">
          {order?.words.map((said) => (
            <p key={said}>{said}</p>
          ))}
          {order && order.jumps.length > 0 && (
            <p>
              Rows after a jump: <RowLinks table={table} rows={Float64Array.from(order.jumps)} />.
            </p>
          )}
          {order && order.n_missing > 0 && (
            <p className="font-sans text-body text-muted-ink">
              {whole(order.n_missing)} of {whole(table.n_rows)} rows have no value{found.along ? " or no place" : ""}{" "}
              and are passed over.
            </p>
          )}
        </div>
        <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
          Runs about the median after Wald and Wolfowitz (1940); a run is called long beyond log₂ n + 3, after Anhøj and
          Olesen (2014); a jump is a step beyond the outer fence of all steps.
        </p>
      </Card>
    </>
  );
}

type OrderPlotProps = { table: Table; reading: OrderReading; size: Size; drawing: React.Ref<SVGSVGElement> };

function OrderPlot({ table, reading, size, drawing }: OrderPlotProps) {
  const { places, values, rows, subject, found, after_hole: holes } = reading;
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const [place, setPlace] = useState<number | null>(null);
  const { x, y, xs, ys, path } = useMemo(() => {
    const limits = [subject.spec_lower, subject.target, subject.spec_upper].filter((limit) => limit !== null);
    let [low, high] = [Math.min(...limits), Math.max(...limits)];
    for (const value of values) {
      if (value < low) low = value;
      if (value > high) high = value;
    }
    const x = linear(aired(places[0] ?? 0, places.at(-1) ?? 1, 0.01), EDGE.left, size.width - EDGE.right);
    const y = linear(aired(low, high, 0.04), size.height - EDGE.bottom, EDGE.top);
    const xs = Float64Array.from(places, (at) => x(at));
    const ys = Float64Array.from(values, (value) => y(value));
    const joined = line<number>(
      (i) => nth(xs, i),
      (i) => nth(ys, i),
    );
    // Where a row has no value, the line has a gap.
    const starts = [0, ...holes, values.length];
    const parts = starts.slice(1).map((end, i) => Array.from(values.keys()).slice(starts[i], end));
    return { x, y, xs, ys, path: parts.map((part) => joined(part) ?? "").join("") };
  }, [places, values, holes, subject, size]);
  const chosen = useMemo(() => {
    const at: number[] = [];
    if (selected.size > 0) for (let i = 0; i < rows.length; i++) if (selected.has(nth(rows, i))) at.push(i);
    return at;
  }, [selected, rows]);
  const jumps = useMemo(() => {
    const named = new Set(found.jumps);
    return Array.from(rows.keys()).filter((i) => named.has(nth(rows, i)));
  }, [found.jumps, rows]);
  const run = useMemo(() => {
    const long = found.longest !== null && found.long_from !== null && found.longest >= found.long_from;
    if (!long) return null;
    const from = rows.indexOf(found.longest_first ?? 0);
    const to = rows.indexOf(found.longest_last ?? 0);
    return from >= 0 && to >= from ? { from, to } : null;
  }, [found, rows]);
  const find = (event: MouseEvent<SVGSVGElement>): number | null => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [px, py] = [event.clientX - frame.left, event.clientY - frame.top];
    let best: number | null = null;
    let distance = REACH;
    for (let i = 0; i < xs.length; i++) {
      const away = Math.hypot(nth(xs, i) - px, nth(ys, i) - py);
      if (away < distance) [best, distance] = [i, away];
    }
    return best;
  };
  const choose = (i: number, add: boolean) => {
    const row = nth(rows, i);
    select(table.id, [row], `row ${whole(row)}`, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step !== undefined) {
      const next = place === null ? 0 : place + step * (event.shiftKey ? 10 : 1);
      setPlace(Math.min(Math.max(next, 0), rows.length - 1));
    } else if ((event.key === "Enter" || event.key === " ") && place !== null) choose(place, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const timed = reading.along_kind === "date-time";
  const unit = subject.unit ? ` ${subject.unit}` : "";
  const decimals = subject.decimals ?? decimalsFor(null, (found.q3 ?? 0) - (found.q1 ?? 0));
  const wherePlaced = (at: number) => (timed ? moment(at) : `${reading.along} ${significant(at, 6)}`);
  const title = reading.along
    ? titled(reading.along + (reading.along_unit ? ` (${reading.along_unit})` : ""))
    : "Row number";
  const right = size.width - EDGE.right;
  const levels = [
    { value: found.q3, words: "Q3", dash: "4 3" },
    { value: found.median, words: "median", dash: undefined },
    { value: found.q1, words: "Q1", dash: "4 3" },
  ];
  const limits = [
    { value: subject.spec_lower, words: "lower limit", good: false },
    { value: subject.target, words: "target", good: true },
    { value: subject.spec_upper, words: "upper limit", good: false },
  ];
  return (
    <div className="absolute inset-0">
      <svg
        ref={drawing}
        role="application"
        aria-label={`${titled(named(subject))} in order: arrows walk the values, Enter selects the row`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
        tabIndex={0}
        width={size.width}
        height={size.height}
        onPointerMove={(event) => setPlace(find(event))}
        onPointerLeave={() => setPlace(null)}
        onBlur={() => setPlace(null)}
        onKeyDown={onKeyDown}
        onClick={(event) => {
          const at = find(event);
          if (at !== null) choose(at, event.shiftKey || event.ctrlKey || event.metaKey);
        }}
      >
        <AxisLeft scale={y} title={titled(named(subject))} x={EDGE.left} to={right} />
        {run && (
          <rect
            x={nth(xs, run.from) - 3}
            width={nth(xs, run.to) - nth(xs, run.from) + 6}
            y={EDGE.top}
            height={size.height - EDGE.bottom - EDGE.top}
            className="fill-caution-tint"
            opacity={0.7}
          />
        )}
        {levels.map(
          ({ value, words, dash }) =>
            value !== null && (
              <g key={words}>
                <path
                  d={`M${EDGE.left} ${y(value)}H${right}`}
                  strokeDasharray={dash}
                  className={dash ? "stroke-line-strong" : "stroke-[1.6] stroke-series-velvet"}
                />
                <text x={right + 5} y={y(value)} dy="0.32em" className="fill-muted-ink text-small">
                  {words}
                </text>
              </g>
            ),
        )}
        {limits.map(
          ({ value, words, good }) =>
            value !== null && (
              <g key={words} className={good ? "fill-good stroke-good" : "fill-danger stroke-danger"}>
                <path
                  d={`M${EDGE.left} ${y(value)}H${right}`}
                  strokeWidth={1.3}
                  strokeDasharray={good ? "1.5 3" : "7 3"}
                />
                <text x={right + 5} y={y(value)} dy="0.32em" stroke="none" className="text-small">
                  {words}
                </text>
              </g>
            ),
        )}
        <path d={path} fill="none" strokeLinejoin="round" className="stroke-series-heron opacity-40" />
        <Dots {...{ xs, ys }} radius={rows.length > 1_000 ? 1.4 : 2.3} opacity={0.75} className="stroke-series-heron" />
        {jumps.map((i) => (
          <circle key={rows[i]} cx={xs[i]} cy={ys[i]} r={5} fill="none" className="stroke-[1.5] stroke-caution" />
        ))}
        {chosen.length > 0 && (
          <Dots
            xs={chosen.map((i) => nth(xs, i))}
            ys={chosen.map((i) => nth(ys, i))}
            radius={3.2}
            className="stroke-accent"
          />
        )}
        {place !== null && (
          <circle
            data-screen-only
            cx={xs[place]}
            cy={ys[place]}
            r={6.5}
            fill="none"
            className="stroke-[1.5] stroke-accent"
          />
        )}
        <AxisBottom scale={x} title={title} y={size.height - EDGE.bottom} {...(timed ? { ticks: timeTicks(x) } : {})} />
      </svg>
      {place !== null && (
        <Readout
          x={nth(xs, place)}
          y={nth(ys, place)}
          room={size.width}
          words={[
            `row ${whole(nth(rows, place))}`,
            `${fixed(nth(values, place), decimals)}${unit}`,
            ...(reading.along ? [wherePlaced(nth(places, place))] : []),
          ]}
        />
      )}
    </div>
  );
}

function captionOf({ subject, used, along, found, values }: OrderReading): string {
  const outline = values.length < found.n ? " Drawn: the smallest and largest value of each stretch of rows." : "";
  const run = found.longest !== null && found.long_from !== null && found.longest >= found.long_from;
  return (
    `${titled(named(subject))} in the order of ${along || "the rows"}, ${nWords({ ...used, n: found.n, weighted_by: "" })}. ` +
    `Solid line: median; broken lines: quartiles.${run ? " Shaded: the longest run on one side of the median." : ""}` +
    `${found.jumps.length > 0 ? " Rings: values after a jump." : ""}${outline} ${found.words[0] ?? ""}`
  ).trim();
}
