import { useMemo } from "react";
import type { RelationReading } from "../../api/screen";
import type { Table } from "../../api/studies";
import type { Scale } from "../../plot/scales";
import { useSelectedRows, useSelection } from "../../state/selection";
import type { Size } from "../../ui/useSize";
import { nth } from "../../values";
import { named, titled } from "../../words/kinds";
import { significant, whole } from "../../words/numbers";
import { type Guide, PointPlot } from "../PointPlot";
import { type Diagnostic, MEASURES, type Measure } from "./useScreenChoices";

/** The rows that are ringed: of high leverage, a residual beyond what chance gives over all rows, or D above 1. */
export const ringsOf = (reading: RelationReading) =>
  new Map(
    reading.rows
      .filter(
        ({ beyond, cooks }) => beyond.includes("leverage") || beyond.includes("external") || (cooks ?? 0) > CLEARLY,
      )
      .map(({ row }) => [row, "beyond" as const]),
  );

const CLEARLY = 1;

type View = {
  xs: ArrayLike<number>;
  ys: ArrayLike<number>;
  xTitle: string;
  yTitle: string;
  guides: Guide[];
  /** Values that the axes reach besides the points and guides. */
  reach?: { x?: number[]; y?: number[] };
  radii?: ArrayLike<number>;
};

const both = (value: number, words: string, strong = false): Guide[] => [
  { on: "y", value, words, strong },
  { on: "y", value: -value, words: "", strong },
];

function viewOf(reading: RelationReading, diagnostic: Diagnostic, measure: Measure, coefficient: number): View {
  const { cutoffs, positions, fitted, residuals, external, leverage, cooks } = reading;
  const p = reading.coefficients.length;
  const column = (values: Float64Array, width: number, place: number) =>
    Float64Array.from(positions, (_, i) => nth(values, i * width + place));
  const fittedTitle = `Fitted ${named(reading.response)}`;
  const all = cutoffs.external_all;
  const name = reading.coefficients[coefficient]?.name ?? "";
  switch (diagnostic) {
    case "residuals":
      return {
        xs: fitted,
        ys: residuals,
        xTitle: fittedTitle,
        yTitle: `Residual${reading.response.unit ? ` (${reading.response.unit})` : ""}`,
        guides: [{ on: "y", value: 0, words: "" }],
      };
    case "size":
      return {
        xs: fitted,
        ys: Float64Array.from(external, (value) => Math.sqrt(Math.abs(value))),
        xTitle: fittedTitle,
        yTitle: "Root of studentized residual's size",
        guides: [],
      };
    case "qq": {
      const order = Array.from(external.keys())
        .filter((i) => Number.isFinite(external[i]))
        .sort((a, b) => (external[a] ?? 0) - (external[b] ?? 0));
      const scores = new Float64Array(external.length).fill(Number.NaN);
      const known = reading.qq_scores;
      // Points are a sample where there are too many: each stands at its share of all.
      order.forEach((i, rank) => {
        const at = (rank / Math.max(order.length - 1, 1)) * (known.length - 1);
        const low = Math.floor(at);
        const [a = 0, b = a] = [known[low], known[Math.min(low + 1, known.length - 1)]];
        scores[i] = a + (at - low) * (b - a);
      });
      return { xs: scores, ys: external, xTitle: "Normal score", yTitle: "Studentized residual", guides: [] };
    }
    case "leverage":
      return {
        xs: leverage,
        ys: external,
        xTitle: "Leverage",
        yTitle: "Studentized residual",
        guides: [
          { on: "x", value: cutoffs.leverage, words: "2p/n" },
          { on: "x", value: cutoffs.high_leverage, words: "3p/n" },
          ...both(2, "2"),
          ...(all === null ? [] : both(all, "5 % over all rows", true)),
        ],
        radii: Float64Array.from(
          cooks,
          (value) => 1.8 + 7 * Math.sqrt(Math.min(Number.isFinite(value) ? value : 0, 2)),
        ),
      };
    case "order": {
      const values = reading[measure];
      const guides: Record<Measure, Guide[]> = {
        cooks: [
          { on: "y", value: cutoffs.cooks, words: "4/n" },
          { on: "y", value: cutoffs.cooks_large, words: "1", strong: true },
        ],
        external: [...both(2, "2"), ...(all === null ? [] : both(all, "5 % over all rows", true))],
        leverage: [
          { on: "y", value: cutoffs.leverage, words: "2p/n" },
          { on: "y", value: cutoffs.high_leverage, words: "3p/n", strong: true },
        ],
        dffits: both(cutoffs.dffits, "2√(p/n)", true),
        covratio: [
          { on: "y", value: 1 + cutoffs.covratio, words: "1 + 3p/n", strong: true },
          { on: "y", value: 1 - cutoffs.covratio, words: "1 − 3p/n", strong: true },
        ],
      };
      const largest = Math.max(...Array.from(values, (value) => (Number.isFinite(value) ? value : 0)));
      const shown = guides[measure].filter(
        ({ value }) => measure !== "cooks" || value <= Math.max(largest, cutoffs.cooks) * 1.3,
      );
      return {
        xs: positions,
        ys: values,
        xTitle: "Row number",
        yTitle: titled(MEASURES[measure]),
        guides: shown,
      };
    }
    case "dfbetas":
      return {
        xs: positions,
        ys: column(reading.dfbetas, p, coefficient),
        xTitle: "Row number",
        yTitle: `DFBETAS of ${name}`,
        guides: both(cutoffs.dfbetas, "2/√n", true),
      };
    case "partial": {
      const place = Math.max(coefficient, 1) - 1;
      return {
        xs: column(reading.partial_x, p - 1, place),
        ys: column(reading.partial_y, p - 1, place),
        xTitle: `${reading.coefficients[place + 1]?.name ?? ""}, less the others`,
        yTitle: `${titled(reading.response.label)}, less the others`,
        guides: [],
      };
    }
  }
}

