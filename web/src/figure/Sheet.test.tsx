// @vitest-environment jsdom
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Layer, Scene } from "../api/plates";
import { answers } from "../testing/answers";
import { drawn, numbersIn, sheetOf } from "../testing/drawing";
import { last, nth } from "../values";

const layerOf = (scene: Scene, role: string, series = ""): Layer => {
  const result = scene.layers.find((layer) => layer.role === role && layer.series === series);
  if (!result) throw new Error(`no ${role} of ${series}`);
  return result;
};
const near = (result: number[], expected: number[], within = 0.06) => {
  expect(result).toHaveLength(expected.length);
  result.forEach((value, i) => {
    expect(Math.abs(value - nth(expected, i)), `${value} at ${i}, not ${expected[i]}`).toBeLessThan(within);
  });
};
const d = (mark: Element | null) => numbersIn(mark?.getAttribute("d"));
const TRAYS = ["basket", "mesh", "slotted"];

describe("marks stand where their numbers say, by the ticks of the sheet", () => {
  it("boxes, bars, bodies and points of groups", () => {
    const { scene } = answers.plates.groups;
    const sheet = sheetOf("groups");
    const up = sheet.scale("up");
    for (const tray of TRAYS) {
      const box = layerOf(scene, "box", tray);
      const mark = sheet.marks("box", tray);
      const [q1, q3] = [nth(box.q1, 0), nth(box.q3, 0)];
      const rect = mark.querySelector("[data-of='quartiles']");
      const top = Number(rect?.getAttribute("y"));
      near([top, top + Number(rect?.getAttribute("height"))], [up(q3), up(q1)]);
      const whiskers = d(mark.querySelector("[data-of='whiskers']"));
      near([nth(whiskers, 1), nth(whiskers, 5)], [up(nth(box.low, 0)), up(nth(box.high, 0))]);
      near([nth(d(mark.querySelector("[data-of='median']")), 1)], [up(nth(box.y, 0))]);
      const bars = layerOf(scene, "bars", tray);
      const bar = d(sheet.marks("bars", tray).querySelector("[data-of='bar']"));
      near(bar.slice(1, 3), [up(nth(bars.low, 0)), up(nth(bars.high, 0))]);
      const body = d(last([...sheet.marks("from zero", tray).querySelectorAll("path")]));
      near([Math.max(...[1, 3].map((i) => nth(body, i)))], [up(0)]);
      expect(sheet.marks("points", tray).querySelectorAll("path")).toHaveLength(
        layerOf(scene, "points", tray).y.length,
      );
    }
    expect(sheet.words("across").slice(0, 3)).toEqual(TRAYS);
  });

  it("classes, curve, box and rug of one variable on one axis", () => {
    const { scene } = answers.plates.shape;
    const sheet = sheetOf("shape");
    const [across, up] = [sheet.scale("across"), sheet.scale("up")];
    const classes = layerOf(scene, "classes");
    const outline = last([...sheet.marks("classes").querySelectorAll("path")]).getAttribute("d") ?? "";
    const blocks = outline.split("Z").filter(Boolean).map(numbersIn);
    const held = [...classes.x.keys()].filter((i) => classes.high_y[i] !== classes.y[i]);
    near(
      blocks.map((block) => nth(block, 0)),
      held.map((i) => across(nth(classes.x, i))),
    );
    near(
      blocks.map((block) => Math.min(nth(block, 1), nth(block, 3))),
      held.map((i) => up(nth(classes.high_y, i))),
    );
    const box = layerOf(scene, "box");
    const rect = sheet.marks("box").querySelector("[data-of='quartiles']");
    const left = Number(rect?.getAttribute("x"));
    near([left, left + Number(rect?.getAttribute("width"))], [across(nth(box.q1, 0)), across(nth(box.q3, 0))]);
    const normal = sheet.marks("normal").querySelector("path");
    expect(normal?.getAttribute("stroke-dasharray")).toContain("0.1 2.4");
    expect(d(sheet.marks("rug").querySelector("path")).length).toBeGreaterThanOrEqual(36);
  });

  it("a box down to 0 on logs, whose whisker runs off the axis", () => {
    const { scene } = answers.plates.groups;
    const layers = scene.layers.map((layer) =>
      layer.role === "box" ? { ...layer, low: layer.low.map(() => 0) } : layer,
    );
    const up = { ...scene.up, scale: "log10" as const, low: 20, high: 100 };
    const sheet = sheetOf("groups", {}, { ...scene, layers, up });
    for (const tray of TRAYS) {
      const foot = nth(d(sheet.marks("box", tray).querySelector("[data-of='whiskers']")), 1);
      expect(foot).toBeGreaterThan(sheet.scale("up")(20) + 1);
    }
  });

  it("a line fitted on logs, with its band", () => {
    const { scene } = answers.plates.logs;
    const sheet = sheetOf("logs");
    const [across, up] = [sheet.scale("across", Math.log10), sheet.scale("up", Math.log10)];
    const fit = layerOf(scene, "fit");
    const line = d(sheet.marks("fit").querySelector("path"));
    near(
      line,
      [...fit.x].flatMap((x, i) => [across(x), up(nth(fit.y, i))]),
      0.08,
    );
    const band = layerOf(scene, "band");
    near(
      d(sheet.marks("band").querySelector("path")),
      [...band.x].flatMap((x, i) => [across(x), up(nth(band.y, i))]),
      0.08,
    );
    expect(sheet.marks("points").querySelectorAll("path")).toHaveLength(35);
  });

  it("areas that enclose shares of pairs, each variable by itself beneath, and the key of counts", () => {
    const { scene } = answers.plates.contours;
    const sheet = sheetOf("contours");
    const [across, up] = [sheet.scale("across"), sheet.scale("up")];
    for (const series of ["25 %", "95 %"]) {
      const area = layerOf(scene, "enclosed", series);
      const path = sheet.marks("enclosed", series).querySelector("path");
      const spots = [...area.x].flatMap((x, i) => (Number.isNaN(x) ? [] : [across(x), up(nth(area.y, i))]));
      near(d(path), spots, 0.08);
      expect(path?.getAttribute("d")?.split("Z").filter(Boolean)).toHaveLength(
        1 + [...area.x].filter(Number.isNaN).length,
      );
    }
    const below = scene.layers.findIndex(({ role, upright }) => role === "classes" && !upright);
    const mark = nth(sheet.all("[data-role='classes']"), 0);
    expect(scene.layers.filter(({ role }) => role === "classes")).toHaveLength(2);
    const classes = nth(scene.layers, below);
    const lefts = [...(last([...mark.querySelectorAll("path")]).getAttribute("d") ?? "").matchAll(/M([\d.]+)/g)];
    const held = [...classes.x.keys()].filter((i) => nth(classes.value, i) > 0);
    const result = lefts.map(([, left]) => Number(left));
    for (const i of held)
      expect(Math.min(...result.map((x) => Math.abs(x - across(nth(classes.x, i)))))).toBeLessThan(0.1);
    const counted = sheetOf("counted");
    const layer = layerOf(answers.plates.counted.scene, "counted", "basket");
    const radii = [...counted.marks("counted", "basket").querySelectorAll("path")].map((mark) => nth(d(mark), 2));
    const widest = Math.max(...radii);
    const largest = Math.max(...layer.size);
    const shown = [...layer.size.keys()].filter((i) => nth(layer.size, i) > 0.3);
    for (const i of shown) expect((nth(radii, i) / widest) ** 2).toBeCloseTo(nth(layer.size, i) / largest, 1);
    expect(counted.part("0:marks:counted").textContent).toContain(String(answers.plates.counted.scene.sizes_high));
  });

  it("points beside their place, boxes of both variables, and an equation with its power raised", () => {
    const { scene } = answers.plates.boxed;
    const sheet = sheetOf("boxed");
    const points = layerOf(scene, "points", "mesh");
    const lefts = [...sheet.marks("points", "mesh").querySelectorAll("path")].map((mark) => d(mark));
    const [across, up] = [sheet.scale("across"), sheet.scale("up")];
    expect(points.aside_x.some((aside) => Math.abs(aside) > 0.1)).toBe(true);
    lefts.forEach((path, i) => {
      const middle = across(nth(points.x, i) + nth(points.aside_x, i));
      expect([Math.min(...path.filter((_, k) => k % 2 === 0)) <= middle, nth(path, 0) < middle + 12]).toEqual([
        true,
        true,
      ]);
      expect(Math.abs(nth(path, 1) - up(nth(points.y, i)))).toBeLessThan(12);
    });
    expect(scene.layers.filter(({ role }) => role === "box").map(({ upright }) => upright)).toEqual([
      ...[false, false, false],
      ...[true, true, true],
    ]);
    const logs = sheetOf("logs");
    const equation = logs.part("0:equation:0");
    expect(equation.textContent).toMatch(/^shell mass = .*shell length[\d.]+, R2 = /);
    const sizes = [...equation.querySelectorAll("[data-run]")].map((run) => Number(run.getAttribute("font-size")));
    expect(new Set(sizes).size).toBe(2);
  });

  it("estimates on a ratio axis with the line of no difference", () => {
    const sheet = sheetOf("estimates", { across: { scale: "log2" } });
    const across = sheet.scale("across", Math.log2);
    near([nth(d(sheet.marks("limits").querySelector("path")), 0)], [across(1)]);
    expect(sheet.words("up").slice(0, 4).reverse()).toEqual(["Brush", "Rinse", "Both", "All"]);
    expect(sheet.words("up").at(-1)).toBe("1.50 (1.10 to 2.10)");
    expect(sheet.marks("bars").querySelectorAll("[data-of='bar']")).toHaveLength(3);
    expect(sheet.marks("combined").querySelectorAll("path")).toHaveLength(1);
  });

  it("shades have a key, and hatches stay inside their marks", () => {
    const shaded = sheetOf("hexagons");
    const key = nth(shaded.all("[data-key]"), 0);
    expect(key.textContent).toContain("Pairs in ahexagon"); // in two lines
    const tiles = [...shaded.marks("tiles").querySelectorAll("path")];
    expect(tiles[0]?.getAttribute("d")).toMatch(/^M[^LV]+L[^LV]+V[^LV]+L[^LV]+L/);
    const fills = tiles.map((tile) => tile.getAttribute("fill") ?? "");
    expect(fills.every((fill) => /^#[0-9a-f]{6}$/.test(fill))).toBe(true);
    expect(new Set(fills).size).toBeGreaterThan(1);
    const { document } = answers.plates.densities;
    const inPrint = answers.furnishings.built_in.find(({ name }) => name === "in print") ?? document.style;
    const hatched = sheetOf("densities", { style: { ...inPrint, hatches: true, colours: "graphite" } });
    const dashes = TRAYS.map((tray) => {
      const mark = hatched.marks("density", tray);
      const clip = mark.querySelector("clipPath")?.id;
      expect(mark.querySelectorAll(`g[clip-path='url(#${clip})'] path`)).toHaveLength(1);
      return last([...mark.children]).getAttribute("stroke-dasharray");
    });
    expect(new Set(dashes).size).toBe(3);
    expect(hatched.part("0:legend").querySelectorAll("clipPath")).toHaveLength(3);
    const bare = sheetOf("densities", { panel: { legend: { ...nth(document.panels, 0).legend, shown: "no" } } });
    expect(bare.all("[data-part='0:legend']")).toHaveLength(0);
  });
});

describe("axes are as they were typed", () => {
  it("by ends, step, decimals, format and list", () => {
    const across = { low: 0, high: 100, every: 25 };
    expect(sheetOf("pair", { across }).words("across")).toEqual(["0", "25", "50", "75", "100"]);
    expect(sheetOf("pair", { across: { ...across, minor: 4 } }).places("across")).toHaveLength(5 + 16);
    expect(sheetOf("pair", { across: { ...across, decimals: 1 } }).words("across")).toContain("25.0");
    const percent = sheetOf("pair", { across: { ...across, format: "percent" } }).words("across");
    expect(percent.every((label) => label.endsWith("%"))).toBe(true);
    expect(sheetOf("pair", { across: { ...across, format: "scientific" } }).words("across")).toContain("2.5 × 10^{1}");
    const at = { ...across, at: [10, 20, 70] };
    expect(sheetOf("pair", { across: at }).words("across")).toEqual(["10", "20", "70"]);
    expect(sheetOf("pair", { across: { ...at, names: { 20: "twenty" } } }).words("across")).toEqual([
      "10",
      "twenty",
      "70",
    ]);
    const trays = sheetOf("groups", { across: { names: { mesh: "Netting" } } });
    expect(trays.words("across").slice(0, 3)).toEqual(["basket", "Netting", "slotted"]);
  });

  it("crossed where they should be, and turned", () => {
    const across = { low: 0, high: 100, at: [10, 20, 70], crosses: 20, rotation: 45 as const };
    const sheet = sheetOf("pair", { across });
    const line = d(sheet.part("0:up").querySelector("[data-line]"));
    expect(nth(line, 0)).toBeCloseTo(nth(sheet.places("across"), 1), 1);
    const turned = sheet.part("0:across").querySelector("g[data-words='70']");
    expect(turned?.getAttribute("transform")).toContain("rotate(-45)");
  });

  it("broken: a gap, and both sides to the same scale", () => {
    const up = { low: 0, high: 64, gap_from: 20, gap_to: 50, at: [0, 10, 20, 50, 60] };
    const sheet = sheetOf("pair", { up });
    expect(sheet.all("[data-gap='up']")).toHaveLength(1);
    expect(sheet.words("up")).toEqual(["0", "10", "20", "50", "60"]);
    const [zero, ten, twenty, fifty, sixty] = sheet.places("up").map((at) => -at);
    expect((ten ?? 0) - (zero ?? 0)).toBeCloseTo((sixty ?? 0) - (fifty ?? 0), 0);
    expect((fifty ?? 0) - (twenty ?? 0)).toBeLessThan(((ten ?? 0) - (zero ?? 0)) * 0.8);
    expect(sheetOf("pair", { up: { ...up, gap_to: null } }).all("[data-gap='up']")).toHaveLength(0);
  });

  it("logarithmic: equal steps are equal ratios", () => {
    for (const [scale, base] of [
      ["log2", 2],
      ["log10", 10],
    ] as const) {
      const sheet = sheetOf("pair", { up: { scale } });
      const values = sheet.words("up").map(Number);
      const up = sheet.scale("up", Math.log2);
      near(sheet.places("up"), values.map(up), 0.2);
      if (base === 2) expect(values.every((value) => Number.isInteger(Math.log2(value)))).toBe(true);
    }
  });

  it("a time axis is written in days", () => {
    expect(
      sheetOf("days")
        .words("across")
        .some((label) => /2026|Mar/.test(label)),
    ).toBe(true);
  });
});

const blank = nth(nth(answers.plates.days.document.panels, 0).furniture, 0);

describe("what is added to a plate", () => {
  const band = { kind: "band", axis: "up", at: 40, to: 60 } as const;
  const bracket = { kind: "bracket", at: 0, to: 2, y: 70, text: "p = 0.03" } as const;

  it("a band reaches from its one end to its other", () => {
    const given = nth(answers.plates.groups.document.panels, 0);
    const empty = { ...blank, ...band };
    const sheet = sheetOf("groups", { panel: { ...given, furniture: [empty] } });
    const up = sheet.scale("up");
    const rect = sheet.part("0:furniture:0").querySelector("rect");
    expect(Number(rect?.getAttribute("height"))).toBeCloseTo(up(40) - up(60), 0);
  });

  it("a bracket stands from group to group with its words", () => {
    const given = nth(answers.plates.groups.document.panels, 0);
    const sheet = sheetOf("groups", { panel: { ...given, furniture: [{ ...blank, ...bracket }] } });
    expect(sheet.part("0:furniture:0").textContent).toContain("p = 0.03");
    const [from = 0, , , to = 0] = d(sheet.part("0:furniture:0").querySelector("path"));
    expect(to - from).toBeGreaterThan(50);
  });
});

describe("names at the ends of lines", () => {
  it("stand apart, in the order of their ends, wherever these lie", () => {
    const { document, scene } = answers.plates.trays;
    const legend = { ...nth(document.panels, 0).legend, shown: "ends" as const };
    const ends = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 3, maxLength: 3 });
    fc.assert(
      fc.property(ends, (shares) => {
        const layers = scene.layers
          .filter(({ role }) => role === "points")
          .map((layer, i) => {
            const y = scene.up.low + (scene.up.high - scene.up.low) * nth(shares, i);
            return { ...layer, form: "line" as const, x: Float64Array.of(25, 50), y: Float64Array.of(y, y) };
          });
        const sheet = sheetOf("trays", { panel: { legend } }, { ...scene, layers });
        const entries = sheet.all("[data-entry]").map((entry) => ({
          key: entry.getAttribute("data-entry") ?? "",
          y: numbersIn(entry.querySelector("[data-words]")?.getAttribute("transform"))[1] ?? 0,
        }));
        expect(entries).toHaveLength(3);
        const rising = [...entries].sort((a, b) => a.y - b.y);
        for (let i = 1; i < 3; i++)
          expect(nth(rising, i).y - nth(rising, i - 1).y).toBeGreaterThan(document.style.type_size * 1.15 - 0.01);
        const share = (key: string) =>
          nth(
            shares,
            layers.findIndex(({ series }) => series === key),
          );
        for (let i = 1; i < 3; i++)
          expect(share(nth(rising, i).key)).toBeLessThanOrEqual(share(nth(rising, i - 1).key) + 1e-9);
      }),
      { numRuns: 40 },
    );
  });
});

