import { memo } from "react";
import type { Layer, Panel, PlateStyle, Scene } from "../../../api/plates";
import type { PlateAxis } from "./axis";
import { BEYOND, DASHES, type Look, markPath, roleLook } from "./look";
import { shade, shareOf } from "./shades";
import { round } from "./Words";

type MarksProps = {
  layer: Layer;
  /** Among the layers of its panel, and the panel's among those of the sheet: names of clippings come of it. */
  name: string;
  panel: Panel;
  panelPlace: number;
  look: Look;
  /** Whether series are told apart, by colour or place. */
  keyed: boolean;
  across: PlateAxis;
  up: PlateAxis;
  style: PlateStyle;
  scene: Scene;
};

/** Points up to so many are drawn one by one, so that where they lie over each other they darken. */
const ONE_BY_ONE = 3000;
const TOGETHER = 60;

/** The marks of one layer. */
export const Marks = memo(function Marks(props: MarksProps) {
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

type FormProps = MarksProps;

const placed = (values: Float64Array, axis: PlateAxis) => {
  const found = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) found[i] = axis.place(values[i] as number);
  return found;
};

/** A line over places, broken where one is missing or cannot stand on its axis. */
function lineOf(xs: Float64Array, ys: Float64Array, close = false): string {
  let d = "";
  let down = false;
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [xs[i] as number, ys[i] as number];
    if (!Number.isFinite(x) || !Number.isFinite(y)) {
      if (down && close) d += "Z";
      down = false;
      continue;
    }
    d += `${down ? "L" : "M"}${round(held(x))} ${round(held(y))}`;
    down = true;
  }
  return close && down ? `${d}Z` : d;
}

/** Far outside the sheet a line only needs its direction. */
const held = (at: number) => Math.min(Math.max(at, -20_000), 20_000);

function Points({ layer, look, across, up, style }: FormProps) {
  const xs = placed(layer.x, across);
  const ys = placed(layer.y, up);
  const beyond = layer.role === "beyond";
  const radius = (look.size / 2) * (beyond ? 1.15 : 1);
  const sized = layer.size.length === layer.x.length && layer.size.length > 0;
  const filled = look.filled ?? !beyond;
  const many = xs.length > ONE_BY_ONE;
  if (many && look.shape === 0 && filled && !look.outline && !sized && !beyond)
    return <Dots {...{ xs, ys, radius }} colour={look.colour} opacity={look.opacity} />;
  const draw = drawer(markPath(look.shape, 1));
  const marks: string[] = [];
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [xs[i] as number, ys[i] as number];
    if (!Number.isFinite(x) || !Number.isFinite(y)) continue;
    const r = sized ? radius * (0.5 + 1.6 * Math.sqrt(Math.max(layer.size[i] as number, 0))) : radius;
    let d = draw(x, y, r);
    // Ringed marks bear a short tick.
    if (beyond) d += `M${round(x + r * 0.72)} ${round(y - r * 0.72)}l${round(r * 0.8)} ${round(-r * 0.8)}`;
    marks.push(d);
  }
  const line = Math.max(look.line * 0.5, 0.5);
  const paint = beyond
    ? { fill: style.paper, stroke: BEYOND, strokeWidth: Math.max(look.line * 0.8, 0.5) }
    : filled
      ? {
          fill: look.colour,
          fillOpacity: look.opacity,
          ...(look.outline ? { stroke: look.outline, strokeWidth: line } : {}),
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
    <g {...paint}>
      {parts.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks have no name but their place
        <path key={i} d={d} />
      ))}
    </g>
  );
}

type DotsProps = { xs: Float64Array; ys: Float64Array; radius: number; colour: string; opacity: number };

/** Many discs: lines of no length with round ends, which every program draws as discs. */
function Dots({ xs, ys, radius, colour, opacity }: DotsProps) {
  const parts: string[] = [];
  let d = "";
  let n = 0;
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [xs[i] as number, ys[i] as number];
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
  const found: string[] = [];
  for (let i = 0; i < marks.length; i += n) found.push(marks.slice(i, i + n).join(""));
  return found;
}

