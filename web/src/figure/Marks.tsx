import { memo, type ReactNode, useMemo } from "react";
import type { Layer } from "../api/plates";
import { PaintedDots } from "../plot/Dots";
import { inkOn } from "../plot/ramps";
import { eachOf, last, nth } from "../values";
import { quiet } from "./AxisLines";
import type { Rect } from "./layout";
import { beyondOf, DASHES, type Look, markPath, ROLE_DASHES, roleLook, SHAPE_NAMES } from "./look";
import type { FormProps } from "./marksProps";
import { asideOf, boxOf, drawer, hexagonPath, lineOf, placed, radiusOf, rectPath } from "./paths";
import { Box, Interval } from "./Standing";
import { SCREEN } from "./screen";
import { shade, shareOf } from "./shades";
import { widthOf } from "./text";
import { Values } from "./Values";
import { round, Words } from "./Words";

/** Beyond so many, the page paints points: a drawing of them would not follow a hand. */
const PAINTED = 1500;
const DIAMOND = SHAPE_NAMES.indexOf("diamond");

/** Points up to so many are drawn one by one, so that where they lie over each other they darken. */
const ONE_BY_ONE = 3000;
const TOGETHER = 60;

/** The marks of one layer. */
export const Marks = memo(function Marks(props: FormProps) {
  const { layer, panel, panelPlace, keyed } = props;
  const look = roleLook(props.look, panel, layer.role);
  if (look.hidden) return null;
  const part = keyed && layer.series ? `${panelPlace}:series:${layer.series}` : `${panelPlace}:marks:${layer.role}`;
  const Form = FORMS[layer.form];
  return (
    <g data-part={part} data-role={layer.role} data-series={layer.series}>
      <Form {...props} look={look} />
    </g>
  );
});

/** How many times as wide points are that have bars. */
const BARRED = 1.6;

function Points({ layer, look, across, up, style, area, scene }: FormProps) {
  const xs = asideOf(layer.x, layer.aside_x, across);
  const ys = asideOf(layer.y, layer.aside_y, up);
  const beyond = layer.role === "beyond" || layer.role === "jumps";
  const mean = layer.role === "mean";
  // Points with bars are results, of which each counts.
  const barred = layer.role === "points" && scene.layers.some(({ role }) => role === "point bars");
  const radius = (look.size / 2) * (beyond ? 1.3 : mean ? 1.8 : barred ? BARRED : 1);
  const sized = layer.size.length === layer.x.length && layer.size.length > 0;
  const filled = look.filled ?? !(beyond || layer.role === "limited");
  const many = xs.length > ONE_BY_ONE;
  if (style.name === SCREEN && xs.length > PAINTED && look.shape === 0 && filled && !look.outline && !sized && !beyond)
    return <Painted {...{ xs, ys, radius, area }} colour={look.colour} opacity={look.opacity} />;
  if (many && look.shape === 0 && filled && !look.outline && !sized && !beyond)
    return <Dots {...{ xs, ys, radius }} colour={look.colour} opacity={look.opacity} />;
  const sizeOf = (share: number) =>
    scene.sizes_title
      ? radiusOf(layer.role, share, radius, style.type_size, scene.sizes_high, scene.sizes_room * area.width)
      : radius * (0.5 + 1.6 * Math.sqrt(Math.max(share, 0)));
  const draw = drawer(markPath(beyond ? 0 : mean ? DIAMOND : look.shape, 1));
  const marks: string[] = [];
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [nth(xs, i), nth(ys, i)];
    if (!Number.isFinite(x) || !Number.isFinite(y)) continue;
    const r = sized ? sizeOf(nth(layer.size, i)) : radius;
    let d = draw(x, y, r);
    // Ringed marks bear a short tick.
    if (layer.far[i]) d += draw(x, y, r * 0.35);
    if (layer.role === "beyond") d += `M${round(x)} ${round(y - r)}v${round(-r * 0.8)}`;
    marks.push(d);
  }
  const line = Math.max(look.line * 0.5, 0.5);
  const paint = beyond
    ? {
        fill: layer.role === "jumps" ? "none" : style.paper,
        stroke: beyondOf(style),
        strokeWidth: Math.max(look.line * 0.8, 0.5),
      }
    : filled
      ? {
          fill: look.colour,
          fillOpacity: mean || barred ? 1 : look.opacity,
          ...(look.outline || mean || layer.role === "counted"
            ? { stroke: look.outline ?? (mean ? style.paper : look.colour), strokeWidth: line }
            : {}),
        }
      : {
          fill: style.paper,
          fillOpacity: 0.01,
          stroke: look.outline ?? look.colour,
          strokeWidth: Math.max(look.line * 0.7, 0.5),
          strokeOpacity: look.opacity,
        };
  const parts = many ? groupedBy(marks, TOGETHER) : marks;
  return (
    <g data-of="points" {...paint}>
      {parts.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks have no name but their place
        <path key={i} data-of="point" d={d} />
      ))}
    </g>
  );
}

