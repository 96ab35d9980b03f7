import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Part } from "../../api/reports";
import { freeKey, putIn, renamed, stepped, withKept } from "./composing";

describe("keys", () => {
  it("are made of names, and never twice the same", () => {
    expect(freeKey("Shell height, by Site!", [])).toBe("shell-height-by-site");
    expect(freeKey("Ångström", [])).toBe("angstrom");
    expect(freeKey("مرحبا 🐚", [])).toBe("shown");
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 8 }), (names) => {
        let parts: Part[] = [];
        for (const name of names) parts = withKept(parts, parts.length, "figure", { id: "p", name });
        const keys = parts.flatMap((part) => ("key" in part ? [part.key] : []));
        expect(new Set(keys).size).toBe(names.length);
        for (const key of keys) expect(key).toMatch(/^[a-z0-9](?:[a-z0-9-]*[a-z0-9])?$/);
      }),
    );
  });
});

describe("parts", () => {
  it("step up and down and stay all of them", () => {
    expect(stepped(["a", "b", "c"], 1, -1)).toEqual(["b", "a", "c"]);
    expect(stepped(["a", "b", "c"], 2, 1)).toEqual(["a", "b", "c"]);
  });
  it("are referred to by their new word wherever text refers to them", () => {
    const parts: Part[] = [
      { kind: "text", text: "see {one} and {two}" },
      { kind: "figure", key: "one", plate: "p" },
      { kind: "table", key: "two", plate: "q" },
    ];
    expect(renamed(parts, 1, "Masses-")[0]).toEqual({ kind: "text", text: "see {masses} and {two}" });
    expect(renamed(parts, 1, "two")[1]).toEqual({ kind: "figure", key: "two-2", plate: "p" });
  });
  it("take words where the hand stands", () => {
    expect(putIn("see .", 4, 4, "{masses}")).toEqual({ text: "see {masses}.", at: 12 });
  });
});
