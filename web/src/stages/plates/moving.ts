import type { Furniture, PlateDocument } from "../../api/plates";
import type { PlateAxis } from "../../figure/axis";
import type { PanelPlan } from "../../figure/layout";
import { changed } from "./editing";
import { snapped } from "./Handles";
import { kindOf, type Part, panelOf, restOf } from "./parts";

/** A place on the sheet, in points. */
export type Spot = { x: number; y: number };

const pieceOf = (document: PlateDocument, part: Part): Furniture | undefined =>
  kindOf(part) === "furniture" ? document.panels[panelOf(part)]?.furniture[Number(restOf(part))] : undefined;

/** Where a legend or a piece of furniture stands; null for a part that is not moved. */
export function standingAt(part: Part, document: PlateDocument, plan: PanelPlan | undefined): Spot | null {
  if (!plan) return null;
  if (kindOf(part) === "legend") return plan.legend ? { x: plan.legend.rect.x, y: plan.legend.rect.y } : null;
  const piece = pieceOf(document, part);
  if (!piece) return null;
  const { area, across, up } = plan;
  switch (piece.kind) {
    case "slip":
      return { x: area.x + (piece.x ?? 0) * area.width, y: area.y + (piece.y ?? 0) * area.height };
    case "line":
    case "band":
      return { x: across.place(piece.at ?? 0), y: up.place(piece.at ?? 0) };
    case "bracket":
      return { x: across.place(piece.y ?? 0), y: up.place(piece.y ?? 0) };
    default:
      return { x: across.place(piece.x ?? 0), y: up.place(piece.y ?? 0) };
  }
}

/** The document with a legend or a piece of furniture moved to a place. */
export function moved(document: PlateDocument, part: Part, plan: PanelPlan, to: Spot): PlateDocument {
  const i = panelOf(part);
  if (kindOf(part) === "legend") {
    const { x, y } = shareOf(plan, to);
    return changed(changed(document, ["panels", i, "legend", "x"], x), ["panels", i, "legend", "y"], y);
  }
  const piece = pieceOf(document, part);
  if (!piece) return document;
  return changed(document, ["panels", i, "furniture", Number(restOf(part))], { ...piece, ...placed(piece, plan, to) });
}

const shareOf = ({ area }: PanelPlan, { x, y }: Spot) => ({
  x: Number(((x - area.x) / area.width).toFixed(3)),
  y: Number(((y - area.y) / area.height).toFixed(3)),
});

function placed(piece: Furniture, plan: PanelPlan, to: Spot): Partial<Furniture> {
  const { across, up, scene } = plan;
  const [axis, along] = piece.axis === "up" ? [up, to.y] : [across, to.x];
  switch (piece.kind) {
    case "slip":
      return shareOf(plan, to);
    case "line":
      return { at: nearest(snapped(axis.invert(along), axis), axis, scene.numbers) };
    case "band": {
      const from = snapped(axis.invert(along), axis);
      return { at: from, to: Number((from + ((piece.to ?? 0) - (piece.at ?? 0))).toPrecision(10)) };
    }
    case "bracket":
      return { y: Number((up.kind === "levels" ? across.invert(to.x) : up.invert(to.y)).toPrecision(4)) };
    default:
      return { x: Number(across.invert(to.x).toPrecision(5)), y: Number(up.invert(to.y).toPrecision(5)) };
  }
}

/** A value that the figure stands on, where the hand is near it: a mean, a quartile. */
function nearest(value: number, axis: PlateAxis, numbers: PanelPlan["scene"]["numbers"]): number {
  const near = numbers.find((number) => Math.abs(axis.place(number.value) - axis.place(value)) < 2.5);
  return near ? near.value : value;
}
