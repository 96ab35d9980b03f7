import { type ReactNode, useRef } from "react";
import { listed, type NormalityReading, type Spread } from "../../api/readings";
import type { Table } from "../../api/studies";
import { useSelectedRows } from "../../state/selection";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { plotOf, QQPlot } from "../spread/NormalityCard";
import { Stack } from "../spread/Stack";
import { domainOf } from "../spread/stackLayout";
import type { SpreadChoices } from "../spread/useSpreadChoices";
import { useMarkSelection } from "../useMarkSelection";

export type Side = {
  spread: Spread | undefined;
  normality: NormalityReading | undefined;
  error: Error | null;
  waiting: boolean;
};

type SideCardProps = {
  table: Table;
  symbol: string;
  title: string;
  side: Side;
  picture: "stack" | "qq";
  choices: SpreadChoices;
  aside?: ReactNode;
};

const nothing = () => undefined;

/** The variable on one scale: the stack, or the Q-Q plot. */
export function SideCard({ table, symbol, title, side, picture, choices, aside }: SideCardProps) {
  const [room, size] = useSize();
  const selected = useSelectedRows(table.id);
  const onSelect = useMarkSelection(table, symbol);
  const drawing = useRef<SVGSVGElement>(null);
  const { spread, normality, error } = side;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const classes = spread?.classes ? listed(spread.classes) : undefined;
  const qq = normality ? plotOf(normality, undefined, "normal", "qq") : null;
  const ready = size && size.width > 80 && size.height > 80;
  return (
    <Card title={title} className="min-h-[320px]" aside={aside}>
      {error && <Notice problem={error.message} remedy={remedy} className="m-3" />}
      <div ref={room} className="relative min-h-0 flex-1">
        {ready && picture === "stack" && spread && spread.summary.n > 0 && (
          <Stack
            spread={spread}
            classes={classes}
            density={spread.density ?? undefined}
            domain={domainOf(spread, classes)}
            choices={choices}
            selected={selected}
            size={size}
            bumps={undefined}
            drawing={drawing}
            handles={false}
            onSelect={(mark, add) => {
              // A mark of the new scale knows its rows only where it is a row.
              if (mark.rows || spread.subject.symbol === symbol) onSelect(mark, add);
            }}
            onSlip={nothing}
            onWidth={nothing}
            onBoundaries={nothing}
            onBandwidth={nothing}
            onDragEnd={nothing}
          />
        )}
        {ready && picture === "qq" && qq && normality && (
          <QQPlot table={table} shown={qq} reading={normality} size={size} />
        )}
        {picture === "qq" && normality && !qq && <p className="p-3.5 text-muted-ink">{normality.qq_reason}</p>}
        {spread?.summary.n === 0 && (
          <p className="p-6 text-center font-serif text-lead text-muted-ink">No value can stand on this scale.</p>
        )}
        {!spread && !error && side.waiting && (
          <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
        )}
      </div>
    </Card>
  );
}
