import type { Furniture, Scene } from "../../api/plates";

const round = (value: number) => Number(value.toPrecision(3));
const between = (axis: Scene["up"], share: number) =>
  axis.scale === "linear"
    ? round(axis.low + (axis.high - axis.low) * share)
    : round(10 ** (Math.log10(axis.low) + (Math.log10(axis.high) - Math.log10(axis.low)) * share));

/** A new piece where it can be seen, to be dragged to its place; another one like the last stands a little off it. */
export function newFurniture(kind: Furniture["kind"], scene: Scene, like?: Furniture): Furniture {
  const plain: Furniture = { kind, axis: "up", text: "", names: [] };
  if (like)
    return {
      ...like,
      y: like.y == null ? null : kind === "slip" ? like.y + 0.1 : round(like.y - (scene.up.high - scene.up.low) * 0.08),
    };
  const axis = scene.up.kind === "levels" ? "across" : "up";
  if (kind === "line") return { ...plain, axis, at: between(scene[axis], 0.5) };
  if (kind === "band") return { ...plain, axis, at: between(scene[axis], 0.4), to: between(scene[axis], 0.6) };
  if (kind === "note") return { ...plain, text: "note", x: between(scene.across, 0.1), y: between(scene.up, 0.9) };
  if (kind === "bracket") {
    const along = scene.up.kind === "levels";
    return { ...plain, text: "", at: 0, to: 1, y: between(along ? scene.across : scene.up, 0.96) };
  }
  return { ...plain, x: 0.6, y: 0.05, names: scene.numbers.slice(0, 4).map(({ name }) => name) };
}