/** How a mark of radius 1 about 0 is drawn elsewhere and larger: its path is read once. */
function drawer(path: string): (x: number, y: number, r: number) => string {
  const steps = [...path.matchAll(/([MLHVAZ])([^MLHVAZ]*)/g)].map(([, command = "", rest = ""]) => ({
    command,
    n: (rest.match(/-?[\d.]+(?:e-?\d+)?/g) ?? []).map(Number),
  }));
  return (x, y, r) => {
    let d = "";
    for (const { command, n } of steps) {
      const [a = 0, b = 0, c = 0, large = 0, sweep = 0, e = 0, f = 0] = n;
      if (command === "Z") d += "Z";
      else if (command === "H") d += `H${round(x + r * a)}`;
      else if (command === "V") d += `V${round(y + r * a)}`;
      else if (command === "A")
        d += `A${round(r * a)} ${round(r * b)} ${c} ${large} ${sweep} ${round(x + r * e)} ${round(y + r * f)}`;
      else d += `${command}${round(x + r * a)} ${round(y + r * b)}`;
    }
    return d;
  };
}

const shifted = (path: string, x: number, y: number, r: number) => drawer(path)(x, y, r);

const THIN_ROLES = new Set(["pairs", "rug", "joined", "limits"]);

function Line({ layer, look, keyed, across, up, style }: FormProps) {
  const d = lineOf(placed(layer.x, across), placed(layer.y, up));
  const own = keyed && layer.series !== "";
  const plainInk = ["fit", "median line", "smooth"].includes(layer.role) && !own;
  const colour =
    layer.role === "limits" || layer.role === "pairs"
      ? "#77727E"
      : plainInk || layer.role === "normal"
        ? style.ink
        : look.colour;
  const stroke = layer.role === "normal" && own ? look.colour : colour;
  const dash =
    look.dash > 0 && own
      ? DASHES[look.dash]
      : layer.role === "normal"
        ? "0.1 2.4"
        : layer.role === "limits"
          ? "3.5 2.5"
          : layer.role === "median line"
            ? "6 3"
            : layer.role === "smooth" && !own
              ? "9 2.5 1.5 2.5"
              : DASHES[look.dash];
  const thin = THIN_ROLES.has(layer.role);
  const width = thin ? Math.max(look.line * 0.6, 0.5) : look.line * (layer.role === "fit" ? 1.25 : 1.15);
  return (
    <path
      d={d}
      fill="none"
      stroke={stroke}
      strokeWidth={round(width)}
      strokeOpacity={layer.role === "pairs" ? 0.55 : 1}
      strokeLinejoin="round"
      strokeLinecap={layer.role === "normal" ? "round" : "butt"}
      {...(dash ? { strokeDasharray: dash } : {})}
    />
  );
}

function Area({ layer, look, keyed, name, across, up }: FormProps) {
  const d = lineOf(placed(layer.x, across), placed(layer.y, up), true);
  const band = layer.role === "band";
  const fill = band ? (keyed && layer.series ? look.colour : "#6B6670") : look.fill;
  const opacity = band ? 0.16 : keyed && layer.role === "density" ? 0.32 : 0.85;
  return (
    <>
      {look.filled !== false && <path d={d} fill={fill} fillOpacity={opacity} stroke="none" />}
      {!band && look.hatch > 0 && <Hatch {...{ name, look }} outlines={[d]} />}
      {!band && (
        <path
          d={d}
          fill="none"
          stroke={look.outline ?? look.colour}
          strokeWidth={look.line}
          strokeLinejoin="round"
          {...(DASHES[look.dash] ? { strokeDasharray: DASHES[look.dash] } : {})}
        />
      )}
    </>
  );
}

const rectPath = (x0: number, y0: number, x1: number, y1: number) =>
  `M${round(held(Math.min(x0, x1)))} ${round(held(Math.min(y0, y1)))}H${round(held(Math.max(x0, x1)))}V${round(held(Math.max(y0, y1)))}H${round(held(Math.min(x0, x1)))}Z`;

/** A hexagon that stands on a corner, within a box. */
function hexagonPath(x0: number, y0: number, x1: number, y1: number): string {
  const [a, b, c] = [x0, (x0 + x1) / 2, x1].map((x) => round(held(x)));
  const [d, e, f, g] = [0, 0.25, 0.75, 1].map((share) => round(held(y0 + share * (y1 - y0))));
  return `M${b} ${d}L${c} ${e}V${f}L${b} ${g}L${a} ${f}V${e}Z`;
}

