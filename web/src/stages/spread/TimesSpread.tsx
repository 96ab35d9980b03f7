import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type MouseEvent, useRef, useState } from "react";
import { figureOf } from "../../api/figures";
import { timesOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { PanelPlan } from "../../figure/layout";
import type { Shown } from "../../figure/screen";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { Readout } from "../../ui/Readout";
import { useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { nth } from "../../values";
import { titled } from "../../words/kinds";
import { counted, moment, significant, whole } from "../../words/numbers";
import { StageFigure } from "../StageFigure";
import { useMarkSelection } from "../useMarkSelection";
import { timesPicture } from "./pictures";
import { TakeAway } from "./TakeAway";
import { useSteady } from "./useFollowing";
import { UNITS_OF_TIME, type useSpreadChoices } from "./useSpreadChoices";

const DAY = 86_400;
const SECONDS: [string, number][] = [
  ["day", 86_400],
  ["hour", 3_600],
  ["minute", 60],
];

/** A stretch of time in the largest of days, hours, minutes or seconds that it holds. */
function stretch(seconds: number): string {
  const [unit, size] = SECONDS.find(([, length]) => seconds >= length) ?? ["second", 1];
  const count = Number((seconds / size).toPrecision(3));
  return `${significant(count)} ${unit}${count === 1 ? "" : "s"}`;
}

const day = (seconds: number) => moment(seconds).slice(0, 10);

const between = (from: number, to: number) =>
  to - from >= 86_400 && from % 86_400 === 0 && to % 86_400 === 0
    ? `${day(from)} to ${day(to)}`
    : `${moment(from)} to ${moment(to)}`;

type TimesSpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable };

/** Dates and times: how many rows fall into each unit of time, from the first to the last, and the gaps. */
export function TimesSpread({ table, variable, choices, change }: TimesSpreadProps) {
  const figure = useSteady(figureOf(table, timesPicture(table, variable, choices), "spread figure"));
  const { data } = useQuery({
    ...timesOf(table, variable.symbol, choices.unit ?? undefined),
    placeholderData: keepPreviousData,
    enabled: figure.isFetched,
  });
  const { error } = figure;
  const onSelect = useMarkSelection(table, variable.symbol);
  const [room, size] = useSize();
  const drawing = useRef<Shown>(null);
  const result = data?.times;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <>
      <Card
        help="over-time"
        title="Rows over time"
        className="stack-card"
        footer={
          result && (
            <>
              <span>
                rows by the{" "}
                <WordChoice
                  label="Unit of time"
                  shown={result.unit}
                  value={result.unit}
                  options={UNITS_OF_TIME.map((value) => ({ value, label: value }))}
                  onChoose={(value) => change({ unit: value })}
                  className="min-h-6"
                />
                ; times as written, without a zone
              </span>
              <TakeAway
                drawing={drawing}
                caption={figure.data?.caption ?? ""}
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
          {figure.data && result?.n !== 0 && size && size.width > 80 && (
            <StageFigure figure={figure.data} {...{ size, drawing }} title={`${titled(variable.label)} over time`}>
              {(plan) => <Spans plan={plan} label={titled(variable.label)} onSelect={onSelect} />}
            </StageFigure>
          )}
        </div>
      </Card>
      <Card help="over-time" title="Reading" className="self-start">
        <div className="flex flex-col gap-2 px-3.5 py-2.5 font-serif text-lead">
          {result && result.first !== null && result.last !== null && result.median !== null ? (
            <>
              <p>
                {whole(result.n)} times from {between(result.first, result.last)}, {stretch(result.last - result.first)}{" "}
                in all; half of them before {result.median % 86_400 === 0 ? day(result.median) : moment(result.median)}.
              </p>
              {result.usual_step !== null && <p>Usually {stretch(result.usual_step)} from one time to the next.</p>}
              {result.gap_from.length === 0
                ? result.n > 3 && <p>No gap stands out.</p>
                : result.gap_from.map((from, i) => {
                    const [a, b] = [from ?? 0, result.gap_to[i] ?? 0];
                    return (
                      <p key={a}>
                        A gap of {stretch(b - a)}:{" "}
                        <button
                          type="button"
                          className="text-primary underline decoration-primary/40 underline-offset-3"
                          onClick={() =>
                            onSelect(
                              { words: ["both ends of a gap"], within: { low: a, high: b, closed: "both" } },
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
            result && <p>There is no time to describe.</p>
          )}
        </div>
      </Card>
    </>
  );
}

type SpansProps = { plan: PanelPlan; label: string; onSelect: ReturnType<typeof useMarkSelection> };

/** Over spans of time: what each is and how many rows it holds, and its rows to be selected. */
function Spans({ plan, label, onSelect }: SpansProps) {
  const { area, across, up, scene } = plan;
  const [marked, setMarked] = useState<number | null>(null);
  const spans = scene.layers[0];
  if (!spans) return null;
  const n = spans.x.length;
  // Seconds since 1970, as rows are asked for.
  const [from, to] = [spans.x, spans.high_x].map((ends) => Array.from(ends, (day) => Math.round(day * DAY))) as [
    number[],
    number[],
  ];
  const words = (i: number) => [between(nth(from, i), nth(to, i)), counted(spans.value[i] ?? 0, "row")];
  const find = (event: MouseEvent<HTMLDivElement>) => {
    const at = across.invert(event.clientX - event.currentTarget.getBoundingClientRect().left) * DAY;
    const i = to.findIndex((edge) => edge > at);
    return i >= 0 && at >= nth(from, 0) ? i : null;
  };
  const choose = (i: number | null, add: boolean) => {
    if (i !== null) onSelect({ words: words(i), within: { low: nth(from, i), high: nth(to, i), closed: "left" } }, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step !== undefined) setMarked((now) => Math.min(Math.max((now ?? -1) + step, 0), n - 1));
    else if (event.key === "Enter" || event.key === " ") choose(marked, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const at = marked !== null && marked < n ? marked : null;
  const left = at === null ? 0 : across.place(nth(spans.x, at));
  const right = at === null ? 0 : across.place(nth(spans.high_x, at));
  return (
    <div
      role="application"
      aria-label={`${label}: arrows walk ${n} spans, Enter selects their rows`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
      tabIndex={0}
      className="absolute inset-0"
      onPointerMove={(event) => setMarked(find(event))}
      onPointerLeave={() => setMarked(null)}
      onBlur={() => setMarked(null)}
      onClick={(event) => choose(find(event), event.shiftKey || event.ctrlKey || event.metaKey)}
      onKeyDown={onKeyDown}
    >
      {at !== null && (
        <>
          <svg aria-hidden="true" className="pointer-events-none absolute inset-0 h-full w-full">
            <path
              d={`M${left} ${up.place(0)}V${up.place(nth(spans.high_y, at))}H${right}V${up.place(0)}Z`}
              fill="none"
              className="stroke-[1.6] stroke-accent"
            />
          </svg>
          <Readout x={(left + right) / 2} y={area.y + 40} room={plan.frame.width} words={words(at)} />
        </>
      )}
    </div>
  );
}
