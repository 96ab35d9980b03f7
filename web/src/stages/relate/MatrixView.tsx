import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { type Matrix, pairReading } from "../../api/relate";
import type { Table } from "../../api/studies";
import { inkOn, rampColour } from "../../plot/ramps";
import { SmallScatter } from "../../plot/SmallScatter";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { Notice } from "../../ui/Notice";
import { TakeTable } from "../../ui/TakeTable";
import { eachOf } from "../../values";
import { counted, fixed, whole } from "../../words/numbers";
import { KeepPlate } from "../plates/KeepPlate";
import { KeepTable } from "../tables/KeepTable";
import type { Change } from "../useAddress";
import type { RelateChoices } from "./useRelateChoices";

type MatrixViewProps = {
  table: Table;
  symbols: string[];
  choices: RelateChoices;
  change: (changes: Change) => void;
};

const MISSING = {
  apart: "each pair for itself",
  alike: "rows complete in all",
  partial: "given all the others",
} as const;
const written = (value: number | null) => (value === null ? "none" : fixed(Math.abs(value) < 0.005 ? 0 : value, 2));

/** Each variable with each: small scatters below, coefficients above. */
export function MatrixView({ table, symbols, choices, change }: MatrixViewProps) {
  const { data: result, error } = useQuery({
    ...pairReading("matrix", table, {
      variables: symbols,
      ...(choices.alike ? { alike: true } : {}),
      ...(choices.partial ? { partial: true } : {}),
    }),
    placeholderData: keepPreviousData,
    enabled: symbols.length > 1,
  });
  if (symbols.length < 2)
    return <p className="m-auto font-serif text-lead text-muted-ink">Choose two variables or more.</p>;
  if (error) return <Notice problem={error.message} className="m-3" />;
  if (!result) return null;
  const k = result.subjects.length;
  const cellOf = (i: number, j: number) =>
    result.cells.find(({ first, second }) => first === Math.max(i, j) && second === Math.min(i, j));
  const open = (i: number, j: number) =>
    change({ view: null, variable: result.subjects[i]?.symbol ?? "", x: result.subjects[j]?.symbol ?? "" });
  const head = ["pair", "n", "Pearson", "from", "to", "Spearman"];
  const body = result.cells.map(({ first, second, n_pairs: n, pearson, spearman, low, high }) => [
    `${result.subjects[first]?.label} and ${result.subjects[second]?.label}`,
    whole(n),
    written(pearson),
    written(low),
    written(high),
    written(spearman),
  ]);
  return (
    <Card
      help="every-pair"
      title="Every pair"
      className="min-h-[520px] flex-1"
      aside={
        <span className="flex items-center gap-3">
          <Choices
            label="Correlations of"
            options={MISSING}
            chosen={choices.partial ? "partial" : choices.alike ? "alike" : "apart"}
            onChoose={(next) =>
              change({ alike: next === "alike" ? "yes" : null, partial: next === "partial" ? "yes" : null })
            }
          />
          <KeepPlate />
          {!choices.partial && !choices.alike && (
            <KeepTable
              name="Correlations"
              source={{ kind: "correlations", table: table.id, variables: result.subjects.map(({ symbol }) => symbol) }}
            />
          )}
          <TakeTable name={`${table.name} correlations`} table={() => ({ head, body })} />
        </span>
      }
      footer={
        <span>
          {choices.partial &&
            `Partial correlations: of each pair, given ${k === 3 ? "the other variable" : `the other ${k - 2} variables`}. `}
          {choices.alike || choices.partial
            ? `Missing values are handled alike: ${counted(result.n_rows, "row")} complete in all ${k} variables.`
            : "Each pair uses the rows that have both values; n differs."}{" "}
          Above: Pearson&apos;s r, its 95 % limits, Spearman&apos;s below it; below: up to 400 pairs. Any picture opens
          its pair.
        </span>
      }
    >
      <div
        className="grid min-h-0 flex-1 gap-1 p-3"
        style={{
          gridTemplateColumns: `repeat(${k}, minmax(0, 1fr))`,
          gridTemplateRows: `repeat(${k}, minmax(0, 1fr))`,
        }}
      >
        {Array.from({ length: k * k }, (_, place) => {
          const [i, j] = [Math.floor(place / k), place % k];
          const key = `${i} ${j}`;
          if (i === j)
            return (
              <span
                key={key}
                className="flex items-center justify-center overflow-hidden rounded-md bg-surface p-1 text-center font-semibold"
              >
                {result.subjects[i]?.label}
              </span>
            );
          const cell = cellOf(i, j);
          return i > j ? (
            <MatrixScatter key={key} {...{ found: result, i, j }} onOpen={() => open(i, j)} />
          ) : (
            <Coefficient key={key} cell={cell} />
          );
        })}
      </div>
    </Card>
  );
}

function Coefficient({ cell }: { cell: Matrix["cells"][number] | undefined }) {
  const r = cell?.pearson ?? null;
  const colour = r === null ? "transparent" : rampColour("diverging", 0.5 - 0.42 * r);
  const ink = r === null ? {} : { color: inkOn(colour) };
  return (
    <span
      className="figures flex flex-col items-center justify-center overflow-hidden rounded-md border border-line p-1 text-center"
      style={{ background: colour, ...ink }}
    >
      <strong>{written(r)}</strong>
      <span className="text-small">
        {cell && cell.low !== null ? `${written(cell.low)} to ${written(cell.high)}` : cell?.why}
      </span>
      <span className="text-small">{cell ? `${written(cell.spearman)}, n ${whole(cell.n_pairs)}` : ""}</span>
    </span>
  );
}

type MatrixScatterProps = { found: Matrix; i: number; j: number; onOpen: () => void };

function MatrixScatter({ found, i, j, onOpen }: MatrixScatterProps) {
  const n = found.positions.length;
  const [u, v] = useMemo(
    () => eachOf([j, i], (place) => found.values.subarray(place * n, (place + 1) * n)),
    [found, i, j, n],
  );
  return (
    <button
      type="button"
      aria-label={`${found.subjects[i]?.label} against ${found.subjects[j]?.label}: open this pair`}
      className="flex min-h-0 rounded-md border border-line p-0.5 hover:border-line-strong"
      onClick={onOpen}
    >
      <SmallScatter x={u} y={v} />
    </button>
  );
}
