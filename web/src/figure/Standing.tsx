import { eachOf, nth } from "../values";
import { markPath } from "./look";
import type { FormProps } from "./marksProps";
import { shifted } from "./paths";
import { round } from "./Words";

/** The least share of its size at which the shape of a mark can be read. */
const LEAST_MARK = 0.8;

/** A centre with its bar, or a combined estimate as a diamond. */
export function Interval({ layer, look, across, up, style }: FormProps) {
  const along = layer.upright ? up : across;
  const sized = layer.size.length > 0;
  return Array.from(layer.x, (x, i) => {
    const [cx, cy] = [across.place(x), up.place(nth(layer.y, i))];
    if (!Number.isFinite(cx) || !Number.isFinite(cy)) return null;
    const ends = [layer.low[i], layer.high[i]].map((end) =>
      end === undefined || Number.isNaN(end) ? null : along.place(Math.min(Math.max(end, along.low), along.high)),
    );
    const [a, b] = ends;
    const key = `${x} ${layer.y[i]}`;
    const radius = look.size * (sized ? 0.5 + 0.75 * Math.sqrt(nth(layer.size, i)) : 0.9);
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
    // A bar hardly longer than its mark would hide behind it: the mark shrinks as far as its shape can be read, and
    // where that is not enough the bar stands before it.
    const halfBar = a == null && b == null ? Number.POSITIVE_INFINITY : Math.abs(to - from) / 2;
    const held = sized ? radius : Math.min(radius, Math.max(halfBar * 0.55, radius * LEAST_MARK));
    const before = layer.role !== "point bars" && held > halfBar * 0.8;
    const ink = look.outline ?? look.colour;
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
      layer.role !== "point bars" && // these have points of their own
      along.low <= (layer.upright ? nth(layer.y, i) : x) &&
      (layer.upright ? nth(layer.y, i) : x) <= along.high;
    return (
      <g key={key} strokeLinecap={layer.caps ? "butt" : "round"} fill="none">
        {layer.role !== "point bars" && <path d={line} stroke={style.paper} strokeWidth={round(look.line * 3.4)} />}
        {!before && (
          <path
            data-of="bar"
            d={line + caps}
            stroke={ink}
            strokeWidth={round(look.line * (layer.role === "point bars" ? 1.1 : 1.7))}
          />
        )}
        {seen && (
          <path
            d={shifted(markPath(look.shape, 1), cx, cy, held)}
            fill={look.filled ? look.colour : style.paper}
            stroke={ink}
            strokeWidth={round(look.line * 1.35)}
            strokeLinejoin="round"
          />
        )}
        {before && (
          <path
            data-of="bar"
            d={line + caps}
            stroke={look.filled ? style.paper : ink}
            strokeWidth={round(look.line * 1.35)}
          />
        )}
      </g>
    );
  });
}

/** How narrow a notched box is at its median. */
const WAIST = 0.5;

/** A box with its median and whiskers. */
export function Box({ layer, look, keyed, across, up, style }: FormProps) {
  const other = layer.upright ? across : up;
  const along = layer.upright ? up : across;
  const half = Math.abs(other.place(layer.width) - other.place(0)) / 2;
  const ink = keyed && layer.series ? look.colour : style.ink;
  return Array.from(layer.x, (x, i) => {
    // What a logarithmic axis cannot hold runs off its lower end.
    const off = along.from - (along.to - along.from) / 8;
    const place = (value: number) => (value <= 0 && along.scale !== "linear" ? off : along.place(value));
    const middle = nth(layer.upright ? layer.y : layer.x, i);
    const at = other.place(nth(layer.upright ? layer.x : layer.y, i));
    const [from, to] = [nth(layer.q1, i), nth(layer.q3, i)];
    // A whisker that ends inside the box is not drawn.
    const [low, q1, median, q3, high] = eachOf(
      [Math.min(nth(layer.low, i), from), from, middle, to, Math.max(nth(layer.high, i), to)],
      place,
    );
    if (![low, q1, median, q3, high, at].every(Number.isFinite)) return null;
    const corner = Math.min(half * 0.35, Math.abs(q3 - q1) / 2, 3);
    const inset = look.line * 0.5;
    const [x0, y0, w, h] = layer.upright
      ? [at - half, Math.min(q1, q3), 2 * half, Math.abs(q3 - q1)]
      : [Math.min(q1, q3), at - half, Math.abs(q3 - q1), 2 * half];
    const whisker = layer.upright
      ? `M${round(at)} ${round(low)}V${round(q1)}M${round(at)} ${round(q3)}V${round(high)}`
      : `M${round(low)} ${round(at)}H${round(q1)}M${round(q3)} ${round(at)}H${round(high)}`;
    const notch = layer.notch_low.length > 0 ? notched() : null;
    const wide = notch ? half * WAIST : half;
    const line = layer.upright
      ? `M${round(at - wide + inset)} ${round(median)}h${round(2 * wide - 2 * inset)}`
      : `M${round(median)} ${round(at - wide + inset)}v${round(2 * wide - 2 * inset)}`;
    const ground = { fill: look.filled ? look.fill : style.paper, fillOpacity: 0.82 };

    /** A box drawn in at its median, from the lower to the upper end of the notch, which may lie beyond a quartile. */
    function notched(): string {
      const [from, to] = [place(nth(layer.notch_low, i)), place(nth(layer.notch_high, i))];
      const side = (sign: number): [number, number][] => [
        [q1, at + sign * half],
        [from, at + sign * half],
        [median, at + sign * half * WAIST],
        [to, at + sign * half],
        [q3, at + sign * half],
      ];
      const spots = [...side(-1), ...side(1).reverse()];
      return `M${spots.map(([a, b]) => (layer.upright ? `${round(b)} ${round(a)}` : `${round(a)} ${round(b)}`)).join("L")}Z`;
    }
    return (
      <g key={`${x} ${layer.y[i]}`} stroke={look.outline ?? ink} strokeWidth={look.line} fill="none">
        <path data-of="whiskers" d={whisker} strokeLinecap="round" />
        {notch ? (
          <path data-of="quartiles" d={notch} strokeLinejoin="round" {...ground} />
        ) : (
          <rect
            data-of="quartiles"
            x={round(x0)}
            y={round(y0)}
            width={round(Math.max(w, 0.3))}
            height={round(Math.max(h, 0.3))}
            rx={round(corner)}
            {...ground}
          />
        )}
        <path data-of="median" d={line} strokeWidth={round(look.line * 2.1)} />
      </g>
    );
  });
}
