import { type KeyboardEvent, type MouseEvent, useRef, useState } from "react";
import { CUMULATIVE_LINES } from "../../api/choices.gen";
import { Problem } from "../../api/client";
import { figureOf } from "../../api/figures";
import { classesOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { PanelPlan } from "../../figure/layout";
import type { Shown } from "../../figure/screen";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { Notice } from "../../ui/Notice";
import { Readout } from "../../ui/Readout";
import { Tick } from "../../ui/Tick";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { named } from "../../words/kinds";
import { fixed, significant, whole } from "../../words/numbers";
import { StageFigure } from "../StageFigure";
import { Beside } from "./Beside";
import { ClassesChoice } from "./ClassesChoice";
import { unitOf } from "./classWords";
import { linesOf, type Rising, shareAt, valueAt } from "./cumulative";
import { MeasureChoice } from "./MeasureChoice";
import { cumulativePicture } from "./pictures";
import { TakeAway } from "./TakeAway";
import { useSteady } from "./useFollowing";
import { RISING, type useSpreadChoices } from "./useSpreadChoices";

type CumulativeSpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable };

/** Which share lies below a value, and which value cuts off a share: read off by pointer, arrows or a typed number. */
export function CumulativeSpread({ table, variable, choices, change }: CumulativeSpreadProps) {
  const figure = useSteady(figureOf(table, cumulativePicture(table, variable, choices), "spread figure"));
  const { data: classes } = useSteady(classesOf(table, variable.symbol, choices.classes));
  const [room, size] = useSize();
  const drawing = useRef<Shown>(null);
  const scene = figure.data?.scenes[0];
  const [drawn] = scene ? linesOf(scene, choices.atLeast) : [];
  const remedy = figure.error instanceof Problem ? figure.error.remedy : "";
  return (
    <>
      <Card
        help="cumulative"
        title="Shares that lie below"
        className="stack-card"
        footer={
          figure.data && (
            <>
              {classes && choices.lines.includes("polygon") && (
                <ClassesChoice {...{ table, variable, classes, choices }} onChange={change} />
              )}
              <MeasureChoice measure={choices.measure} cumulative onChange={(measure) => change({ measure })} />
              <TakeAway
                {...{ drawing, table, variable }}
                caption={figure.data.caption}
                definition={choices.definition}
                classes={choices.classes}
              />
            </>
          )
        }
      >
        {figure.error && <Notice problem={figure.error.message} remedy={remedy} className="m-3.5" />}
        <div className="flex flex-wrap items-center gap-x-5 gap-y-1 border-line border-b px-3.5 py-1.5">
          <LayerToggles
            label="Lines shown"
            words={CUMULATIVE_LINES}
            layers={RISING}
            shown={choices.lines}
            onChange={(shown) => change({ lines: shown.join(",") })}
          />
          <Tick
            className="text-small"
            checked={choices.atLeast}
            onChange={() => change({ side: choices.atLeast ? null : "above" })}
            label="share at or above, not below"
          />
          {drawn && (
            <ReadOff key={variable.symbol} line={drawn} atLeast={choices.atLeast} unit={unitOf(variable.unit)} />
          )}
        </div>
        <div ref={room} className="relative min-h-[260px] flex-1">
          {figure.data && scene && size && size.width > 80 && (
            <StageFigure
              figure={figure.data}
              size={size}
              drawing={drawing}
              title={`Cumulative shares of ${named(variable)}`}
            >
              {(plan) =>
                drawn && (
                  <Reader
                    plan={plan}
                    line={drawn}
                    label={`Cumulative shares of ${named(variable)}: arrows move along the axis`}
                    unit={unitOf(variable.unit)}
                    counts={choices.measure === "count"}
                    atLeast={choices.atLeast}
                  />
                )
              }
            </StageFigure>
          )}
          {figure.isPending && <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />}
        </div>
      </Card>
      <Beside {...{ table, variable, choices, change }} />
    </>
  );
}

type ReaderProps = {
  plan: PanelPlan;
  line: Rising;
  label: string;
  unit: string;
  counts: boolean;
  atLeast: boolean;
};

/** Over the lines: the share at the place of the pointer, led to both axes. */
function Reader({ plan, line, label, unit, counts, atLeast }: ReaderProps) {
  const { area, across, up } = plan;
  const [at, setAt] = useState<number | null>(null);
  const onMove = (event: MouseEvent<HTMLDivElement>) => {
    const value = across.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    setAt(value < across.low || value > across.high ? null : value);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const by = ((across.high - across.low) / 200) * step * (event.shiftKey ? 10 : 1);
    setAt((now) => Math.min(Math.max((now ?? (across.low + across.high) / 2) + by, across.low), across.high));
  };
  const share = at === null ? 0 : shareAt(line, at);
  const [x, y] = at === null ? [0, 0] : [across.place(at), up.place(line.top * share)];
  return (
    <div
      role="application"
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
      tabIndex={0}
      className="absolute inset-0"
      onPointerMove={onMove}
      onPointerLeave={() => setAt(null)}
      onBlur={() => setAt(null)}
      onKeyDown={onKeyDown}
    >
      {at !== null && (
        <>
          <svg aria-hidden="true" className="pointer-events-none absolute inset-0 h-full w-full">
            <path
              d={`M${x} ${area.y + area.height}V${y}H${area.x}`}
              fill="none"
              strokeDasharray="2 3"
              className="stroke-accent"
            />
            <circle cx={x} cy={y} r={4} className="fill-accent" />
          </svg>
          <Readout
            x={x}
            y={y}
            room={plan.frame.width}
            words={[
              `${counts ? `${whole(Math.round(share * line.top))} rows` : `${fixed(100 * share, 1)} %`} ${atLeast ? "at or above" : "below"}`,
              `${significant(at, 4)}${unit}`,
            ]}
          />
        </>
      )}
    </div>
  );
}

type ReadOffProps = { line: Rising; atLeast: boolean; unit: string };

/** The same by typing: a value gives its share, a share its value. */
function ReadOff({ line, atLeast, unit }: ReadOffProps) {
  const [value, setValue] = useState(() => String(Number(valueAt(line, 0.5).toPrecision(4))));
  const [percent, setPercent] = useState("90");
  const cut = valueAt(line, Math.min(Math.max(Number(percent) / 100, 0), 1));
  const field = "figures min-h-6 w-16 rounded-md border border-line-strong/60 bg-surface px-1.5";
  const side = atLeast ? "At or above" : "Below";
  return (
    <p className="ml-auto flex flex-wrap items-center gap-x-2 gap-y-1">
      <label className="flex items-center gap-1.5">
        {side}
        <input
          type="number"
          step="any"
          value={value}
          onChange={(event) => setValue(event.target.value)}
          className={field}
        />
      </label>
      <output>
        {unit.trim()} lie {fixed(100 * shareAt(line, Number(value)), 1)} %
        {line.steps ? ";" : ", interpolated within the class;"}
      </output>
      <label className="flex items-center gap-1.5">
        <input
          aria-label="Percent"
          type="number"
          min={0}
          max={100}
          value={percent}
          onChange={(event) => setPercent(event.target.value)}
          className={field}
        />
        % lie {atLeast ? "at or above" : line.steps ? "at or below" : "below"}
      </label>
      <output className="figures font-semibold">
        {significant(cut, 4)}
        {unit}
      </output>
    </p>
  );
}
