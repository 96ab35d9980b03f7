import type { ReactNode } from "react";
import { figureOf, type Picture } from "../../api/figures";
import type { NormalityReading, Spread } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { StageFigure } from "../StageFigure";
import { QuantilesPicture } from "../spread/NormalityCard";
import { ShapeOverlay } from "../spread/ShapeOverlay";
import { useSteady } from "../spread/useFollowing";
import { useMarkSelection } from "../useMarkSelection";
import type { Drawn } from "./pictures";

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
  drawn: Drawn;
  picture: Picture;
  aside?: ReactNode;
};

/** The variable on one scale: its shape, or the Q-Q plot. */
export function SideCard({ table, symbol, title, side, drawn, picture, aside }: SideCardProps) {
  const { spread, normality, error } = side;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const empty = spread?.summary.n === 0;
  return (
    <Card title={title} className="min-h-[320px]" aside={aside}>
      {error && <Notice problem={error.message} remedy={remedy} className="m-3" />}
      <div className="relative flex min-h-0 flex-1 flex-col">
        {drawn === "stack" && spread && !empty && <ShapeSide {...{ table, symbol, spread, picture }} />}
        {drawn === "qq" && normality && !empty && (
          <QuantilesPicture table={table} subject={normality.subject} picture={picture} />
        )}
        {empty && (
          <p className="p-6 text-center font-serif text-lead text-muted-ink">No value can stand on this scale.</p>
        )}
        {!spread && !error && side.waiting && (
          <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
        )}
      </div>
    </Card>
  );
}

function ShapeSide({
  table,
  symbol,
  spread,
  picture,
}: Omit<SideCardProps, "title" | "side" | "drawn"> & { spread: Spread }) {
  const [room, size] = useSize();
  const onSelect = useMarkSelection(table, symbol);
  const { data: figure, error } = useSteady(figureOf(table, picture, `rescale ${spread.subject.symbol === symbol}`));
  return (
    <div ref={room} className="relative min-h-0 flex-1 overflow-hidden rounded-b-card">
      {error && <Notice problem={error.message} className="m-3" />}
      {figure && size && size.width > 80 && size.height > 80 && (
        <StageFigure {...{ figure, size }}>
          {(plan, document) => (
            <ShapeOverlay
              {...{ table, plan, document, spread }}
              upright={false}
              onSelect={(mark, add) => {
                // A mark of the new scale knows its rows only where it is a row.
                if (mark.rows || spread.subject.symbol === symbol) onSelect(mark, add);
              }}
            />
          )}
        </StageFigure>
      )}
    </div>
  );
}
