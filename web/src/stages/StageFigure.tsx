import { type ReactNode, type Ref, useMemo } from "react";
import type { Figure } from "../api/figures";
import type { Scene } from "../api/plates";
import type { PanelPlan } from "../figure/layout";
import { planOf } from "../figure/layout";
import { Sheet } from "../figure/Sheet";
import { onScreen } from "../figure/screen";
import type { Size } from "../ui/useSize";
import { nth } from "../values";

type StageFigureProps = {
  figure: Figure;
  size: Size;
  title: string;
  drawing: Ref<SVGSVGElement>;
  /** What is laid over the picture for the hand and the eye, and does not leave with it. */
  children?: (plan: PanelPlan) => ReactNode;
};

const LEAST_ROW = 21;
const AROUND = 96;

/** The height that a picture needs: rows that stand one under the other do not come closer than can be read. */
export function heightFor({ up }: Scene, { height }: Size): number {
  return up.kind === "levels" ? Math.max(height, up.levels.length * LEAST_ROW + AROUND) : height;
}

/** What a stage shows, drawn as its plate will be, in the look of the page. */
export function StageFigure({ figure, size, title, drawing, children }: StageFigureProps) {
  const { panel, scene } = figure;
  const height = heightFor(scene, size);
  const made = useMemo(() => {
    const n = scene.layers.reduce((sum, layer) => sum + (layer.form === "points" ? layer.x.length : 0), 0);
    const shown = onScreen(panel, n, size.width, height);
    const scenes = [scene];
    return { ...shown, scenes, plan: planOf(shown.document, scenes, shown.furnishings) };
  }, [panel, scene, size.width, height]);
  const { document, furnishings, scenes, plan } = made;
  return (
    <div className="relative" style={{ width: size.width, height }}>
      {useMemo(
        () => (
          <Sheet ref={drawing} {...{ document, furnishings, scenes, plan, title }} />
        ),
        [drawing, document, furnishings, scenes, plan, title],
      )}
      {children?.(nth(plan.panels, 0))}
    </div>
  );
}
