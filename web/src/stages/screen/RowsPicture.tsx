import type { ReactNode } from "react";
import { figureOf, type Picture } from "../../api/figures";
import type { Table } from "../../api/studies";
import type { PanelPlan } from "../../figure/layout";
import { Notice } from "../../ui/Notice";
import { SCROLLS } from "../../ui/scrolls";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { significant } from "../../words/numbers";
import { LongWork } from "../LongWork";
import { PointsOverlay, type Spot } from "../PointsOverlay";
import { StageFigure } from "../StageFigure";
import { useSteady } from "../spread/useFollowing";
import { useSketch } from "../useSketch";

type RowsPictureProps = {
  table: Table;
  picture: Picture;
  /** Under which its progress is told. */
  view: string;
  /** What the picture is, where its axes alone do not say it. */
  label?: string;
  /** What is said of a point besides its place on both axes. */
  more?: (spot: Spot) => string[];
  wordsOf?: (spot: Spot) => string[];
  children?: (plan: PanelPlan) => ReactNode;
};

/** Points that stand for rows, with what they are judged by. */
export function RowsPicture({ table, picture, view, label, more, wordsOf, children }: RowsPictureProps) {
  const [room, size] = useSize();
  const drawn = useSteady(figureOf(table, picture, view));
  const { error } = drawn;
  const { figure } = useSketch(table, picture, drawn);
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  return (
    <div ref={room} className="relative min-h-0 flex-1 overflow-y-auto overflow-x-hidden rounded-b-card" {...SCROLLS}>
      {error && <Notice problem={error.message} remedy={remedy} className="m-3" />}
      <LongWork view={view} busy={table.is_long && drawn.isFetching} words="Looking at all rows" />
      {figure && !error && size && size.width > 80 && size.height > 60 && (
        <StageFigure {...{ figure, size }}>
          {(plan) => (
            <PointsOverlay
              {...{ table, plan }}
              label={`${label ?? `${plan.titles.up} against ${plan.titles.across}`}: left and right walk the rows, up and down those that are ringed, Enter selects, dragging selects many`}
              wordsOf={(spot) =>
                wordsOf?.(spot) ?? [
                  `${plan.titles.up} ${significant(spot.up, 3)}`,
                  `${plan.titles.across} ${significant(spot.across, 3)}`,
                  ...(more?.(spot) ?? []),
                ]
              }
            >
              {children?.(plan)}
            </PointsOverlay>
          )}
        </StageFigure>
      )}
      {!figure && !error && <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />}
    </div>
  );
}