function Blocks({ layer, look, keyed, name, across, up, style, scene }: FormProps) {
  const corners = [
    placed(layer.x, across),
    placed(layer.y, up),
    placed(layer.high_x, across),
    placed(layer.high_y, up),
  ];
  // A cell that reaches down to zero or below ends where a logarithmic axis begins.
  const foot = [across.from, up.from];
  const share = shareOf(scene);
  const paths: string[] = [];
  const colours: string[] = [];
  for (let i = 0; i < layer.x.length; i++) {
    const [x0, y0, x1, y1] = corners.map((each, k) =>
      Number.isFinite(each[i]) || layer.role !== "tiles" ? each[i] : foot[k % 2],
    ) as [number, number, number, number];
    if (![x0, y0, x1, y1].every(Number.isFinite)) continue;
    if (layer.role === "tiles") {
      colours.push(shade(share(layer.value[i] as number), style.colours));
      // Neighbours overlap by a hair, so that no paper shows between them.
      const own = [x0 - 0.15, y0 + 0.15, x1 + 0.15, y1 - 0.15] as const;
      paths.push(layer.form === "hexagons" ? hexagonPath(...own) : rectPath(...own));
    } else if (layer.high_y[i] !== layer.y[i] || layer.high_x[i] !== layer.x[i]) paths.push(rectPath(x0, y0, x1, y1));
  }
  if (layer.role === "tiles") return paths.map((d, i) => <path key={d} d={d} fill={colours[i]} stroke="none" />);
  const d = paths.join("");
  const over = keyed && layer.role === "classes";
  const solid = layer.role === "answers";
  return (
    <>
      {look.filled !== false && (
        <path d={d} fill={solid ? look.colour : look.fill} fillOpacity={over ? 0.6 : solid ? 0.85 : 1} stroke="none" />
      )}
      {look.hatch > 0 && <Hatch {...{ name, look }} outlines={paths} />}
      <path
        d={d}
        fill="none"
        stroke={look.outline ?? (solid ? style.paper : look.colour)}
        strokeWidth={Math.max(look.line * 0.7, 0.5)}
        strokeLinejoin="round"
      />
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

/** The box about an outline written with M, L, H, V and Z alone. */
function boxOf(d: string): [number, number, number, number] {
  let [left, top, right, bottom] = [1e9, 1e9, -1e9, -1e9];
  for (const [, command, rest = ""] of d.matchAll(/([MLHV])([^MLHVZ]*)/g)) {
    const n = (rest.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number);
    const [x, y] = command === "H" ? [n[0], undefined] : command === "V" ? [undefined, n[0]] : [n[0], n[1]];
    if (x !== undefined) [left, right] = [Math.min(left, x), Math.max(right, x)];
    if (y !== undefined) [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  return [left, top, right, bottom];
}

function Interval({ layer, look, across, up, style }: FormProps) {
  const along = layer.upright ? up : across;
  const sized = layer.size.length > 0;
  return Array.from(layer.x, (x, i) => {
    const [cx, cy] = [across.place(x), up.place(layer.y[i] as number)];
    if (!Number.isFinite(cx) || !Number.isFinite(cy)) return null;
    const ends = [layer.low[i], layer.high[i]].map((end) =>
      end === undefined || Number.isNaN(end) ? null : along.place(Math.min(Math.max(end, along.low), along.high)),
    );
    const [a, b] = ends;
    const key = `${x} ${layer.y[i]}`;
    const radius = look.size * (sized ? 0.5 + 0.75 * Math.sqrt(layer.size[i] as number) : 0.9);
    if (layer.role === "combined" && a != null && b != null) {
      const half = look.size * 0.95;
      const d = layer.upright
        ? `M${round(cx)} ${round(a)}L${round(cx + half)} ${round(cy)}L${round(cx)} ${round(b)}L${round(cx - half)} ${round(cy)}Z`
        : `M${round(a)} ${round(cy)}L${round(cx)} ${round(cy - half)}L${round(b)} ${round(cy)}L${round(cx)} ${round(cy + half)}Z`;
      return (
        <path key={key} d={d} fill={look.fill} stroke={look.colour} strokeWidth={look.line} strokeLinejoin="round" />
      );
    }
    const [from, to] = [a ?? (layer.upright ? cy : cx), b ?? (layer.upright ? cy : cx)];
    const half = layer.caps
      ? Math.abs((layer.upright ? across : up).place(layer.width) - (layer.upright ? across : up).place(0)) / 2
      : 0;
    const line = layer.upright
      ? `M${round(cx)} ${round(from)}V${round(to)}`
      : `M${round(from)} ${round(cy)}H${round(to)}`;
    const caps = layer.caps
      ? [a, b]
          .map((end) =>
            end == null
              ? ""
              : layer.upright
                ? `M${round(cx - half)} ${round(end)}h${round(2 * half)}`
                : `M${round(end)} ${round(cy - half)}v${round(2 * half)}`,
          )
          .join("")
      : "";
    const seen =
      along.low <= (layer.upright ? (layer.y[i] as number) : x) &&
      (layer.upright ? (layer.y[i] as number) : x) <= along.high;
    return (
      <g key={key} strokeLinecap={layer.caps ? "butt" : "round"} fill="none">
        <path d={line} stroke={style.paper} strokeWidth={round(look.line * 3.4)} />
        <path d={line + caps} stroke={look.outline ?? look.colour} strokeWidth={round(look.line * 1.7)} />
        {seen && (
          <path
            d={shifted(markPath(look.shape, 1), cx, cy, radius)}
            fill={look.filled ? look.colour : style.paper}
            stroke={look.outline ?? look.colour}
            strokeWidth={round(look.line * 1.35)}
            strokeLinejoin="round"
          />
        )}
      </g>
    );
  });
}

function Box({ layer, look, keyed, across, up, style }: FormProps) {
  const other = layer.upright ? across : up;
  const along = layer.upright ? up : across;
  const half = Math.abs(other.place(layer.width) - other.place(0)) / 2;
  const ink = keyed && layer.series ? look.colour : style.ink;
  return Array.from(layer.x, (x, i) => {
    const middle = (layer.upright ? layer.y : layer.x)[i] as number;
    const at = other.place((layer.upright ? layer.x : layer.y)[i] as number);
    const [low, q1, median, q3, high] = [layer.low[i], layer.q1[i], middle, layer.q3[i], layer.high[i]].map((value) =>
      along.place(value as number),
    ) as [number, number, number, number, number];
    if (![low, q1, median, q3, high, at].every(Number.isFinite)) return null;
    const corner = Math.min(half * 0.35, Math.abs(q3 - q1) / 2, 3);
    const inset = look.line * 0.5;
    const [x0, y0, w, h] = layer.upright
      ? [at - half, Math.min(q1, q3), 2 * half, Math.abs(q3 - q1)]
      : [Math.min(q1, q3), at - half, Math.abs(q3 - q1), 2 * half];
    const whisker = layer.upright
      ? `M${round(at)} ${round(low)}V${round(q1)}M${round(at)} ${round(q3)}V${round(high)}`
      : `M${round(low)} ${round(at)}H${round(q1)}M${round(q3)} ${round(at)}H${round(high)}`;
    const line = layer.upright
      ? `M${round(at - half + inset)} ${round(median)}h${round(2 * half - 2 * inset)}`
      : `M${round(median)} ${round(at - half + inset)}v${round(2 * half - 2 * inset)}`;
    return (
      <g key={`${x} ${layer.y[i]}`} stroke={look.outline ?? ink} strokeWidth={look.line} fill="none">
        <path d={whisker} strokeLinecap="round" />
        <rect
          x={round(x0)}
          y={round(y0)}
          width={round(Math.max(w, 0.3))}
          height={round(Math.max(h, 0.3))}
          rx={round(corner)}
          fill={look.filled ? look.fill : style.paper}
          fillOpacity={0.82}
        />
        <path d={line} strokeWidth={round(look.line * 2.1)} />
      </g>
    );
  });
}

const FORMS = {
  points: Points,
  line: Line,
  area: Area,
  blocks: Blocks,
  hexagons: Blocks,
  interval: Interval,
  box: Box,
};
