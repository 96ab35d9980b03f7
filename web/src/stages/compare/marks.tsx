import type { Drawing, DrawnGroup } from "../../api/compare";
import { heightAt } from "../../plot/Curve";
import { seriesOf, shapeOf } from "../../plot/series";
import { eachOf, nth } from "../../values";
import { fixed } from "../../words/numbers";
import { type ComparePlan, type Lane, within } from "./compareLayout";
import type { CompareChoices } from "./useCompareChoices";

type PartProps = { group: DrawnGroup; lane: Lane; plan: ComparePlan; kind: number };

const point = ([x, y]: [number, number]) => `${x.toFixed(1)} ${y.toFixed(1)}`;

/** The ends of a bar as asked: both ways, or up or down from the centre only. */
export function endsOf({ centred }: DrawnGroup, side: CompareChoices["side"]): [number, number] | null {
  const { center, low, high } = centred;
  if (center === null || low === null || high === null) return null;
  return [side === "up" ? center : low, side === "down" ? center : high];
}

/** A centre with its bar; the paper shows around it, so that it stands clear of points. */
export function CentreMark({ group, lane, plan, kind, choices }: PartProps & { choices: CompareChoices }) {
  const { center } = group.centred;
  if (center === null) return null;
  const ends = endsOf(group, choices.side);
  const [x, y] = plan.spot(lane.at, 0, plan.held(center));
  const look = seriesOf(kind);
  const cap = Math.min(5, lane.width / 5);
  const line = ends?.map((end) => plan.spot(lane.at, 0, plan.held(end)));
  const caps = ends?.flatMap((end, i) => {
    if (!choices.caps || end === center || !plan.inside(end)) return [];
    const along = plan.held(nth(ends, i));
    return [`M${point(plan.spot(lane.at, -cap, along))}L${point(plan.spot(lane.at, cap, along))}`];
  });
  return (
    <g strokeLinecap="round" className={look.stroke}>
      {line && (
        <>
          <path d={`M${line.map(point).join("L")}`} className="stroke-[6] stroke-raised" />
          <path
            data-bar={group.centred.label}
            d={`M${line.map(point).join("L")}${caps?.join("") ?? ""}`}
            strokeWidth={2.4}
          />
        </>
      )}
      {plan.inside(center) && (
        <g transform={`translate(${x.toFixed(1)},${y.toFixed(1)})`}>
          <path d={shapeOf(kind, 4.4)} strokeWidth={2.1} strokeLinejoin="round" className="fill-raised" />
          <path d="M-1.2 0h2.4" strokeWidth={1.8} />
        </g>
      )}
    </g>
  );
}

/** A body from zero to the centre. */
export function FromZero({ group, lane, plan, kind }: PartProps) {
  const { center } = group.centred;
  if (center === null) return null;
  const half = Math.min(lane.width * 0.34, 34);
  const [x0, y0] = plan.spot(lane.at, -half, plan.held(0));
  const [x1, y1] = plan.spot(lane.at, half, plan.held(center));
  const look = seriesOf(kind);
  return (
    <rect
      x={Math.min(x0, x1)}
      y={Math.min(y0, y1)}
      width={Math.max(Math.abs(x1 - x0), 0.5)}
      height={Math.max(Math.abs(y1 - y0), 0.5)}
      className={`${look.fill} stroke-[1.4] ${look.stroke}`}
    />
  );
}

type JoinedProps = { reading: Drawing; plan: ComparePlan };

const lineOf = (plan: ComparePlan, spots: [number, number][]) =>
  spots
    .slice(1)
    .map((spot, i) => within(plan, nth(spots, i), spot))
    .filter((part) => part !== null)
    .map((part) => `M${part.map(point).join("L")}`)
    .join("");

/** Centres of one level of the second grouping, or of all groups, joined in the order in which they stand. */
export function Joined({ reading, plan }: JoinedProps) {
  const kinds = [...new Set(reading.groups.map(({ second_place: kind }) => kind))];
  return kinds.map((kind) => {
    const spots = plan.drawn
      .filter((i) => reading.groups[i]?.second_place === kind && reading.groups[i]?.centred.center !== null)
      .map((i) => plan.spot(plan.lanes[i]?.at ?? 0, 0, plan.value(reading.groups[i]?.centred.center ?? Number.NaN)))
      .sort((a, b) => (plan.upright ? a[0] - b[0] : a[1] - b[1]));
    const look = kinds.length > 1 ? seriesOf(kind).stroke : "stroke-line-strong";
    return <path key={kind} d={lineOf(plan, spots)} strokeLinecap="round" className={`stroke-[1.6] ${look}`} />;
  });
}

