/** A drawn figure as a file of its own: every style written out, the typeface and the caption inside. */

import { nth } from "../values";
import { dotsOn, pathsOfDots } from "./Dots";

const KEPT = [
  "fill",
  "fill-opacity",
  "stroke",
  "stroke-width",
  "stroke-opacity",
  "stroke-dasharray",
  "stroke-linecap",
  "stroke-linejoin",
  "opacity",
  "font-family",
  "font-size",
  "font-weight",
  "font-style",
  "font-variant-numeric",
  "text-anchor",
] as const;
const TYPE = /^(font|text)-/;
/** What a drawing program takes for granted, and so need not be written. */
const INITIAL: Record<string, string> = {
  "fill-opacity": "1",
  stroke: "none",
  "stroke-width": "1px",
  "stroke-opacity": "1",
  "stroke-dasharray": "none",
  "stroke-linecap": "butt",
  "stroke-linejoin": "miter",
  "font-style": "normal",
  "text-anchor": "start",
};
const SVG = "http://www.w3.org/2000/svg";
const CAPTION_SIZE = 12;
const CAPTION_LINE = 16;
const MARGIN = 18;
const PIXELS_PER_INCH = 96;

type Words = { title: string; caption: string };

/** The figure as SVG text, on paper whatever the screen's theme. */
export async function figureSvg(drawn: SVGSVGElement, words: Words): Promise<string> {
  const { width, height } = drawn.getBoundingClientRect();
  const stage = document.createElement("div");
  stage.dataset.theme = "light";
  stage.setAttribute("aria-hidden", "true");
  stage.className = "pointer-events-none fixed top-0 left-[-9999px]";
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  drawWhatWasPainted(drawn, copy);
  for (const part of copy.querySelectorAll("[data-screen-only]")) part.remove();
  stage.append(copy);
  document.body.append(stage);
  copy.setAttribute("width", String(width));
  writeOut(copy);
  const lines = wrapped(words.caption, width - 2 * MARGIN);
  const paper = getComputedStyle(stage).getPropertyValue("--chart-paper");
  const ink = getComputedStyle(stage).getPropertyValue("--ink");
  stage.remove();

  const total = height + MARGIN / 2 + lines.length * CAPTION_LINE + MARGIN;
  for (const name of [...copy.attributes].map((attribute) => attribute.name)) copy.removeAttribute(name);
  copy.setAttribute("xmlns", SVG);
  copy.setAttribute("width", width.toFixed(0));
  copy.setAttribute("height", total.toFixed(0));
  copy.setAttribute("viewBox", `0 0 ${width.toFixed(0)} ${total.toFixed(0)}`);
  copy.setAttribute("role", "img");
  const style = element("style", {});
  style.textContent = await typeface();
  copy.prepend(
    texted("title", words.title),
    texted("desc", words.caption),
    style,
    element("rect", { width: "100%", height: "100%", fill: paper }),
  );
  lines.forEach((line, i) => {
    const text = texted("text", line);
    text.setAttribute("x", String(MARGIN));
    text.setAttribute("y", (height + MARGIN / 2 + (i + 1) * CAPTION_LINE).toFixed(1));
    text.setAttribute("font-family", FONT);
    text.setAttribute("font-size", String(CAPTION_SIZE));
    text.setAttribute("fill", ink);
    copy.append(text);
  });
  return new XMLSerializer().serializeToString(copy);
}

const FONT = "'Source Sans 3 Variable', 'Source Sans 3', sans-serif";