type PaintedProps = DotsProps & { area: Rect };

/** Points on the page, painted; those outside of the data are not. */
function Painted({ xs, ys, radius, colour, opacity, area }: PaintedProps) {
  const [inside, at] = useMemo(() => {
    const kept: number[] = [];
    for (let i = 0; i < xs.length; i++) {
      const [x, y] = [nth(xs, i) - area.x, nth(ys, i) - area.y];
      if (x >= -radius && x <= area.width + radius && y >= -radius && y <= area.height + radius) kept.push(i);
    }
    return [Float64Array.from(kept, (i) => nth(xs, i)), Float64Array.from(kept, (i) => nth(ys, i))];
  }, [xs, ys, radius, area]);
  return <PaintedDots xs={inside} ys={at} {...{ radius, opacity, colour }} />;
}

type DotsProps = { xs: Float64Array; ys: Float64Array; radius: number; colour: string; opacity: number };

/** Many discs: lines of no length with round ends, which every program draws as discs. */
function Dots({ xs, ys, radius, colour, opacity }: DotsProps) {
  const parts: string[] = [];
  let d = "";
  let n = 0;
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [nth(xs, i), nth(ys, i)];
    if (!Number.isFinite(x) || !Number.isFinite(y)) continue;
    d += `M${Math.round(x * 100) / 100} ${Math.round(y * 100) / 100}h0`;
    if (++n % TOGETHER === 0) {
      parts.push(d);
      d = "";
    }
  }
  if (d) parts.push(d);
  return (
    <g fill="none" stroke={colour} strokeOpacity={opacity} strokeWidth={round(2 * radius)} strokeLinecap="round">
      {parts.map((part, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks have no name but their place
        <path key={i} d={part} />
      ))}
    </g>
  );
}

function groupedBy(marks: string[], n: number): string[] {
  const result: string[] = [];
  for (let i = 0; i < marks.length; i += n) result.push(marks.slice(i, i + n).join(""));
  return result;
}

const THIN_ROLES = new Set([
  "pairs",
  "rug",
  "joined",
  "limits",
  "level lines",
  "bumps",
  "piled",
  "fences",
  "contours",
  "stepped limits",
]);
const ACROSS_ALL = new Set(["limits", "level lines"]);
const GREY = new Set(["limits", "pairs", "level lines", "fences", "contours", "stepped limits"]);
/** Beyond so many, a line that joins points stands back behind them. */
const CROWDED = 60;
const FAINT: Record<string, number> = { pairs: 0.55, piled: 0.35, bumps: 0.8, rug: 0.6 };

/** A line over all of the data area, at one value. */
function acrossAll({ layer, across, up, area }: FormProps): string {
  const [x, y] = [nth(layer.x, 0), nth(layer.y, 0)];
  if (x === layer.x[1]) return `M${round(across.place(x))} ${round(area.y)}v${round(area.height)}`;
  return `M${round(area.x)} ${round(up.place(y))}h${round(area.width)}`;
}

/** Where words stand at a line across all: above it, or below where there is no room. */
const besideLine = (line: number, top: number, size: number) => (line - 3 - 0.8 * size < top ? line + size : line - 3);