/** A thin line for each unit that has values in several groups, broken where it lacks one. */
export function PairLines({ reading, plan }: JoinedProps) {
  const k = reading.groups.length;
  const kinds = [...new Set(reading.groups.map(({ second_place: kind }) => kind))];
  const parts: string[] = [];
  for (const kind of kinds) {
    const own = plan.drawn.filter((i) => reading.groups[i]?.second_place === kind);
    own.sort((a, b) => (plan.lanes[a]?.at ?? 0) - (plan.lanes[b]?.at ?? 0));
    for (let unit = 0; unit < reading.pair_names.length; unit++) {
      parts.push(
        lineOf(
          plan,
          own.map((i) => {
            const value = nth(reading.pair_values, unit * k + i);
            return plan.spot(plan.lanes[i]?.at ?? 0, 0, plan.value(value));
          }),
        ),
      );
    }
  }
  return <path data-pairs d={parts.join("")} className="stroke-[0.9] stroke-chart-axis" opacity={0.5} />;
}

/** The line over the numbers of the levels, from the first to the last of them. */
export function FittedLines({ reading, plan, log }: JoinedProps & { log: boolean }) {
  const { number } = plan;
  if (!number) return null;
  return reading.lines.map(({ second_place: kind, found }) => {
    const places = plan.drawn
      .filter((i) => reading.groups[i]?.second_place === kind)
      .map((i) => reading.groups[i]?.number ?? 0);
    if (!found || places.length < 2) return null;
    const ends = [Math.min(...places), Math.max(...places)].map((place): [number, number] => {
      const at = found.intercept + found.slope * place;
      return plan.spot(number(place), 0, plan.value(log ? 10 ** at : at));
    });
    const look = reading.second ? seriesOf(kind).stroke : "stroke-ink";
    return (
      <path
        key={kind}
        data-line={kind}
        d={lineOf(plan, ends)}
        strokeDasharray="7 4"
        strokeLinecap="round"
        className={`stroke-[1.8] ${look}`}
      />
    );
  });
}

/** A box with its whiskers; with the rows beyond them ringed where no points show them. */
export function BoxMark({ group: { box }, lane, plan, rings }: PartProps & { rings: boolean }) {
  const { q1, median, q3, whisker_low: low, whisker_high: high } = box;
  if (q1 === null || median === null || q3 === null || low === null || high === null) return null;
  const { off, room } = lane.body;
  const half = Math.min(room * 0.26, 26);
  const at = (value: number, side: number) => plan.spot(lane.at, off + side * half, plan.held(value));
  const [x0, y0] = at(q1, -1);
  const [x1, y1] = at(q3, 1);
  const [width, height] = [Math.abs(x1 - x0), Math.abs(y1 - y0)];
  const whiskers = [
    [low, q1],
    [q3, high],
  ].map((pair) => `M${pair.map((end) => point(at(end, 0))).join("L")}`);
  const inset = (half - 1.5) / half;
  // One path for all of them: there may be tens of thousands.
  const ringsOf = () =>
    Array.from(box.outlier_values, (value) => {
      if (!plan.inside(value)) return "";
      const [x, y] = plan.spot(lane.at, off, plan.value(value));
      return `M${(x - 3).toFixed(1)} ${y.toFixed(1)}a3 3 0 1 0 6 0a3 3 0 1 0 -6 0`;
    }).join("");
  return (
    <g>
      <path d={whiskers.join("")} strokeLinecap="round" className="stroke-[1.5] stroke-ink" />
      <rect
        x={Math.min(x0, x1)}
        y={Math.min(y0, y1)}
        width={Math.max(width, 1)}
        height={Math.max(height, 1)}
        rx={Math.min(6, width / 2, height / 2)}
        className="fill-raised stroke-[1.5] stroke-ink"
        fillOpacity={0.72}
      />
      <path
        d={`M${point(at(median, -inset))}L${point(at(median, inset))}`}
        className="stroke-[3] stroke-series-velvet"
      />
      {rings && <path data-beyond d={ringsOf()} className="fill-raised stroke-[1.3] stroke-series-velvet" />}
    </g>
  );
}

