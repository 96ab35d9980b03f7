import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type MouseEvent, useRef, useState } from "react";
import { type TimeUnit, timesOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { ClassBlocks, MarkedClass } from "../../plot/ClassBlocks";
import { linear } from "../../plot/scales";
import { timeTicks } from "../../plot/timeTicks";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { Readout } from "../../ui/Readout";
import { useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { nth } from "../../values";
import { titled } from "../../words/kinds";
import { counted, moment, significant, whole } from "../../words/numbers";
import { useMarkSelection } from "../useMarkSelection";
import { TakeAway } from "./TakeAway";

const EDGE = { left: 58, right: 20, top: 20, bottom: 46 };
const UNITS: TimeUnit[] = ["minute", "hour", "day", "week", "month", "quarter", "year"];
const SECONDS: [string, number][] = [
  ["day", 86_400],
  ["hour", 3_600],
  ["minute", 60],
];

/** A stretch of time in the largest of days, hours, minutes or seconds that it holds. */
function stretch(seconds: number): string {
  const [unit, size] = SECONDS.find(([, each]) => seconds >= each) ?? ["second", 1];
  const count = Number((seconds / size).toPrecision(3));
  return `${significant(count)} ${unit}${count === 1 ? "" : "s"}`;
}

const day = (seconds: number) => moment(seconds).slice(0, 10);

const between = (from: number, to: number) =>
  to - from >= 86_400 && from % 86_400 === 0 && to % 86_400 === 0
    ? `${day(from)} to ${day(to)}`
    : `${moment(from)} to ${moment(to)}`;

/** Dates and times: how many rows fall into each unit of time, from the first to the last, and the gaps. */
export function TimesSpread({ table, variable }: { table: Table; variable: Variable }) {
  const [unit, setUnit] = useState<TimeUnit | undefined>();
  const { data, error } = useQuery({
    ...timesOf(table, variable.symbol, unit),
    placeholderData: keepPreviousData,
  });
  const onSelect = useMarkSelection(table, variable.symbol);
  const [room, size] = useSize();
  const [marked, setMarked] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const found = data?.times;
  const edges = (found?.boundaries ?? []).map((edge) => edge ?? 0);
  const counts = (found?.counts ?? []).map((count) => count ?? 0);
  const x = linear([edges[0] ?? 0, edges.at(-1) ?? 1], EDGE.left, (size?.width ?? 200) - EDGE.right);
  const most = counts.reduce((top, count) => Math.max(top, count), 1);
  const y = linear([0, most * 1.06], (size?.height ?? 200) - EDGE.bottom, EDGE.top);
  const find = (event: MouseEvent) => {
    const at = x.invert(event.clientX - (drawing.current?.getBoundingClientRect().left ?? 0));
    const next = edges.findIndex((edge) => edge > at);
    return next > 0 ? next - 1 : null;
  };
  const choose = (i: number | null, add: boolean) => {
    const [low, high] = i === null ? [] : [edges[i], edges[i + 1]];
    if (i === null || low === undefined || high === undefined) return;
    onSelect({ words: words(i), asked: { low, high, closed: "left" } }, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step !== undefined) setMarked((now) => Math.min(Math.max((now ?? -1) + step, 0), counts.length - 1));
    else if (event.key === "Enter" || event.key === " ") choose(marked, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const words = (i: number) => [between(nth(edges, i), nth(edges, i + 1)), counted(counts[i] ?? 0, "row")];
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const caption = found?.n
    ? `${titled(variable.label)}: rows by the ${found.unit}, n = ${whole(found.n)}. Times as written, without a zone.`
    : "";
  return (
    <>
      <Card
        title="Rows over time"
        className="stack-card"
        footer={
          found && (
            <>
              <span>
                rows by the{" "}
                <WordChoice
                  label="Unit of time"
                  shown={found.unit}
                  value={found.unit}
                  options={UNITS.map((value) => ({ value, label: value }))}
                  onChoose={(value) => setUnit(value)}
                  className="min-h-6"
                />
                ; times as written, without a zone
              </span>
              <TakeAway
                drawing={drawing}
                caption={caption}
                table={table}
                variable={variable}
                definition={7}
                classes={{}}
              />
            </>
          )
        }
      >
        {error && <Notice problem={error.message} remedy={remedy} className="m-3.5" />}
        <div ref={room} className="relative min-h-[300px] flex-1">
          {size && found && found.n > 0 && (
            <>
              <svg
                ref={drawing}
                role="application"
                aria-label={`${titled(variable.label)}: arrows walk ${counts.length} spans, Enter selects their rows`}
                // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
                tabIndex={0}
                width={size.width}
                height={size.height}
                className="absolute inset-0"
                onPointerMove={(event) => setMarked(find(event))}
                onPointerLeave={() => setMarked(null)}
                onBlur={() => setMarked(null)}
                onClick={(event) => choose(find(event), event.shiftKey || event.ctrlKey || event.metaKey)}
                onKeyDown={onKeyDown}
              >
                <AxisLeft scale={y} title={`Rows by the ${found.unit}`} x={EDGE.left} to={size.width - EDGE.right} />
                <ClassBlocks boundaries={edges} heights={counts} x={x} y={y} />
                {marked !== null && marked < counts.length && (
                  <MarkedClass boundaries={edges} heights={counts} x={x} y={y} i={marked} />
                )}
                <AxisBottom
                  scale={x}
                  title={titled(variable.label)}
                  y={size.height - EDGE.bottom}
                  ticks={timeTicks(x)}
                />
              </svg>
              {marked !== null && marked < counts.length && (
                <Readout x={x(nth(edges, marked))} y={60} room={size.width} words={words(marked)} />
              )}
            </>
          )}
        </div>
      </Card>
      <Card title="Reading" className="self-start">
        <div className="flex flex-col gap-2 px-3.5 py-2.5 font-serif text-lead">
          {found && found.first !== null && found.last !== null && found.median !== null ? (
            <>
              <p>
                {whole(found.n)} times from {between(found.first, found.last)}, {stretch(found.last - found.first)} in
                all; half of them before {found.median % 86_400 === 0 ? day(found.median) : moment(found.median)}.
              </p>
              {found.usual_step !== null && <p>Usually {stretch(found.usual_step)} from one time to the next.</p>}
              {found.gap_from.length === 0
                ? found.n > 3 && <p>No gap stands out.</p>
                : found.gap_from.map((from, i) => {
                    const [a, b] = [from ?? 0, found.gap_to[i] ?? 0];
                    return (
                      <p key={a}>
                        A gap of {stretch(b - a)}:{" "}
                        <button
                          type="button"
                          className="text-primary underline decoration-primary/40 underline-offset-3"
                          onClick={() =>
                            onSelect(
                              { words: ["both ends of a gap"], asked: { low: a, high: b, closed: "both" } },
                              false,
                            )
                          }
                        >
                          {between(a, b)}
                        </button>
                        .
                      </p>
                    );
                  })}
            </>
          ) : (
            found && <p>There is no time to describe.</p>
          )}
        </div>
      </Card>
    </>
  );
}
