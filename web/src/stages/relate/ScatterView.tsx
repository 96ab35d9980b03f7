import { keepPreviousData, useQuery } from "@tanstack/react-query";
import * as records from "../../api/choices.gen";
import { cutOf, figureOf } from "../../api/figures";
import { type Correlations, correlationsOf, fitsOf, type Pairs, pairsOf } from "../../api/relate";
import type { Table, Variable } from "../../api/studies";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { NumbersTable } from "../../ui/NumbersTable";
import { TakeTable } from "../../ui/TakeTable";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, keysOf } from "../../values";
import { titled } from "../../words/kinds";
import { counted, fixed, pNumber, whole } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { PictureCard } from "../PictureCard";
import { useFollowing } from "../spread/useFollowing";
import type { Change } from "../useAddress";
import { useSketch } from "../useSketch";
import { LineCard } from "./LineCard";
import { PairsPicture } from "./PairsPicture";
import { pairPictures } from "./pictures";
import type { Roles } from "./roles";
import { ScatterChoices } from "./ScatterChoices";
import { FORMS, LINES, type RelateChoices } from "./useRelateChoices";

export type ViewProps = {
  table: Table;
  x: Variable;
  variable: Variable;
  choices: RelateChoices;
  change: (changes: Change, replace?: boolean) => void;
};
export type ScatterViewProps = ViewProps & Roles;

const JOINED = { joined: { label: "joined in order", help: "a line from row to row" } };

/** One pair of variables, or several over one x: seen, fitted, put in numbers. */
export function ScatterView(props: ScatterViewProps) {
  const { table, x, variable, also, by, size, bars, choices, change } = props;
  const pair = { x: x.symbol, y: variable.symbol };
  const { data: result } = useQuery({
    ...pairsOf(table, {
      x: x.symbol,
      y: [variable.symbol, ...also.map(({ symbol }) => symbol)],
      ...(by && also.length === 0 ? { by: by.symbol } : {}),
      ...(size ? { size: size.symbol } : {}),
    }),
    placeholderData: keepPreviousData,
  });
  const pictures = pairPictures(table, { x, variable, also, by, size, bars }, choices);
  const drawn = useFollowing(pictures, true, (settings) => figureOf(table, settings, "relate"));
  const { error, refetch } = drawn;
  const { figure } = useSketch(table, pictures, drawn);
  const grouped = choices.each && by !== undefined && also.length === 0;
  const lined = choices.lines.length > 0 && also.length === 0;
  const fits = useQuery({
    ...fitsOf(table, {
      ...pair,
      lines: choices.lines,
      x_scale: choices.scales[0],
      y_scale: choices.scales[1],
      span: choices.span,
      level: choices.level,
      ...(grouped ? { by: by.symbol } : {}),
    }),
    placeholderData: keepPreviousData,
    enabled: lined,
  });
  const shown = lined && !fits.error ? fits.data : undefined;
  const every = choices.form === "points" && !result?.series.some(({ thinned }) => thinned);
  return (
    <div className="screen-grid">
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5">
        <PictureCard
          help="pairs"
          title={also.length > 0 ? "On one axis" : "Pairs"}
          label="Pairs"
          caption={figure?.caption ?? ""}
          file={`${table.name} ${variable.label} against ${x.label}`}
          error={error}
          above={<LongWork view="relate" busy={table.is_long && drawn.isFetching} words="Looking at all rows" />}
          aside={
            <span className="flex flex-wrap items-center gap-3">
              {also.length === 0 && (
                <>
                  <WordChoice
                    label="Pairs as"
                    className="min-h-6"
                    value={choices.form}
                    options={choicesOf(FORMS)}
                    onChoose={(form) => change({ form: form === "points" ? null : form })}
                  />
                  <LayerToggles
                    label="Lines"
                    words={records.LINES}
                    layers={keysOf(LINES)}
                    shown={choices.lines}
                    onChange={(next) => change({ lines: next.join(" ") || null })}
                  />
                </>
              )}
              <LayerToggles
                label="Joined"
                words={JOINED}
                layers={["joined"] as const}
                shown={choices.joined ? ["joined"] : []}
                onChange={(next) => change({ joined: next.length > 0 ? "x" : null })}
              />
              <ScatterChoices {...props} />
            </span>
          }
          cut={figure ? cutOf(figure) : ""}
          onWhole={() => change({ window: null }, true)}
          onAgain={() => refetch()}
        >
          {figure
            ? (room, drawing) => (
                <PairsPicture {...{ table, figure, x, variable, choices, change, every, drawing }} size={room} />
              )
            : null}
        </PictureCard>
      </div>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        {result && <PairsCard reading={result} points={choices.form === "points"} />}
        {also.length === 0 && <CorrelationCard {...{ table, pair, by }} />}
        {shown && <LineCard {...{ table, pair, choices, change, variable, x }} fits={shown} grouped={grouped} />}
        {lined && fits.error && (
          <Card help="pairs" title="Lines" className="shrink-0">
            <p className="px-3.5 py-2">{fits.error.message}</p>
          </Card>
        )}
      </div>
    </div>
  );
}

