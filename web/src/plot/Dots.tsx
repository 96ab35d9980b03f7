import { memo, useCallback, useMemo } from "react";
import { nth } from "../values";

type Numbers = ArrayLike<number>;
type DotsProps = {
  xs: Numbers;
  ys: Numbers;
  radius: number;
  opacity?: number;
  className: string;
  /** Which rows these are, where a picture has several sorts of dots. */
  of?: "selected";
};

/** Beyond so many, dots are painted: a drawing of ten thousand marks takes the browser too long to follow a hand. */
const DRAWN_UP_TO = 1_500;
/** Dots that overlap within one path do not darken each other, those of different ones do. */
const PATHS = 6;

/** Dots, few of them drawn, many painted. */
export const Dots = memo(function Dots(props: DotsProps) {
  return props.xs.length > DRAWN_UP_TO ? <PaintedDots {...props} /> : <DrawnDots {...props} />;
});

/** Each dot a point of no length with a round end: some thousand fit into one path. */
function pathsOfDots(xs: Numbers, ys: Numbers): string[] {
  const parts: string[][] = Array.from({ length: PATHS }, () => []);
  for (let i = 0; i < xs.length; i++) {
    parts[i % PATHS]?.push(`M${nth(xs, i).toFixed(1)} ${nth(ys, i).toFixed(1)}h0`);
  }
  return parts.map((part) => part.join(""));
}

function DrawnDots({ xs, ys, radius, opacity = 1, className, of }: DotsProps) {
  const paths = useMemo(() => pathsOfDots(xs, ys), [xs, ys]);
  return (
    <g
      data-dots={of}
      fill="none"
      strokeLinecap="round"
      strokeWidth={2 * radius}
      strokeOpacity={opacity}
      className={className}
    >
      {paths.map((path, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the paths are a fixed number of places
        <path key={i} d={path} />
      ))}
    </g>
  );
}

function extent(values: Numbers, radius: number): [number, number] {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let i = 0; i < values.length; i++) {
    low = Math.min(low, nth(values, i));
    high = Math.max(high, nth(values, i));
  }
  return [Math.floor(low - radius), Math.ceil(high + radius)];
}

type PaintedProps = Omit<DotsProps, "of" | "className"> & { className?: string; colour?: string };

export function PaintedDots({ xs, ys, radius, opacity = 1, className = "", colour }: PaintedProps) {
  const [left, right] = useMemo(() => extent(xs, radius), [xs, radius]);
  const [top, bottom] = useMemo(() => extent(ys, radius), [ys, radius]);
  const paint = useCallback(
    (canvas: HTMLCanvasElement | null) => {
      const brush = canvas?.getContext("2d", { willReadFrequently: true });
      if (!canvas || !brush) return;
      const grain = window.devicePixelRatio || 1;
      canvas.width = Math.round((right - left) * grain);
      canvas.height = Math.round((bottom - top) * grain);
      const cover = new Float32Array(canvas.width * canvas.height);
      const dot = maskOf(radius * grain, opacity);
      for (let i = 0; i < xs.length; i++) {
        lay(dot, cover, canvas.width, (nth(xs, i) - left) * grain, (nth(ys, i) - top) * grain);
      }
      brush.fillStyle = getComputedStyle(canvas).stroke;
      brush.fillRect(0, 0, canvas.width, canvas.height);
      const picture = brush.getImageData(0, 0, canvas.width, canvas.height);
      for (let i = 0; i < cover.length; i++) picture.data[4 * i + 3] = 255 * nth(cover, i);
      brush.putImageData(picture, 0, 0);
    },
    [xs, ys, radius, opacity, left, right, top, bottom],
  );
  const room = { x: left, y: top, width: right - left, height: bottom - top };
  return (
    <foreignObject {...room} className="pointer-events-none">
      <canvas
        ref={paint}
        className={`block ${className}`}
        style={{ width: room.width, height: room.height, ...(colour ? { stroke: colour } : {}) }}
      />
    </foreignObject>
  );
}

type Mask = { reach: number; cover: Float32Array };

/** How much of each pixel around its middle a dot covers. */
function maskOf(radius: number, opacity: number): Mask {
  const reach = Math.ceil(radius);
  const side = 2 * reach + 1;
  const cover = Float32Array.from({ length: side * side }, (_, i) => {
    const distance = Math.hypot((i % side) - reach, Math.floor(i / side) - reach);
    return opacity * Math.min(Math.max(radius + 0.5 - distance, 0), 1);
  });
  return { reach, cover };
}

/** Lay a dot over what is there: where dots overlap, less shines through. */
function lay(dot: Mask, cover: Float32Array, width: number, x: number, y: number): void {
  const side = 2 * dot.reach + 1;
  const left = Math.round(x) - dot.reach;
  const top = Math.round(y) - dot.reach;
  for (let row = 0; row < side; row++) {
    const start = (top + row) * width + left;
    if (top + row < 0 || start < 0) continue;
    for (let column = 0; column < side; column++) {
      const place = start + column;
      const there = cover[place];
      if (there === undefined || left + column < 0 || left + column >= width) continue;
      cover[place] = there + (1 - there) * nth(dot.cover, row * side + column);
    }
  }
}
