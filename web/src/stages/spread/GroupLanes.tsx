import { area, line } from "d3-shape";
import { type KeyboardEvent, type MouseEvent, type Ref, useMemo, useState } from "react";
import type { GroupSpread, Split } from "../../api/readings";
import type { Table } from "../../api/studies";
import { AxisBottom } from "../../plot/Axes";
import { BoxGlyph, Rings } from "../../plot/BoxGlyph";
import { aired, linear, type Scale } from "../../plot/scales";
import { seriesOf } from "../../plot/series";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Readout } from "../../ui/Readout";
import { named, titled } from "../../words/kinds";
import { decimalsFor, fixed, whole } from "../../words/numbers";
import { useMarkSelection } from "../useMarkSelection";
import { boxFigures } from "./stackLayout";
import type { Layer } from "./useSpreadChoices";

const EDGE = { left: 132, right: 20, top: 14, bottom: 46 };
const LEAST_LANE = 34;
const REACH = 10;
const LABEL = 19;

export const lanesHeight = (groups: number) => EDGE.top + EDGE.bottom + groups * LEAST_LANE;

type GroupLanesProps = {
  table: Table;
  by: string;
  split: Split;
  layers: Layer[];
  width: number;
  height: number;
  drawing: Ref<SVGSVGElement>;
};

