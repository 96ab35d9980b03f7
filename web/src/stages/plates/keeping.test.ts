// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { answers } from "../../testing/answers";
import { nth } from "../../values";
import { type Beside, NO_PICTURE, plateAt } from "./keeping";

/** The plate that an address of the table makes. */
function kept(address: string, beside?: Beside) {
  const [stage = "", search = ""] = address.split("?");
  const result = plateAt(`/tables/nursery/${stage}`, `?${search}`, answers.table, beside);
  if (typeof result === "string") throw new Error(result);
  return result;
}
const panelOf = (address: string, beside?: Beside) => nth(kept(address, beside).panels, 0);
const sourceOf = (address: string, beside?: Beside) => panelOf(address, beside).source;

describe("what a stage shows comes along to its plate, choice by choice", () => {
  it("groups", () => {
    const panel = panelOf(
      "compare?variable=shell_length&by=week&second=tray_type&centre=trimmed-mean&trim=0.2&bars=percentiles&low=10" +
        "&high=90&level=0.9&marks=points,violin,joined&points=apart&jitter=0.3&violin=ridges&side=up&caps=yes" +
        "&upright=no&axis=numbers&scale=log&floor=5&ceiling=120&order=n&hidden=0",
    );
    expect(panel.source).toMatchObject({
      kind: "groups",
      variable: "shell_length",
      ...{ by: "week", second: "tray_type", centre: "trimmed-mean", trim: 0.2, bars: "percentiles" },
      ...{ low_percent: 10, high_percent: 90, level: 0.9, log: true },
      ...{ marks: ["points", "violin", "joined"], points: "apart", jitter: 0.3, violin: "ridges", side: "up" },
      ...{ caps: true, upright: false, on_numbers: true, order: "n", hidden: [0] },
    });
    expect(panel.across).toMatchObject({ low: 5, high: 120 });
    expect(panel.address).toContain("violin=ridges");
  });

  it("a shape with its classes, curve, box and slip", () => {
    const panel = panelOf(
      "spread?variable=shell_mass&layers=classes+box+rug&boundaries=0+10+20+70&closed=right&bandwidth=1.5" +
        "&kernel=biweight&whiskers=percentiles&share=0.1&definition=hinges&measure=percent&slip=0.5+0.1",
    );
    expect(panel.source).toMatchObject({
      measure: "percents",
      layers: ["classes", "rug", "box"],
      ...{ boundaries: [0, 10, 20, 70], closed: "right", bandwidth: 1.5, kernel: "biweight" },
      ...{ whiskers: "percentiles", share: 0.1, quantile_definition: "hinges" },
    });
    expect(panel.furniture?.[0]).toMatchObject({ kind: "slip", x: 0.5 });
    // The slip says what the reader lists beside the picture.
    expect(panel.furniture?.[0]?.names).toEqual(expect.arrayContaining(["n", "mean", "IQR", "third quartile"]));
  });

  it("levels, shares, differences and residuals", () => {
    const lanes = sourceOf("spread?variable=shell_length&by=tray_type&form=ridges&layers=density+box");
    expect(lanes).toMatchObject({ kind: "shape", form: "ridges", by: "tray_type" });
    const cross = sourceOf("spread?variable=vigour&by=tray_type&as=table");
    expect(cross).toMatchObject({ kind: "shares", stacked: true, by: "tray_type" });
    const told = "compare?variable=shell_length&by=tray_type&measure=hedges-g&reference=mesh&limits=each&level=0.99";
    expect(sourceOf(told, "differences")).toMatchObject({
      ...{ measure: "hedges-g", reference: "mesh", together: false, level: 0.99 },
    });
    const own = sourceOf("spread?variable=shell_length&by=tray_type", "quantiles");
    expect(own).toMatchObject({ kind: "quantiles", by: "tray_type" });
  });

  it("pairs with their lines, scales, window and form", () => {
    const panel = panelOf(
      "relate?variable=shell_mass&x=shell_length&by=tray_type&size=shell_width&lines=least-squares+smooth&span=0.4" +
        "&xs=log10&ys=square-root&bands=line&window=20+80+1+60&xlog=yes&joined=x",
    );
    expect(panel.source).toMatchObject({
      ...{ size: "shell_width", bands: "line", joined: "x", x_axis: "log", y_axis: "linear" },
      ...{ x_scale: "log10", y_scale: "square-root", lines: ["least-squares", "smooth"], span: 0.4 },
      by: "tray_type",
    });
    expect([panel.across?.low, panel.up?.high]).toEqual([20, 60]);
    const pair = "relate?variable=shell_mass&x=shell_length";
    expect(sourceOf(`${pair}&also=shell_width`)).toMatchObject({ also: ["shell_width"], shown: "points" });
    expect(sourceOf(`${pair}&form=hexagons&across=20`)).toMatchObject({ shown: "hexagons", across: 20 });
    expect(sourceOf(`${pair}&form=cells&window=20+80+1+60`)).toMatchObject({ across: 120, window: [20, 80, 1, 60] });
    const left = kept(`${pair}&lines=least-squares&residuals=yes`);
    expect(left.sheet).toMatchObject({ share_across: true, columns: 1 });
    expect(left.panels.map(({ source }) => "plot" in source && source.plot)).toEqual(["pairs", "residuals"]);
  });

  it("rows by rule, and what a choice that is none becomes", () => {
    const named = sourceOf("screen?variable=shell_mass&rules=fences+grubbs");
    expect(named).toMatchObject({ kind: "rules", rules: ["fences", "grubbs"] });
    const order = "screen?variable=shell_mass&mode=relation&plot=order";
    expect(sourceOf(`${order}&measure=dffits`)).toMatchObject({ row_measure: "dffits" });
    expect(sourceOf(`${order}&measure=nonsense`)).toMatchObject({ row_measure: "cooks" });
    expect(plateAt("/tables/nursery/variables", "", answers.table)).toBe(NO_PICTURE);
  });
});