function element(name: string, attributes: Record<string, string>): SVGElement {
  const made = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

function texted(name: string, text: string): SVGElement {
  const made = element(name, {});
  made.textContent = text;
  return made;
}

/** Put what the style sheet says into attributes, and take away what only the application reads. */
function writeOut(root: SVGSVGElement): void {
  const parts = [...root.querySelectorAll<SVGElement>("*")];
  // All styles are read before the first class goes, since parts inherit from those around them.
  const styles = parts.map(styleOf);
  parts.forEach((part, i) => {
    for (const attribute of [...part.attributes]) {
      // Colours of the page are written out on what is drawn itself.
      if (/^(class|style|tabindex|role|aria-|data-)/.test(attribute.name) || attribute.value.startsWith("var("))
        part.removeAttribute(attribute.name);
    }
    for (const [name, value] of styles[i] ?? []) part.setAttribute(name, value);
  });
}

function styleOf(part: SVGElement): [string, string][] {
  const style = getComputedStyle(part);
  const isText = part instanceof SVGTextContentElement;
  const isDrawn = part instanceof SVGGeometryElement || isText;
  const kept = KEPT.filter((name) => {
    if (name === "opacity") return style.opacity !== "1";
    return TYPE.test(name) ? isText : isDrawn;
  });
  return kept
    .map((name): [string, string] => [name, style.getPropertyValue(name)])
    .filter(([name, value]) => value !== INITIAL[name]);
}

/** In place of each painted canvas, its dots as paths. */
function drawWhatWasPainted(from: SVGSVGElement, copy: SVGSVGElement): void {
  const originals = from.querySelectorAll("canvas");
  copy.querySelectorAll("canvas").forEach((canvas, i) => {
    const dots = dotsOn(nth(originals, i));
    if (!dots) return;
    const group = element("g", {
      "stroke-linecap": "round",
      "stroke-width": String(2 * dots.radius),
      fill: "none",
      "stroke-opacity": String(dots.opacity),
    });
    group.setAttribute("class", canvas.getAttribute("class") ?? "");
    group.style.stroke = nth(originals, i).style.stroke;
    for (const d of pathsOfDots(dots.xs, dots.ys)) group.append(element("path", { d }));
    canvas.parentElement?.replaceWith(group);
  });
}

function wrapped(text: string, room: number): string[] {
  const pen = document.createElement("canvas").getContext("2d");
  if (!pen) return [text];
  pen.font = `${CAPTION_SIZE}px ${FONT}`;
  const lines: string[] = [];
  for (const word of text.split(" ")) {
    const last = lines.at(-1);
    const longer = last === undefined ? word : `${last} ${word}`;
    if (last !== undefined && pen.measureText(longer).width <= room) lines[lines.length - 1] = longer;
    else lines.push(word);
  }
  return lines;
}

/** The Latin part of our sans-serif, as the page itself loaded it. */
async function typeface(): Promise<string> {
  const rule = [...document.styleSheets]
    .flatMap((sheet) => [...sheet.cssRules])
    .filter((rule) => rule instanceof CSSFontFaceRule)
    .find((rule) => {
      const range = rule.style.getPropertyValue("unicode-range");
      return rule.style.getPropertyValue("font-family").includes("Source Sans 3") && /U\+0{0,3}0-/i.test(range);
    });
  const address = rule?.style.getPropertyValue("src").match(/url\("?([^")]+)/)?.[1];
  if (!address) return "";
  const base = rule?.parentStyleSheet?.href ?? location.href;
  const bytes = new Uint8Array(await (await fetch(new URL(address, base))).arrayBuffer());
  let text = "";
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return `@font-face{font-family:'Source Sans 3 Variable';font-weight:200 900;src:url(data:font/woff2;base64,${btoa(text)}) format('woff2')}`;
}

/** The figure as PNG at so many dots per inch of its size on screen. */
export async function figurePng(svg: string, dpi: number): Promise<Blob> {
  const image = new Image();
  const address = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  try {
    image.src = address;
    await image.decode();
    const scale = dpi / PIXELS_PER_INCH;
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(image.naturalWidth * scale);
    canvas.height = Math.round(image.naturalHeight * scale);
    canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
    if (!blob) throw new Error("The picture is too large for this browser to write.");
    return blob;
  } finally {
    URL.revokeObjectURL(address);
  }
}
