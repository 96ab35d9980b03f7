import { ROLES } from "../../api/choices.gen";
import type { PlateDocument, Scene } from "../../api/plates";
import { lettersOf } from "../../figure/layout";

/** A part of a plate that can be chosen: "sheet", "0:across", "0:series:basket", "0:marks:box", "0:legend",
 * "0:furniture:2", "0:panel". */
export type Part = string;

export const panelOf = (part: Part): number => (/^\d+:/.test(part) ? Number(part.split(":")[0]) : 0);
export const kindOf = (part: Part): string =>
  /^\d+:/.test(part) ? (part.split(":")[1] ?? "sheet") : (part.split(":")[0] ?? "sheet");
export const restOf = (part: Part): string => part.split(":").slice(2).join(":");

const FURNITURE: Record<string, string> = {
  line: "reference line",
  band: "band",
  note: "note",
  bracket: "bracket",
  slip: "number slip",
};

/** All parts of a plate with their names, in the order in which the keyboard meets them. */
export function partsOf(document: PlateDocument, scenes: Scene[]): { value: Part; label: string }[] {
  const letters = lettersOf(document.panels.length, document.panels.length > 1 ? "A" : "none");
  const result: { value: Part; label: string }[] = [
    { value: "sheet", label: "the sheet" },
    { value: "style", label: "the style" },
  ];
  document.panels.forEach((panel, i) => {
    const scene = scenes[i];
    if (!scene) return;
    const of = letters[i] ? `${letters[i]}: ` : "";
    const add = (value: string, label: string) => result.push({ value: `${i}:${value}`, label: `${of}${label}` });
    if (document.panels.length > 1) add("panel", "the panel");
    add("across", "the axis across");
    add("up", "the axis up");
    for (const { key, label } of scene.series) add(`series:${key}`, `series ${label}`);
    const roles = new Set(scene.layers.map(({ role }) => role));
    for (const role of roles) add(`marks:${role}`, `all ${ROLES[role].label}`);
    if (scene.series.length > 0) add("legend", "the legend");
    panel.furniture.forEach((piece, k) => {
      add(`furniture:${k}`, `${FURNITURE[piece.kind]}${piece.text ? ` “${piece.text.slice(0, 24)}”` : ""}`);
    });
  });
  return result;
}
