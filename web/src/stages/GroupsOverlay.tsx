import { type KeyboardEvent, type MouseEvent, type PointerEvent, useMemo, useState } from "react";
import type { Table } from "../api/studies";
import { axesOf, type PanelPlan } from "../figure/layout";
import { markPath } from "../figure/look";
import { heightAt, shifted } from "../figure/paths";
import { useSelectedRows, useSelection } from "../state/selection";
import { Readout } from "../ui/Readout";
import { nth } from "../values";
import { significant, whole } from "../words/numbers";
import { InPlace } from "./InPlace";
import type { Renaming } from "./useRenaming";

/** What is said of a group at hand, and which values are read off the axis. */
export type GroupWords = { name: string; words: string[]; ends: (number | null)[] };

type GroupsOverlayProps = {
  table: Table;
  plan: PanelPlan;
  label: string;
  unit: string;
  /** Of a group, by its place in the reading. */
  wordsOf: (group: number, label: string) => GroupWords | null;
  /** The group at hand, here or in the numbers. */
  marked: number | null;
  onMark: (group: number | null) => void;
  /** Select the rows of a group. */
  onChoose?: (group: number, label: string, add: boolean) => void;
  /** A level was dragged from its place to another, among those drawn. */
  onMove?: (from: number, to: number) => void;
  /** How the names of levels are changed where they stand. */
  renaming?: Renaming | undefined;
};

const REACH = 9;

/** Where each point lies on the paper, with its row and its value; those outside of the axes lie nowhere. */
function spotsOf(plan: PanelPlan, upright: boolean) {
  const spots: { x: number; y: number; row: number; value: number }[] = [];
  for (const layer of plan.scene.layers) {
    if (layer.form !== "points" || layer.rows.length === 0) continue;
    const { across, up } = axesOf(plan, layer);
    for (let i = 0; i < layer.x.length; i++) {
      const [a, b] = [nth(layer.x, i), nth(layer.y, i)];
      if (a < across.low || a > across.high || b < up.low || b > up.high) continue;
      spots.push({ x: across.place(a), y: up.place(b), row: nth(layer.rows, i), value: upright ? b : a });
    }
  }
  return spots;
}

/** Of curves on one foot, the group of the one nearest to a place; null where none is drawn there. */
function curveAt({ scene, across, up }: PanelPlan, upright: boolean, x: number, y: number): number | null {
  const [value, heights] = upright ? [up, across] : [across, up];
  const [along, off] = upright ? [y, x] : [x, y];
  let best: number | null = null;
  let distance = Number.POSITIVE_INFINITY;
  for (const layer of scene.layers) {
    if (layer.role !== "density" || layer.strip != null) continue;
    const lane = scene.lanes.find(({ label }) => label === layer.series);
    const height = heightAt(upright ? layer.y : layer.x, upright ? layer.x : layer.y, value.invert(along));
    if (!lane || height === null) continue;
    const away = Math.abs(heights.place(height) - off);
    if (away < distance) [best, distance] = [lane.group, away];
  }
  return best;
}