/** How many pairs there are, and which rows are none. */
function PairsCard({ reading, points }: { reading: Pairs; points: boolean }) {
  return (
    <Card help="pairs" title="Pairs used and lost" className="shrink-0">
      <div className="px-3.5 py-2">
        {reading.series.map(({ subject, n_pairs: n, lost, thinned }) => (
          <p key={subject.symbol}>
            {reading.series.length > 1 && `${titled(subject.label)}: `}
            <strong>{counted(n, "pair")}</strong>
            {lost.map(({ why, n: gone }) => `, ${whole(gone)} ${why}`).join("")}
            {points && thinned && "; of so many, a fixed random sample is drawn as points"}
            {points && thinned && reading.sampled === 0 && " with all of the far ones"}.
          </p>
        ))}
      </div>
    </Card>
  );
}

type CorrelationCardProps = { table: Table; pair: { x: string; y: string }; by: Variable | undefined };

function CorrelationCard({ table, pair, by }: CorrelationCardProps) {
  const { data: result, error } = useQuery({
    ...correlationsOf(table, { ...pair, ...(by ? { by: by.symbol } : {}) }),
    placeholderData: keepPreviousData,
  });
  const write = (value: number | null, digits: number) =>
    value === null ? "none" : Math.abs(value) < 0.5 * 10 ** -digits ? fixed(0, digits) : fixed(value, digits);
  const head = ["", "n", "r", "from", "to", "p"];
  const names = { pearson: "Pearson", spearman: "Spearman", kendall: "Kendall" } as const;
  const body = Object.entries(names).flatMap(([key, name]) =>
    (result?.groups ?? []).map(({ label, found: own, n_each: each }: Correlations["groups"][number]) => {
      const coefficient = own[key as keyof typeof names];
      const narrow = (coefficient?.high ?? 1) - (coefficient?.low ?? 0) < 0.02;
      return [
        label ? `${name}, ${label}` : name,
        whole(key === "kendall" ? each : own.n_pairs),
        write(coefficient?.estimate ?? null, 3),
        write(coefficient?.low ?? null, narrow ? 4 : 2),
        write(coefficient?.high ?? null, narrow ? 4 : 2),
        pNumber(coefficient?.p_value, ""),
      ];
    }),
  );
  return (
    <Card
      help="pairs"
      title="Correlations"
      className="max-h-72 shrink-0"
      aside={<TakeTable name={`${table.name} correlations`} table={() => ({ head, body })} />}
    >
      {error && <p className="px-3.5 py-2">{error.message}</p>}
      {result && (
        <>
          <NumbersTable {...{ head, body }} strong="r" />
          <p className="px-3.5 py-2 font-serif text-lead">{result.words.join(" ")}</p>
        </>
      )}
    </Card>
  );
}
