import { type KeyboardEvent, useMemo } from "react";
import type { LadderReading, Rung } from "../../api/readings";
import { Card } from "../../ui/Card";
import { eachOf, last, nth } from "../../values";
import { fixed, pValue, significant, unitless, whole } from "../../words/numbers";
import { powerSign } from "../../words/recipes";
import { LADDER } from "./ways";

const [PICTURE_WIDTH, PICTURE_HEIGHT] = [96, 46];

type LadderCardProps = {
  /** Absent while it is on its way: the steps stand where they will stand. */
  reading: LadderReading | undefined;
  /** The power shown at the right, where it is one of the ladder's. */
  chosen: number | null;
  picture: "stack" | "qq";
  onChoose: (power: number) => void;
};

/** The ladder of powers: each step a small picture with its numbers, the estimated power and its interval along it. */
export function LadderCard({ reading, chosen, picture, onChoose }: LadderCardProps) {
  const rungs = new Map(reading?.ladder.steps.map((rung) => [rung.power, rung]));
  const walk = (event: KeyboardEvent, place: number) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const next = Math.min(Math.max(place + step, 0), LADDER.length - 1);
    const buttons = event.currentTarget.parentElement?.parentElement?.querySelectorAll("button");
    buttons?.[next]?.focus();
  };
  return (
    <Card
      help="ladder"
      title="The ladder of powers"
      aside={<span className="text-muted-ink text-small">{reading && aboutLadder(reading)}</span>}
      className="shrink-0"
    >
      <div className="relative overflow-x-auto px-3 pt-2 pb-1.5">
        <ul className="grid min-w-[760px] grid-cols-8 gap-1.5">
          {LADDER.map((power, place) => (
            <li key={power}>
              <button
                type="button"
                aria-pressed={power === chosen}
                onClick={() => onChoose(power)}
                onKeyDown={(event) => walk(event, place)}
                className="flex min-h-[119px] w-full flex-col items-center rounded-lg border border-transparent px-1 py-1 hover:border-line-strong aria-pressed:border-accent aria-pressed:bg-accent-tint"
              >
                <span className="flex w-full items-baseline justify-between text-small">
                  <span className="font-semibold">{powerSign(power)}</span>
                  {reading?.ladder.best === power && <span className="text-good">best</span>}
                </span>
                <RungBody rung={rungs.get(power)} n={reading?.ladder.n ?? 0} picture={picture} />
              </button>
            </li>
          ))}
        </ul>
        {reading ? <EstimateLine ladder={reading.ladder} /> : <div className="h-7" />}
      </div>
    </Card>
  );
}

/** What a step would do: its picture and its numbers. */
function RungBody({ rung, n, picture }: { rung: Rung | undefined; n: number; picture: "stack" | "qq" }) {
  if (!rung) return null;
  return (
    <>
      {picture === "qq" ? <RungQQ rung={rung} /> : <RungPicture rung={rung} />}
      <span className="figures w-full text-left text-muted-ink text-small leading-tight">
        {rung.qq_correlation === null ? (
          <span className="block">none</span>
        ) : (
          <>
            <span className="block">Q-Q {fixed(rung.qq_correlation, 3)}</span>
            <span className="block">skew {unitless(rung.skewness ?? 0)}</span>
            {rung.shapiro_w !== null && (
              <span className="block">
                W {fixed(rung.shapiro_w, 3)}
                {rung.shapiro_p !== null && <span className="sr-only">, p {pValue(rung.shapiro_p)}</span>}
              </span>
            )}
          </>
        )}
        {rung.n < n && <span className="block text-caution">loses {whole(n - rung.n)}</span>}
      </span>
    </>
  );
}

function aboutLadder({ within, ladder }: LadderReading): string {
  const parts = [within ? `judged within ${within}, on distances from the mean` : "judged over all rows"];
  if (ladder.spread_power !== null && ladder.spread_slope !== null) {
    parts.push(
      `spreads grow with level by a slope of ${significant(ladder.spread_slope, 2)}: the power ${significant(ladder.spread_power, 2)} would even them`,
    );
  }
  return parts.join("; ");
}

