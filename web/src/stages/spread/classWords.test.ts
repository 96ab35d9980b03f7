import { describe, expect, it } from "vitest";
import type { Classes } from "../../api/readings";
import { interval } from "./classWords";

describe("the words of classes", () => {
  it("names classes by their closed side, and a whole number by itself", () => {
    const classes = (more: object) =>
      ({ boundaries: [0, 2.5, 5], rule: "width", width: 2.5, closed: "left", ...more }) as unknown as Classes;
    expect([interval(classes({}), 0), interval(classes({}), 1)]).toEqual(["[0.0, 2.5)", "[2.5, 5.0]"]);
    const right = classes({ closed: "right" });
    expect([interval(right, 0), interval(right, 1)]).toEqual(["[0.0, 2.5]", "(2.5, 5.0]"]);
    expect(interval(classes({ boundaries: [2.5, 3.5], rule: "integers", width: 1 }), 0)).toBe("3");
  });
});
