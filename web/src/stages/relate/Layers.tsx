import { contours } from "d3-contour";
import { useMemo } from "react";
import type { Fits, Hexagons, PairDensity, Pairs, Stacks, WindowCounts } from "../../api/relate";
import { alternate, sequential } from "../../plot/ramps";
import { seriesOf, shapeOf } from "../../plot/series";
import { eachOf, last, nth } from "../../values";
import { whole } from "../../words/numbers";
import { type Plan, pathOver } from "./relateLayout";
import type { RelateChoices } from "./useRelateChoices";

type Ramp = RelateChoices["ramp"];
const rampOf = (ramp: Ramp) => (ramp === "moss" ? alternate : sequential);

type KeyProps = { plan: Plan; entries: { colour: string; words: string }[]; title: string };

/** What colours stand for, above the picture at its right. */
function ColourKey({ plan, entries, title }: KeyProps) {
  const [, right] = plan.x.range();
  const width = Math.max(...entries.map(({ words }) => words.length)) * 6.2 + 20;
  const start = right - width * entries.length;
  return (
    <g className="figures text-small" transform={`translate(0,${plan.edge.top + 12})`}>
      <text
        x={start - 8}
        dy="0.33em"
        textAnchor="end"
        strokeWidth={4}
        paintOrder="stroke"
        className="fill-muted-ink stroke-raised"
      >
        {title}
      </text>
      {entries.map(({ colour, words }, i) => (
        <g key={words} transform={`translate(${start + i * width},0)`}>
          <rect
            width={11}
            height={10}
            y={-5}
            rx={2}
            style={{ fill: colour }}
            className="stroke-line-strong"
            strokeWidth={0.5}
          />
          <text x={15} dy="0.33em" strokeWidth={4} paintOrder="stroke" className="fill-ink stroke-raised">
            {words}
          </text>
        </g>
      ))}
    </g>
  );
}

type DensityLayerProps = { found: PairDensity; plan: Plan; ramp: Ramp };

/** The density as areas that enclose shares of the pairs, the smallest share darkest. */
export function DensityLayer({ found: { found, heights }, plan, ramp }: DensityLayerProps) {
  const colours = found.shares.map((_, i) => rampOf(ramp)(0.75 - (0.6 * i) / Math.max(found.shares.length - 1, 1)));
  const paths = useMemo(() => {
    const grid = found.x.length;
    const make = contours().size([grid, grid]);
    const [x0, dx] = [nth(found.x, 0), nth(found.x, 1) - nth(found.x, 0)];
    const [y0, dy] = [nth(found.y, 0), nth(found.y, 1) - nth(found.y, 0)];
    const flat = Array.from(heights);
    return Array.from(found.levels, (level) =>
      make
        .contour(flat, level)
        .coordinates.flat()
        .map((ring) => {
          const spots = ring.map(
            ([gx = Number.NaN, gy = Number.NaN]) =>
              `${plan.x(x0 + (gx - 0.5) * dx).toFixed(1)} ${plan.y(y0 + (gy - 0.5) * dy).toFixed(1)}`,
          );
          return `M${spots.join("L")}Z`;
        })
        .join(""),
    );
  }, [found, heights, plan]);
  return (
    <g data-density>
      {[...paths.keys()].reverse().map((i) => (
        <path
          key={i}
          d={paths[i]}
          fillRule="evenodd"
          style={{ fill: nth(colours, i) }}
          className="stroke-raised"
          strokeWidth={0.6}
        />
      ))}
    </g>
  );
}

export function DensityKey({ found: { found }, plan, ramp }: DensityLayerProps) {
  const entries = found.shares.map((share, i) => ({
    colour: rampOf(ramp)(0.75 - (0.6 * i) / Math.max(found.shares.length - 1, 1)),
    words: `${Math.round(100 * share)} %`,
  }));
  return <ColourKey plan={plan} entries={entries} title="share of pairs enclosed" />;
}

