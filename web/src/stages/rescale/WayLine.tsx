import { useQuery } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { TAKES } from "../../api/choices.gen";
import type { Way } from "../../api/ledger";
import { countsOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, keysOf } from "../../values";
import { about } from "../../words/kinds";
import { typed as numberTyped, readNumber } from "../../words/numbers";
import { canSplit } from "../spread/Sentence";

type LineProps<T> = { table: Table; variable: Variable; way: T; onWay: (way: Way) => void };
export type PercentWay = Extract<Way, { how: "percent" }>;
export type AlongWay = Extract<Way, { how: "along" }>;

export function LineFrame({ children }: { children: ReactNode }) {
  return (
    <div className="mb-3 rounded-card border border-line bg-raised px-3.5 py-2.5 font-serif text-lead">{children}</div>
  );
}

const others = (table: Table, variable: Variable) =>
  table.variables.filter((other) => other.symbol !== variable.symbol);
const named = (table: Table, symbol: string | null | undefined) =>
  table.variables.find((variable) => variable.symbol === symbol)?.label ?? "";

/** Within the levels of which variable each baseline, or each order, stands. */
function WithinWord({ table, variable, way, onWay }: LineProps<PercentWay | AlongWay>) {
  const ids = others(table, variable).filter((other) => canSplit(other) || other.kind === "identifier");
  return (
    <WordChoice
      label="Within"
      shown={way.within ? `within each ${named(table, way.within)}` : "over all rows"}
      value={way.within ?? ""}
      options={[
        { value: "", label: "over all rows" },
        ...ids.map((other) => ({ value: other.symbol, label: `within each ${other.label}`, note: about(other) })),
      ]}
      onChoose={(within) => onWay({ ...way, within: within || null })}
    />
  );
}

export type ScaleWay = Extract<Way, { how: "scale" }>;

/** The number that a scale takes: what is added before a logarithm, or the value that becomes 0. */
export function NumberLine({ way, onWay }: { way: ScaleWay; onWay: (way: Way) => void }) {
  const { setting } = way;
  const number = setting.way === "log" ? setting.offset : setting.way === "centre" ? setting.at : "";
  const [typed, setTyped] = useState(typeof number === "number" ? numberTyped(number) : "");
  if (typeof number !== "number" || (setting.way === "log" && number === 0)) return null;
  const show = (event: FormEvent) => {
    event.preventDefault();
    const value = readNumber(typed);
    if (value === null) return;
    if (setting.way === "log") onWay({ how: "scale", setting: { ...setting, offset: value } });
    if (setting.way === "centre") onWay({ how: "scale", setting: { ...setting, at: value } });
  };
  return (
    <LineFrame>
      <form onSubmit={show} className="flex items-center gap-2">
        {setting.way === "log" ? "Added before the logarithm:" : "The value that becomes 0:"}
        <input
          aria-label={setting.way === "log" ? "Added before the logarithm" : "The value that becomes 0"}
          inputMode="decimal"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className="figures min-h-7 w-28 rounded-lg border border-line-strong/60 bg-surface px-2 font-sans"
        />
        <Button type="submit">Set</Button>
      </form>
    </LineFrame>
  );
}

const CENTRES = { mean: "mean", median: "median" } as const;
const ROW = "a row";

/** What counts as 100 %. */
export function PercentLine({ table, variable, way, onWay }: LineProps<PercentWay>) {
  const groups = others(table, variable).filter(canSplit);
  const counts = useQuery({ ...countsOf(table, way.by ?? ""), enabled: Boolean(way.by) && !way.row });
  const levels = counts.data?.counts.rows.map(({ value }) => String(value)) ?? [];
  const setBy = (by: string) => {
    const first = table.variables.find((variable) => variable.symbol === by)?.levels[0];
    onWay(
      by === ROW
        ? { how: "percent", row: 1, centre: "mean", within: null }
        : { ...way, row: null, by, level: first ?? "" },
    );
  };
  return (
    <LineFrame>
      100 % is{" "}
      {way.row ? null : (
        <>
          the{" "}
          <WordChoice
            label="Centre"
            shown={way.centre}
            value={way.centre}
            options={choicesOf(CENTRES)}
            onChoose={(centre) => onWay({ ...way, centre })}
          />{" "}
          of rows with{" "}
        </>
      )}
      <WordChoice
        label="Baseline of"
        shown={way.row ? "the value in row" : named(table, way.by)}
        value={way.row ? ROW : (way.by ?? "")}
        options={[
          ...groups.map((other) => ({ value: other.symbol, label: other.label, note: about(other) })),
          { value: ROW, label: "the value in a row", note: "one row of the table" },
        ]}
        onChoose={setBy}
      />{" "}
      {way.row ? (
        <input
          aria-label="Row of the baseline"
          type="number"
          min={1}
          max={table.n_rows}
          value={way.row}
          onChange={(event) => {
            const row = Number(event.target.value);
            if (Number.isInteger(row) && row >= 1) onWay({ ...way, row });
          }}
          className="figures min-h-7 w-24 rounded-lg border border-line-strong/60 bg-surface px-2 font-sans"
        />
      ) : (
        <>
          <WordChoice
            label="Level"
            shown={way.level || "choose a level"}
            value={way.level ?? ""}
            options={levels.map((level) => ({ value: level, label: level }))}
            onChoose={(level) => onWay({ ...way, level })}
          />
          , <WithinWord {...{ table, variable, way, onWay }} />
        </>
      )}
      .
    </LineFrame>
  );
}

/** Which row before, and what is taken of it. */
export function AlongLine({ table, variable, way, onWay }: LineProps<AlongWay>) {
  const orders = others(table, variable).filter(({ kind }) => kind !== "text" && kind !== "category");
  return (
    <LineFrame>
      The{" "}
      <WordChoice
        label="Taken"
        shown={TAKES[way.take].label}
        value={way.take}
        options={keysOf(TAKES).map((value) => ({ value, label: `${TAKES[value].label} the row before` }))}
        onChoose={(take) => onWay({ ...way, take })}
      />{" "}
      the row{" "}
      <input
        aria-label="Rows before"
        type="number"
        min={1}
        max={10_000}
        value={way.steps}
        onChange={(event) => {
          const steps = Number(event.target.value);
          if (Number.isInteger(steps) && steps >= 1 && steps <= 10_000) onWay({ ...way, steps });
        }}
        className="figures min-h-7 w-16 rounded-lg border border-line-strong/60 bg-surface px-2 font-sans"
      />{" "}
      before, in the order of{" "}
      <WordChoice
        label="Order"
        shown={way.order ? named(table, way.order) : "the rows"}
        value={way.order ?? ""}
        options={[
          { value: "", label: "the rows", note: "as they came" },
          ...orders.map((other) => ({ value: other.symbol, label: other.label, note: about(other) })),
        ]}
        onChoose={(order) => onWay({ ...way, order: order || null })}
      />
      , <WithinWord {...{ table, variable, way, onWay }} />.
    </LineFrame>
  );
}
