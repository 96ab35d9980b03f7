import { beforeEach, describe, expect, it } from "vitest";
import { useSelection } from "./selection";

const now = () => useSelection.getState();
const rows = () => [...now().rows].sort((a, b) => a - b);

describe("rows that are selected", () => {
  beforeEach(() => now().clear());

  it("are those of the last mark, or add up", () => {
    now().select("t", [1, 2], "[0, 2.5) g");
    now().select("t", [4], "row 4");
    expect([rows(), now().words]).toEqual([[4], "row 4"]);
    now().select("t", [5, 6], "[2.5, 5) g", true);
    expect([rows(), now().words]).toEqual([[4, 5, 6], "several marks"]);
  });

  it("are taken out again by a mark of which all are selected, not by one of which some are", () => {
    now().select("t", [1, 2, 3], "a");
    now().select("t", [3, 4], "b", true);
    expect(rows()).toEqual([1, 2, 3, 4]);
    now().select("t", [3, 4], "b", true);
    expect(rows()).toEqual([1, 2]);
    now().select("t", [1, 2], "c", true);
    expect([rows(), now().words]).toEqual([[], ""]);
  });

  it("are of one table", () => {
    now().select("t", [1], "a");
    now().select("other", [2], "b", true);
    expect([now().table, rows()]).toEqual(["other", [2]]);
  });
});
