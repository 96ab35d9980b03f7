import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import * as records from "../../api/choices.gen";
import { figureOf } from "../../api/figures";
import { orderOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { Shown } from "../../figure/screen";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { named, titled } from "../../words/kinds";
import { decimalsFor, fixed, moment, significant, whole } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { PointsOverlay, type Spot } from "../PointsOverlay";
import { RowLinks } from "../RowLinks";
import { StageFigure } from "../StageFigure";
import { unitOf } from "./classWords";
import { orderPicture } from "./pictures";
import { TakeAway } from "./TakeAway";
import { useSteady } from "./useFollowing";
import { ORDER_MARKS, type useSpreadChoices } from "./useSpreadChoices";

const DAY = 86_400;

type OrderSpreadProps = ReturnType<typeof useSpreadChoices> & {
  table: Table;
  variable: Variable;
  along: Variable | undefined;
};

/** Values in the order of the rows, or of another variable, with runs and jumps said in words. */
export function OrderSpread({ table, variable, along, choices, change }: OrderSpreadProps) {
  const figure = useSteady(figureOf(table, orderPicture(table, variable, along, choices), "spread figure"));
  const { data: result } = useQuery({
    ...orderOf(table, variable.symbol, along?.symbol ?? ""),
    placeholderData: keepPreviousData,
    enabled: figure.isFetched,
  });
  const { error } = figure;
  const [room, size] = useSize();
  const drawing = useRef<Shown>(null);
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const order = result?.found;
  const title = titled(named(variable));
  const limited =
    result !== undefined &&
    [result.subject.spec_lower, result.subject.spec_upper, result.subject.target].some((limit) => limit !== null);
  const decimals = result?.subject.decimals ?? decimalsFor(null, (order?.q3 ?? 0) - (order?.q1 ?? 0));
  const wordsOf = ({ across, up }: Spot) => {
    const value = `${fixed(up, decimals)}${unitOf(variable.unit)}`;
    if (!along) return [value];
    return [value, along.kind === "date-time" ? moment(across * DAY) : `${along.label} ${significant(across, 6)}`];
  };
  return (
    <>
      <Card
        help="order"
        title={result?.along ? `In the order of ${result.along}` : "In the order of the rows"}
        className="stack-card"
        aside={
          <LayerToggles
            label="Shown"
            words={records.ORDER_MARKS}
            layers={ORDER_MARKS.filter((mark) => (mark === "limits" ? limited : mark !== "jumps" || !table.is_long))}
            shown={choices.orderMarks}
            onChange={(marks) => change({ marks: marks.join(",") }, true)}
          />
        }
        footer={
          figure.data && (
            <TakeAway
              drawing={drawing}
              caption={figure.data.caption}
              table={table}
              variable={variable}
              definition={choices.definition}
              classes={choices.classes}
            />
          )
        }
      >
        {error && <Notice problem={error.message} remedy={remedy} className="m-3.5" />}
        <LongWork view="spread figure" busy={table.is_long && figure.isFetching} words="Looking at all rows" />
        {order?.n === 0 && (
          <p className="m-auto max-w-80 py-16 text-center font-serif text-lead text-muted-ink">
            No row has a value here. Once there are some, they stand here one after the other.
          </p>
        )}
        <div ref={room} className="relative min-h-[300px] flex-1">
          {figure.data && order?.n !== 0 && size && size.width > 80 && (
            <StageFigure figure={figure.data} {...{ size, drawing, title }}>
              {(plan) => (
                <PointsOverlay
                  {...{ table, plan, wordsOf }}
                  label={`${title} in order: arrows walk the values, Enter selects the row`}
                />
              )}
            </StageFigure>
          )}
          {figure.isPending && !error && (
            <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
          )}
        </div>
      </Card>
      <Card help="order" title="Reading" className="self-start">
        <div className="flex flex-col gap-2 px-3.5 py-2.5 font-serif text-lead">
          {order?.words.map((said) => (
            <p key={said}>{said}</p>
          ))}
          {order && order.jumps.length > 0 && (
            <p>
              Rows after a jump: <RowLinks table={table} rows={Float64Array.from(order.jumps)} />.
            </p>
          )}
          {order && order.n_missing > 0 && (
            <p className="font-sans text-body text-muted-ink">
              {whole(order.n_missing)} of {whole(table.n_rows)} rows have no value{result.along ? " or no place" : ""}{" "}
              and are passed over.
            </p>
          )}
        </div>
        <p className="border-line border-t px-3.5 py-2 text-muted-ink text-small">
          Runs about the median after Wald and Wolfowitz (1940); a run is called long beyond log₂ n + 3, after Anhøj and
          Olesen (2014); a jump is a step beyond the outer fence of all steps.
        </p>
      </Card>
    </>
  );
}
