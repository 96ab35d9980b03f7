// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import type { Panel } from "../../api/plates";
import { planOf } from "../../figure/layout";
import { answers } from "../../testing/answers";
import { nth } from "../../values";
import { legendFindings } from "./overlaps";

describe("a legend over marks", () => {
  const { document, scene } = answers.plates.trays;
  const panel = nth(document.panels, 0);
  const mesh = nth(
    scene.layers.filter(({ role, series }) => role === "points" && series === "mesh"),
    0,
  );
  const found = (legend: Partial<Panel["legend"]>, shown = scene) => {
    const own = { ...panel, legend: { ...panel.legend, shown: "yes" as const, ...legend } };
    const sheet = planOf({ ...document, panels: [own] }, [shown], answers.furnishings);
    return { plan: nth(sheet.panels, 0), finding: nth(legendFindings(sheet), 0) };
  };

  it("is found wherever it was put on one, and moved clear of them", () => {
    const { plan } = found({});
    for (let i = 0; i < mesh.x.length; i++) {
      const x = (plan.across.place(nth(mesh.x, i)) - plan.area.x - 4) / plan.area.width;
      const y = (plan.up.place(nth(mesh.y, i)) - plan.area.y - 4) / plan.area.height;
      const { finding } = found({ x, y });
      expect(finding.holds, `over point ${i}`).toBe(false);
      expect(finding.changes.map(({ path, value }) => [path.at(-1), value])).toEqual([
        ["x", null],
        ["y", null],
      ]);
    }
    expect(found({}).finding.holds).toBe(true);
  });

  it("has its names beside the marks where these are everywhere", () => {
    const { low, high } = scene.across;
    const grid = Float64Array.from({ length: 1600 }, (_, i) => i);
    const x = grid.map((i) => low + ((i % 40) / 39) * (high - low));
    const y = grid.map((i) => scene.up.low + (Math.floor(i / 40) / 39) * (scene.up.high - scene.up.low));
    const cloud = { ...mesh, x, y };
    const { finding } = found({}, { ...scene, layers: [cloud] });
    expect([finding.holds, finding.changes[0]?.value]).toEqual([false, "ends"]);
  });
});
