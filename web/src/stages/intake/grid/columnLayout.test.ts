import { describe, expect, it } from "vitest";
import type { Variable } from "../../../api/studies";
import { inSight, placeColumns } from "./columnLayout";

const named = (...symbols: string[]) => symbols.map((symbol) => ({ symbol }) as Variable);

describe("columns of a grid", () => {
  it("stand one behind the other, pinned ones first and in the order of their pinning", () => {
    const columns = placeColumns(named("a", "b", "c", "d"), { widths: { b: 50 }, pinned: ["d", "b"] }, 400);
    expect(columns.pinned.map(({ variable, left, width }) => [variable.symbol, left, width])).toEqual([
      ["d", 0, 100],
      ["b", 100, 50],
    ]);
    expect(columns.loose.map(({ variable, index, left }) => [variable.symbol, index, left])).toEqual([
      ["a", 0, 0],
      ["c", 2, 100],
    ]);
    expect([columns.pinnedWidth, columns.looseWidth]).toEqual([150, 200]);
  });

  it("are neither too narrow nor too wide, and forget a pinned variable that is gone", () => {
    expect(placeColumns(named("a"), { widths: {}, pinned: ["gone"] }, 4_000).loose[0]?.width).toBe(190);
    expect(placeColumns(named(..."abcdefgh"), { widths: {}, pinned: [] }, 100).looseWidth).toBe(8 * 92);
  });

  it("are drawn where they show, with one more at each end", () => {
    const { loose } = placeColumns(named(..."abcdefgh"), { widths: {}, pinned: [] }, 800);
    expect(inSight(loose, 250, 450).map(({ variable }) => variable.symbol)).toEqual(["b", "c", "d", "e", "f"]);
    expect(inSight(loose, 5_000, 6_000).map(({ variable }) => variable.symbol)).toEqual(["h"]);
  });
});
