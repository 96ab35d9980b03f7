import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { type BoardReading, type Cell, type FitScale, pairReading } from "../../api/relate";
import { SmallScatter } from "../../plot/SmallScatter";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { nth } from "../../values";
import { fixed, whole } from "../../words/numbers";
import { LongWork } from "../LongWork";
import type { ViewProps } from "./ScatterView";
import { SCALES } from "./useRelateChoices";

const ORDER: FitScale[] = ["as-is", "square-root", "log10", "reciprocal"];
const FORTH: Record<FitScale, (value: number) => number> = {
  "as-is": (value) => value,
  "square-root": (value) => (value >= 0 ? Math.sqrt(value) : Number.NaN),
  log10: (value) => (value > 0 ? Math.log10(value) : Number.NaN),
  reciprocal: (value) => (value === 0 ? Number.NaN : 1 / value),
};

/** Every scale of y by every scale of x: which makes the relation straight? */
export function BoardView({ table, x, variable, choices, change }: ViewProps) {
  const board = useQuery({
    ...pairReading("straighten", table, { x: x.symbol, y: variable.symbol }),
    placeholderData: keepPreviousData,
  });
  const { data: result, error } = board;
  const waits = (
    <LongWork view="relate-straighten" busy={table.is_long && board.isFetching} words="Looking at all pairs" />
  );
  const adopt = (cell: Cell) =>
    change({
      view: null,
      xs: cell.x_scale === "as-is" ? null : cell.x_scale,
      ys: cell.y_scale === "as-is" ? null : cell.y_scale,
      lines: "least-squares",
      bands: choices.bands === "none" ? "both" : choices.bands,
    });
  if (error) return <Notice problem={error.message} className="m-3" />;
  if (!result) return waits;
  const proposed = result.board.proposed;
  return (
    <div className="screen-grid">
      <Card help="straighten" title="Straighten" className="min-h-0">
        {waits}
        <div className="grid min-h-0 flex-1 grid-cols-[5.5rem_repeat(4,minmax(0,1fr))] grid-rows-[auto_repeat(4,minmax(0,1fr))] gap-2 p-3">
          <span />
          {ORDER.map((scale) => (
            <span key={scale} className="text-center text-muted-ink">
              {x.label} {SCALES[scale]}
            </span>
          ))}
          {ORDER.map((yScale) => [
            <span key={yScale} className="self-center text-right text-muted-ink">
              {variable.label} {SCALES[yScale]}
            </span>,
            ...ORDER.map((xScale) => {
              const i = result.board.cells.findIndex((cell) => cell.x_scale === xScale && cell.y_scale === yScale);
              return (
                <BoardCell
                  key={xScale}
                  found={result}
                  cell={nth(result.board.cells, i)}
                  proposed={i === proposed}
                  onAdopt={adopt}
                />
              );
            }),
          ])}
        </div>
      </Card>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        <Card help="straighten" title="Reading" className="shrink-0">
          <p className="px-3.5 py-2 font-serif text-lead">{result.words.join(" ")}</p>
          {proposed !== null && (
            <p className="px-3.5 pb-2.5">
              <Button look="primary" onClick={() => adopt(nth(result.board.cells, proposed))}>
                Take the proposed scales
              </Button>
            </p>
          )}
          <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
            Scales are compared by the likelihood of the values in their own units. A bow under a picture: its line
            bends (a squared term, p below 0.01), with the share of the residual sum of squares that bending makes. A
            fan: the spread changes along it (Breusch and Pagan, in Koenker&apos;s form), with the share of the squared
            residuals that goes with x. Choosing a picture draws its line there and its curve on the pairs as they were
            measured.
          </p>
        </Card>
      </div>
    </div>
  );
}

const share = (of: number | null) => `${Math.round(100 * (of ?? 0))} %`;

type BoardCellProps = { found: BoardReading; cell: Cell; proposed: boolean; onAdopt: (cell: Cell) => void };

function BoardCell({ found, cell, proposed, onAdopt }: BoardCellProps) {
  const u = useMemo(() => found.x.map(FORTH[cell.x_scale]), [found, cell]);
  const v = useMemo(() => found.y.map(FORTH[cell.y_scale]), [found, cell]);
  const { bends, fans } = cell;
  return (
    <button
      type="button"
      disabled={cell.r_squared === null}
      className={`relative flex min-h-0 flex-col rounded-lg border p-1.5 text-left ${proposed ? "border-2 border-accent" : "border-line hover:border-line-strong"}`}
      onClick={() => onAdopt(cell)}
    >
      <SmallScatter x={u} y={v} />
      <span className="sr-only">
        {SCALES[cell.y_scale]} on {SCALES[cell.x_scale]}:{" "}
      </span>
      <span className="figures relative flex w-full flex-wrap items-center gap-x-2 pt-1 text-small [&>*]:whitespace-nowrap">
        {cell.r_squared === null ? (
          <span className="truncate text-muted-ink">{cell.why}</span>
        ) : (
          <>
            <span>R² {fixed(cell.r_squared, 3)}</span>
            {cell.n_lost > 0 && <span className="text-muted-ink">{whole(cell.n_lost)} lost</span>}
            {(bends || fans) && (
              <span className="order-2 flex w-full gap-x-2 text-muted-ink">
                {bends && <Mark path="M1 8Q8 -3 15 8" of={cell.bend_share} words=", bends, " />}
                {fans && <Mark path="M1 5L15 1M1 5L15 9" of={cell.fan_share} words=", fans, " />}
              </span>
            )}
            {proposed && (
              <span className="order-1 ml-auto text-accent">
                <span className="sr-only">, </span>proposed
              </span>
            )}
          </>
        )}
      </span>
    </button>
  );
}

/** How the line falls short there, and by how much. */
function Mark({ path, of, words }: { path: string; of: number | null; words: string }) {
  return (
    <span className="flex items-center gap-0.5">
      <svg aria-hidden="true" width={16} height={10} className="stroke-caution" fill="none">
        <path d={path} strokeWidth={1.6} />
      </svg>
      <span className="sr-only">{words}</span>
      {share(of)}
    </span>
  );
}
