import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import type { Way } from "../../api/ledger";
import { type Spread, triedOf } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { nth } from "../../values";
import { counted, readNumber, significant, typed, whole } from "../../words/numbers";
import { LineFrame } from "./WayLine";

export type RangesWay = Extract<Way, { how: "classes" }>;
type Range = { from: string; label: string };

/** The boundaries and labels of a way; before one is set, three ranges of about as many rows each. */
function rangesOf({ boundaries, names }: RangesWay, spread: Spread): { ranges: Range[]; upTo: string } {
  const { minimum, q1, q3, maximum } = spread.summary;
  const usual = [...new Set([minimum, q1, q3, maximum].flatMap((value) => (value === null ? [] : [value])))];
  const edges = boundaries.length > 1 ? boundaries : usual;
  return {
    ranges: edges.slice(0, -1).map((edge, i) => ({
      from: typed(edge, boundaries.length > 1 ? 15 : 6),
      label: names?.[i] ?? (boundaries.length > 1 ? "" : (["low", "middle", "high"][i] ?? "")),
    })),
    upTo: edges.length > 0 ? typed(nth(edges, edges.length - 1)) : "",
  };
}

type RangesLineProps = { spread: Spread; way: RangesWay; onWay: (way: Way) => void };

/** Ranges of a number, each with the label it is given; equal labels become one level. */
export function RangesLine({ spread, way, onWay }: RangesLineProps) {
  const started = rangesOf(way, spread);
  const [ranges, setRanges] = useState(started.ranges);
  const [upTo, setUpTo] = useState(started.upTo);
  const [others, setOthers] = useState(way.others ?? "");
  const [wrong, setWrong] = useState("");
  const set = (place: number, change: Partial<Range>) =>
    setRanges(ranges.map((range, i) => (i === place ? { ...range, ...change } : range)));
  const show = (event: FormEvent) => {
    event.preventDefault();
    const boundaries = [...ranges.map(({ from }) => from), upTo].map((text) => readNumber(text) ?? Number.NaN);
    const bad = boundaries.findIndex(
      (edge, i) => !Number.isFinite(edge) || (i > 0 && edge <= (boundaries[i - 1] ?? 0)),
    );
    if (bad >= 0) {
      setWrong(`Boundary ${bad + 1} must be a number above the one before it.`);
      return;
    }
    setWrong("");
    const given = ranges.map(({ label }) => label.trim());
    onWay({
      how: "classes",
      boundaries,
      closed: way.closed,
      names: given.some(Boolean) ? given.map((label, i) => label || `from ${boundaries[i]}`) : null,
      others: others.trim() || null,
    });
  };
  return (
    <LineFrame>
      <form onSubmit={show} className="flex flex-wrap items-end gap-x-3 gap-y-2 font-sans text-body">
        {ranges.map((range, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a range is its place
          <span key={place} className="flex items-end gap-1">
            <Field
              label={`From ${place + 1}`}
              inputMode="decimal"
              className="w-20!"
              value={range.from}
              onChange={(event) => set(place, { from: event.target.value })}
            />
            <Field
              label={`Label ${place + 1}`}
              maxLength={200}
              className="w-28!"
              value={range.label}
              onChange={(event) => set(place, { label: event.target.value })}
            />
            {ranges.length > 1 && (
              <Button
                look="link"
                aria-label={`Remove range ${place + 1}`}
                onClick={() => setRanges(ranges.filter((_, i) => i !== place))}
              >
                −
              </Button>
            )}
          </span>
        ))}
        <Field
          label="Up to"
          inputMode="decimal"
          className="w-20!"
          value={upTo}
          onChange={(event) => setUpTo(event.target.value)}
        />
        <Field
          label="All others"
          maxLength={200}
          placeholder="no label: missing"
          value={others}
          onChange={(event) => setOthers(event.target.value)}
        />
        <Button
          onClick={() => {
            setRanges([...ranges, { from: upTo, label: "" }]);
            setUpTo("");
          }}
        >
          Another range
        </Button>
        <Button type="submit" look="primary">
          Show
        </Button>
      </form>
      {wrong && <Notice problem={wrong} className="mt-2 font-sans text-body" />}
    </LineFrame>
  );
}

/** How many rows each label would have. */
export function RangesCard({ table, symbol, way }: { table: Table; symbol: string; way: RangesWay }) {
  const { data: tried } = useQuery({
    ...triedOf(table, symbol, JSON.stringify(way)),
    enabled: way.boundaries.length > 1,
  });
  const most = Math.max(1, ...(tried?.level_counts.map((count) => count ?? 0) ?? []));
  return (
    <Card title="After: ranges with labels" className="min-h-[320px]">
      <ul className="flex flex-col gap-1.5 p-3.5">
        {tried?.levels.map((level, i) => {
          const count = tried.level_counts[i] ?? 0;
          return (
            <li key={level} className="grid grid-cols-[8rem_1fr_4rem] items-center gap-2">
              <span className="truncate" title={level}>
                {level}
              </span>
              <svg aria-hidden="true" height={14} width="100%" preserveAspectRatio="none" viewBox="0 0 100 14">
                <rect width={(100 * count) / most} height={14} className="fill-blocks-strong" />
              </svg>
              <span className="figures text-right">{whole(count)}</span>
            </li>
          );
        })}
      </ul>
      {!tried && (
        <p className="p-6 text-center font-serif text-lead text-muted-ink">
          Type where each range begins and what it is called, then Show: how many rows each label has stands here.
        </p>
      )}
      {tried && (
        <p className="px-3.5 pb-3 text-muted-ink">
          {counted(tried.n, "row")} with a label
          {tried.n_lost > 0 && `; ${counted(tried.n_lost, "value")} outside all ranges would count as missing`}. A range
          holds its lower end
          {way.boundaries.length > 1 && `; the last one ${significant(way.boundaries.at(-1) ?? 0, 6)} too`}.
        </p>
      )}
    </Card>
  );
}