/** Hexagons coloured by how many pairs lie in each, in steps of equal ratio. */
export function HexagonLayer({ found, plan, ramp }: { found: Hexagons; plan: Plan; ramp: Ramp }) {
  const most = Math.max(...found.counts, 1);
  const groups = useMemo(() => {
    const paths = Array.from({ length: 8 }, (): string[] => []);
    const [wx, wy] = [Math.abs(plan.x(found.radius_x) - plan.x(0)), Math.abs(plan.y(found.radius_y) - plan.y(0))];
    for (let i = 0; i < found.x.length; i++) {
      const [cx, cy] = [plan.x(nth(found.x, i)), plan.y(nth(found.y, i))];
      const step = stepOf(nth(found.counts, i), most);
      paths[step]?.push(
        `M${(cx - wx).toFixed(1)} ${(cy - wy / 2).toFixed(1)}l${wx.toFixed(1)} ${(-wy / 2).toFixed(1)}l${wx.toFixed(1)} ${(wy / 2).toFixed(1)}v${wy.toFixed(1)}l${(-wx).toFixed(1)} ${(wy / 2).toFixed(1)}l${(-wx).toFixed(1)} ${(-wy / 2).toFixed(1)}Z`,
      );
    }
    return paths.map((parts) => parts.join(""));
  }, [found, plan, most]);
  return (
    <g data-hexagons={found.x.length}>
      {groups.map(
        (path, i) =>
          path && (
            <path
              // biome-ignore lint/suspicious/noArrayIndexKey: eight steps of colour
              key={i}
              d={path}
              style={{ fill: rampOf(ramp)(0.12 + 0.8 * (i / 7)) }}
              className="stroke-raised"
              strokeWidth={0.7}
            />
          ),
      )}
    </g>
  );
}

const stepOf = (count: number, most: number) => Math.round((7 * Math.log(count)) / Math.max(Math.log(most), 1e-9)) || 0;

export function CountKey({ most, plan, ramp, title }: { most: number; plan: Plan; ramp: Ramp; title: string }) {
  const steps = [...new Set([0, 2, 4, 7].map((step) => Math.max(Math.round(most ** (step / 7)), 1)))];
  const entries = steps.map((count) => ({
    colour: rampOf(ramp)(0.12 + 0.8 * (stepOf(count, most) / 7)),
    words: whole(count),
  }));
  return <ColourKey plan={plan} entries={entries} title={title} />;
}

/** Pairs at one place as an area; groups stand beside each other around it. */
export function StackLayer({ found, plan, reading }: { found: Stacks; plan: Plan; reading: Pairs }) {
  const k = Math.max(reading.levels.length, 1);
  const most = Math.max(...found.counts, 1);
  const radius = (count: number) => Math.max(12 * Math.sqrt(count / most), 1.1);
  const order = [...found.counts.keys()].sort((a, b) => (found.counts[b] ?? 0) - (found.counts[a] ?? 0));
  return (
    <g data-stacks={found.x.length} fillOpacity={0.55}>
      {order.map((i) => {
        const [a, b] = [nth(found.x, i), nth(found.y, i)];
        if (!plan.inside(a, b)) return null;
        const group = nth(found.group, i);
        const turn = (2 * Math.PI * group) / k;
        const aside = k > 1 ? 4 : 0;
        return (
          <circle
            key={i}
            cx={plan.x(a) + aside * Math.cos(turn)}
            cy={plan.y(b) + aside * Math.sin(turn)}
            r={radius(nth(found.counts, i))}
            className={`${seriesOf(group).fill} stroke-[1.1] ${seriesOf(group).stroke}`}
          />
        );
      })}
      <StackKey plan={plan} radius={radius} most={most} />
    </g>
  );
}

function StackKey({ plan, radius, most }: { plan: Plan; radius: (count: number) => number; most: number }) {
  const [, right] = plan.x.range();
  const counts = [...new Set([1, Math.max(Math.round(most / 4), 1), most])];
  return (
    <g
      className="figures text-small"
      fillOpacity={1}
      transform={`translate(${right - counts.length * 56},${plan.edge.top + 14})`}
    >
      {counts.map((count, i) => (
        <g key={count} transform={`translate(${i * 56},0)`}>
          <circle r={radius(count)} fill="none" className="stroke-chart-axis" />
          <text x={radius(count) + 4} dy="0.33em" className="fill-muted-ink">
            {whole(count)}
          </text>
        </g>
      ))}
    </g>
  );
}

/** How many pairs lie in each small part of the window, as an image that sharpens as the window narrows. */
export function ImageLayer({ found, plan, ramp }: { found: WindowCounts; plan: Plan; ramp: Ramp }) {
  const [left, right] = plan.x.range();
  const [bottom, top] = plan.y.range();
  const most = useMemo(() => found.counts.reduce((a, b) => Math.max(a, b), 1), [found]);
  const address = useMemo(() => {
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [found.columns, found.rows];
    const brush = canvas.getContext("2d");
    if (!brush) return "";
    const picture = brush.createImageData(found.columns, found.rows);
    const table = Array.from({ length: 64 }, (_, i) =>
      (rampOf(ramp)(0.12 + (0.8 * i) / 63).match(/\d+/g) ?? ["0", "0", "0"]).map(Number),
    );
    const scale = 63 / Math.max(Math.log(most), 1e-9);
    for (let row = 0; row < found.rows; row++)
      for (let column = 0; column < found.columns; column++) {
        const count = nth(found.counts, row * found.columns + column);
        if (count === 0) continue;
        const at = 4 * ((found.rows - 1 - row) * found.columns + column);
        const [r = 0, g = 0, b = 0] = table[Math.round(Math.log(count) * scale) || 0] ?? [];
        picture.data.set([r, g, b, 255], at);
      }
    brush.putImageData(picture, 0, 0);
    return canvas.toDataURL();
  }, [found, ramp, most]);
  return (
    <>
      <image
        data-window={found.n}
        href={address}
        x={left}
        y={top}
        width={right - left}
        height={bottom - top}
        preserveAspectRatio="none"
        style={{ imageRendering: "pixelated" }}
      />
      <CountKey most={most} title="pairs in a dot" {...{ plan, ramp }} />
    </>
  );
}

