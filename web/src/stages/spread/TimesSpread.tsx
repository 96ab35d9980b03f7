import { useQuery } from "@tanstack/react-query";
import { scaleUtc } from "d3-scale";
import { type KeyboardEvent, type MouseEvent, useRef, useState } from "react";
import { type Classes, classesOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { ClassBlocks, MarkedClass } from "../../plot/ClassBlocks";
import { linear, type Scale } from "../../plot/scales";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { Readout } from "../../ui/Readout";
import { useSize } from "../../ui/useSize";
import { titled } from "../../words/kinds";
import { counted, moment, whole } from "../../words/numbers";
import { useMarkSelection } from "../useMarkSelection";

const SPANS = 24;
const EDGE = { left: 58, right: 20, top: 20, bottom: 46 };

const DAY = 86_400;
const FORMATS: [number, Intl.DateTimeFormatOptions][] = [
  [2 * DAY, { hour: "2-digit", minute: "2-digit" }],
  [300 * DAY, { day: "numeric", month: "short" }],
  [1500 * DAY, { month: "short", year: "numeric" }],
  [Number.POSITIVE_INFINITY, { year: "numeric" }],
];

function timeTicks(scale: Scale) {
  const [from = 0, to = 0] = scale.domain();
  const times = scaleUtc([new Date(from * 1000), new Date(to * 1000)], scale.range());
  const format = FORMATS.find(([upTo]) => to - from <= upTo)?.[1];
  const write = new Intl.DateTimeFormat("en-GB", { ...format, timeZone: "UTC" });
  return times.ticks(7).map((time) => ({ at: times(time), value: time.getTime(), text: write.format(time) }));
}

/** Dates and times: how many rows fall into each of equal spans, from the first to the last. */
export function TimesSpread({ table, variable }: { table: Table; variable: Variable }) {
  const spans = useQuery(classesOf(table, variable.symbol, { count: SPANS }));
  const onSelect = useMarkSelection(table, variable.symbol);
  const [room, size] = useSize();
  const [marked, setMarked] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  const found = spans.data;
  const edges = found?.boundaries ?? [];
  const x = linear([edges[0] ?? 0, edges.at(-1) ?? 1], EDGE.left, (size?.width ?? 200) - EDGE.right);
  const most = Math.max(1, ...(found?.counts ?? []));
  const y = linear([0, most * 1.06], (size?.height ?? 200) - EDGE.bottom, EDGE.top);
  const find = (event: MouseEvent) => {
    const at = x.invert(event.clientX - (drawing.current?.getBoundingClientRect().left ?? 0));
    const next = edges.findIndex((edge) => edge > at);
    return next > 0 ? next - 1 : null;
  };
  const choose = (i: number | null, add: boolean) => {
    const [low, high] = i === null ? [] : [edges[i], edges[i + 1]];
    if (i === null || low === undefined || high === undefined) return;
    onSelect({ words: words(i), asked: { low, high, closed: i === SPANS - 1 ? "both" : "left" } }, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step !== undefined) setMarked((now) => Math.min(Math.max((now ?? -1) + step, 0), SPANS - 1));
    else if (event.key === "Enter" || event.key === " ") choose(marked, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const words = (i: number) => [
    `${moment(edges[i] as number)} to ${moment(edges[i + 1] as number)}`,
    counted(found?.counts[i] ?? 0, "row"),
  ];
  return (
    <>
      <Card
        title="Rows over time"
        className="stack-card"
        footer={<span>{SPANS} equal spans; times as written, without a zone</span>}
      >
        {spans.error && <Notice problem={spans.error.message} className="m-3.5" />}
        <div ref={room} className="relative min-h-[300px] flex-1">
          {size && found && (
            <>
              <svg
                ref={drawing}
                role="application"
                aria-label={`${titled(variable.label)}: arrows walk ${SPANS} equal spans, Enter selects their rows`}
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
                <AxisLeft scale={y} title="Rows" x={EDGE.left} to={size.width - EDGE.right} />
                <ClassBlocks boundaries={edges} heights={found.counts} x={x} y={y} />
                {marked !== null && <MarkedClass boundaries={edges} heights={found.counts} x={x} y={y} i={marked} />}
                <AxisBottom
                  scale={x}
                  title={titled(variable.label)}
                  y={size.height - EDGE.bottom}
                  ticks={timeTicks(x)}
                />
              </svg>
              {marked !== null && (
                <Readout x={x(edges[marked] as number)} y={60} room={size.width} words={words(marked)} />
              )}
            </>
          )}
        </div>
      </Card>
      <Card title="Reading" className="self-start">
        <p className="px-3.5 py-2.5 font-serif text-lead">{found && readingOf(found, edges)}</p>
      </Card>
    </>
  );
}

function readingOf(found: Classes, edges: number[]): string {
  if (found.n === 0) return "There is no time to describe.";
  const empty = found.counts.filter((count) => count === 0).length;
  const gaps = empty > 0 ? ` ${counted(empty, "span")} of ${found.counts.length} hold no row.` : "";
  return `${whole(found.n)} times from ${moment(edges[0] as number)} to ${moment(edges.at(-1) as number)}.${gaps}`;
}
