import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changed, without } from "./editing";
import { merged } from "./merging";

const { tree: document } = fc.letrec((tie) => ({
  tree: fc.oneof(
    { maxDepth: 4 },
    fc.integer(),
    fc.string(),
    fc.array(tie("tree"), { maxLength: 3 }),
    fc.dictionary(fc.constantFrom("a", "b", "c"), tie("tree"), { maxKeys: 3 }),
  ),
}));

describe("two who edit one plate", () => {
  it("takes what only one of them changed", () => {
    fc.assert(
      fc.property(document, document, (before, other) => {
        expect(merged(before, before, other)).toEqual(other);
        expect(merged(before, other, before)).toEqual(other);
        expect(merged(before, other, other)).toEqual(other);
      }),
    );
  });

  it("keeps both changes in different places, whoever was first", () => {
    const before = { sheet: { width: 85, height: 70 }, panels: [{ title: "a" }, { title: "b" }] };
    const mine = { sheet: { width: 120, height: 70 }, panels: [{ title: "a" }, { title: "mine" }] };
    const theirs = { sheet: { width: 85, height: 90 }, panels: [{ title: "theirs" }, { title: "b" }] };
    const both = { sheet: { width: 120, height: 90 }, panels: [{ title: "theirs" }, { title: "mine" }] };
    expect(merged(before, mine, theirs)).toEqual(both);
    expect(merged(before, theirs, mine)).toEqual(both);
  });

  it("lets the one who keeps last stand where both changed the same", () => {
    expect(merged({ a: 1 }, { a: 2 }, { a: 3 })).toEqual({ a: 2 });
    expect(merged([1, 2], [1], [1, 2, 3])).toEqual([1]);
  });
});

describe("edits of a document", () => {
  it("change one place and nothing else, and leave the document before as it was", () => {
    const before = { panels: [{ title: "a" }, { title: "b", legend: null }] };
    const after = changed(before, ["panels", 1, "legend", "x"], 0.5);
    expect(after).toEqual({ panels: [{ title: "a" }, { title: "b", legend: { x: 0.5 } }] });
    expect(before.panels[1]?.legend).toBeNull();
    expect(after.panels[0]).toBe(before.panels[0]);
    expect(without(before, ["panels"], 0)).toEqual({ panels: [{ title: "b", legend: null }] });
  });
});