/** A density, cut at the range of its data and at the ends of the axis: with its mirror image, or one side of it. */
export function DensityMark({ group, lane, plan, kind, top, whole }: PartProps & { top: number; whole: boolean }) {
  const { x: xs, heights, centred } = group;
  const { minimum, maximum } = centred.summary;
  if (xs.length === 0 || minimum === null || maximum === null) return null;
  const [low, high] = plan.value.domain();
  const [from, to] = [Math.max(minimum, low), Math.min(maximum, high)];
  if (from >= to) return null;
  const scale = lane.rise / top;
  const places: [number, number][] = [];
  const add = (value: number) => places.push([value, scale * (heightAt(xs, heights, value) ?? 0)]);
  add(from);
  for (let i = 0; i < xs.length; i++) if (nth(xs, i) > from && nth(xs, i) < to) add(nth(xs, i));
  add(to);
  const side = (sign: number) =>
    places.map(([value, height]) => point(plan.spot(lane.at, lane.foot + sign * height, plan.value(value))));
  const back = whole ? side(-1) : places.map(([value]) => point(plan.spot(lane.at, lane.foot, plan.value(value))));
  const look = seriesOf(kind);
  return (
    <path
      d={`M${[...side(lane.grow), ...back.reverse()].join("L")}Z`}
      strokeLinejoin="round"
      className={`${look.fill} stroke-[1.4] ${look.stroke}`}
      fillOpacity={0.7}
    />
  );
}

type Rect = [number, number, number, number];
const overlap = (a: Rect, b: Rect) =>
  Math.max(Math.min(a[2], b[2]) - Math.max(a[0], b[0]), 0) * Math.max(Math.min(a[3], b[3]) - Math.max(a[1], b[1]), 0);

type ValueLabelsProps = { reading: Drawing; plan: ComparePlan; choices: CompareChoices; kindOf: (i: number) => number };

/** The value of each centre, beside its mark: where it covers neither a bar nor another value, as far as there is room. */
export function ValueLabels({ reading, plan, choices, kindOf }: ValueLabelsProps) {
  const decimals = choices.decimals ?? 0;
  const taken: Rect[] = [];
  const marks = plan.drawn.flatMap((i) => {
    const group = nth(reading.groups, i);
    const { center } = group.centred;
    const lane = plan.lanes[i];
    if (center === null || !lane || !plan.inside(center)) return [];
    const ends = endsOf(group, choices.side) ?? [center, center];
    const [a, b] = eachOf(ends, (end) => plan.spot(lane.at, 0, plan.held(end)));
    taken.push([
      Math.min(a[0], b[0]) - 5,
      Math.min(a[1], b[1]) - 5,
      Math.max(a[0], b[0]) + 5,
      Math.max(a[1], b[1]) + 5,
    ]);
    const [px, py] = plan.spot(lane.at, 0, plan.held(center));
    const edge = Math.min(lane.width * 0.34, 34);
    if (choices.marks.includes("from zero"))
      taken.push(plan.upright ? [px - edge, py - 1, px + edge, py + 1] : [px - 1, py - edge, px + 1, py + edge]);
    return [{ i, at: plan.spot(lane.at, 0, plan.held(center)), a, b, text: fixed(center, decimals) }];
  });
  return marks.map(({ i, at: [x, y], a, b, text }) => {
    const [w, h] = [text.length * 6.2 + 4, 13];
    const [top, bottom] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
    const [left, right] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
    const tried: [number, number][] = [
      [x + 9 + w / 2, y],
      [x - 9 - w / 2, y],
      [x, top - 13],
      [x, bottom + 13],
      [x + 9 + w / 2, y - 12],
      [x + 9 + w / 2, y + 12],
      [x - 9 - w / 2, y - 12],
      [x - 9 - w / 2, y + 12],
      [right + 8 + w / 2, y],
      [left - 8 - w / 2, y],
    ];
    const rect = ([cx, cy]: [number, number]): Rect => [cx - w / 2, cy - h / 2, cx + w / 2, cy + h / 2];
    let best = nth(tried, 0);
    let least = Number.POSITIVE_INFINITY;
    for (const place of tried) {
      const own = rect(place);
      const outside = own[0] < plan.edge.left ? 1e3 : 0;
      const covered = outside + taken.reduce((sum, other) => sum + overlap(own, other), 0);
      if (covered < least) [best, least] = [place, covered];
      if (least === 0) break;
    }
    taken.push(rect(best));
    const words = { x: best[0], y: best[1], dy: "0.33em", textAnchor: "middle" as const };
    return (
      <g key={i} className="figures font-semibold text-small">
        <text {...words} strokeLinejoin="round" className="fill-raised stroke-[4] stroke-raised">
          {text}
        </text>
        <text {...words} data-value={reading.groups[i]?.centred.label} className={seriesOf(kindOf(i)).text}>
          {text}
        </text>
      </g>
    );
  });
}
