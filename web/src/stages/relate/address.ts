import type { Panel } from "../../api/plates";
import { said, words } from "../said";
import { ACROSS, USUAL } from "./useRelateChoices";

type Shown = Pick<Panel, "source" | "across" | "up" | "marks">;

/** The address under which Relate shows a panel, with all that was chosen; null for a panel of another stage. beside:
 *  the panels of its plate, among them perhaps what its lines leave. */
export function relateAddress({ source, across, up, marks }: Shown, beside: readonly Shown[] = []) {
  if (source.kind === "agreement" && !source.only) return agreementAddress(source);
  if (source.kind !== "pair" || source.only) return null;
  const left = [source, ...beside.map((panel) => panel.source)].some(
    (own) => own.kind === "pair" && own.plot === "residuals" && own.x === source.x && own.y === source.y,
  );
  const ends = [across.low, across.high, up.low, up.high];
  const known = ends.flatMap((end) => end ?? []);
  const yes = (on: boolean) => (on ? "yes" : "");
  const written = {
    variable: source.y,
    x: source.x,
    ...said({
      also: [words(source.also), ""],
      by: [source.by, ""],
      size: [source.size, ""],
      xbars: [words(source.bars_x), ""],
      ybars: [words(source.bars_y), ""],
      form: [source.shown, "points"],
      jx: [source.jitter_x, 0],
      jy: [source.jitter_y, 0],
      across: [source.across, ACROSS[source.shown]],
      aspect: [source.aspect, USUAL.aspect],
      wr: [source.width_rule, "normal-reference"],
      wx: [source.width_x, null],
      wy: [source.width_y, null],
      grid: [source.grid, USUAL.grid],
      sparse: [source.sparse, 0],
      shade: [source.shade, "heron"],
      xlog: [yes(source.x_axis === "log"), ""],
      ylog: [yes(source.y_axis === "log"), ""],
      joined: [source.joined, "no"],
      lines: [words(source.lines), ""],
      each: [yes(source.each), ""],
      xs: [source.x_scale, "as-is"],
      ys: [source.y_scale, "as-is"],
      span: [source.span, USUAL.span],
      level: [source.level, USUAL.level],
      bands: [source.bands, "none"],
      equation: [yes(source.equation), ""],
      margins: [source.margins, "none"],
      residuals: [yes(left), ""],
      opacity: [marks.points?.opacity, null],
    }),
    ...(known.length === ends.length ? { window: words(known) } : {}),
  };
  return `/tables/${source.table}/relate?${new URLSearchParams(written)}`;
}

function agreementAddress(source: Extract<Shown["source"], { kind: "agreement" }>) {
  const written = {
    view: "agreement",
    variable: source.y,
    x: source.x,
    ...said({
      differences: [source.scale, "as-is"],
      margin: [source.margin, null],
      level: [source.level, USUAL.level],
    }),
  };
  return `/tables/${source.table}/relate?${new URLSearchParams(written)}`;
}