type DiagnosticPlotProps = {
  table: Table;
  reading: RelationReading;
  size: Size;
  diagnostic: Diagnostic;
  measure: Measure;
  coefficient: number;
};

/** One large diagnostic plot, its cut-offs drawn and named. */
export function DiagnosticPlot({ table, reading, size, diagnostic, measure, coefficient }: DiagnosticPlotProps) {
  const select = useSelection((state) => state.select);
  const selected = useSelectedRows(table.id);
  const rings = useMemo(() => ringsOf(reading), [reading]);
  const view = useMemo(
    () => viewOf(reading, diagnostic, measure, coefficient),
    [reading, diagnostic, measure, coefficient],
  );
  const reach = useMemo(
    () => ({
      x: view.guides.filter(({ on }) => on === "x").map(({ value }) => value),
      y: view.guides.filter(({ on }) => on === "y").map(({ value }) => value),
    }),
    [view],
  );
  if ("external" in reading.undefined && diagnostic !== "partial")
    return <p className="p-6 text-center font-serif text-lead text-muted-ink">{reading.undefined.external}</p>;
  return (
    <PointPlot
      label={`${view.yTitle} against ${view.xTitle}`}
      size={size}
      xs={view.xs}
      ys={view.ys}
      rows={reading.positions}
      xTitle={view.xTitle}
      yTitle={view.yTitle}
      guides={view.guides}
      reach={reach}
      selected={selected}
      ringed={rings}
      radii={view.radii}
      words={(i) => [
        `row ${whole(nth(reading.positions, i))}`,
        `${view.yTitle} ${significant(nth(view.ys, i), 3)}`,
        `Cook's distance ${significant(nth(reading.cooks, i), 2)}, leverage ${significant(nth(reading.leverage, i), 2)}`,
      ]}
      onSelect={(rows, words, add) => select(table.id, rows, words, add)}
    >
      {(x, y) => <Behind {...{ reading, diagnostic, coefficient, x, y }} />}
    </PointPlot>
  );
}

type BehindProps = { reading: RelationReading; diagnostic: Diagnostic; coefficient: number; x: Scale; y: Scale };

/** What stands behind the points: a smooth, a band, contours of Cook's distance, or the line of a coefficient. */
function Behind({ reading, diagnostic, coefficient, x, y }: BehindProps) {
  if (diagnostic === "residuals" || diagnostic === "size") {
    const smooth = diagnostic === "residuals" ? reading.trend : reading.size_trend;
    return smooth ? (
      <path d={pathOf(smooth.x, smooth.y, x, y)} fill="none" className="stroke-[1.6] stroke-series-velvet" />
    ) : null;
  }
  if (diagnostic === "qq") {
    const { qq_scores: scores, qq_low: low, qq_high: high } = reading;
    if (scores.length === 0) return null;
    const back = Array.from(scores, (score, i) => `${x(score)} ${y(nth(low, i))}`).reverse();
    return (
      <>
        <path d={`${pathOf(scores, high, x, y)}L${back.join("L")}Z`} className="fill-velvet-fill" />
        <path d={pathOf(scores, scores, x, y)} className="stroke-[1.3] stroke-series-velvet" />
      </>
    );
  }
  if (diagnostic === "leverage") return <Contours {...{ reading, x, y }} />;
  if (diagnostic === "partial") {
    const slope = reading.coefficients[Math.max(coefficient, 1)]?.value ?? 0;
    const [from, to] = x.domain();
    return (
      <path
        d={`M${x(from)} ${y(slope * from)}L${x(to)} ${y(slope * to)}`}
        className="stroke-[1.6] stroke-series-velvet"
      />
    );
  }
  return null;
}

const pathOf = (xs: ArrayLike<number>, ys: ArrayLike<number>, x: Scale, y: Scale) =>
  `M${Array.from(xs, (value, i) => `${x(value).toFixed(1)} ${y(nth(ys, i)).toFixed(1)}`).join("L")}`;

const STEPS = 60;

/** Where Cook's distance is 0.5 and 1: D = t² h/((1 − h) p) for the internal residual t, drawn for the external one. */
function Contours({ reading, x, y }: { reading: RelationReading; x: Scale; y: Scale }) {
  const p = reading.coefficients.length;
  const left = reading.n - p;
  const [, most] = x.domain();
  const [low, high] = y.domain();
  return (
    <g fill="none" className="stroke-[1.1] stroke-series-velvet" strokeDasharray="1.5 3">
      {[0.5, 1].map((level) => {
        const points = Array.from({ length: STEPS }, (_, i) => {
          const h = (most * (i + 1)) / STEPS;
          if (h >= 1) return null;
          const internal2 = (level * p * (1 - h)) / h;
          if (internal2 >= left) return null;
          return [h, Math.sqrt((internal2 * (left - 1)) / (left - internal2))] as const;
        }).filter((point) => point !== null);
        return [1, -1].map((side) => {
          const inside = points.filter(([, t]) => side * t > low && side * t < high);
          const last = inside.at(-1);
          if (!last) return null;
          return (
            <g key={`${level}${side}`}>
              <path d={`M${inside.map(([h, t]) => `${x(h)} ${y(side * t)}`).join("L")}`} />
              {side > 0 && (
                <text
                  x={x(last[0])}
                  y={y(last[1]) - 4}
                  textAnchor="end"
                  stroke="none"
                  className="fill-muted-ink text-small"
                >
                  D = {level}
                </text>
              )}
            </g>
          );
        });
      })}
    </g>
  );
}
