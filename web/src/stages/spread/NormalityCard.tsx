import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type MouseEvent, useEffect, useState } from "react";
import { Link } from "react-router";
import { type Against, againstOf, type Family, type NormalityReading } from "../../api/readings";
import type { Table } from "../../api/studies";
import { type QQData, QQFigure, qqScales } from "../../plot/QQFigure";
import { useSeenPlots } from "../../state/seenPlots";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Floating } from "../../ui/Floating";
import { Readout } from "../../ui/Readout";
import { type Size, useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, keysOf, nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { decimalsFor, fixed, pValue, significant, whole } from "../../words/numbers";
import { KeepPlate } from "../plates/KeepPlate";

const TESTS = [
  ["shapiro_wilk", "Shapiro-Wilk", "W", "Royston (1995), 3 to 5,000 values"],
  [
    "anderson_darling",
    "Anderson-Darling",
    "A²",
    "mean and SD estimated; D'Agostino and Stephens (1986), from 8 values",
  ],
  [
    "lilliefors",
    "Lilliefors",
    "D",
    "Kolmogorov-Smirnov for estimated mean and SD; the plain p value would be far too large",
  ],
  ["dagostino_pearson", "D'Agostino-Pearson", "K²", "skewness and kurtosis together, from 20 values"],
  ["jarque_bera", "Jarque-Bera", "JB", "skewness and kurtosis together, from 2,000 values"],
] as const;

type NormalityCardProps = { table: Table; reading: NormalityReading };

const DRAWN = { qq: "Q-Q plot", detrended: "detrended Q-Q plot", pp: "P-P plot" } as const;
type Drawn = keyof typeof DRAWN;
const FAMILIES: Record<Family, string> = {
  normal: "normal",
  "log-normal": "log-normal",
  weibull: "Weibull",
  exponential: "exponential",
  gamma: "gamma",
};

/** Whether a normal model is defensible: the verdict in careful words, and the plot against it or another one. */
export function NormalityCard({ table, reading }: NormalityCardProps) {
  const [verdict = "", ...rest] = reading.check.words;
  const { symbol } = reading.subject;
  const [room, size] = useSize();
  const [drawn, setDrawn] = useState<Drawn>("qq");
  const [family, setFamily] = useState<Family>("normal");
  const look = useSeenPlots((state) => state.look);
  useEffect(() => look(table.id, symbol), [look, table.id, symbol]);
  const fit = useQuery({ ...againstOf(table, symbol, family), enabled: family !== "normal" || drawn === "pp" });
  const shown = plotOf(reading, fit.data, family, drawn);
  const trouble = shown ? "" : (fit.error?.message ?? (family === "normal" ? reading.qq_reason : ""));
  return (
    <Card
      title={reading.within ? `Residuals within ${reading.within}` : "Is a normal model defensible?"}
      className="min-h-[310px] flex-1"
      aside={
        <span className="flex items-center gap-2">
          {!reading.within && (
            <Link
              to={`/tables/${table.id}/line-up?variable=${encodeURIComponent(symbol)}`}
              className="dotted-word inline-flex min-h-6 items-center px-0.5 text-small"
            >
              line-up
            </Link>
          )}
          <KeepPlate beside="quantiles" />
          <AllTests reading={reading} />
        </span>
      }
    >
      <div className="px-3.5 pt-2 pb-1">
        <p className="font-serif text-lead leading-snug">{verdict}</p>
        {rest.map((said) => (
          <p key={said} className="text-muted-ink text-small">
            {said}
          </p>
        ))}
      </div>
      <p className="border-line border-t px-3.5 pt-1 text-muted-ink text-small">
        <WordChoice
          label="Plot"
          shown={DRAWN[drawn]}
          value={drawn}
          options={keysOf(DRAWN)
            .filter((value) => value !== "pp" || !reading.within)
            .map((value) => ({ value, label: DRAWN[value] }))}
          onChoose={(value) => setDrawn(value)}
          className="min-h-6"
        />{" "}
        against{" "}
        {reading.within ? (
          "normal"
        ) : (
          <WordChoice
            label="Distribution"
            shown={FAMILIES[family]}
            value={family}
            options={choicesOf(FAMILIES)}
            onChoose={(value) => setFamily(value)}
            className="min-h-6"
          />
        )}
        {family !== "normal" && fit.data && <FitWords fit={fit.data} />}
      </p>
      {shown ? (
        <div ref={room} className="relative min-h-[130px] flex-1">
          {size && size.width > 80 && size.height > 80 && (
            <QQPlot table={table} shown={shown} reading={reading} size={size} />
          )}
        </div>
      ) : (
        <p className="px-3.5 pb-3 text-muted-ink">{trouble}</p>
      )}
    </Card>
  );
}

/** What was fitted, and how near it comes. */
function FitWords({ fit }: { fit: Against }) {
  const parameters = Object.entries(fit.parameters).map(([name, value]) => `${name} ${significant(value)}`);
  return (
    <>
      : {parameters.join(", ")}; correlation {fixed(fit.correlation, 3)}
      {fit.no_band && `. ${fit.no_band}`}
    </>
  );
}

export type Shown = {
  name: string;
  data: QQData;
  rows: ArrayLike<number>;
  values: ArrayLike<number>;
  scoreTitle: string;
  unitTitle: string;
};

/** The plot asked for, as points, line and bands. */
export function plotOf(
  reading: NormalityReading,
  fit: Against | undefined,
  family: Family,
  drawn: Drawn,
): Shown | null {
  const name = DRAWN[drawn].replace(/^d/, "D");
  const title = reading.within ? `Distance from the mean` : titled(named(reading.subject));
  if (family === "normal" && drawn !== "pp") {
    const qq = reading.qq;
    if (!qq) return null;
    const scoreTitle = "normal scores";
    if (drawn === "qq") return { name, data: qq, rows: qq.rows, values: qq.ordered, scoreTitle, unitTitle: title };
    return {
      name,
      data: detrended(qq),
      rows: qq.rows,
      values: qq.ordered,
      scoreTitle,
      unitTitle: `${title}, off the line`,
    };
  }
  if (!fit || fit.family !== family) return null;
  const none = new Float64Array(0);
  const { rows, ordered: values } = fit;
  if (drawn === "pp") {
    const data = {
      scores: fit.positions,
      ordered: fit.probabilities,
      ...{ band_scores: none, point_low: none, point_high: none, simultaneous_low: none, simultaneous_high: none },
      ...{ slope: 1, intercept: 0 },
    };
    return {
      name,
      data,
      rows,
      values,
      scoreTitle: "share expected below",
      unitTitle: `Share below by the ${FAMILIES[family]}`,
    };
  }
  const data = {
    scores: fit.expected,
    ordered: fit.ordered,
    band_scores: fit.expected,
    point_low: fit.low,
    point_high: fit.high,
    ...{ simultaneous_low: none, simultaneous_high: none, slope: 1, intercept: 0 },
  };
  const scoreTitle = `expected of the ${FAMILIES[family]}`;
  if (drawn === "qq") return { name, data, rows, values, scoreTitle, unitTitle: title };
  return { name, data: detrended(data), rows, values, scoreTitle, unitTitle: `${title}, off the line` };
}

/** Points and bands as distances from the line. */
function detrended(data: QQData): QQData {
  const off = (values: ArrayLike<number>, scores: ArrayLike<number>) =>
    Float64Array.from(values, (value, i) => value - data.intercept - data.slope * nth(scores, i));
  return {
    ...data,
    ordered: off(data.ordered, data.scores),
    point_low: off(data.point_low, data.band_scores),
    point_high: off(data.point_high, data.band_scores),
    simultaneous_low: off(data.simultaneous_low, data.band_scores),
    simultaneous_high: off(data.simultaneous_high, data.band_scores),
    ...{ slope: 0, intercept: 0 },
  };
}

type QQPlotProps = { table: Table; shown: Shown; reading: NormalityReading; size: Size };

const REACH = 12;

export function QQPlot({ table, shown, reading, size }: QQPlotProps) {
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const [place, setPlace] = useState<number | null>(null);
  const { data, rows, values } = shown;
  const { x, y } = qqScales(data, size);
  const { subject } = reading;
  const unit = subject.unit ? ` ${subject.unit}` : "";
  const decimals = subject.decimals ?? decimalsFor(null, reading.qq?.slope ?? null);
  const atOf = (i: number) => ({ x: x(nth(data.scores, i)), y: y(nth(data.ordered, i)) });

  const find = (event: MouseEvent<SVGSVGElement>): number | null => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [px, py] = [event.clientX - frame.left, event.clientY - frame.top];
    let best: number | null = null;
    let distance = REACH;
    for (let i = 0; i < rows.length; i++) {
      const at = atOf(i);
      const d = Math.hypot(at.x - px, at.y - py);
      if (d < distance) [best, distance] = [i, d];
    }
    return best;
  };
  const choose = (i: number, add: boolean) => {
    const row = nth(rows, i);
    select(table.id, [row], `row ${whole(row)}`, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      const next = place === null ? rows.length - 1 : place + step * (event.shiftKey ? 10 : 1);
      setPlace(Math.min(Math.max(next, 0), rows.length - 1));
    } else if ((event.key === "Enter" || event.key === " ") && place !== null) {
      event.preventDefault();
      choose(place, event.shiftKey);
    }
  };
  const at = place === null || place >= rows.length ? null : atOf(place);
  return (
    <div className="absolute inset-0">
      <svg
        role="application"
        aria-label={`${shown.name} of ${shown.unitTitle} against ${shown.scoreTitle}, ${whole(rows.length)} values: arrows walk the points, Enter selects the row`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
        tabIndex={0}
        width={size.width}
        height={size.height}
        onPointerMove={(event) => setPlace(find(event))}
        onPointerLeave={() => setPlace(null)}
        onBlur={() => setPlace(null)}
        onKeyDown={onKeyDown}
        onClick={(event) => {
          const found = find(event);
          if (found !== null) choose(found, event.shiftKey || event.ctrlKey || event.metaKey);
        }}
      >
        <QQFigure {...{ data, rows, selected }} {...size} unitTitle={shown.unitTitle} scoreTitle={shown.scoreTitle} />
        {at && <circle cx={at.x} cy={at.y} r={5.5} fill="none" className="stroke-[1.5] stroke-accent" />}
      </svg>
      {at && place !== null && (
        <Readout
          x={at.x}
          y={at.y}
          room={size.width}
          words={[
            `row ${whole(nth(rows, place))}`,
            `${fixed(nth(values, place), decimals)}${unit}`,
            `${shown.scoreTitle.replace(/s$/, "")} ${significant(nth(data.scores, place))}`,
          ]}
        />
      )}
    </div>
  );
}

function AllTests({ reading }: { reading: NormalityReading }) {
  const { check, qq } = reading;
  return (
    <Floating
      label="All tests of normality"
      align="end"
      className="w-[26rem] p-3.5"
      trigger={
        <Button look="word" className="text-small!">
          all tests
        </Button>
      }
    >
      <dl className="figures">
        {TESTS.map(([id, name, letter, about]) => {
          const { statistic, p_value, reason } = check[id];
          return (
            <div key={id} className="mb-2">
              <dt className="flex justify-between gap-3 font-semibold">
                {name}
                {statistic !== null && p_value !== null && (
                  <span>
                    {letter} = {significant(statistic)}, p {pValue(p_value)}
                  </span>
                )}
              </dt>
              <dd className="text-muted-ink text-small">{reason ?? about}</dd>
            </div>
          );
        })}
      </dl>
      {qq && (
        <p className="border-line border-t pt-2 text-muted-ink text-small">
          Q-Q plot: positions (i − 3/8)/(n + 1/4) after Blom; line through mean and SD. Dark band: where{" "}
          {100 * qq.level} % of normal samples lie at each point;{" "}
          {qq.simultaneous_reason || `pale band: where ${100 * qq.level} % of them lie altogether.`}
        </p>
      )}
    </Floating>
  );
}
