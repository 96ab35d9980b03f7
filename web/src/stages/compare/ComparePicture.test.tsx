// @vitest-environment jsdom
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Comparison } from "../../api/compare";
import { answers } from "../../testing/answers";
import { numbersIn } from "../../testing/drawing";
import { nth } from "../../values";
import { ComparePicture } from "./ComparePicture";
import { captionOf } from "./caption";
import { cutWords, planOf } from "./compareLayout";
import { readCompare } from "./useCompareChoices";

const given = answers.compare;
const SIZE = { width: 640, height: 420 };

/** The picture that an address asks for, as it is drawn, and its plan. */
function picture(asked: string, reading: Comparison = given) {
  const choices = readCompare(new URLSearchParams(asked));
  const room = document.createElement("div");
  const { table } = answers;
  room.innerHTML = renderToStaticMarkup(
    <ComparePicture
      {...{ table, reading, choices }}
      size={SIZE}
      numbered={false}
      drawing={null}
      change={() => undefined}
      marked={null}
      onMark={() => undefined}
    />,
  );
  return { room, choices, plan: planOf(reading, choices, SIZE, false) };
}
const names = (asked: string) => picture(asked).plan.levels.map(({ label }) => label);

describe("groups side by side", () => {
  it("have bars that end where their numbers say, upright and along, whole and by half", () => {
    for (const [asked, across, half] of [
      ["bars=sd", false, false],
      ["bars=sd&upright=no", true, false],
      ["bars=sd&side=up&caps=yes", false, true],
    ] as const) {
      const { room, plan } = picture(asked);
      for (const { centred } of given.groups) {
        const { center, low, high, label } = centred;
        if (center === null || low === null || high === null) throw new Error("no bar");
        const ends = numbersIn(room.querySelector(`[data-bar='${label}']`)?.getAttribute("d")).slice(0, 4);
        const along = across ? [nth(ends, 0), nth(ends, 2)] : [nth(ends, 1), nth(ends, 3)];
        [half ? center : low, high].forEach((value, i) => {
          expect(nth(along, i)).toBeCloseTo(plan.value(value), 0);
        });
      }
    }
  });

  it("write their values where that is asked, and keep apart what is set apart", () => {
    const { room } = picture("bars=sd&values=1&points=apart&marks=points,centre,violin,box");
    for (const { centred } of given.groups)
      expect(room.querySelector(`[data-value='${centred.label}']`)?.textContent).toBe(centred.center?.toFixed(1));
    const spots = [...room.querySelectorAll("path")]
      .map((path) => path.getAttribute("d") ?? "")
      .filter((d) => /h0$/.test(d))
      .flatMap((d) => d.match(/M[^Mh]+/g) ?? [])
      .map(numbersIn);
    expect(spots).toHaveLength(given.values.length);
    const least = Math.min(
      ...spots.flatMap(([x = 0, y = 0], i) => spots.slice(i + 1).map(([a = 0, b = 0]) => Math.hypot(x - a, y - b))),
    );
    expect(least).toBeGreaterThan(1.2);
  });

  it("stand in the order asked for, without those that are hidden", () => {
    expect(names("")).toEqual(["basket", "mesh", "slotted"]);
    const centres = given.groups.map(({ centred }) => centred).sort((a, b) => (a.center ?? 0) - (b.center ?? 0));
    expect(names("order=centre")).toEqual(centres.map(({ label }) => label));
    expect(names("order=hand&hand=2+0+1")).toEqual(["slotted", "basket", "mesh"]);
    expect(names("hidden=0")).toEqual(["mesh", "slotted"]);
    expect(names("hidden=0+1+2")).toHaveLength(3); // nothing at all is no picture
  });

  it("say what a cut axis leaves out", () => {
    const choices = readCompare(new URLSearchParams("floor=40&marks=points,centre,from zero&bars=sd"));
    const below = [...given.values].filter((value) => value < 40).length;
    expect(cutWords(given, choices)).toContain(`${below} points`);
    expect(cutWords(given, choices)).toContain("zero, from which bodies reach");
    expect(cutWords(given, readCompare(new URLSearchParams("")))).toBe("");
  });

  it("have a caption that names bars, densities, points and what is not shown", () => {
    const words = (asked: string, reading: Comparison = given) => captionOf(reading, picture(asked).choices, false);
    expect(words("bars=sd")).toContain("Marks: mean; bars: one SD to each side.");
    expect(words("bars=sd&side=up")).toContain("bars: one SD, upper half only.");
    expect(words("", { ...given, bars: "mean-interval" })).toContain("bars: 95 % t interval.");
    expect(words("center=median", { ...given, bars: "quartile-span" })).toContain(
      "median; bars: first to third quartile",
    );
    const many = words("marks=points,violin,box&violin=half&points=apart");
    expect(many).toContain("Half violins: density by Silverman's rule");
    expect(many).toContain("set sideways so that none covers another");
    expect(words("marks=violin&violin=ridges&scale=log")).toContain("Ridges: density of log10");
    expect(words("hidden=0")).toContain("Not shown: basket (n\u00a0=\u00a0");
    expect(words("", { ...given, unit_label: "tray" })).toContain("n counts each tray: its rows are averaged first.");
  });
});
