import { area, line } from "d3-shape";
import { type KeyboardEvent, type MouseEvent, type Ref, useMemo, useState } from "react";
import type { GroupSpread, Split } from "../../api/readings";
import type { Table } from "../../api/studies";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { BoxGlyph, Rings } from "../../plot/BoxGlyph";
import { heightAt } from "../../plot/Curve";
import { ticksOf } from "../../plot/scales";
import { seriesOf } from "../../plot/series";
import { Violin } from "../../plot/Violin";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Readout } from "../../ui/Readout";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { decimalsFor, fixed, whole } from "../../words/numbers";
import { useMarkSelection } from "../useMarkSelection";
import { classHeights, type LevelsPlan, type LevelsRoom, planOf } from "./levelsLayout";
import { boxFigures } from "./stackLayout";
import type { SpreadChoices } from "./useSpreadChoices";

const REACH = 10;
const LABEL = 19;

type LevelsPictureProps = LevelsRoom &
  Pick<SpreadChoices, "layers" | "form" | "upright" | "freeAxes" | "scaling"> & {
    table: Table;
    by: string;
    split: Split;
    drawing: Ref<SVGSVGElement>;
  };

/** Levels together: each a lane, as ridges, one over the other, or two back to back; along or upright. */
export function LevelsPicture(props: LevelsPictureProps) {
  const { table, by, split, layers, form, upright, freeAxes, scaling, width, height, drawing } = props;
  const onSelect = useMarkSelection(table, by);
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const [marked, setMarked] = useState<{ group: number; row: number | null } | null>(null);
  const { groups, subject } = split;
  const plan = useMemo(
    () => planOf({ split, layers, form, upright, freeAxes, scaling, room: { width, height } }),
    [split, layers, form, upright, freeAxes, scaling, width, height],
  );
  const decimals = decimalsFor(subject.decimals, groups[0]?.summary.sd ?? null);
  const unit = subject.unit ? ` ${subject.unit}` : "";

  const find = (event: MouseEvent<SVGSVGElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [px, py] = [event.clientX - frame.left, event.clientY - frame.top];
    const [along, across] = upright ? [py, px] : [px, py];
    const ring = ringAt(plan, groups, along, across);
    if (ring) return ring;
    const place = plan.one ? curveAt(plan, groups, along, across) : Math.floor((across - plan.startOf(0)) / plan.lane);
    return groups[place] ? { group: place, row: null } : null;
  };
  const choose = (mark: typeof marked, add: boolean) => {
    const group = mark && groups[mark.group];
    if (!group) return;
    if (mark.row !== null) select(table.id, [mark.row], `row ${whole(mark.row)}`, add);
    else if (split.by) onSelect({ words: [group.label], asked: { level: group.label } }, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (step !== undefined) {
      setMarked((now) => ({ group: Math.min(Math.max((now?.group ?? -1) + step, 0), groups.length - 1), row: null }));
    } else if (event.key === "Enter" || event.key === " ") choose(marked, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const group = marked && groups[marked.group];
  const title = titled(named(subject));
  const readoutAt = group && marked ? readoutPlace(plan, group, marked.group, upright) : null;
  const laneAt = marked && !plan.one ? plan.startOf(marked.group) : null;
  return (
    <div className="relative" style={{ height, width }}>
      <svg
        ref={drawing}
        role="application"
        aria-label={`${title}${split.by ? ` by ${split.by}` : ""}: arrows walk the levels, Enter selects their rows`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
        tabIndex={0}
        width={width}
        height={height}
        onPointerMove={(event) => setMarked(find(event))}
        onPointerLeave={() => setMarked(null)}
        onBlur={() => setMarked(null)}
        onClick={(event) => choose(find(event), event.shiftKey || event.ctrlKey || event.metaKey)}
        onKeyDown={onKeyDown}
      >
        {laneAt !== null && (
          <rect
            data-screen-only
            {...(upright
              ? { x: laneAt, y: 0, width: plan.lane, height }
              : { x: 0, y: laneAt, width, height: plan.lane })}
            className="fill-surface"
          />
        )}
        {upright && !plan.free && (
          <AxisLeft scale={plan.shared} title={title} x={plan.edge.left} to={width - plan.edge.right} />
        )}
        {!upright && !plan.free && (
          <path
            d={plan.shared
              .ticks(8)
              .map((tick) => `M${plan.shared(tick)} ${plan.edge.top}V${height - plan.edge.bottom}`)
              .join("")}
            className="stroke-chart-grid"
          />
        )}
        <clipPath id="levels-room">
          <rect x={plan.from - 4} width={plan.to - plan.from + 8} y={-height} height={3 * Math.max(height, width)} />
        </clipPath>
        <g data-upright={upright} transform={upright ? "matrix(0 1 1 0 0 0)" : undefined} clipPath="url(#levels-room)">
          {groups.map((each, i) => (
            <Body key={each.label} {...{ plan, split, layers, form }} group={each} place={i} selected={selected} />
          ))}
        </g>
        {groups.map((each, i) => (
          <Label
            key={each.label}
            {...{ plan, form, upright, width, height }}
            group={each}
            place={i}
            alone={!split.by}
          />
        ))}
        {plan.free && groups.map((each, i) => <OwnTicks key={each.label} plan={plan} place={i} upright={upright} />)}
        {!upright && !plan.free && <AxisBottom scale={plan.shared} title={title} y={height - plan.edge.bottom} />}
        {plan.free && (
          <text
            {...(upright
              ? { transform: `translate(13,${height / 2}) rotate(-90)` }
              : { x: (plan.edge.left + width) / 2, y: height - plan.edge.bottom + 36 })}
            textAnchor="middle"
            className="fill-ink text-body"
          >
            {title}, each on an axis of its own
          </text>
        )}
      </svg>
      {group && marked && readoutAt && (
        <Readout
          x={readoutAt.x}
          y={readoutAt.y}
          room={width}
          words={
            marked.row !== null
              ? [`row ${whole(marked.row)}`, group.label]
              : [
                  group.label,
                  `n ${whole(group.n)}`,
                  group.summary.median === null ? "" : `median ${fixed(group.summary.median, decimals)}${unit}`,
                  group.summary.mean === null ? "" : `mean ${fixed(group.summary.mean, decimals)}${unit}`,
                ].filter(Boolean)
          }
        />
      )}
    </div>
  );
}

const outlierValue = (group: GroupSpread, i: number) => group.box.outlier_values[i] ?? 0;

function ringAt(plan: LevelsPlan, groups: GroupSpread[], along: number, across: number) {
  if (!plan.show.boxes) return null;
  let best: { group: number; row: number } | null = null;
  let distance = REACH;
  groups.forEach((group, i) => {
    if (Math.abs(across - plan.boxAt(i)) > REACH + 4) return;
    group.box.outlier_rows.forEach((row, k) => {
      const away = Math.hypot(plan.value(i)(outlierValue(group, k)) - along, across - plan.boxAt(i));
      if (away < distance) [best, distance] = [{ group: i, row }, away];
    });
  });
  return best as { group: number; row: number } | null;
}

/** Of curves on one axis, the one nearest to the pointer. */
function curveAt(plan: LevelsPlan, groups: GroupSpread[], along: number, across: number): number {
  let [best, distance] = [-1, Number.POSITIVE_INFINITY];
  groups.forEach((group, i) => {
    const height = heightAt(group.x, group.heights, plan.shared.invert(along)) ?? 0;
    const at = plan.foot(i) + (plan.down(i) ? -1 : 1) * plan.grow * height * plan.scaleOf(i);
    if (Math.abs(at - across) < distance) [best, distance] = [i, Math.abs(at - across)];
  });
  return best;
}

function readoutPlace(plan: LevelsPlan, group: GroupSpread, place: number, upright: boolean) {
  const along = plan.value(place)(group.summary.median ?? plan.shared.domain()[0]);
  const across = plan.one ? plan.foot(place) + plan.grow * 40 : plan.middle(place);
  return upright ? { x: across, y: Math.max(along - 24, 24) } : { x: along, y: Math.max(across - 24, 24) };
}

type BodyProps = {
  plan: LevelsPlan;
  split: Split;
  layers: SpreadChoices["layers"];
  form: SpreadChoices["form"];
  group: GroupSpread;
  place: number;
  selected: ReadonlySet<number>;
};

/** One level: its classes, curve or violin, rug, box and rings, in (value, across). */
function Body({ plan, split, layers, form, group, place, selected }: BodyProps) {
  const look = seriesOf(place);
  const x = plan.value(place);
  const [from, foot] = [plan.foot(place), plan.foot(place)];
  const sign = (plan.down(place) ? -1 : 1) * plan.grow;
  const scale = plan.scaleOf(place);
  const figures = boxFigures(group.box);
  const { show } = plan;
  const curve = useMemo(() => {
    const heights = Array.from(group.heights);
    const at = (_: number, i: number) => x(nth(group.x, i));
    const top = (height: number) => foot + sign * height * scale;
    return {
      outline: line<number>(at, top)(heights) ?? "",
      body: area<number>().x(at).y0(foot).y1(top)(heights) ?? "",
    };
  }, [group, x, foot, sign, scale]);
  const blocks = show.classes
    ? classHeights(group, split).map((height, i) => {
        const [a, b] = [x(nth(split.boundaries, i)), x(nth(split.boundaries, i + 1))];
        return height > 0 ? `M${a} ${from}V${from + sign * height * scale}H${b}V${from}Z` : "";
      })
    : [];
  const boxAt = plan.boxAt(place);
  const far = new Set(group.box.far_rows);
  const rings = (isFar: boolean) =>
    Array.from(group.box.outlier_rows).flatMap((row, k) => (far.has(row) === isFar ? [x(outlierValue(group, k))] : []));
  return (
    <g data-level={group.label}>
      {show.classes && (
        <path
          d={blocks.join("")}
          className={`${look.fill} ${look.stroke} stroke-[0.8]`}
          fillOpacity={form === "overlay" ? 0 : 0.8}
          strokeOpacity={form === "overlay" ? 0.55 : 1}
        />
      )}
      {show.curve && (
        <>
          {(!show.classes || form === "ridges") && (
            <path
              d={curve.body}
              className={form === "ridges" ? `${look.fill} stroke-raised` : look.fill}
              fillOpacity={form === "overlay" ? 0.25 : form === "ridges" ? 0.92 : 0.7}
            />
          )}
          <path d={curve.outline} fill="none" strokeLinejoin="round" className={`stroke-[1.8] ${look.stroke}`} />
        </>
      )}
      {show.violin && group.heights.length > 0 && figures && (
        <Violin
          xs={group.x}
          heights={group.heights}
          scale={scale}
          x={x}
          y={plan.middle(place)}
          from={group.summary.minimum ?? 0}
          to={group.summary.maximum ?? 0}
          quartiles={show.boxes ? [] : [figures.q1, figures.median, figures.q3]}
          fill={look.fill}
          stroke={look.stroke}
        />
      )}
      {show.rug && (
        <path
          d={Array.from(group.rug, (value) => `M${x(value).toFixed(1)} ${foot}v${-sign * 6}`).join("")}
          className={`${look.stroke} opacity-70`}
        />
      )}
      {show.boxes && figures && (
        <>
          <BoxGlyph
            box={figures}
            x={x}
            y={boxAt}
            height={plan.boxHeight(place)}
            showFences={false}
            showNotch={layers.includes("notch")}
            mean={layers.includes("mean") ? group.summary.mean : null}
          />
          <Rings near={rings(false)} far={rings(true)} y={boxAt} />
          {Array.from(group.box.outlier_rows, (row, k) =>
            selected.has(row) ? (
              <circle key={row} cx={x(outlierValue(group, k))} cy={boxAt} r={3.4} className="fill-accent" />
            ) : null,
          )}
        </>
      )}
    </g>
  );
}

type LabelProps = {
  plan: LevelsPlan;
  form: SpreadChoices["form"];
  upright: boolean;
  width: number;
  height: number;
  group: GroupSpread;
  place: number;
  alone: boolean;
};

const shortened = (label: string, most: number) => (label.length > most ? `${label.slice(0, most - 1)}…` : label);

/** The level's name and n: at its lane, or beside its curve where all share one axis. */
function Label({ plan, form, upright, width, height, group, place, alone }: LabelProps) {
  if (plan.one) {
    const look = seriesOf(place);
    const lower = form === "facing" && !upright && place === 1;
    // Back to back, the boxes lie along the outer edges, and the names inside of them.
    const inside = form === "facing" && plan.show.boxes && !upright ? plan.boxHeight(place) + 14 : 0;
    const y = lower
      ? height - plan.edge.bottom - 8 - inside
      : plan.edge.top + 12 + (form === "facing" ? inside : 17 * place);
    const x = form === "facing" && upright && place === 1 ? plan.edge.left + 16 : width - plan.edge.right - 8;
    const leftwards = x > width / 2;
    return (
      <g transform={`translate(${x},${y})`}>
        <path
          d={leftwards ? "M0 -4H-16" : "M0 -4H16"}
          className={`stroke-[2.2] ${look.stroke}`}
          strokeLinecap="round"
        />
        <text x={leftwards ? -21 : 21} textAnchor={leftwards ? "end" : "start"} className="fill-ink text-body">
          {shortened(group.label, 40)}
          <tspan className="figures fill-muted-ink text-small"> n {whole(group.n)}</tspan>
        </text>
      </g>
    );
  }
  const most = upright ? Math.max(Math.floor(plan.lane / 6.5), 3) : LABEL;
  const name = alone && upright ? "all rows" : shortened(group.label, most);
  const missing = group.n === 0 ? `all ${whole(group.missing)} rows are missing` : "";
  if (upright) {
    const base = height - plan.edge.bottom;
    return (
      <g textAnchor="middle" transform={`translate(${plan.middle(place)},${base})`}>
        <text y={17} className="fill-ink text-body">
          {name}
        </text>
        <text y={32} className="figures fill-muted-ink text-small">
          n {whole(group.n)}
        </text>
      </g>
    );
  }
  const y = form === "ridges" ? plan.foot(place) - 2 : Math.min(plan.foot(place), plan.middle(place) + 4) - 2;
  return (
    <>
      <text x={plan.edge.left - 12} y={y} textAnchor="end" className="fill-ink text-body">
        {name}
        {form === "ridges" && <tspan className="figures fill-muted-ink text-small"> n {whole(group.n)}</tspan>}
      </text>
      {form !== "ridges" && (
        <text x={plan.edge.left - 12} y={y + 14} textAnchor="end" className="figures fill-muted-ink text-small">
          n {whole(group.n)}
        </text>
      )}
      {missing && (
        <text x={plan.edge.left + 8} y={y} className="fill-caution text-small">
          {missing}
        </text>
      )}
    </>
  );
}

/** The ticks of a lane that has an axis of its own. */
function OwnTicks({ plan, place, upright }: { plan: LevelsPlan; place: number; upright: boolean }) {
  const scale = plan.value(place);
  const start = plan.startOf(place);
  const at = upright ? start + 2 : start + plan.lane;
  return (
    <g className="figures text-small">
      {ticksOf(scale, upright ? 5 : 7).map((tick) => (
        <g key={tick.value} transform={upright ? `translate(${at},${tick.at})` : `translate(${tick.at},${at})`}>
          <path d={upright ? "M0 0h4" : "M0 0v-4"} className="stroke-chart-axis" />
          <text
            {...(upright ? { x: 6, dy: "0.32em" } : { y: -6, textAnchor: "middle" })}
            className="fill-muted-ink"
            fillOpacity={0.9}
          >
            {tick.text}
          </text>
        </g>
      ))}
    </g>
  );
}
