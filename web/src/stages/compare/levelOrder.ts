import type { Scene } from "../../api/plates";
import type { CompareChoices } from "./useCompareChoices";

/** A level of the groups: its place among the levels of its variable. */
export type LevelShown = { place: number; label: string };

/** All levels in the order in which they stand: those drawn as the picture has them, hidden ones at their place or last. */
export function levelOrder(levels: LevelShown[], scene: Scene | undefined, groups: { place: number }[]): LevelShown[] {
  if (!scene) return levels;
  const drawn = [...scene.lanes]
    .sort((a, b) => a.level - b.level)
    .map(({ group }) => groups[group]?.place)
    .filter((place) => place !== undefined);
  const order = [...new Set(drawn)];
  const hidden = levels.filter(({ place }) => !order.includes(place));
  return [...order.flatMap((place) => levels.find((level) => level.place === place) ?? []), ...hidden];
}

/** The order by hand after one drawn level was moved to the place of another. */
export function movedLevel(order: LevelShown[], { hidden }: CompareChoices, from: number, to: number): string {
  const places = order.map(({ place }) => place).filter((place) => !hidden.includes(place));
  const [taken] = places.splice(from, 1);
  if (taken !== undefined) places.splice(to, 0, taken);
  return [...places, ...order.map(({ place }) => place).filter((place) => hidden.includes(place))].join(" ");
}
