/** Words on a plate: TeX-style powers and indices, and how wide they stand, in points. */

export type Run = { text: string; shift: -1 | 0 | 1 };
export type Font = "sans" | "serif" | "page";

/** Plates carry type of their own; a figure on a stage has that of the page. */
export const FAMILY: Record<Font, string> = {
  sans: "Heron Sans",
  serif: "Heron Serif",
  page: "Source Sans 3 Variable",
};
/** Raised and lowered words are smaller, and stand off the line by so much of the size. */
export const SMALLER = 0.68;
export const SHIFT: Record<Run["shift"], number> = { 1: -0.36, 0: 0, [-1]: 0.16 };

const RAISED = "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁼⁽⁾ⁿⁱ";
const RAISED_AS = "0123456789+−=()ni";
const LOWERED = "₀₁₂₃₄₅₆₇₈₉₊₋₌₍₎ₐₑₒₓₕₖₗₘₙₚₛₜ";
const LOWERED_AS = "0123456789+−=()aeoxhklmnpst";

/** A character as it is set. The point within a raised number stands with it. */
function ofCharacter(character: string, raisedBefore: boolean, next = ""): Run {
  if (character === "·" && raisedBefore && next && RAISED.includes(next)) return { text: ".", shift: 1 };
  const raised = RAISED.indexOf(character);
  if (raised >= 0) return { text: nth(RAISED_AS, raised), shift: 1 };
  const lowered = LOWERED.indexOf(character);
  if (lowered >= 0) return { text: nth(LOWERED_AS, lowered), shift: -1 };
  return { text: character, shift: 0 };
}

/** A text as runs on the line, above it and below it; characters that stand raised already are set likewise. */
export function runsOf(text: string): Run[] {
  const result: Run[] = [];
  const add = ({ text: more, shift }: Run) => {
    const last = result.at(-1);
    if (last && last.shift === shift) last.text += more;
    else if (more) result.push({ text: more, shift });
  };
  for (const part of text.split(/([\^_]\{[^{}]*\})/)) {
    const inner = part.match(/^([\^_])\{([^{}]*)\}$/);
    if (inner) add({ text: (inner[2] ?? "").replace(/-/g, "−"), shift: inner[1] === "^" ? 1 : -1 });
    else
      for (const [i, character] of [...part].entries())
        add(ofCharacter(character, result.at(-1)?.shift === 1, part[i + 1]));
  }
  return result;
}

const pen = document.createElement("canvas").getContext("2d");

let loaded: Promise<unknown> | undefined;

/** Load the type of plates, so that words can be measured. */
export function typeLoaded(): Promise<unknown> {
  loaded ??= Promise.all(
    [FAMILY.sans, FAMILY.serif].flatMap((family) =>
      [400, 600].map((weight) => document.fonts.load(`${weight} 10px "${family}"`)),
    ),
  );
  return loaded;
}

const measured = new Map<string, number>();

function widthOfPlain(text: string, font: Font, bold: boolean): number {
  const key = `${font}${bold ? 1 : 0}${text}`;
  const known = measured.get(key);
  if (known !== undefined) return known;
  if (!pen) return text.length * 0.5;
  pen.font = `${bold ? 600 : 400} 100px "${FAMILY[font]}"`;
  pen.fontKerning = "none";
  const width = pen.measureText(text).width / 100;
  // Before the type is there, widths are those of another one.
  if (document.fonts.check(pen.font)) measured.set(key, width);
  return width;
}

export function widthOf(text: string, size: number, font: Font, bold = false): number {
  return runsOf(text).reduce(
    (sum, run) => sum + widthOfPlain(run.text, font, bold) * size * (run.shift === 0 ? 1 : SMALLER),
    0,
  );
}

/** A text in lines no wider than the room, broken at spaces and behind hyphens; a word alone may stand over. */
export function inLines(text: string, room: number, size: number, font: Font, bold = false): string[] {
  const lines: string[] = [];
  for (const word of text.split(/(?<=-)| /)) {
    const last = lines.at(-1);
    const glue = last?.endsWith("-") ? "" : " ";
    if (last !== undefined && widthOf(last + glue + word, size, font, bold) <= room)
      lines[lines.length - 1] = last + glue + word;
    else lines.push(word);
  }
  return lines;
}

import { nth } from "../values";