function Line(props: FormProps) {
  const { layer, look, keyed, across, up, style, area, scene } = props;
  const all = ACROSS_ALL.has(layer.role);
  const d = all ? acrossAll(props) : lineOf(placed(layer.x, across), placed(layer.y, up));
  const upright = layer.x[0] === layer.x[1];
  const beside = layer.role === "steps" && !keyed && scene.layers.some(({ role }) => role === "polygon");
  const own = keyed && layer.series !== "";
  const plainInk = ["fit", "median line", "smooth"].includes(layer.role) && !own;
  const colour = GREY.has(layer.role)
    ? "#77727E"
    : plainInk || layer.role === "normal" || layer.role === "quartiles" || beside
      ? style.ink
      : look.colour;
  const stroke = layer.role === "normal" && own ? look.colour : colour;
  const dashed = look.dash > 0 && own;
  const dash =
    dashed || (layer.role === "smooth" && own) ? DASHES[look.dash] : (ROLE_DASHES[layer.role] ?? DASHES[look.dash]);
  const thin = THIN_ROLES.has(layer.role) || beside;
  const width = thin
    ? Math.max(look.line * (layer.role === "piled" ? 0.45 : 0.6), 0.4)
    : look.line * (layer.role === "fit" ? 1.25 : layer.role === "polygon" ? 1.5 : 1.15);
  const words = layer.texts?.[0];
  return (
    <>
      <path
        d={d}
        fill="none"
        stroke={stroke}
        strokeWidth={round(width)}
        strokeOpacity={layer.role === "joined" && layer.x.length > CROWDED ? 0.5 : (FAINT[layer.role] ?? 1)}
        strokeLinejoin="round"
        strokeLinecap={layer.role === "normal" ? "round" : "butt"}
        {...(dash ? { strokeDasharray: dash } : {})}
      />
      {words && !all && layer.x.length > 0 && (
        <Words
          text={words}
          x={across.place(last(layer.x))}
          y={up.place(last(layer.y)) - 4}
          anchor="end"
          size={style.type_size}
          font={style.font}
          colour={quiet(style.ink)}
          halo={style.paper}
        />
      )}
      {words && all && (
        <Words
          text={words}
          x={upright ? across.place(nth(layer.x, 0)) + 4 : area.x + area.width - 2}
          y={upright ? area.y + style.type_size : besideLine(up.place(nth(layer.y, 0)), area.y, style.type_size)}
          anchor={upright ? "start" : "end"}
          size={style.type_size}
          font={style.font}
          colour={style.ink}
          halo={style.paper}
        />
      )}
    </>
  );
}

function Area({ layer, look, keyed, name, across, up, scene, style }: FormProps) {
  const d = lineOf(placed(layer.x, across), placed(layer.y, up), true);
  const band = layer.role === "band" || layer.role === "one more";
  const enclosed = layer.role === "enclosed";
  const grouped = keyed && layer.series !== "";
  const fill = band ? (grouped ? look.colour : "#6B6670") : enclosed ? look.colour : look.fill;
  const opacity = band
    ? layer.role === "band"
      ? 0.16
      : 0.1
    : enclosed
      ? 1
      : keyed && layer.role === "density" && !scene.told_by_place
        ? 0.32
        : 0.85;
  return (
    <>
      {look.filled !== false && <path d={d} fill={fill} fillOpacity={opacity} stroke="none" />}
      {!band && look.hatch > 0 && <Hatch {...{ name, look }} outlines={[d]} />}
      {!band && (
        <path
          d={d}
          fill="none"
          stroke={look.outline ?? (enclosed ? style.paper : look.colour)}
          strokeWidth={enclosed ? look.line * 0.5 : look.line}
          strokeLinejoin="round"
          {...(DASHES[look.dash] ? { strokeDasharray: DASHES[look.dash] } : {})}
        />
      )}
    </>
  );
}

/** Cells are drawn in so many tones: more are not told apart. */
const TONES = 63;