/** Over a picture of groups: what is under the pointer, read off and selected; groups walked and levels dragged. */
export function GroupsOverlay(props: GroupsOverlayProps) {
  const { table, plan, label, unit, wordsOf, marked, onMark, onChoose, onMove, renaming } = props;
  const { area, scene, frame } = plan;
  const { source } = plan.panel;
  const upright = "upright" in source && source.upright !== false && scene.up.kind !== "levels";
  const [along, value] = upright ? [plan.across, plan.up] : [plan.up, plan.across];
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const spots = useMemo(() => spotsOf(plan, upright), [plan, upright]);
  const [point, setPoint] = useState<number | null>(null);
  const [named, setNamed] = useState<{ lane: number; typed: string; problem: string } | null>(null);
  const [held, setHeld] = useState<{ from: number; to: number } | null>(null);
  const lanes = scene.lanes;
  const onOneFoot = lanes.length > 0 && lanes.every(({ width }) => width === 0);
  const middleOf = (i: number) => along.place(nth(lanes, i).at);
  const widthOf = (i: number) => Math.abs(along.place(nth(lanes, i).width) - along.place(0));
  const laneOf = lanes.findIndex(({ group }) => group === marked);
  const mark = (group: number | null, near: number | null = null) => {
    setPoint(near);
    if (group !== marked) onMark(group);
  };
  const at = (event: MouseEvent<HTMLDivElement>): [number, number] => {
    const room = event.currentTarget.getBoundingClientRect();
    return [event.clientX - room.left, event.clientY - room.top];
  };
  const laneAt = (x: number, y: number) => {
    if (onOneFoot) return curveAt(plan, upright, x, y);
    const place = upright ? x : y;
    const i = lanes.findIndex((_, k) => Math.abs(place - middleOf(k)) <= widthOf(k) / 2);
    return i < 0 ? null : nth(lanes, i).group;
  };
  const find = (event: MouseEvent<HTMLDivElement>): [number | null, number | null] => {
    const [x, y] = at(event);
    let near: number | null = null;
    let distance = REACH;
    for (let i = 0; i < spots.length; i++) {
      const spot = nth(spots, i);
      const away = Math.hypot(spot.x - x, spot.y - y);
      if (away < distance) [near, distance] = [i, away];
    }
    const inside = x >= area.x && x <= area.x + area.width && y >= area.y && y <= area.y + area.height;
    if (near !== null) return [laneAt(nth(spots, near).x, nth(spots, near).y), near];
    return [inside ? laneAt(x, y) : null, null];
  };
  const choose = (group: number | null, near: number | null, add: boolean) => {
    if (near !== null) {
      const { row } = nth(spots, near);
      select(table.id, [row], `row ${whole(row)}`, add);
    } else if (group !== null) {
      const lane = lanes.find((lane_) => lane_.group === group);
      if (lane) onChoose?.(group, lane.label, add);
    }
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined) {
      const order = [...lanes].map((_, i) => i).sort((a, b) => middleOf(a) - middleOf(b));
      const now = laneOf < 0 ? (step > 0 ? -1 : order.length) : order.indexOf(laneOf);
      const next = order[Math.min(Math.max(now + step, 0), order.length - 1)];
      mark(next === undefined ? null : nth(lanes, next).group);
    } else if (event.key === "F2") beginNaming(laneOf);
    else if ((event.key === "Enter" || event.key === " ") && marked !== null) choose(marked, point, event.shiftKey);
    else return;
    event.preventDefault();
  };
  // Names of levels stand outside of the data, and can be held there.
  const levels = useMemo(() => {
    const result = new Map<number, number[]>();
    for (const { level, at: place } of lanes) result.set(level, [...(result.get(level) ?? []), along.place(place)]);
    return [...result].map(([level, places]) => ({ level, at: places.reduce((a, b) => a + b, 0) / places.length }));
  }, [lanes, along]);
  const levelAt = (place: number) =>
    levels.reduce(
      (best, level) => (Math.abs(level.at - place) < Math.abs(best.at - place) ? level : best),
      nth(levels, 0),
    ).level;
  const room = levels.length > 1 ? Math.abs(nth(levels, 1).at - nth(levels, 0).at) : 60;
  const onNames = ([x, y]: [number, number]) => (upright ? y > area.y + area.height : x < area.x);
  const down = (event: PointerEvent<HTMLDivElement>) => {
    const spot = at(event);
    if (!onMove || levels.length < 2 || !onNames(spot) || along.kind !== "levels") return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const from = levelAt(upright ? spot[0] : spot[1]);
    setHeld({ from, to: from });
  };
  const move = (event: PointerEvent<HTMLDivElement>) => {
    if (!held) return mark(...find(event));
    const spot = at(event);
    setHeld({ ...held, to: levelAt(upright ? spot[0] : spot[1]) });
  };
  const nameOf = (lane: number) => (upright ? scene.across : scene.up).levels[Math.round(nth(lanes, lane).at)] ?? "";
  const beginNaming = (lane: number) => {
    if (lane < 0 || along.kind !== "levels" || !renaming?.can(nameOf(lane))) return;
    setHeld(null);
    setNamed({ lane, typed: nameOf(lane), problem: "" });
  };
  const rename = (words: string | null) => {
    if (!named || words === null || words.trim() === nameOf(named.lane)) return setNamed(null);
    renaming?.rename(nameOf(named.lane), nth(lanes, named.lane).group, words.trim()).then(
      () => setNamed(null),
      (error: Error) => setNamed({ ...named, typed: words, problem: error.message }),
    );
  };
  const drop = () => {
    if (held && held.to !== held.from) onMove?.(held.from, held.to);
    setHeld(null);
  };
  const own = marked === null || laneOf < 0 ? null : wordsOf(marked, nth(lanes, laneOf).label);
  const spot = point === null ? null : (spots[point] ?? null);
  const readAt = (end: number) => Math.min(Math.max(end, value.low), value.high);
  const target = held && levels.find(({ level }) => level === held.to);
  const chosen = selected.size === 0 ? [] : spots.filter(({ row }) => selected.has(row));
  const centre = own?.ends.find((end) => end !== null) ?? null;
  const anchor =
    spot ??
    (laneOf >= 0
      ? upright
        ? { x: middleOf(laneOf), y: centre === null ? area.y + area.height / 2 : value.place(readAt(centre)) }
        : { x: centre === null ? area.x + area.width / 2 : value.place(readAt(centre)), y: middleOf(laneOf) }
      : null);
  return (
    <div
      role="application"
      aria-label={label}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is one tab stop
      tabIndex={0}
      className={`absolute inset-0 touch-none ${held ? "cursor-grabbing" : ""}`}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={() => setHeld(null)}
      onPointerLeave={() => mark(null)}
      onBlur={() => mark(null)}
      onClick={(event) => {
        if (!onNames(at(event))) choose(...find(event), event.shiftKey || event.ctrlKey || event.metaKey);
      }}
      onDoubleClick={(event) => {
        const spot = at(event);
        if (!onNames(spot) || levels.length === 0) return;
        const level = levelAt(upright ? spot[0] : spot[1]);
        beginNaming(lanes.findIndex((lane) => lane.level === level));
      }}
      onKeyDown={onKeyDown}
    >
      <svg aria-hidden="true" className="pointer-events-none absolute inset-0 h-full w-full">
        {target && (
          <path
            d={
              upright
                ? `M${target.at} ${area.y}V${area.y + area.height}`
                : `M${frame.x + 6} ${target.at}H${area.x + area.width}`
            }
            strokeWidth={room * 0.86}
            className="stroke-accent"
            opacity={0.1}
          />
        )}
        {laneOf >= 0 && (
          <path
            d={
              upright
                ? `M${middleOf(laneOf)} ${area.y}V${area.y + area.height}`
                : `M${area.x} ${middleOf(laneOf)}H${area.x + area.width}`
            }
            strokeWidth={widthOf(laneOf)}
            className="stroke-accent"
            opacity={0.06}
          />
        )}
        {laneOf >= 0 &&
          own?.ends.map((end, i) => {
            if (end === null || end < value.low || end > value.high) return null;
            const place = value.place(end);
            return (
              <path
                // biome-ignore lint/suspicious/noArrayIndexKey: centre, low and high, which may be equal
                key={i}
                data-guide={end}
                d={
                  upright
                    ? `M${area.x} ${place}H${middleOf(laneOf)}`
                    : `M${place} ${middleOf(laneOf)}V${area.y + area.height}`
                }
                strokeDasharray="2 3"
                className="stroke-accent"
              />
            );
          })}
        {chosen.length > 0 && (
          <path
            data-dots="selected"
            d={chosen.map(({ x, y }) => shifted(markPath(0, 1), x, y, 3.2)).join("")}
            className="fill-accent"
          />
        )}
      </svg>
      {named && (
        <InPlace
          key={named.problem}
          label={`Name of ${nameOf(named.lane)}`}
          text={named.typed}
          problem={named.problem || undefined}
          place={
            upright
              ? { left: middleOf(named.lane) - room / 2, top: area.y + area.height + 4, width: room }
              : { left: frame.x, top: middleOf(named.lane) - 10, width: area.x - frame.x }
          }
          onDone={rename}
          onUsual={renaming?.putsBack ? () => rename("") : undefined}
        />
      )}
      {anchor && (own || spot) && (
        <Readout
          x={anchor.x}
          y={anchor.y}
          room={frame.width}
          words={
            spot
              ? [
                  `row ${whole(spot.row)}`,
                  `${significant(spot.value, 6)}${unit ? ` ${unit}` : ""}`,
                  ...(own ? [own.name] : []),
                ]
              : (own?.words ?? [])
          }
        />
      )}
    </div>
  );
}