describe("at the edge nothing is broken", () => {
  it("whatever the numbers of an axis", () => {
    const end = fc.option(fc.double({ noNaN: true, noDefaultInfinity: true }), { nil: null });
    const scale = fc.constantFrom("linear", "log10", "log2", null);
    fc.assert(
      fc.property(end, end, end, end, scale, (low, high, every, crosses, chosen) => {
        const settings = { low, high, every, crosses, scale: chosen };
        expect(sheetOf("pair", { up: settings, across: { low: high } }).broken()).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  it("columns that are hard to draw, in pictures of each kind", () => {
    const { document } = answers.plates.pair;
    const settings = [
      {},
      { scale: "log10" },
      { scale: "log2", low: -5 },
      { low: 9, high: 2 },
      { every: 1e-9 },
    ] as const;
    for (const { source, scene } of answers.edges)
      for (const up of settings) {
        const first = nth(document.panels, 0);
        const sheet = drawn({ ...document, panels: [{ ...first, source, up: { ...first.up, ...up } }] }, [scene]);
        expect(sheet.broken(), JSON.stringify({ source, up })).toEqual([]);
        expect(sheet.all("[data-panel]")).toHaveLength(1);
      }
  });

  it("three hundred groups, and names far too long or in other scripts", () => {
    const { document, scene } = answers.plates.groups;
    const names = [
      "ответ",
      "牡蠣の殻の長さ",
      "a name that is far too long to stand under its group ".repeat(3),
      "<b>x</b>",
    ];
    for (const upright of [true, false]) {
      const levels = upright ? names : Array.from({ length: 300 }, (_, i) => `g${i}`);
      const many = {
        ...scene,
        across: { ...scene.across, levels, counts: levels.map(() => 2), high: levels.length - 0.5 },
      };
      const sheet = drawn(document, [many]);
      expect(sheet.broken()).toEqual([]);
      expect(sheet.all("b")).toHaveLength(0);
      if (upright) expect(sheet.words("across").join(" ")).toContain("牡蠣の殻の長さ");
      expect(Number(sheet.all("clipPath")[0]?.querySelector("rect")?.getAttribute("width"))).toBeGreaterThan(60);
    }
  });

  it("a sheet has the size that it says, in points", () => {
    const sheet = { ...answers.plates.pair.document.sheet, width: 100, height: 60 };
    const { room } = sheetOf("pair", { sheet });
    expect(room.firstElementChild?.getAttribute("viewBox")).toBe("0 0 283.465 170.079");
  });
});
