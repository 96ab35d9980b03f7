import { memo, type ReactNode } from "react";
import type { Layer } from "../api/plates";
import { inkOn } from "../plot/ramps";
import { eachOf, nth } from "../values";
import { BEYOND, DASHES, type Look, markPath, roleLook } from "./look";
import type { FormProps } from "./marksProps";
import { boxOf, drawer, hexagonPath, lineOf, placed, rectPath } from "./paths";
import { Box, Interval } from "./Standing";
import { shade, shareOf } from "./shades";
import { widthOf } from "./text";
import { Values } from "./Values";
import { round, Words } from "./Words";

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

function Points({ layer, look, across, up, style }: FormProps) {
  const xs = placed(layer.x, across);
  const ys = placed(layer.y, up);
  const beyond = layer.role === "beyond";
  const radius = (look.size / 2) * (beyond ? 1.3 : 1);
  const sized = layer.size.length === layer.x.length && layer.size.length > 0;
  const filled = look.filled ?? !beyond;
  const many = xs.length > ONE_BY_ONE;
  if (many && look.shape === 0 && filled && !look.outline && !sized && !beyond)
    return <Dots {...{ xs, ys, radius }} colour={look.colour} opacity={look.opacity} />;
  const draw = drawer(markPath(beyond ? 0 : look.shape, 1));
  const marks: string[] = [];
  for (let i = 0; i < xs.length; i++) {
    const [x, y] = [nth(xs, i), nth(ys, i)];
    if (!Number.isFinite(x) || !Number.isFinite(y)) continue;
    const r = sized ? radius * (0.5 + 1.6 * Math.sqrt(Math.max(nth(layer.size, i), 0))) : radius;
    let d = draw(x, y, r);
    // Ringed marks bear a short tick.
    if (beyond) d += `M${round(x + r * 0.72)} ${round(y - r * 0.72)}l${round(r * 0.6)} ${round(-r * 0.6)}`;
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
    <g data-of="points" {...paint}>
      {parts.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: marks have no name but their place
        <path key={i} data-of="point" d={d} />
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
  const found: string[] = [];
  for (let i = 0; i < marks.length; i += n) found.push(marks.slice(i, i + n).join(""));
  return found;
}

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
  const words = layer.texts?.[0];
  return (
    <>
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
      {words && (
        <Words
          text={words}
          x={across.place(nth(layer.x, 0)) + 4}
          y={Math.min(up.from, up.to) + style.type_size}
          size={style.type_size}
          font={style.font}
          colour={style.ink}
          halo={style.paper}
        />
      )}
    </>
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
  const colours: string[] = [];
  for (let i = 0; i < layer.x.length; i++) {
    const [x0, y0, x1, y1] = eachOf(corners, (each, k) =>
      Number.isFinite(each[i]) || layer.role !== "tiles" ? nth(each, i) : nth(foot, k % 2),
    );
    if (![x0, y0, x1, y1].every(Number.isFinite)) continue;
    if (layer.role === "tiles") {
      colours.push(shade(share(nth(layer.value, i)), style.colours));
      // Neighbours overlap by a hair, so that no paper shows between them.
      const own = [x0 - 0.15, y0 + 0.15, x1 + 0.15, y1 - 0.15] as const;
      paths.push(layer.form === "hexagons" ? hexagonPath(...own) : rectPath(...own));
    } else if (layer.high_y[i] !== layer.y[i] || layer.high_x[i] !== layer.x[i]) paths.push(rectPath(x0, y0, x1, y1));
  }
  if (layer.role === "tiles") return paths.map((d, i) => <path key={d} d={d} fill={colours[i]} stroke="none" />);
  const d = paths.join("");
  const ground = look.filled !== false && look.ranked ? look.colour : null;
  const over = keyed && layer.role === "classes";
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
        const [x0, y0, x1, y1] = eachOf(corners, (each) => nth(each, i));
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
