import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { intervalsOf, type Spread } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { decimalsFor, fixed } from "../../words/numbers";
import { unitOf } from "./classWords";

const METHODS = { normal: "if normal", "distribution-free": "by order statistics" } as const;

/** Within which limits a share of the population lies, with and without a normal distribution. */
export function IntervalsChoice({ table, spread }: { table: Table; spread: Spread }) {
  const [open, setOpen] = useState(false);
  const [share, setShare] = useState("95");
  const [level, setLevel] = useState("95");
  const [percent, setPercent] = useState("50");
  const parts = [Number(share) / 100, Number(level) / 100] as const;
  const point = Number(percent);
  const sound = parts.every((part) => part >= 0.5 && part <= 0.999) && point > 0 && point < 100;
  const { data } = useQuery({
    ...intervalsOf(table, spread.subject.symbol, ...parts, point),
    enabled: open && sound,
    placeholderData: keepPreviousData,
  });
  const decimals = decimalsFor(spread.subject.decimals, spread.summary.sd);
  const write = (value: number) => fixed(value, decimals);
  const between = (low: number | null, high: number | null) =>
    low === null || high === null ? null : `${write(low)} to ${write(high)}`;
  return (
    <Floating
      label="Limits that hold a share"
      align="end"
      open={open}
      onOpenChange={setOpen}
      className="w-96 p-3.5"
      trigger={
        <Button look="word" className="text-small!">
          intervals
        </Button>
      }
    >
      <h3 className="text-lead">
        Tolerance interval{unitOf(spread.subject.unit) && `,${unitOf(spread.subject.unit)}`}
      </h3>
      <div className="my-1.5 flex gap-2">
        <Field
          label="Holds at least (%)"
          type="number"
          min={50}
          max={99.9}
          step="any"
          value={share}
          onChange={(event) => setShare(event.target.value)}
        />
        <Field
          label="with confidence (%)"
          type="number"
          min={50}
          max={99.9}
          step="any"
          value={level}
          onChange={(event) => setLevel(event.target.value)}
        />
      </div>
      <dl className="figures">
        {data?.tolerance.map((interval) => (
          <div key={interval.method} className="flex justify-between gap-3 py-0.5">
            <dt className="text-muted-ink">{METHODS[interval.method]}</dt>
            <dd className="text-right font-semibold">
              {between(interval.low, interval.high) ?? <span className="font-normal">{interval.undefined.low}</span>}
              {interval.achieved !== null && (
                <span className="block font-normal text-muted-ink text-small">
                  confidence {fixed(100 * interval.achieved, 1)} %
                </span>
              )}
            </dd>
          </div>
        ))}
      </dl>
      <h3 className="mt-3 border-line border-t pt-2 text-lead">Reference interval, the middle 95 %</h3>
      <dl className="figures">
        {data?.reference.map((interval) => (
          <div key={interval.method} className="flex justify-between gap-3 py-0.5">
            <dt className="text-muted-ink">{METHODS[interval.method]}</dt>
            <dd className="text-right font-semibold">
              {between(interval.low, interval.high) ?? <span className="font-normal">{interval.undefined.low}</span>}
              {interval.low !== null && (
                <span className="block font-normal text-muted-ink text-small">
                  {interval.low_from === null
                    ? interval.undefined.low_from
                    : `ends within ${between(interval.low_from, interval.low_to)}; ${between(interval.high_from, interval.high_to)} (${fixed(100 * interval.level, 0)} %)`}
                </span>
              )}
            </dd>
          </div>
        ))}
      </dl>
      <div className="mt-3 flex items-end justify-between gap-2 border-line border-t pt-2">
        <h3 className="text-lead">Numbers with limits</h3>
        <Field
          label="Percent point"
          type="number"
          min={0}
          max={100}
          step="any"
          className="w-24!"
          value={percent}
          onChange={(event) => setPercent(event.target.value)}
        />
      </div>
      <dl className="figures">
        {data?.surely.map((told) => {
          const unitless = told.name === "coefficient of variation" || told.name === "skewness";
          const number = (value: number) => (unitless ? fixed(value, 3) : write(value));
          return (
            <div key={told.name} className="flex justify-between gap-3 py-0.5">
              <dt className="text-muted-ink">{told.name}</dt>
              <dd className="text-right font-semibold">
                {told.estimate !== null && number(told.estimate)}
                <span className="block font-normal text-muted-ink text-small">
                  {told.low === null || told.high === null
                    ? told.undefined.low
                    : `${number(told.low)} to ${number(told.high)}${told.achieved === null ? ", resampled" : `, confidence ${fixed(100 * told.achieved, 1)} %`}`}
                </span>
              </dd>
            </div>
          );
        })}
      </dl>
      <p className="mt-2 text-muted-ink text-small">
        The first two are intervals for a share of the population, not for its mean. Hahn and Meeker (1991); order
        statistics need no distribution, but many values.
      </p>
    </Floating>
  );
}