type LinesProps = { fits: Fits; plan: Plan };
const lookOf = (label: string, place: number) => seriesOf(label ? place : 1);

/** The bands of the lines, below the points. */
export function BandLayer({ fits, plan, choices }: LinesProps & { choices: RelateChoices }) {
  if (choices.bands === "none") return null;
  return fits.groups.map(({ label, place, fit }) => {
    if (!fit) return null;
    const band = (low: Float64Array, high: Float64Array, opacity: number) => {
      // Where a limit has no end the band has a gap, never a bridge.
      const runs: number[][] = [];
      for (const i of low.keys()) {
        if (!(Number.isFinite(low[i]) && Number.isFinite(high[i]))) continue;
        if (runs.at(-1)?.at(-1) === i - 1) runs.at(-1)?.push(i);
        else runs.push([i]);
      }
      const paths = runs.map((there) => {
        const back = [...there].reverse();
        const xs = [...there, ...back].map((i) => nth(fit.curve_x, i));
        const ys = [...there.map((i) => nth(low, i)), ...back.map((i) => nth(high, i))];
        const path = pathOver(plan, xs, ys);
        return path && `${path}Z`;
      });
      return <path d={paths.filter(Boolean).join("")} className={lookOf(label, place).fill} fillOpacity={opacity} />;
    };
    return (
      <g key={label} data-band={label}>
        {choices.bands === "both" && band(fit.one_low, fit.one_high, 0.4)}
        {band(fit.low, fit.high, 0.8)}
      </g>
    );
  });
}

/** The lines through all pairs, or through each group. */
export function LineLayer({ fits, plan }: LinesProps) {
  const [from, to] = plan.x.domain();
  return fits.groups.map(({ label, place, fit, median, smooth }) => {
    const look = lookOf(label, place);
    return (
      <g key={label} fill="none" strokeLinejoin="round">
        {fit && (
          <path
            data-line={`least-squares ${label}`}
            d={pathOver(plan, fit.curve_x, fit.curve_y)}
            className={`stroke-2 ${look.stroke}`}
          />
        )}
        {median && (
          <path
            data-line={`median ${label}`}
            d={pathOver(
              plan,
              [from, to],
              [from, to].map((x) => median.intercept + median.slope * x),
            )}
            strokeDasharray="9 4"
            className={`stroke-[1.8] ${look.stroke}`}
          />
        )}
        {smooth && (
          <path
            data-line={`smooth ${label}`}
            d={pathOver(plan, smooth.x, smooth.y)}
            strokeDasharray="2 4"
            strokeLinecap="round"
            className={`stroke-[2.6] ${label ? look.stroke : "stroke-ink"}`}
          />
        )}
      </g>
    );
  });
}

/** What stands for which series or level, above the data. */
export function Legend({ reading, right, top }: { reading: Pairs; right: number; top: number }) {
  const labels = reading.series.length > 1 ? reading.series.map(({ subject }) => subject.label) : reading.levels;
  const widths = labels.map((label) => 26 + label.length * 6.4);
  let at = right - widths.reduce((sum, width) => sum + width, 0);
  return (
    <g className="text-small">
      {labels.map((label, kind) => {
        const x = Math.max(at, 60);
        at += nth(widths, kind);
        return (
          <g key={label} transform={`translate(${x},${top})`}>
            <g transform="translate(7,0)">
              <path d={shapeOf(kind, 3.8)} className={`fill-raised stroke-[1.8] ${seriesOf(kind).stroke}`} />
            </g>
            <text x={17} dy="0.33em" className="fill-ink">
              {label}
            </text>
          </g>
        );
      })}
    </g>
  );
}

type MarginProps = { reading: Pairs; plan: Plan; choices: RelateChoices };
const CLASSES = 28;

