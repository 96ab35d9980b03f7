import {
  type KeyboardEvent,
  type MouseEvent,
  memo,
  type ReactNode,
  type Ref,
  useEffect,
  useMemo,
  useState,
} from "react";
import type { Drawing, DrawnGroup } from "../../api/compare";
import type { Table } from "../../api/studies";
import { AxisBottom, AxisLeft } from "../../plot/Axes";
import { Dots } from "../../plot/Dots";
import { seriesOf } from "../../plot/series";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Readout } from "../../ui/Readout";
import type { Size } from "../../ui/useSize";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { significant, whole } from "../../words/numbers";
import type { Change } from "../useAddress";
import { type ComparePlan, type Lane, planOf } from "./compareLayout";
import { GroupAxis, Legend } from "./GroupAxis";
import { BoxMark, CentreMark, DensityMark, FittedLines, FromZero, Joined, PairLines, ValueLabels } from "./marks";
import { largestApart } from "./spreadApart";
import type { CompareChoices } from "./useCompareChoices";

type ComparePictureProps = {
  table: Table;
  reading: Drawing;
  choices: CompareChoices;
  size: Size;
  numbered: boolean;
  drawing: Ref<SVGSVGElement>;
  change: (changes: Change) => void;
  /** The group at hand, here or in the numbers. */
  marked: number | null;
  onMark: (group: number | null) => void;
  /** Whether there was no room to set points apart. */
  onCrowded?: (crowded: boolean) => void;
};

const REACH = 9;
/** A number from 0 to 1 that is always the same for a row, so that marks keep their place. */
const scatter = (row: number) => ((row * 2_654_435_761) % 4_294_967_296) / 4_294_967_296;

export const labelOf = ({ label, second }: DrawnGroup) => (second ? `${label}, ${second}` : label);

type Spots = { xs: Float64Array; ys: Float64Array; radius: number; crowded: boolean };

/** Where each point lies; those outside of a cut axis or of a hidden group lie nowhere. */
function spotsOf(reading: Drawing, plan: ComparePlan, { points, jitter }: CompareChoices): Spots {
  const { values, positions, of_group: of, groups } = reading;
  const xs = new Float64Array(values.length).fill(Number.NaN);
  const ys = xs.slice();
  const members: number[][] = groups.map(() => []);
  for (let i = 0; i < values.length; i++)
    if (plan.lanes[nth(of, i)] && plan.inside(nth(values, i))) members[nth(of, i)]?.push(i);
  const usual = values.length > 2_000 ? 1.3 : 2.1;
  const spread =
    points === "apart"
      ? largestApart(
          members.map((own, group) => ({
            along: Float64Array.from(own, (i) => plan.value(nth(values, i))),
            room: (plan.lanes[group]?.body.room ?? 0) * 0.96,
          })),
        )
      : null;
  members.forEach((own, group) => {
    const lane = plan.lanes[group];
    if (!lane) return;
    const { off, room } = lane.body;
    own.forEach((i, k) => {
      const aside =
        points === "line" ? 0 : (spread?.places[group]?.[k] ?? (scatter(nth(positions, i)) - 0.5) * room * jitter);
      [xs[i], ys[i]] = plan.spot(lane.at, off + aside, plan.value(nth(values, i)));
    });
  });
  return { xs, ys, radius: spread?.radius ?? usual, crowded: points === "apart" && !spread };
}

