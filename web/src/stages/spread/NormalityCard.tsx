import { type KeyboardEvent, type MouseEvent, useEffect, useState } from "react";
import { Link } from "react-router";
import type { NormalityReading, ScreenQQ } from "../../api/readings";
import type { Table } from "../../api/studies";
import { QQFigure, qqScales } from "../../plot/QQFigure";
import { useSeenPlots } from "../../state/seenPlots";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Floating } from "../../ui/Floating";
import { Readout } from "../../ui/Readout";
import { type Size, useSize } from "../../ui/useSize";
import { named, titled } from "../../words/kinds";
import { decimalsFor, fixed, pValue, significant, whole } from "../../words/numbers";

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

/** Whether a normal model is defensible: the verdict in careful words, and the Q-Q plot. */
export function NormalityCard({ table, reading }: NormalityCardProps) {
  const [verdict = "", ...rest] = reading.check.words;
  const [room, size] = useSize();
  const look = useSeenPlots((state) => state.look);
  useEffect(() => look(table.id, reading.subject.symbol), [look, table.id, reading.subject.symbol]);
  return (
    <Card
      title="Is a normal model defensible?"
      className="min-h-[300px] flex-1"
      aside={
        <span className="flex gap-2">
          <Link
            to={`/tables/${table.id}/line-up?variable=${encodeURIComponent(reading.subject.symbol)}`}
            className="dotted-word px-0.5 text-small"
          >
            line-up
          </Link>
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
      {reading.qq ? (
        <div ref={room} className="relative min-h-[120px] flex-1">
          {size && size.width > 80 && size.height > 80 && (
            <QQPlot table={table} qq={reading.qq} reading={reading} size={size} />
          )}
        </div>
      ) : (
        <p className="px-3.5 pb-3 text-muted-ink">{reading.qq_reason}</p>
      )}
    </Card>
  );
}

type QQPlotProps = { table: Table; qq: ScreenQQ; reading: NormalityReading; size: Size };

const REACH = 12;

function QQPlot({ table, qq, reading, size }: QQPlotProps) {
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const [place, setPlace] = useState<number | null>(null);
  const { x, y } = qqScales(qq, size);
  const { subject } = reading;
  const unit = subject.unit ? ` ${subject.unit}` : "";
  const decimals = subject.decimals ?? decimalsFor(null, qq.slope);

  const find = (event: MouseEvent<SVGSVGElement>): number | null => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [px, py] = [event.clientX - frame.left, event.clientY - frame.top];
    let best: number | null = null;
    let distance = REACH;
    for (let i = 0; i < qq.rows.length; i++) {
      const d = Math.hypot(x(qq.scores[i] as number) - px, y(qq.ordered[i] as number) - py);
      if (d < distance) [best, distance] = [i, d];
    }
    return best;
  };
  const choose = (i: number, add: boolean) => {
    const row = qq.rows[i] as number;
    select(table.id, [row], `row ${whole(row)}`, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      const next = place === null ? qq.rows.length - 1 : place + step * (event.shiftKey ? 10 : 1);
      setPlace(Math.min(Math.max(next, 0), qq.rows.length - 1));
    } else if ((event.key === "Enter" || event.key === " ") && place !== null) {
      event.preventDefault();
      choose(place, event.shiftKey);
    }
  };
  const at = place === null ? null : { x: x(qq.scores[place] as number), y: y(qq.ordered[place] as number) };
  return (
    <div className="absolute inset-0">
      <svg
        role="application"
        aria-label={`Normal Q-Q plot of ${named(subject)}, ${whole(qq.n)} values: arrows walk the points, Enter selects the row`}
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
        <QQFigure data={qq} {...size} unitTitle={titled(named(subject))} rows={qq.rows} selected={selected} />
        {at && <circle cx={at.x} cy={at.y} r={5.5} fill="none" className="stroke-[1.5] stroke-accent" />}
      </svg>
      {at && place !== null && (
        <Readout
          x={at.x}
          y={at.y}
          room={size.width}
          words={[
            `row ${whole(qq.rows[place] as number)}`,
            `${fixed(qq.ordered[place] as number, decimals)}${unit}`,
            `normal score ${fixed(qq.scores[place] as number, 2)}`,
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