/** Each variable by itself along its axis, per group: as classes, boxes or rugs of the pairs that are drawn. */
export function Margins({ reading, plan, choices }: MarginProps) {
  const kinds = reading.levels.length || 1;
  const parts = ([0, 1] as const).flatMap((of) =>
    Array.from({ length: kinds }, (_, kind) => {
      const values: number[] = [];
      for (const series of reading.series)
        for (let i = 0; i < series.x.length; i++) {
          if (reading.levels.length > 0 && series.group[i] !== kind) continue;
          if (plan.inside(nth(series.x, i), nth(series.y, i))) values.push(nth(of === 0 ? series.x : series.y, i));
        }
      return { of, kind, values: values.sort((a, b) => a - b) };
    }),
  );
  const [left, right] = plan.x.range();
  const [bottom, top] = plan.y.range();
  const foot = { 0: top - 4, 1: right + 4 };
  const room = 44;
  const spot = (of: 0 | 1, along: number, off: number) =>
    of === 0
      ? `${along.toFixed(1)} ${(foot[0] - off).toFixed(1)}`
      : `${(foot[1] + off).toFixed(1)} ${along.toFixed(1)}`;
  return (
    <g data-margins={choices.margins} fill="none">
      {parts.map(({ of, kind, values }) => {
        if (values.length === 0) return null;
        const look = seriesOf(kind);
        const scale = of === 0 ? plan.x : plan.y;
        const [from, to] = of === 0 ? [left, right] : [bottom, top];
        const key = `${of} ${kind}`;
        if (choices.margins === "rug")
          return (
            <path
              key={key}
              d={values
                .slice(0, 4_000)
                .map((value) => `M${spot(of, scale(value), kind * 9)}L${spot(of, scale(value), kind * 9 + 7)}`)
                .join("")}
              strokeOpacity={0.4}
              className={look.stroke}
            />
          );
        const margin = reading.margins.find((each) => each.of === (of === 0 ? "x" : "y") && each.group === kind);
        if (choices.margins === "density") {
          if (!margin || margin.x.length === 0) return null;
          const most = margin.heights.reduce((a, b) => Math.max(a, b), 0) || 1;
          const [least, greatest] = scale.domain();
          const there = [...margin.x.keys()].filter((i) => nth(margin.x, i) >= least && nth(margin.x, i) <= greatest);
          if (there.length < 2) return null;
          const at = (i: number, off: number) => spot(of, scale(nth(margin.x, i)), off);
          const spots = there.map((i) => at(i, (room * nth(margin.heights, i)) / most));
          return (
            <path
              key={key}
              d={`M${at(nth(there, 0), 0)}L${spots.join("L")}L${at(last(there), 0)}Z`}
              fillOpacity={0.55}
              className={`${look.fill} stroke-[1.2] ${look.stroke}`}
            />
          );
        }
        if (choices.margins === "box") {
          const { q1, median, q3, whisker_low: low, whisker_high: high } = margin?.box ?? {};
          if (q1 == null || median == null || q3 == null || low == null || high == null) return null;
          const [a, b, c, d, e] = eachOf([low, q1, median, q3, high], scale);
          const step = room / kinds;
          const [mid, half] = [step * (kind + 0.5), Math.min(step * 0.36, 9)];
          return (
            <g key={key} className={`stroke-[1.3] ${look.stroke}`}>
              <path d={`M${spot(of, a, mid)}L${spot(of, b, mid)}M${spot(of, d, mid)}L${spot(of, e, mid)}`} />
              <path
                d={`M${spot(of, b, mid - half)}L${spot(of, d, mid - half)}L${spot(of, d, mid + half)}L${spot(of, b, mid + half)}Z`}
                strokeLinejoin="round"
                className={look.fill}
              />
              <path d={`M${spot(of, c, mid - half)}L${spot(of, c, mid + half)}`} strokeWidth={2.6} />
            </g>
          );
        }
        const counts = Array.from({ length: CLASSES }, () => 0);
        for (const value of values) {
          const place = Math.floor((CLASSES * (scale(value) - from)) / (to - from));
          counts[Math.min(Math.max(place, 0), CLASSES - 1)] =
            (counts[Math.min(Math.max(place, 0), CLASSES - 1)] ?? 0) + 1;
        }
        const most = Math.max(...counts, 1);
        const edge = (i: number) => from + ((to - from) * i) / CLASSES;
        const path = counts.map(
          (count, i) => `L${spot(of, edge(i), (room * count) / most)}L${spot(of, edge(i + 1), (room * count) / most)}`,
        );
        return (
          <path
            key={key}
            d={`M${spot(of, from, 0)}${path.join("")}L${spot(of, to, 0)}`}
            fillOpacity={0.6}
            className={`${look.fill} stroke-[1.2] ${look.stroke}`}
          />
        );
      })}
    </g>
  );
}
