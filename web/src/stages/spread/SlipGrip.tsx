import { useRef, useState } from "react";
import type { Furniture, PlateDocument } from "../../api/plates";
import { slipOf } from "../../figure/Furnishing";
import type { PanelPlan } from "../../figure/layout";
import { Grip } from "../../ui/Grip";

type SlipGripProps = {
  plan: PanelPlan;
  document: PlateDocument;
  slip: Furniture;
  onPlace: (place: [number, number]) => void;
};

/** A corner by which the number slip is dragged to where it is in nobody's way; its outline goes ahead. */
export function SlipGrip({ plan, document, slip, onPlace }: SlipGripProps) {
  const [held, setHeld] = useState<[number, number] | null>(null);
  const latest = useRef<[number, number] | null>(null);
  const drawn = slipOf(plan, document, slip);
  if (!drawn) return null;
  const { area } = plan;
  const { width, height } = drawn;
  const within = (x: number, y: number): [number, number] => [
    Math.min(Math.max(x - area.x, 0), Math.max(area.width - width, 0)) / area.width,
    Math.min(Math.max(y - area.y, 0), Math.max(area.height - height, 0)) / area.height,
  ];
  const [x, y] = held ?? [(drawn.x - area.x) / area.width, (drawn.y - area.y) / area.height];
  const [left, top] = [area.x + x * area.width, area.y + y * area.height];
  const hold = (next: [number, number]) => {
    latest.current = next;
    setHeld(next);
  };
  const letGo = () => {
    if (latest.current) onPlace(latest.current);
    latest.current = null;
    setHeld(null);
  };
  return (
    <>
      {held && (
        <rect
          x={left}
          y={top}
          width={width}
          height={height}
          rx={2}
          fill="none"
          strokeDasharray="3 3"
          className="stroke-accent"
        />
      )}
      <Grip
        x={left + width - 4}
        y={top + 4}
        label="Number slip"
        value={Math.round(100 * x)}
        valueText={`${Math.round(100 * x)} % across, ${Math.round(100 * y)} % down`}
        onDrag={(px, py) => hold(within(px - width + 4, py - 4))}
        onStep={(steps) => {
          hold(within(left + 8 * steps, top));
          letGo();
        }}
        onKey={(key) => {
          const down = { PageDown: 1, PageUp: -1 }[key];
          if (down === undefined) return;
          hold(within(left, top + 16 * down));
          letGo();
        }}
        onEnd={letGo}
      >
        <circle r={5} className="fill-raised stroke-[1.8] stroke-accent" />
      </Grip>
    </>
  );
}