/** Each level a lane: its curve above its box, all on one axis and with curves of equal area. */
export function GroupLanes({ table, by, split, layers, width, height, drawing }: GroupLanesProps) {
  const onSelect = useMarkSelection(table, by);
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const [marked, setMarked] = useState<{ lane: number; row: number | null } | null>(null);
  const { groups, subject } = split;
  const showCurve = layers.includes("density");
  const showBox = layers.includes("box") || !showCurve;
  const lane = (height - EDGE.top - EDGE.bottom) / Math.max(groups.length, 1);
  const box = showBox ? Math.min(Math.max(lane * 0.2, 8), 22) : 0;
  const x = useMemo(() => {
    const low = Math.min(...groups.map(({ summary }) => summary.minimum ?? Number.POSITIVE_INFINITY));
    const high = Math.max(...groups.map(({ summary }) => summary.maximum ?? Number.NEGATIVE_INFINITY));
    const [from, to] = low <= high ? [low, high] : [0, 1];
    return linear(aired(from, to, 0.04), EDGE.left, width - EDGE.right);
  }, [groups, width]);
  const tallest = Math.max(...groups.map(({ heights }) => heights.reduce((top, each) => Math.max(top, each), 0)), 0);
  const footOf = (i: number) => EDGE.top + (i + 1) * lane - (showBox ? box + 8 : 4);
  const boxAt = (i: number) => EDGE.top + (i + 1) * lane - box / 2 - 5;
  const room = Math.max(lane - (showBox ? box + 14 : 10), 6);
  const decimals = decimalsFor(subject.decimals, groups[0]?.summary.sd ?? null);
  const unit = subject.unit ? ` ${subject.unit}` : "";

  const find = (event: MouseEvent<SVGSVGElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [px, py] = [event.clientX - frame.left, event.clientY - frame.top];
    const place = Math.floor((py - EDGE.top) / lane);
    const group = groups[place];
    if (!group) return null;
    let row: number | null = null;
    let distance = REACH;
    if (showBox && Math.abs(py - boxAt(place)) < REACH + 4) {
      group.box.outlier_rows.forEach((each, i) => {
        const away = Math.abs(x(outlierValue(group, i)) - px);
        if (away < distance) [row, distance] = [each, away];
      });
    }
    return { lane: place, row };
  };
  const choose = (mark: typeof marked, add: boolean) => {
    const group = mark && groups[mark.lane];
    if (!group) return;
    if (mark.row !== null) select(table.id, [mark.row], `row ${whole(mark.row)}`, add);
    else onSelect({ words: [group.label], asked: { level: group.label } }, add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      setMarked((now) => ({ lane: Math.min(Math.max((now?.lane ?? -1) + step, 0), groups.length - 1), row: null }));
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      choose(marked, event.shiftKey);
    }
  };
  const group = marked && groups[marked.lane];
  return (
    <div className="relative" style={{ height }}>
      <svg
        ref={drawing}
        role="application"
        aria-label={`${titled(named(subject))} by ${split.by}: arrows walk the levels, Enter selects their rows`}
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
        {marked && (
          <rect
            data-screen-only
            x={0}
            y={EDGE.top + marked.lane * lane}
            width={width}
            height={lane}
            className="fill-surface"
          />
        )}
        {x.ticks(8).map((tick) => (
          <path key={tick} d={`M${x(tick)} ${EDGE.top}V${height - EDGE.bottom}`} className="stroke-chart-grid" />
        ))}
        <clipPath id="lanes-room">
          <rect x={EDGE.left - 4} y={0} width={width - EDGE.left - EDGE.right + 8} height={height} />
        </clipPath>
        {groups.map((each, i) => {
          const figures = boxFigures(each.box);
          return (
            <g key={each.label}>
              {showCurve && (
                <GroupCurve group={each} x={x} foot={footOf(i)} scale={tallest > 0 ? room / tallest : 0} place={i} />
              )}
              {showBox && figures && (
                <>
                  <BoxGlyph box={figures} x={x} y={boxAt(i)} height={box} showFences={false} />
                  <Rings {...ringsOf(each, x)} y={boxAt(i)} />
                </>
              )}
              <text x={EDGE.left - 12} y={footOf(i) - 2} textAnchor="end" className="fill-ink text-body">
                {each.label.length > LABEL ? `${each.label.slice(0, LABEL - 1)}…` : each.label}
              </text>
              <text
                x={EDGE.left - 12}
                y={footOf(i) + 12}
                textAnchor="end"
                className="figures fill-muted-ink text-small"
              >
                n {whole(each.n)}
              </text>
              {each.n === 0 && (
                <text x={EDGE.left + 8} y={footOf(i) - 2} className="fill-caution text-small">
                  all {whole(each.missing)} rows are missing
                </text>
              )}
            </g>
          );
        })}
        {showBox &&
          groups.map((each, i) =>
            Array.from(each.box.outlier_rows, (row, k) =>
              selected.has(row) ? (
                <circle key={row} cx={x(outlierValue(each, k))} cy={boxAt(i)} r={3.4} className="fill-accent" />
              ) : null,
            ),
          )}
        <AxisBottom scale={x} title={titled(named(subject))} y={height - EDGE.bottom} />
      </svg>
      {group && (
        <Readout
          x={x(group.summary.median ?? x.domain()[0])}
          y={Math.max(footOf(marked.lane) - 24, 30)}
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

const outlierValue = (group: GroupSpread, i: number) => group.outlier_values[i] ?? 0;

function ringsOf(group: GroupSpread, x: Scale) {
  const far = new Set(group.box.far_rows);
  const near: number[] = [];
  const beyond: number[] = [];
  group.box.outlier_rows.forEach((row, i) => {
    (far.has(row) ? beyond : near).push(x(outlierValue(group, i)));
  });
  return { near, far: beyond };
}

type GroupCurveProps = { group: GroupSpread; x: Scale; foot: number; scale: number; place: number };

function GroupCurve({ group, x, foot, scale, place }: GroupCurveProps) {
  const [paths, look] = useMemo(() => {
    const heights = Array.from(group.heights);
    const at = (_: number, i: number) => x(group.x[i] as number);
    const top = (height: number) => foot - height * scale;
    const outline = line<number>(at, top)(heights) ?? "";
    const body = area<number>().x(at).y0(foot).y1(top)(heights) ?? "";
    return [{ outline, body }, seriesOf(place)];
  }, [group, x, foot, scale, place]);
  return (
    <g clipPath="url(#lanes-room)">
      <path d={paths.body} className={look.fill} fillOpacity={0.7} />
      <path d={paths.outline} fill="none" strokeLinejoin="round" className={`stroke-[1.8] ${look.stroke}`} />
    </g>
  );
}