/** Classes of a step as blocks, and the normal curve of the same mean and SD. */
function RungPicture({ rung }: { rung: Rung }) {
  const paths = useMemo(() => {
    const { counts, low, high, mean, sd } = rung;
    if (low === null || high === null || mean === null || sd === null || counts.length === 0) return null;
    const n = counts.reduce((sum, count) => sum + count, 0);
    const share = 1 / counts.length;
    const normal = Array.from({ length: 49 }, (_, i) => {
      const at = i / 48;
      const z = (low / sd) * (1 - at) + (high / sd) * at - mean / sd;
      const span = high / sd - low / sd;
      return (n * share * span * Math.exp(-0.5 * z * z)) / Math.sqrt(2 * Math.PI);
    });
    const top = Math.max(...counts, ...normal);
    const y = (value: number) => (PICTURE_HEIGHT - 1 - (value / top) * (PICTURE_HEIGHT - 4)).toFixed(1);
    const x = (at: number) => (2 + at * (PICTURE_WIDTH - 4)).toFixed(1);
    const blocks = Array.from(counts, (count, i) =>
      count > 0
        ? `M${x(i * share)} ${PICTURE_HEIGHT - 1}V${y(count)}H${x((i + 1) * share)}V${PICTURE_HEIGHT - 1}Z`
        : "",
    );
    return { blocks: blocks.join(""), normal: `M${normal.map((value, i) => `${x(i / 48)} ${y(value)}`).join("L")}` };
  }, [rung]);
  return (
    <svg aria-hidden="true" width={PICTURE_WIDTH} height={PICTURE_HEIGHT} className="my-0.5">
      <path d={`M0 ${PICTURE_HEIGHT - 0.5}H${PICTURE_WIDTH}`} className="stroke-chart-axis" />
      {paths && (
        <>
          <path d={paths.blocks} className="fill-blocks-strong stroke-[0.6] stroke-raised" />
          <path
            d={paths.normal}
            fill="none"
            strokeDasharray="0.1 3.2"
            strokeLinecap="round"
            className="stroke-[1.5] stroke-series-velvet"
          />
        </>
      )}
    </svg>
  );
}

/** Ordered values of a step against their normal scores, both in SDs, and the line on which they would lie. */
function RungQQ({ rung: { scores, standard } }: { rung: Rung }) {
  const far = Math.max(1, ...Array.from(scores, Math.abs), ...Array.from(standard, Math.abs)) * 1.05;
  const x = (score: number) => ((score / far + 1) / 2) * PICTURE_WIDTH;
  const y = (value: number) => ((1 - value / far) / 2) * PICTURE_HEIGHT;
  return (
    <svg aria-hidden="true" width={PICTURE_WIDTH} height={PICTURE_HEIGHT} className="my-0.5">
      <path
        d={`M0 ${PICTURE_HEIGHT}L${PICTURE_WIDTH} 0`}
        strokeDasharray="0.1 3.2"
        strokeLinecap="round"
        className="stroke-[1.5] stroke-series-velvet"
      />
      {Array.from(scores, (score, i) => (
        <circle key={score} cx={x(score)} cy={y(standard[i] ?? 0)} r={1.6} className="fill-series-heron" />
      ))}
    </svg>
  );
}

const WIDTH = 1000;

/** Where a power lies along the eight steps, from 0 to 1: between two steps by its share of the way. */
function along(power: number): number {
  const held = Math.min(Math.max(power, nth(LADDER, 0)), last(LADDER));
  const next = LADDER.findIndex((step) => step >= held);
  if (next <= 0) return 0.5 / LADDER.length;
  const [a, b] = [nth(LADDER, next - 1), nth(LADDER, next)];
  return (next - 1 + (held - a) / (b - a) + 0.5) / LADDER.length;
}

/** The power of largest likelihood and its interval, drawn below the steps. */
function EstimateLine({ ladder }: { ladder: LadderReading["ladder"] }) {
  const { estimate, family } = ladder;
  if (!estimate) {
    const why = ladder.undefined.estimate;
    return why ? <p className="px-1 text-muted-ink text-small">{why}</p> : null;
  }
  const [low, at, high] = eachOf(
    [estimate.power_low ?? -Infinity, estimate.power, estimate.power_high ?? Infinity],
    (power) => along(power) * WIDTH,
  );
  const limits = `${estimate.power_low === null ? "no limit" : significant(estimate.power_low)} to ${estimate.power_high === null ? "no limit" : significant(estimate.power_high)}`;
  return (
    <div className="min-w-[760px]">
      <svg
        role="img"
        aria-label={`${family} power ${significant(estimate.power)}, ${100 * estimate.level} % interval ${limits}`}
        viewBox={`0 0 ${WIDTH} 12`}
        preserveAspectRatio="none"
        className="h-3 w-full"
      >
        <path d={`M0 6H${WIDTH}`} className="stroke-chart-grid" vectorEffect="non-scaling-stroke" />
        <path d={`M${low} 6H${high}`} className="stroke-[5] stroke-velvet-fill" vectorEffect="non-scaling-stroke" />
        <path d={`M${at} 0V12`} className="stroke-[2.5] stroke-accent" vectorEffect="non-scaling-stroke" />
      </svg>
      <p className="px-1 text-muted-ink text-small">
        {family} power of largest likelihood {significant(estimate.power)}; its {100 * estimate.level} % interval:{" "}
        {limits}.
      </p>
    </div>
  );
}
