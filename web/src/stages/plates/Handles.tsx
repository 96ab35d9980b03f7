import { useRef } from "react";
import type { PlateDocument } from "../../api/plates";
import type { PanelPlan, SheetPlan, Side } from "../../figure/layout";
import { nth } from "../../values";
import { changed, type Edit } from "./editing";
import { type Part, panelOf, restOf } from "./parts";
import { Grip } from "./SheetGrip";

type HandlesProps = {
  plan: SheetPlan;
  document: PlateDocument;
  part: Part;
  edit: Edit;
  onEnd: () => void;
  scale: number;
};

/** What the hand takes hold of: the ends of axes, the tip of an arrow, the ends of a band or bracket. */
export function Handles({ plan, document, part, edit, onEnd, scale }: HandlesProps) {
  return plan.panels.map((panel) => (
    <g key={panel.i}>
      {(["across", "up"] as const).map((side) =>
        ["number", "time"].includes(panel[side].kind) ? (
          <AxisEnds
            key={side}
            {...{ panel, side, edit, onEnd, scale }}
            chosen={part.startsWith(`${panel.i}:${side}`)}
          />
        ) : null,
      )}
      {panelOf(part) === panel.i && part.includes(":furniture:") && (
        <PieceEnds {...{ panel, document, edit, onEnd, scale }} k={Number(restOf(part))} />
      )}
    </g>
  ));
}

/** A value at a step that the axis can show: a tenth of the way between two ticks. */
export function snapped(value: number, axis: PanelPlan["up"]): number {
  const ticks = axis.ticks.map((tick) => tick.value);
  const near = ticks.find((tick) => Math.abs(axis.place(tick) - axis.place(value)) < 3);
  if (near !== undefined) return near;
  if (axis.scale !== "linear") return Number(value.toPrecision(3));
  const step = ticks.length > 1 ? Math.abs(nth(ticks, 1) - nth(ticks, 0)) / 20 : (axis.high - axis.low) / 200;
  return Number((Math.round(value / step) * step).toPrecision(10));
}

type AxisEndsProps = { panel: PanelPlan; side: Side; edit: Edit; onEnd: () => void; scale: number; chosen: boolean };

function AxisEnds({ panel, side, edit, onEnd, scale, chosen }: AxisEndsProps) {
  const axis = panel[side];
  // The hand goes along the axis as it stood when it was taken hold of: its ends move under the hand.
  const taken = useRef<PanelPlan["up"] | null>(null);
  const { area } = panel;
  const name = panel.titles[side] || (side === "up" ? "axis up" : "axis across");
  const set = (end: "low" | "high", value: number) => {
    const other = end === "low" ? axis.high : axis.low;
    if (!Number.isFinite(value) || (end === "low" ? value >= other : value <= other)) return;
    if (axis.scale !== "linear" && value <= 0) return;
    edit((now) => changed(now, ["panels", panel.i, side, end], value), `${panel.i} ${side} ${end}`);
  };
  return (["low", "high"] as const).map((end) => {
    const at = axis.place(axis[end]);
    const [x, y] = side === "up" ? [area.x, at] : [at, area.y + area.height];
    return (
      <Grip
        key={end}
        {...{ x, y, scale, chosen }}
        label={`${name}, ${end === "low" ? "lower" : "upper"} end`}
        value={axis[end]}
        onDrag={(px, py) => {
          taken.current ??= axis;
          set(end, snapped(taken.current.invert(side === "up" ? py : px), taken.current));
        }}
        onStep={(steps) => {
          const step = axis.scale === "linear" ? (axis.high - axis.low) / 50 : 0;
          set(
            end,
            axis.scale === "linear"
              ? Number((axis[end] + steps * step).toPrecision(10))
              : Number((axis[end] * 1.1 ** steps).toPrecision(4)),
          );
        }}
        onEnd={() => {
          taken.current = null;
          onEnd();
        }}
      />
    );
  });
}

type PieceEndsProps = {
  panel: PanelPlan;
  document: PlateDocument;
  k: number;
  edit: Edit;
  onEnd: () => void;
  scale: number;
};

function PieceEnds({ panel, document, k, edit, onEnd, scale }: PieceEndsProps) {
  const piece = document.panels[panel.i]?.furniture[k];
  if (!piece) return null;
  const { area, across, up } = panel;
  const set = (changes: object, hand: string) =>
    edit((now) => {
      const own = now.panels[panel.i]?.furniture[k];
      return own ? changed(now, ["panels", panel.i, "furniture", k], { ...own, ...changes }) : now;
    }, `${panel.i} furniture ${k} ${hand}`);
  const shared = { scale, chosen: true, onEnd };
  if (piece.kind === "note") {
    const from = [across.place(piece.x ?? 0), up.place(piece.y ?? 0)] as const;
    const tip =
      piece.arrow_x != null && piece.arrow_y != null
        ? ([across.place(piece.arrow_x), up.place(piece.arrow_y)] as const)
        : ([from[0] - 10, from[1] + 12] as const);
    return (
      <Grip
        {...shared}
        x={tip[0]}
        y={tip[1]}
        label="Arrow, to where it points"
        value={piece.arrow_x ?? 0}
        onDrag={(x, y) =>
          set(
            { arrow_x: Number(across.invert(x).toPrecision(6)), arrow_y: Number(up.invert(y).toPrecision(6)) },
            "arrow",
          )
        }
        onStep={(steps) =>
          set(
            {
              arrow_x: Number(across.invert(tip[0] + steps * 2).toPrecision(6)),
              arrow_y: piece.arrow_y ?? Number(up.invert(tip[1]).toPrecision(6)),
            },
            "arrow",
          )
        }
      />
    );
  }
  if (piece.kind !== "band") return null;
  const axis = panel[piece.axis];
  return (["at", "to"] as const).map((end) => {
    const value = piece[end] ?? 0;
    const at = axis.place(value);
    const [x, y] = piece.axis === "up" ? [area.x + area.width, at] : [at, area.y];
    return (
      <Grip
        key={end}
        {...shared}
        {...{ x, y, value }}
        label={`Band, ${end === "at" ? "first" : "second"} end`}
        onDrag={(px, py) => set({ [end]: snapped(axis.invert(piece.axis === "up" ? py : px), axis) }, end)}
        onStep={(steps) =>
          set({ [end]: Number((value + (steps * (axis.high - axis.low)) / 100).toPrecision(10)) }, end)
        }
      />
    );
  });
}
