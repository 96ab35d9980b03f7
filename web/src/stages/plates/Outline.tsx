import { type RefObject, useEffect, useState } from "react";
import type { Part } from "./parts";

/** The part at hand, outlined on the sheet. */
export function Outline({
  part,
  svg,
  scale,
  drawn,
}: {
  part: Part;
  svg: RefObject<SVGSVGElement | null>;
  scale: number;
  drawn: unknown;
}) {
  const [box, setBox] = useState<{ x: number; y: number; width: number; height: number } | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: it is measured anew when something else is drawn
  useEffect(() => {
    // Measuring waits until what was changed is on the screen.
    const soon = setTimeout(() => {
      const own = svg.current?.getBoundingClientRect();
      const result = [...(svg.current?.querySelectorAll(`[data-part="${CSS.escape(part)}"]`) ?? [])]
        .map((element) => element.getBoundingClientRect())
        .filter(({ width, height }) => width + height > 0);
      if (!own || result.length === 0 || part === "sheet") return setBox(null);
      const left = Math.min(...result.map((box) => box.left));
      const top = Math.min(...result.map((box) => box.top));
      const right = Math.max(...result.map((box) => box.right));
      const bottom = Math.max(...result.map((box) => box.bottom));
      setBox({
        x: (left - own.left) / scale,
        y: (top - own.top) / scale,
        width: (right - left) / scale,
        height: (bottom - top) / scale,
      });
    }, 40);
    return () => clearTimeout(soon);
  }, [part, scale, drawn]);
  if (!box) return null;
  const air = 3 / scale;
  return (
    <rect
      x={box.x - air}
      y={box.y - air}
      width={box.width + 2 * air}
      height={box.height + 2 * air}
      rx={4 / scale}
      fill="none"
      className="pointer-events-none stroke-accent"
      strokeWidth={1.2 / scale}
      strokeDasharray={`${4 / scale} ${3 / scale}`}
    />
  );
}