function Blocks({ layer, look, keyed, name, across, up, style, scene }: FormProps) {
  const corners = [
    placed(layer.x, across),
    placed(layer.y, up),
    placed(layer.high_x, across),
    placed(layer.high_y, up),
  ] as const;
  // A cell that reaches down to zero or below ends where a logarithmic axis begins.
  const foot = [across.from, up.from];
  const share = shareOf(scene);
  const paths: string[] = [];
  const shaded = new Map<number, string[]>();
  for (let i = 0; i < layer.x.length; i++) {
    const [x0, y0, x1, y1] = eachOf(corners, (corner, k) =>
      Number.isFinite(corner[i]) || layer.role !== "tiles" ? nth(corner, i) : nth(foot, k % 2),
    );
    if (![x0, y0, x1, y1].every(Number.isFinite)) continue;
    if (layer.role === "tiles") {
      const step = Math.round(share(nth(layer.value, i)) * TONES);
      // Neighbours overlap by a hair, so that no paper shows between them.
      const own = [x0 - 0.15, y0 + 0.15, x1 + 0.15, y1 - 0.15] as const;
      const result = shaded.get(step) ?? [];
      result.push(layer.form === "hexagons" ? hexagonPath(...own) : rectPath(...own));
      shaded.set(step, result);
    } else if (layer.high_y[i] !== layer.y[i] || layer.high_x[i] !== layer.x[i]) paths.push(rectPath(x0, y0, x1, y1));
  }
  if (layer.role === "tiles")
    return [...shaded]
      .sort(([a], [b]) => a - b)
      .map(([step, parts]) => (
        <path
          key={step}
          data-of={`${parts.length} tiles`}
          d={parts.join("")}
          fill={shade(step / TONES, style.colours, scene.values_ramp)}
          stroke="none"
        />
      ));
  const d = paths.join("");
  if (layer.role === "run") return <path d={d} fill={beyondOf(style)} fillOpacity={0.1} stroke="none" />;
  const ground = look.filled !== false && look.ranked ? look.colour : null;
  const over = keyed && layer.role === "classes" && !scene.told_by_place;
  const solid = layer.role === "answers";
  return (
    <>
      {look.filled !== false && (
        <path
          d={d}
          fill={solid && look.ranked ? look.colour : look.fill}
          fillOpacity={over ? 0.6 : solid && !look.ranked ? 0.85 : 1}
          stroke="none"
        />
      )}
      {look.hatch > 0 && <Hatch {...{ name, look }} outlines={paths} />}
      <path
        d={d}
        fill="none"
        stroke={look.outline ?? (solid ? style.paper : look.colour)}
        strokeWidth={Math.max(look.line * 0.7, 0.5)}
        strokeLinejoin="round"
      />
      {layer.texts?.map((text, i) => {
        const [x0, y0, x1, y1] = eachOf(corners, (corner) => nth(corner, i));
        const [wide, tall] = [Math.abs(x1 - x0), Math.abs(y1 - y0)];
        if (!text || wide < widthOf(text, style.type_size, style.font) + 4 || tall < style.type_size) return null;
        return (
          <Words
            key={`${x0} ${y0}`}
            text={text}
            x={(x0 + x1) / 2}
            y={(y0 + y1) / 2 + style.type_size * 0.34}
            anchor="middle"
            size={style.type_size}
            font={style.font}
            colour={ground ? inkOn(ground) : style.ink}
          />
        );
      })}
    </>
  );
}

/** Lines drawn within outlines. */
export function Hatch({ name, look, outlines }: { name: string; look: Look; outlines: string[] }) {
  const numbers = outlines.flatMap((d) => (d.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number));
  const boxes = outlines.map(boxOf);
  if (numbers.length === 0) return null;
  const [left, top, right, bottom] = [
    Math.min(...boxes.map((box) => box[0])),
    Math.min(...boxes.map((box) => box[1])),
    Math.max(...boxes.map((box) => box[2])),
    Math.max(...boxes.map((box) => box[3])),
  ];
  const step = look.hatch === 5 ? 4.5 : 3.4;
  let d = "";
  const [w, h] = [right - left, bottom - top];
  if (w > 3000 || h > 3000) return null;
  if (look.hatch === 1 || look.hatch === 5)
    for (let at = -h; at < w; at += step) d += `M${round(left + at)} ${round(bottom)}l${round(h)} ${round(-h)}`;
  if (look.hatch === 2 || look.hatch === 5)
    for (let at = -h; at < w; at += step) d += `M${round(left + at)} ${round(top)}l${round(h)} ${round(h)}`;
  if (look.hatch === 3)
    for (let at = step / 2; at < w; at += step) d += `M${round(left + at)} ${round(top)}v${round(h)}`;
  if (look.hatch === 4)
    for (let at = step / 2; at < h; at += step) d += `M${round(left)} ${round(top + at)}h${round(w)}`;
  return (
    <>
      <clipPath id={name}>
        <path d={outlines.join("")} />
      </clipPath>
      <g clipPath={`url(#${name})`}>
        <path d={d} stroke={look.colour} strokeWidth={0.5} fill="none" />
      </g>
    </>
  );
}

const FORMS: Record<Layer["form"], (props: FormProps) => ReactNode> = {
  points: Points,
  line: Line,
  area: Area,
  blocks: Blocks,
  hexagons: Blocks,
  interval: Interval,
  box: Box,
  words: Values,
};
