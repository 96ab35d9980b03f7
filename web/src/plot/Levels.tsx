import { linear } from "./scales";

export type LevelBar = { label: string; count: number; percent: number; selected: boolean };

type LevelsProps = { bars: LevelBar[]; width: number; marked: number | null };

export const LEVEL_STEP = 34;
const LABEL = 168;
const FIGURES = 108;

/** A bar for each level, from zero, always. */
export function Levels({ bars, width, marked }: LevelsProps) {
  const most = Math.max(1, ...bars.map((bar) => bar.count));
  const x = linear([0, most], LABEL, width - FIGURES);
  return (
    <g className="figures text-body">
      {bars.map((bar, i) => {
        const y = i * LEVEL_STEP;
        const length = Math.max(x(bar.count) - LABEL, bar.count > 0 ? 1 : 0);
        return (
          <g key={bar.label} transform={`translate(0,${y})`}>
            <text x={LABEL - 10} y={21} textAnchor="end" className="fill-ink">
              {bar.label.length > 26 ? `${bar.label.slice(0, 25)}…` : bar.label}
            </text>
            <rect
              x={LABEL}
              y={6}
              width={length}
              height={LEVEL_STEP - 12}
              rx={Math.min(3, length / 2)}
              className={bar.selected ? "fill-accent" : marked === i ? "fill-blocks-strong" : "fill-blocks"}
            />
            <text x={LABEL + length + 8} y={21} className="fill-ink">
              {bar.count.toLocaleString("en").replace(/,/g, "\u202f")}
              <tspan dx={8} className="fill-muted-ink text-small">
                {bar.percent.toFixed(1)} %
              </tspan>
            </text>
          </g>
        );
      })}
      <line x1={LABEL} x2={LABEL} y1={0} y2={bars.length * LEVEL_STEP} className="stroke-chart-axis" />
    </g>
  );
}