/** Groups side by side: points, densities, boxes, centres with bars, in any combination; upright or along. */
export function ComparePicture(props: ComparePictureProps) {
  const { table, reading, choices, size, numbered, drawing, change, marked: group, onMark, onCrowded } = props;
  const { groups, subject, values, positions, of_group: of } = reading;
  const { marks } = choices;
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const [point, setPoint] = useState<number | null>(null);
  const plan = useMemo(() => planOf(reading, choices, size, numbered), [reading, choices, size, numbered]);
  const { lanes, drawn, edge, value, upright } = plan;
  const showPoints = marks.includes("points");
  const spots = useMemo(() => spotsOf(reading, plan, choices), [reading, plan, choices]);
  useEffect(() => onCrowded?.(spots.crowded), [onCrowded, spots.crowded]);
  const chosen = useMemo(() => {
    const at: number[] = [];
    if (selected.size > 0)
      for (let i = 0; i < positions.length; i++)
        if (selected.has(nth(positions, i)) && !Number.isNaN(spots.xs[i])) at.push(i);
    return at;
  }, [selected, positions, spots]);
  const mark = (nextGroup: number | null, nextPoint: number | null = null) => {
    setPoint(nextPoint);
    if (nextGroup !== group) onMark(nextGroup);
  };
  const find = (event: MouseEvent<SVGSVGElement>): [number | null, number | null] => {
    const frame = event.currentTarget.getBoundingClientRect();
    const [mx, my] = [event.clientX - frame.left, event.clientY - frame.top];
    let near: number | null = null;
    let distance = REACH;
    if (showPoints)
      for (let i = 0; i < values.length; i++) {
        const away = Math.hypot(nth(spots.xs, i) - mx, nth(spots.ys, i) - my);
        if (away < distance) [near, distance] = [i, away];
      }
    if (near !== null) return [nth(of, near), near];
    const across = upright ? mx : my;
    const lane = lanes.findIndex((each) => each !== null && Math.abs(across - each.at) <= each.width / 2);
    return [lane < 0 ? null : lane, null];
  };
  const choose = (which: number | null, near: number | null, add: boolean) => {
    if (which === null) return;
    if (near !== null) {
      const row = nth(positions, near);
      select(table.id, [row], `row ${whole(row)}`, add);
      return;
    }
    const rows = Array.from(positions).filter((_, i) => of[i] === which);
    const own = groups[which];
    if (own) select(table.id, rows, labelOf(own), add);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined) {
      const now = group === null ? (step > 0 ? -1 : drawn.length) : drawn.indexOf(group);
      mark(drawn[Math.min(Math.max(now + step, 0), drawn.length - 1)] ?? null);
    } else if ((event.key === "Enter" || event.key === " ") && group !== null) choose(group, point, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const move = (from: number, to: number) => {
    const order = plan.levels.map(({ place }) => place);
    const [taken] = order.splice(from, 1);
    if (taken !== undefined) order.splice(to, 0, taken);
    change({ order: "hand", hand: order.join(" ") });
  };
  const title = titled(named(subject));
  const at = group === null ? null : lanes[group];
  const own = group === null ? undefined : groups[group];
  return (
    <div className="absolute inset-0">
      <svg
        ref={drawing}
        role="application"
        aria-label={`${title} by ${reading.by}: arrows walk the groups, Enter selects their rows`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
        tabIndex={0}
        width={size.width}
        height={size.height}
        onPointerMove={(event) => mark(...find(event))}
        onPointerLeave={() => mark(null)}
        onBlur={() => mark(null)}
        onClick={(event) => choose(...find(event), event.shiftKey || event.ctrlKey || event.metaKey)}
        onKeyDown={onKeyDown}
      >
        {upright ? (
          <AxisLeft scale={value} title={title} x={edge.left} to={size.width - edge.right} />
        ) : (
          <AxisBottom scale={value} title={title} y={size.height - edge.bottom} about={6} />
        )}
        <Marks {...{ reading, plan, choices, spots }} />
        {chosen.length > 0 && showPoints && (
          <Dots
            xs={chosen.map((i) => nth(spots.xs, i))}
            ys={chosen.map((i) => nth(spots.ys, i))}
            radius={3.2}
            className="stroke-accent"
          />
        )}
        <GroupAxis {...{ reading, plan, size }} onMove={plan.number ? null : move} />
        {reading.second && <Legend reading={reading} right={size.width - edge.right} />}
        {at && own && <Guides group={own} lane={at} plan={plan} />}
      </svg>
      {at && own && (
        <Readout
          {...readoutAt(plan, at, own, point === null ? null : [nth(spots.xs, point), nth(spots.ys, point)])}
          room={size.width}
          words={
            point === null
              ? wordsOf(own, subject.unit ? ` ${subject.unit}` : "")
              : [
                  `row ${whole(nth(positions, point))}`,
                  `${significant(nth(values, point), 6)}${subject.unit ? ` ${subject.unit}` : ""}`,
                  labelOf(own),
                ]
          }
        />
      )}
    </div>
  );
}

type MarksProps = { reading: Drawing; plan: ComparePlan; choices: CompareChoices; spots: Spots };

/** All that is drawn of the groups; it stays as it is while the pointer moves. */
const Marks = memo(function Marks({ reading, plan, choices, spots }: MarksProps) {
  const { groups, values, of_group: of } = reading;
  const { lanes, drawn } = plan;
  const { marks } = choices;
  const kindOf = (i: number) => (reading.second ? groups[i]?.second_place : groups[i]?.place) ?? 0;
  const coloured = useMemo(() => {
    const found = new Map<number, { xs: number[]; ys: number[] }>();
    for (let i = 0; i < values.length; i++) {
      if (Number.isNaN(spots.xs[i])) continue;
      const own = groups[nth(of, i)];
      const kind = ((reading.second ? own?.second_place : own?.place) ?? 0) % 8;
      const there = found.get(kind) ?? { xs: [], ys: [] };
      there.xs.push(nth(spots.xs, i));
      there.ys.push(nth(spots.ys, i));
      found.set(kind, there);
    }
    return [...found];
  }, [values, of, groups, reading.second, spots]);
  const top = drawn.reduce(
    (most, i) => (groups[i]?.heights ?? new Float64Array()).reduce((a, b) => Math.max(a, b), most),
    1e-300,
  );
  const each = (draw: (group: DrawnGroup, lane: Lane, i: number) => ReactNode) =>
    drawn.flatMap((i) => {
      const lane = lanes[i];
      return lane ? [draw(nth(groups, i), lane, i)] : [];
    });
  return (
    <>
      {marks.includes("from zero") &&
        !choices.log &&
        each((part, lane, i) => <FromZero key={i} group={part} {...{ lane, plan }} kind={kindOf(i)} />)}
      {marks.includes("violin") &&
        each((part, lane, i) => (
          <DensityMark
            key={i}
            group={part}
            {...{ lane, plan, top }}
            kind={kindOf(i)}
            whole={choices.violin === "whole" || (choices.violin === "facing" && lane.foot === 0)}
          />
        ))}
      {marks.includes("points") &&
        coloured.map(([kind, { xs, ys }]) => (
          <Dots
            key={kind}
            xs={xs}
            ys={ys}
            radius={spots.radius}
            opacity={reading.unit_label || reading.pair_label ? 0.25 : choices.points === "apart" ? 0.8 : 0.45}
            className={seriesOf(kind).stroke}
          />
        ))}
      {reading.pair_label && <PairLines {...{ reading, plan }} />}
      {marks.includes("box") &&
        each((part, lane, i) => (
          <BoxMark key={i} group={part} {...{ lane, plan }} kind={kindOf(i)} rings={!marks.includes("points")} />
        ))}
      {marks.includes("joined") && <Joined {...{ reading, plan }} />}
      <FittedLines {...{ reading, plan }} log={choices.log} />
      {marks.includes("centre") &&
        each((part, lane, i) => <CentreMark key={i} group={part} {...{ lane, plan, choices }} kind={kindOf(i)} />)}
      {choices.decimals !== null && <ValueLabels {...{ reading, plan, choices, kindOf }} />}
    </>
  );
});

function readoutAt(plan: ComparePlan, lane: Lane, group: DrawnGroup, point: [number, number] | null) {
  const [x, y] = point ?? plan.spot(lane.at, 0, plan.held(group.centred.center ?? group.box.median ?? 0));
  return { x, y };
}

/** From the ends and the centre of the group at hand to the axis, with their numbers: what the bar is, read off. */
function Guides({ group, lane, plan }: { group: DrawnGroup; lane: Lane; plan: ComparePlan }) {
  const { low, center, high } = group.centred;
  const ends = [low, center, high].filter((end): end is number => end !== null && plan.inside(end));
  const [from, to] = plan.value.range();
  return (
    <g data-screen-only className="figures pointer-events-none text-small">
      <path
        d={plan.upright ? `M${lane.at} ${from}V${to}` : `M${from} ${lane.at}H${to}`}
        strokeWidth={lane.width}
        className="stroke-accent"
        opacity={0.06}
      />
      {ends.map((end, i) => {
        const along = plan.value(end);
        const [x, y] = plan.spot(lane.at, 0, along);
        const foot = plan.upright ? plan.edge.left : from;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: low, centre and high, which may be equal
          <g key={i} data-guide={end}>
            <path
              d={plan.upright ? `M${foot} ${y}H${x}` : `M${x} ${y}V${plan.edge.top}`}
              strokeDasharray="2 3"
              className="stroke-accent"
            />
          </g>
        );
      })}
    </g>
  );
}

function wordsOf(group: DrawnGroup, unit: string): string[] {
  const { centred } = group;
  const limits =
    centred.low === null || centred.high === null
      ? (centred.undefined.low ?? "no bar")
      : `${significant(centred.low, 4)} to ${significant(centred.high, 4)}${unit}`;
  return [
    labelOf(group),
    `n ${whole(centred.n)}${centred.n_missing > 0 ? `, ${whole(centred.n_missing)} missing` : ""}`,
    centred.center === null ? (centred.undefined.center ?? "none") : `${significant(centred.center, 4)}${unit}`,
    limits,
  ];
}
