// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import type { Panel } from "../../api/plates";
import { planOf } from "../../figure/layout";
import { answers } from "../../testing/answers";
import { nth } from "../../values";
import { coveringFindings } from "./overlaps";

describe("a legend over marks", () => {
  const { document, scene } = answers.plates.trays;
  const panel = nth(document.panels, 0);
  const mesh = nth(
    scene.layers.filter(({ role, series }) => role === "points" && series === "mesh"),
    0,
  );
  const result = (legend: Partial<Panel["legend"]>, shown = scene) => {
    const own = { ...panel, legend: { ...panel.legend, shown: "yes" as const, ...legend } };
    const drawn = { ...document, panels: [own] };
    const sheet = planOf(drawn, [shown], answers.furnishings);
    return { plan: nth(sheet.panels, 0), finding: nth(coveringFindings(sheet, drawn), 0) };
  };

  it("is found wherever it was put on one, and moved clear of them", () => {
    const { plan } = result({});
    for (let i = 0; i < mesh.x.length; i++) {
      const x = (plan.across.place(nth(mesh.x, i)) - plan.area.x - 4) / plan.area.width;
      const y = (plan.up.place(nth(mesh.y, i)) - plan.area.y - 4) / plan.area.height;
      const { finding } = result({ x, y });
      expect(finding.holds, `over point ${i}`).toBe(false);
      expect(finding.changes.map(({ path, value }) => [path.at(-1), value])).toEqual([
        ["x", null],
        ["y", null],
      ]);
    }
    expect(result({}).finding.holds).toBe(true);
  });

  it("has its names beside the marks where these are everywhere", () => {
    const { low, high } = scene.across;
    const grid = Float64Array.from({ length: 1600 }, (_, i) => i);
    const x = grid.map((i) => low + ((i % 40) / 39) * (high - low));
    const y = grid.map((i) => scene.up.low + (Math.floor(i / 40) / 39) * (scene.up.high - scene.up.low));
    const cloud = { ...mesh, x, y };
    const { finding } = result({}, { ...scene, layers: [cloud] });
    expect([finding.holds, finding.changes[0]?.value]).toEqual([false, "ends"]);
  });

  it("and so is a slip or a note, which then goes where it is free", () => {
    const [x, y] = [nth(mesh.x, 0), nth(mesh.y, 0)];
    const { plan } = result({});
    const { area } = plan;
    const left = (plan.across.place(x) - area.x - 4) / area.width;
    const top = (plan.up.place(y) - area.y - 4) / area.height;
    const blank = { axis: "up", at: null, to: null, x: null, y: null, arrow_x: null, arrow_y: null, colour: null };
    const pieces = [
      { ...blank, kind: "note", text: "wet", x, y, names: [] },
      { ...blank, kind: "slip", text: "", x: left, y: top, names: scene.numbers.slice(0, 9).map(({ name }) => name) },
    ] as unknown as Panel["furniture"];
    const look = (furniture: Panel["furniture"]) => {
      const drawn = { ...document, panels: [{ ...panel, furniture }] };
      return coveringFindings(planOf(drawn, [scene], answers.furnishings), drawn).filter(
        ({ code }) => code === "piece-over",
      );
    };
    const [note] = look(pieces.slice(0, 1));
    expect(note?.words).toBe("The note “wet” lies over marks.");
    const moved = { ...pieces[0], x: note?.changes[0]?.value, y: note?.changes[1]?.value };
    expect(look([moved] as Panel["furniture"])).toEqual([]);
    expect(look(pieces).map(({ words }) => words)).toContain("The number slip lies over marks.");
  });
});
