import { Fragment, type ReactNode, type RefObject, useEffect, useId, useMemo } from "react";
import type { Figure } from "../api/figures";
import type { PlateDocument, Scene, Sheet } from "../api/plates";
import type { PanelPlan } from "../figure/layout";
import { planOf } from "../figure/layout";
import { Sheet as DrawnSheet } from "../figure/Sheet";
import { onScreen, type Shown } from "../figure/screen";
import type { Size } from "../ui/useSize";
import { useComing } from "./coming";

type StageFigureProps = {
  figure: Figure;
  size: Size;
  /** Its name, where that is not all that is told of it. */
  title?: string;
  /** What is drawn, for whoever takes it away. */
  drawing?: RefObject<Shown | null>;
  /** How several panels stand together. */
  sheet?: Partial<Sheet> | undefined;
  /** What is laid over a panel for the hand and the eye, and does not leave with it. */
  children?: (plan: PanelPlan, document: PlateDocument) => ReactNode;
};

const LEAST_ROW = 21;
const LEAST_PANEL = 210;
const AROUND = 96;

/** The height that a picture needs: rows that stand one under the other do not come closer than can be read. */
function heightFor(scenes: Scene[], columns: number, { height }: Size): number {
  const rows = Math.ceil(scenes.length / columns);
  const least = rows > 1 ? LEAST_PANEL : 0;
  const tall = scenes.map(({ up }) => (up.kind === "levels" ? up.levels.length * LEAST_ROW + AROUND : least));
  return Math.max(height, rows * Math.max(...tall));
}

/** What a stage shows, drawn as its plate will be, in the look of the page. */
export function StageFigure({ figure, size, title, drawing, sheet, children }: StageFigureProps) {
  const { panels, scenes } = figure;
  const height = heightFor(scenes, sheet?.columns ?? 1, size);
  const made = useMemo(() => {
    const points = scenes.flatMap(({ layers }) => layers.filter(({ form }) => form === "points"));
    const n = points.reduce((sum, { x }) => sum + x.length, 0);
    const shown = onScreen(panels, n, size.width, height, sheet);
    return { ...shown, plan: planOf(shown.document, scenes, shown.furnishings) };
  }, [panels, scenes, size.width, height, sheet]);
  const { document, furnishings, plan } = made;
  const told = useId();
  const coming = useComing(figure);
  const name = title ?? figure.alternative;
  const describedBy = title === undefined ? undefined : told;
  useEffect(() => {
    if (drawing) drawing.current = { document, scenes };
  }, [drawing, document, scenes]);
  return (
    <div className="relative coming" aria-busy={coming} style={{ width: size.width, height }}>
      {useMemo(
        () => (
          <DrawnSheet {...{ document, furnishings, scenes, plan, describedBy }} title={name} />
        ),
        [document, furnishings, scenes, plan, name, describedBy],
      )}
      {describedBy && (
        <p id={told} className="sr-only">
          {figure.alternative}
        </p>
      )}
      {plan.panels.map((panel) => (
        <Fragment key={panel.i}>{children?.(panel, document)}</Fragment>
      ))}
    </div>
  );
}
