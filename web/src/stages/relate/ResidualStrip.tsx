import { useMemo, useState } from "react";
import type { Fits, Pairs } from "../../api/relate";
import type { Table } from "../../api/studies";
import { Dots } from "../../plot/Dots";
import { aired, linear, ticksOf } from "../../plot/scales";
import { useSelectedRows, useSelection } from "../../state/selection";
import { Readout } from "../../ui/Readout";
import type { Size } from "../../ui/useSize";
import { nth } from "../../values";
import { significant, whole } from "../../words/numbers";
import { planOf } from "./relateLayout";
import { ScreenLink } from "./ScreenLink";
import type { RelateChoices } from "./useRelateChoices";

type ResidualStripProps = {
  table: Table;
  reading: Pairs;
  pair: { x: string; y: string };
  fits: Fits;
  choices: RelateChoices;
  size: Size;
};

const HEIGHT = 118;

/** What the line leaves, over the same axis as the pairs above it. */
export function ResidualStrip({ table, reading, pair, fits, choices, size }: ResidualStripProps) {
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const [at, setAt] = useState<number | null>(null);
  const { x, edge } = planOf(reading, choices, size);
  const { xs, ys, y } = useMemo(() => {
    const reach = fits.residuals.reduce((most, each) => Math.max(most, Math.abs(each)), 1e-300);
    const y = linear(aired(-reach, reach, 0.06), HEIGHT - 10, 8);
    return {
      y,
      xs: Float64Array.from(fits.residual_x, (value) => x(value)),
      ys: Float64Array.from(fits.residuals, (value) => y(value)),
    };
  }, [fits, x]);
  const [left, right] = x.range();
  const nearest = (mx: number, my: number) => {
    let best: number | null = null;
    let distance = 12;
    for (let i = 0; i < xs.length; i++) {
      const away = Math.hypot(nth(xs, i) - mx, nth(ys, i) - my);
      if (away < distance) [best, distance] = [i, away];
    }
    return best;
  };
  const chosen = Array.from(fits.residual_rows.keys()).filter((i) => selected.has(nth(fits.residual_rows, i)));
  return (
    <div className="relative shrink-0 border-line border-t">
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the same pairs are walked by keys in the picture above */}
      <svg
        role="img"
        aria-label="Residuals of the line over the same x"
        width={size.width}
        height={HEIGHT}
        className="figures block text-small"
        onPointerMove={(event) => {
          const frame = event.currentTarget.getBoundingClientRect();
          setAt(nearest(event.clientX - frame.left, event.clientY - frame.top));
        }}
        onPointerLeave={() => setAt(null)}
        onClick={(event) => {
          if (at === null) return;
          const row = nth(fits.residual_rows, at);
          select(table.id, [row], `row ${whole(row)}`, event.shiftKey);
        }}
      >
        {ticksOf(y, 3).map((tick) => (
          <g key={tick.value}>
            <path d={`M${left} ${tick.at}H${right}`} className="stroke-chart-grid" />
            <text x={left - 7} y={tick.at} dy="0.32em" textAnchor="end" className="fill-muted-ink">
              {tick.text}
            </text>
          </g>
        ))}
        <path d={`M${left} ${y(0)}H${right}`} strokeDasharray="5 3" className="stroke-series-velvet" />
        <Dots {...{ xs, ys }} radius={xs.length > 1_000 ? 1.3 : 2} opacity={0.55} className="stroke-series-heron" />
        {chosen.length > 0 && (
          <Dots
            xs={chosen.map((i) => nth(xs, i))}
            ys={chosen.map((i) => nth(ys, i))}
            radius={3}
            className="stroke-accent"
          />
        )}
        <text transform={`translate(13,${HEIGHT / 2}) rotate(-90)`} textAnchor="middle" className="fill-ink">
          residual
        </text>
        <path d={`M${left} ${HEIGHT - 1}h0`} />
      </svg>
      <span className="absolute top-1" style={{ right: edge.right + 4 }}>
        <ScreenLink {...{ table, pair, choices }} />
      </span>
      {at !== null && (
        <Readout
          x={nth(xs, at)}
          y={nth(ys, at)}
          room={size.width}
          words={[`row ${whole(nth(fits.residual_rows, at))}`, `residual ${significant(nth(fits.residuals, at), 4)}`]}
        />
      )}
    </div>
  );
}
