import { describe, expect, it } from "vitest";
import { type Entry, type Ledger, withChanges } from "./ledger";

const entry = (number: number, stands = true): Entry => ({
  number,
  kind: "set-aside",
  rows: [number],
  n_rows: 1,
  variable: "",
  of: 0,
  changes: {},
  said: "",
  report: [],
  reason: "cracked",
  author: "ada",
  brought_by: "",
  made: "2026-03-01T09:00:00Z",
  stands,
  revision: number + 1,
});

const page = (entries: Entry[], n_entries: number): Ledger => ({ entries, n_entries, can_undo: true, can_redo: false });

describe("the pages of a ledger after a decision", () => {
  const pages = { pages: [page([entry(3), entry(4)], 4), page([entry(1), entry(2)], 4)], pageParams: [undefined, 3] };

  it("hold its entry behind the others", () => {
    const after = withChanges(pages, page([entry(5)], 5));
    expect(after.pages.map((page) => page.entries.map(({ number }) => number))).toEqual([
      [3, 4, 5],
      [1, 2],
    ]);
    expect(after.pages[0]?.n_entries).toBe(5);
  });

  it("hold the entry that it takes back in its place, on whichever page", () => {
    const undo = { ...entry(5, false), kind: "undo" as const, of: 2 };
    const after = withChanges(pages, { ...page([entry(2, false), undo], 5), can_redo: true });
    expect(after.pages[1]?.entries.map(({ stands }) => stands)).toEqual([true, false]);
    expect(after.pages[0]?.entries.map(({ number }) => number)).toEqual([3, 4, 5]);
    expect(after.pages[0]?.can_redo).toBe(true);
  });
});
