import { nth } from "../values";

/** Whether a place lies inside an outline, by the even-odd rule. */
export function isWithin(outline: readonly [number, number][], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = nth(outline, i);
    const [bx, by] = nth(outline, j);
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
  }
  return inside;
}
