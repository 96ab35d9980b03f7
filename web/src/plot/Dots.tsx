import { memo, useMemo } from "react";

type DotsProps = { xs: ArrayLike<number>; ys: ArrayLike<number>; radius: number; className: string };

/** How many strokes share a path: dots that overlap within one do not darken each other, those of different ones do. */
const PATHS = 6;

/** Dots, each a point of no length with a round end: some thousand fit into one path, on screen and in a file. */
export const Dots = memo(function Dots({ xs, ys, radius, className }: DotsProps) {
  const paths = useMemo(() => {
    const parts: string[][] = Array.from({ length: PATHS }, () => []);
    for (let i = 0; i < xs.length; i++) {
      parts[i % PATHS]?.push(`M${(xs[i] as number).toFixed(1)} ${(ys[i] as number).toFixed(1)}h0`);
    }
    return parts.map((part) => part.join(""));
  }, [xs, ys]);
  return (
    <g fill="none" strokeLinecap="round" strokeWidth={2 * radius} className={className}>
      {paths.map((path, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the paths are a fixed number of places
        <path key={i} d={path} />
      ))}
    </g>
  );
});
