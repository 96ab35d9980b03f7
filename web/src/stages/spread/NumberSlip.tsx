import { useRef, useState } from "react";
import type { Spread } from "../../api/readings";
import { usePreferences } from "../../state/preferences";
import { Grip } from "../../ui/Grip";
import type { Size } from "../../ui/useSize";
import { whole } from "../../words/numbers";
import { lineOf, listedOf, USUAL } from "./statistics";

const LINE = 16;
const LETTER = 6.6;
const PAD = 9;

type NumberSlipProps = {
  spread: Spread;
  /** Where its left upper corner lies, as shares of the picture. */
  place: readonly [number, number];
  size: Size;
  onPlace: (place: [number, number]) => void;
};

/** The statistics that the reader lists, on the picture: dragged to where they are in nobody's way, they leave with it. */
export function NumberSlip({ spread, place, size, onPlace }: NumberSlipProps) {
  const chosen = usePreferences((state) => state.statistics) ?? USUAL;
  const [held, setHeld] = useState<[number, number] | null>(null);
  const latest = useRef<[number, number] | null>(null);
  const lines = listedOf(chosen, [spread]).map((each) => lineOf(each, spread));
  const words = [["n", whole(spread.summary.n)], ...lines.map(({ label, figures }) => [label, figures])] as const;
  const width = 2 * PAD + LETTER * Math.max(...words.map(([label, figures]) => label.length + figures.length + 2));
  const height = 2 * PAD + LINE * words.length - 4;
  const within = (x: number, y: number): [number, number] => [
    Math.min(Math.max(x, 0), Math.max(size.width - width, 0)) / size.width,
    Math.min(Math.max(y, 0), Math.max(size.height - height, 0)) / size.height,
  ];
  const [x, y] = within((held ?? place)[0] * size.width, (held ?? place)[1] * size.height);
  const [left, top] = [x * size.width, y * size.height];
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
    <g>
      <g transform={`translate(${left},${top})`} className="figures text-small">
        <rect width={width} height={height} rx={6} className="fill-raised stroke-line-strong" fillOpacity={0.93} />
        {words.map(([label, figures], i) => (
          <g key={label} transform={`translate(0,${PAD + LINE * (i + 0.68)})`}>
            <text x={PAD} className="fill-muted-ink">
              {label}
            </text>
            <text x={width - PAD} textAnchor="end" className="fill-ink font-semibold">
              {figures}
            </text>
          </g>
        ))}
      </g>
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
    </g>
  );
}
