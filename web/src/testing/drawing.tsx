import { renderToStaticMarkup } from "react-dom/server";
import type { AxisSettings, Panel, PlateDocument, Scene } from "../api/plates";
import { Sheet } from "../figure/Sheet";
import { last, nth } from "../values";
import { answers } from "./answers";

type PlateName = keyof typeof answers.plates;
type Changes = { panel?: Partial<Panel>; across?: Partial<AxisSettings>; up?: Partial<AxisSettings> } & Partial<
  Omit<PlateDocument, "panels">
>;

/** A plate of one panel as it leaves, some of it otherwise than usual. */
export function sheetOf(name: PlateName, { panel, across, up, ...changes }: Changes = {}, scene?: Scene) {
  const given = answers.plates[name];
  const first = nth(given.document.panels, 0);
  const own = { ...first, ...panel, across: { ...first.across, ...across }, up: { ...first.up, ...up } };
  return drawn({ ...given.document, ...changes, panels: [own] }, [scene ?? given.scene]);
}

/** A document as the page draws it. */
export function drawn(document: PlateDocument, scenes: Scene[]) {
  const room = window.document.createElement("div");
  const { furnishings } = answers;
  room.innerHTML = renderToStaticMarkup(<Sheet {...{ document, scenes, furnishings }} title="A plate" />);
  return new DrawnSheet(room);
}

export const numbersIn = (text: string | null | undefined) => (text?.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number);

class DrawnSheet {
  constructor(readonly room: HTMLElement) {}

  all(selector: string): Element[] {
    return [...this.room.querySelectorAll(selector)];
  }

  part(name: string): Element {
    return nth(this.all(`[data-part="${name}"]`), 0);
  }

  /** The marks of a role, of a series if it is named. */
  marks(role: string, series = ""): Element {
    return nth(this.all(`[data-role="${role}"][data-series="${series}"]`), 0);
  }

  /** What stands at the ticks of an axis. */
  words(side: "across" | "up", panel = 0): string[] {
    return [...this.part(`${panel}:${side}`).children]
      .filter((element) => element.matches("[data-words]:not([data-part])"))
      .map((element) => element.getAttribute("data-words") ?? "");
  }

  /** Where the lines of an axis' ticks stand, the smallest value first. */
  places(side: "across" | "up"): number[] {
    const d = this.part(`0:${side}`).querySelector("[data-line]")?.getAttribute("d") ?? "";
    const result = [...d.matchAll(/M(-?[\d.]+) (-?[\d.]+)[vh]-?[\d.]+/g)].map((match) =>
      Number(match[side === "up" ? 2 : 1]),
    );
    return side === "up" ? result.sort((a, b) => b - a) : result.sort((a, b) => a - b);
  }

  /** From values to points of the sheet, as somebody reads them off the ticks. */
  scale(side: "across" | "up", of: (value: number) => number = (value) => value): (value: number) => number {
    const values = this.words(side).map((text) => of(Number(text.replace("\u2212", "-").replace("\u202f", ""))));
    const places = this.places(side);
    if (values.length !== places.length) throw new Error(`${values.length} words at ${places.length} ticks`);
    const slope = (last(places) - nth(places, 0)) / (last(values) - nth(values, 0));
    return (value) => nth(places, 0) + slope * (of(value) - nth(values, 0));
  }

  /** Numbers of any mark or frame that are none. */
  broken(): string[] {
    return this.all("*").flatMap((part) =>
      [...part.attributes]
        .filter(({ name }) => /^(d|x|y|width|height|rx|r|transform|viewBox)$/.test(name))
        .filter(({ value }) => /NaN|Infinity|undefined/.test(value))
        .map(({ name, value }) => `${part.tagName} ${name}="${value.slice(0, 60)}"`),
    );
  }
}
