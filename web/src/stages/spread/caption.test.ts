// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import type { Classes, Spread } from "../../api/readings";
import { listed } from "../../api/readings";
import { answers } from "../../testing/answers";
import { captionOf, interval, nWords } from "./caption";
import { LAYERS, type Layer } from "./useSpreadChoices";

const given = answers.spread;
const said = (spread: Partial<Spread>, layers: readonly Layer[] = LAYERS) =>
  captionOf({
    spread: { ...given, ...spread },
    classes: given.classes ? listed(given.classes) : undefined,
    density: given.density ?? undefined,
    layers: [...layers],
    measure: "density",
  });

describe("the caption of a spread", () => {
  it("says what every mark is, and n", () => {
    const words = said({});
    expect(words).toContain("Shell length (mm), n = 35 (1 missing: n/r 1).");
    for (const part of [
      /Blocks: \d+ classes of \S+ mm, \[\d+, \d+\) first, as density, area 1/,
      /Solid line: kernel density, Gaussian kernel, bandwidth \S+ mm \(Silverman's rule\)/,
      /Dotted line: normal curve of the same mean \(\S+ mm\) and SD \(\S+ mm\)/,
      "Box: quartiles and median (quantile definition 7); whiskers to",
      "Strokes on the axis: each value",
      "Points: each row, spread out vertically at random",
    ])
      expect(words).toMatch(part);
    expect(said({}, ["density"])).not.toMatch(/Blocks|Box|Points/);
  });

  it("says what was set aside, counted, missing or drawn in part", () => {
    const used = { ...given.used, set_aside: 2, weighted_by: "times" };
    expect(nWords(used)).toBe("n = 35 (1 missing: n/r 1), 2 set aside, each row counted as often as times says");
    expect(said({ n_points: 200_000 })).toContain("Points: 35 of 200\u202f000 rows, drawn at random with the extremes");
    const limited = { ...given.subject, n_limited: 2, below_limit: "half" } as Spread["subject"];
    expect(said({ subject: limited })).toContain(
      "2 values known to lie below a limit, for which half the limit stands (open points)",
    );
    expect(said({ axis: "log" })).toContain("heights per power of ten");
  });

  it("names classes by their closed side, and a whole number by itself", () => {
    const classes = (more: object) =>
      ({ boundaries: [0, 2.5, 5], rule: "width", width: 2.5, closed: "left", ...more }) as unknown as Classes;
    expect([interval(classes({}), 0), interval(classes({}), 1)]).toEqual(["[0.0, 2.5)", "[2.5, 5.0]"]);
    const right = classes({ closed: "right" });
    expect([interval(right, 0), interval(right, 1)]).toEqual(["[0.0, 2.5]", "(2.5, 5.0]"]);
    expect(interval(classes({ boundaries: [2.5, 3.5], rule: "integers", width: 1 }), 0)).toBe("3");
  });
});
