import { nth } from "../values";
import { quiet } from "./AxisLines";
import type { PlateAxis } from "./axis";
import type { FormProps } from "./marksProps";
import { widthOf } from "./text";
import { Words } from "./Words";

type Box = [number, number, number, number];
const overlap = (a: Box, b: Box) =>
  Math.max(Math.min(a[2], b[2]) - Math.max(a[0], b[0]), 0) * Math.max(Math.min(a[3], b[3]) - Math.max(a[1], b[1]), 0);

const isInside = ([left, top, right, bottom]: Box, across: PlateAxis, up: PlateAxis) =>
  left >= Math.min(across.from, across.to) &&
  right <= Math.max(across.from, across.to) &&
  top >= Math.min(up.from, up.to) &&
  bottom <= Math.max(up.from, up.to);

/** Texts beside their marks: where each covers neither a bar nor another text, as far as there is room. */
export function Values({ layer, look, across, up, style }: FormProps) {
  const along = layer.upright ? up : across;
  const size = style.type_size;
  const air = look.size * 0.75;
  const held = (value: number) => along.place(Math.min(Math.max(value, along.low), along.high));
  const taken: Box[] = [];
  const marks = Array.from(layer.x, (x, i) => {
    const [cx, cy] = [across.place(x), up.place(nth(layer.y, i))];
    const value = layer.upright ? nth(layer.y, i) : x;
    if (!Number.isFinite(cx) || !Number.isFinite(cy) || value < along.low || value > along.high) return null;
    const [low, high] = [layer.low[i] ?? value, layer.high[i] ?? value].map((end) =>
      held(Number.isNaN(end) ? value : end),
    ) as [number, number];
    const bar: Box = layer.upright
      ? [cx - air, Math.min(low, high, cy) - air, cx + air, Math.max(low, high, cy) + air]
      : [Math.min(low, high, cx) - air, cy - air, Math.max(low, high, cx) + air, cy + air];
    taken.push(bar);
    return { cx, cy, bar, text: nth(layer.texts, i) };
  });
  return marks.map((mark) => {
    if (!mark) return null;
    const { cx, cy, bar, text } = mark;
    const [w, h] = [widthOf(text, size, style.font, true) + 2, size * 1.05];
    const [left, top, right, bottom] = bar;
    const tried: [number, number][] = [
      [cx + air + 2 + w / 2, cy],
      [cx - air - 2 - w / 2, cy],
      [cx, top - h * 0.6],
      [cx, bottom + h * 0.6],
      [cx + air + 2 + w / 2, cy - h],
      [cx + air + 2 + w / 2, cy + h],
      [right + 2 + w / 2, cy],
      [left - 2 - w / 2, cy],
    ];
    const box = ([x, y]: [number, number]): Box => [x - w / 2, y - h / 2, x + w / 2, y + h / 2];
    let best = nth(tried, 0);
    let least = Number.POSITIVE_INFINITY;
    for (const place of tried) {
      const own = box(place);
      const covered =
        (isInside(own, across, up) ? 0 : 1e3) + taken.reduce((sum, other) => sum + overlap(own, other), 0);
      if (covered < least) [best, least] = [place, covered];
      if (least === 0) break;
    }
    taken.push(box(best));
    return (
      <Words
        key={`${cx} ${cy}`}
        text={text}
        x={best[0]}
        y={best[1] + size * 0.34}
        anchor="middle"
        size={size}
        font={style.font}
        bold={layer.role === "values"}
        colour={layer.role === "values" ? style.ink : quiet(style.ink)}
        halo={style.paper}
      />
    );
  });
}
