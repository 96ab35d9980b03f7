import { type KeyboardEvent, type MouseEvent, type Ref, useMemo, useState } from "react";
import type { Classes, Spread } from "../../api/readings";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { aired, linear } from "../../plot/scales";
import { LayerToggles } from "../../ui/LayerToggles";
import { Readout } from "../../ui/Readout";
import { useSize } from "../../ui/useSize";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { fixed, significant, whole } from "../../words/numbers";
import { unitOf } from "./caption";
import { empiricalOf, polygonOf, type Rising, shareBelow, valueAt } from "./cumulative";

const EDGE = { left: 58, right: 20, top: 16, bottom: 46 };
const LINES = ["polygon of the classes", "each value"] as const;
type Line = (typeof LINES)[number];

type CumulativeViewProps = {
  spread: Spread;
  classes: Classes | undefined;
  counts: boolean;
  drawing: Ref<SVGSVGElement>;
};

/** Which share lies below a value, and which value cuts off a share: read off by pointer, arrows or a typed number. */
export function CumulativeView({ spread, classes, counts, drawing }: CumulativeViewProps) {
  const [room, size] = useSize();
  const [shown, setShown] = useState<Line[]>(["polygon of the classes", "each value"]);
  const [atLeast, setAtLeast] = useState(false);
  const [at, setAt] = useState<number | null>(null);
  const polygon = useMemo(() => (classes && classes.n > 0 ? polygonOf(classes) : null), [classes]);
  const empirical = useMemo(() => empiricalOf(spread.values), [spread.values]);
  const { subject } = spread;
  const lines = [
    { name: LINES[0], line: polygon, look: "stroke-series-heron stroke-[2.2]" },
    { name: LINES[1], line: empirical, look: "stroke-series-velvet stroke-[1.3]" },
  ].filter(({ name, line }) => line && shown.includes(name as Line)) as { name: Line; line: Rising; look: string }[];
  const asked = lines[0]?.line ?? empirical;
  const [low, high] = aired(
    Math.min(spread.summary.minimum ?? 0, polygon?.xs[0] ?? Number.POSITIVE_INFINITY),
    Math.max(spread.summary.maximum ?? 1, polygon?.xs.at(-1) ?? Number.NEGATIVE_INFINITY),
  );
  const n = spread.summary.n;
  const height = (share: number) => (atLeast ? 1 - share : share);
  const unit = unitOf(subject.unit);
  const shareWords = (share: number) =>
    counts ? `${whole(Math.round(height(share) * n))} rows` : `${fixed(100 * height(share), 1)} %`;
  const x = linear([low, high], EDGE.left, (size?.width ?? 400) - EDGE.right);
  const y = linear([0, counts ? n : 100], (size?.height ?? 300) - EDGE.bottom, EDGE.top);
  const top = counts ? n : 100;
  const onMove = (event: MouseEvent<SVGSVGElement>) => {
    const value = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    setAt(value < low || value > high ? null : value);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const by = ((high - low) / 200) * step * (event.shiftKey ? 10 : 1);
    setAt((now) => Math.min(Math.max((now ?? (low + high) / 2) + by, low), high));
  };
  const path = ({ xs, shares, steps }: Rising) =>
    xs
      .map((value, i) => {
        const [px, py] = [x(value).toFixed(1), y(top * height(nth(shares, i))).toFixed(1)];
        if (i === 0) return `M${px} ${steps ? y(top * height(0)).toFixed(1) : py}${steps ? `V${py}` : ""}`;
        return steps ? `H${px}V${py}` : `L${px} ${py}`;
      })
      .join("");
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 border-line border-b px-3.5 py-1.5">
        <LayerToggles label="Lines shown" layers={LINES} shown={shown} onChange={setShown} />
        <label className="flex items-center gap-2 text-small">
          <input
            type="checkbox"
            className="accent-[var(--accent)]"
            checked={atLeast}
            onChange={() => setAtLeast(!atLeast)}
          />
          share at or above, not below
        </label>
        <ReadOff line={asked} atLeast={atLeast} unit={unit} start={spread.summary.median ?? 0} />
      </div>
      <div ref={room} className="relative min-h-[260px] flex-1">
        {size && size.width > 80 && (
          <svg
            ref={drawing}
            role="application"
            aria-label={`Cumulative shares of ${named(subject)}: arrows move along the axis`}
            // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
            tabIndex={0}
            width={size.width}
            height={size.height}
            className="absolute inset-0"
            onPointerMove={onMove}
            onPointerLeave={() => setAt(null)}
            onBlur={() => setAt(null)}
            onKeyDown={onKeyDown}
          >
            <AxisLeft
              scale={y}
              title={`${counts ? "Rows" : "Percent of rows"} ${atLeast ? "at or above" : "below"}`}
              x={EDGE.left}
              to={size.width - EDGE.right}
            />
            {lines.map(({ name, line, look }) => (
              <path key={name} d={path(line)} fill="none" strokeLinejoin="round" className={look} />
            ))}
            <AxisBottom scale={x} title={titled(named(subject))} y={size.height - EDGE.bottom} />
            {at !== null && (
              <g data-screen-only>
                <path
                  d={`M${x(at)} ${size.height - EDGE.bottom}V${y(top * height(shareBelow(asked, at)))}H${EDGE.left}`}
                  fill="none"
                  strokeDasharray="2 3"
                  className="stroke-accent"
                />
                <circle cx={x(at)} cy={y(top * height(shareBelow(asked, at)))} r={4} className="fill-accent" />
              </g>
            )}
          </svg>
        )}
        {at !== null && size && (
          <Readout
            x={x(at)}
            y={y(top * height(shareBelow(asked, at)))}
            room={size.width}
            words={[
              `${shareWords(shareBelow(asked, at))} ${atLeast ? "at or above" : "below"}`,
              `${significant(at, 4)}${unit}`,
            ]}
          />
        )}
      </div>
      {spread.values.length < spread.n_points && (
        <p className="px-3.5 pb-2 text-muted-ink text-small">
          Each value: {whole(spread.values.length)} of {whole(spread.n_points)} rows, drawn at random. The polygon
          counts all rows.
        </p>
      )}
    </div>
  );
}

type ReadOffProps = { line: Rising; atLeast: boolean; unit: string; start: number };

/** The same by typing: a value gives its share, a share its value. */
function ReadOff({ line, atLeast, unit, start }: ReadOffProps) {
  const [value, setValue] = useState(String(Number(start.toPrecision(4))));
  const [percent, setPercent] = useState("90");
  const share = shareBelow(line, Number(value));
  const cut = valueAt(line, Math.min(Math.max((atLeast ? 100 - Number(percent) : Number(percent)) / 100, 0), 1));
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
        {unit.trim()} lie {fixed(100 * (atLeast ? 1 - share : share), 1)} %;
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
        % lie {atLeast ? "at or above" : "below"}
      </label>
      <output className="figures font-semibold">
        {significant(cut, 4)}
        {unit}
      </output>
    </p>
  );
}
