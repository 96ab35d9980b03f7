import { createElement } from "react";
import { flushSync } from "react-dom";
import { createRoot } from "react-dom/client";
import sans400 from "../../../type/sans-400.ttf";
import sans600 from "../../../type/sans-600.ttf";
import serif400 from "../../../type/serif-400.ttf";
import serif600 from "../../../type/serif-600.ttf";
import {
  type Furnishings,
  type PlateDocument,
  paged,
  readData,
  readWords,
  recorded,
  type Scene,
} from "../../api/plates";
import { POINTS_PER_MM } from "../../figure/layout";
import { Sheet } from "../../figure/Sheet";
import { FAMILY, inLines, typeLoaded } from "../../figure/text";

/** A plate ready to leave: as it was specified, and what it shows. */
export type Leaving = {
  /** Of the plate that it is kept as; null for a picture that is not kept. */
  id: string | null;
  name: string;
  document: PlateDocument;
  scenes: Scene[];
  furnishings: Furnishings;
  caption: string;
  alternative: string;
  /** Whether the caption stands below the picture. */
  captioned?: boolean;
};

export const DPIS = [150, 300, 600] as const;
const FILES: Record<string, string> = {
  "sans 400": sans400,
  "sans 600": sans600,
  "serif 400": serif400,
  "serif 600": serif600,
};

export const fileName = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 80) || "plate";

const kept = new Map<string, Promise<ArrayBuffer>>();

/** The bytes of a face, fetched once. */
function face(font: string, weight: number): Promise<ArrayBuffer> {
  const key = `${font} ${weight}`;
  const known = kept.get(key) ?? fetch(FILES[key] ?? "").then((answer) => answer.arrayBuffer());
  kept.set(key, known);
  return known;
}

/** The sheet drawn away from the page, with nothing on it that is for the hand alone. */
export async function drawn(leaving: Leaving): Promise<SVGSVGElement> {
  const { name, document: plate, scenes, furnishings, alternative } = leaving;
  await typeLoaded();
  const room = document.createElement("div");
  const root = createRoot(room);
  flushSync(() => root.render(createElement(Sheet, { document: plate, scenes, furnishings, title: name })));
  const svg = room.firstElementChild?.cloneNode(true) as SVGSVGElement;
  root.unmount();
  for (const part of svg.querySelectorAll("[data-screen-only]")) part.remove();
  for (const part of [svg, ...svg.querySelectorAll("*")])
    for (const { name: attribute } of [...part.attributes])
      if (/^(data-|aria-|class$|role$|tabindex$|pointer-events$|style$)/.test(attribute))
        part.removeAttribute(attribute);
  const lines = captionLines(leaving);
  const { type_size: size, font, ink } = plate.style;
  const [width, height] = [plate.sheet.width, heightOf(leaving)];
  const under = lines.map((line, i) =>
    element("text", line, {
      x: String(size),
      y: (plate.sheet.height * POINTS_PER_MM + CAPTION_LINE * size * (i + 1)).toFixed(2),
      "font-family": FAMILY[font],
      "font-size": String(size),
      "font-weight": "400",
      fill: ink,
    }),
  );
  svg.querySelector("rect")?.setAttribute("height", (height * POINTS_PER_MM).toFixed(2));
  svg.append(...under);
  svg.prepend(element("title", name), element("desc", alternative));
  svg.setAttribute("role", "img");
  svg.setAttribute("viewBox", `0 0 ${(width * POINTS_PER_MM).toFixed(2)} ${(height * POINTS_PER_MM).toFixed(2)}`);
  svg.setAttribute("width", `${width}mm`);
  svg.setAttribute("height", `${height}mm`);
  return svg;
}

function element(tag: string, words: string, attributes: Record<string, string> = {}) {
  const made = document.createElementNS("http://www.w3.org/2000/svg", tag);
  made.textContent = words;
  for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, value);
  return made;
}

const CAPTION_LINE = 1.32;

/** The caption in lines, where it stands below the picture. */
function captionLines({ captioned, caption, document: { sheet, style } }: Leaving): string[] {
  const { type_size: size, font } = style;
  return captioned ? inLines(caption, sheet.width * POINTS_PER_MM - 2 * size, size, font) : [];
}

/** How high the picture is, with the caption below it, in millimetres. */
function heightOf(leaving: Leaving): number {
  const { sheet, style } = leaving.document;
  const lines = captionLines(leaving).length;
  return sheet.height + (lines > 0 ? (style.type_size * (CAPTION_LINE * lines + 1)) / POINTS_PER_MM : 0);
}

/** Which weights of the plate's face are used. */
const weightsOf = (svg: SVGSVGElement) =>
  [400, 600].filter((weight) => svg.querySelector(`text[font-weight="${weight}"]`) !== null);

function base64(bytes: ArrayBuffer): string {
  const view = new Uint8Array(bytes);
  let text = "";
  for (let i = 0; i < view.length; i += 8192) text += String.fromCharCode(...view.subarray(i, i + 8192));
  return btoa(text);
}

const written = (svg: SVGSVGElement) => new XMLSerializer().serializeToString(svg);

/** SVG with its type inside, or with letters as outlines, which need none. */
export async function svgOf(leaving: Leaving, letters: "embedded" | "outlines"): Promise<string> {
  const svg = await drawn(leaving);
  const { font } = leaving.document.style;
  if (letters === "outlines") return written(await outlined(svg, font));
  const rules = await Promise.all(
    weightsOf(svg).map(
      async (weight) =>
        `@font-face{font-family:'${FAMILY[font]}';font-weight:${weight};src:url(data:font/ttf;base64,${base64(await face(font, weight))}) format('truetype')}`,
    ),
  );
  const style = document.createElementNS("http://www.w3.org/2000/svg", "style");
  style.textContent = `${rules.join("")}text{font-kerning:none;white-space:pre}`;
  svg.prepend(style);
  return written(svg);
}

async function outlined(svg: SVGSVGElement, font: "sans" | "serif"): Promise<SVGSVGElement> {
  const { parse } = await import("opentype.js");
  const faces = new Map(
    await Promise.all(weightsOf(svg).map(async (weight) => [weight, parse(await face(font, weight))] as const)),
  );
  for (const text of svg.querySelectorAll("text")) {
    const own = faces.get(Number(text.getAttribute("font-weight")));
    const [x, y, size] = ["x", "y", "font-size"].map((name) => Number(text.getAttribute(name)));
    const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
    path.setAttribute(
      "d",
      own?.getPath(text.textContent ?? "", x ?? 0, y ?? 0, size ?? 8, { kerning: false }).toPathData(3) ?? "",
    );
    for (const name of ["fill", "stroke", "stroke-width", "stroke-linejoin"]) {
      const value = text.getAttribute(name);
      if (value) path.setAttribute(name, value);
    }
    text.replaceWith(path);
  }
  return svg;
}

/** PDF: vectors and our type inside, on a page of the sheet's size. */
export async function pdfOf(leaving: Leaving): Promise<Blob> {
  const [{ jsPDF: Pdf }, { svg2pdf }] = await Promise.all([import("jspdf"), import("svg2pdf.js")]);
  const svg = await drawn(leaving);
  const { sheet, style } = leaving.document;
  const [width, height] = [sheet.width * POINTS_PER_MM, sheet.height * POINTS_PER_MM];
  const pdf = new Pdf({
    unit: "pt",
    format: [width, height],
    orientation: width > height ? "landscape" : "portrait",
    putOnlyUsedFonts: true,
    compress: true,
  });
  for (const weight of weightsOf(svg)) {
    const file = `${style.font}-${weight}.ttf`;
    pdf.addFileToVFS(file, base64(await face(style.font, weight)));
    pdf.addFont(file, FAMILY[style.font], "normal", weight);
  }
  pdf.setProperties({ title: leaving.name, subject: leaving.caption.slice(0, 500), creator: "Velvet Heron" });
  // The converter reads widths of words from the page.
  const room = document.createElement("div");
  room.className = "pointer-events-none fixed top-0 left-[-9999px]";
  room.setAttribute("aria-hidden", "true");
  room.append(svg);
  document.body.append(room);
  try {
    await svg2pdf(svg, pdf, { x: 0, y: 0, width, height });
  } finally {
    room.remove();
  }
  return pdf.output("blob");
}

/** The picture in so many dots per inch of its size in print, with these recorded. */
export async function pictureOf(leaving: Leaving, form: "png" | "tiff", dpi: number): Promise<Blob> {
  const svg = await svgOf(leaving, "embedded");
  const { width } = leaving.document.sheet;
  const height = heightOf(leaving);
  const image = new Image();
  const address = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  try {
    image.src = address;
    await image.decode();
    const canvas = document.createElement("canvas");
    canvas.width = Math.round((width / 25.4) * dpi);
    canvas.height = Math.round((height / 25.4) * dpi);
    canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
    if (!blob) throw new Error("The picture is too large for this browser to write. Choose fewer dots per inch.");
    return await recorded(blob, form, dpi);
  } finally {
    URL.revokeObjectURL(address);
  }
}

export const captionOf = ({ name, caption }: Leaving) => `# ${name}\n\n${caption}\n`;

/** The specification, with its words as they leave. */
export function specificationOf({ document: plate, caption, alternative }: Leaving): string {
  const said = {
    ...plate,
    caption: { ...plate.caption, text: caption },
    alternative: { ...plate.alternative, text: alternative },
  };
  return `${JSON.stringify({ $schema: "plate.schema.json", ...said }, null, 1)}\n`;
}

const schema = () => fetch("/api/plates/schema").then((answer) => answer.text());

export type Forms = "everything" | "pictures";

/** All files of a plate by their names. */
export async function filesOf(
  leaving: Leaving,
  dpi: number,
  forms: Forms = "everything",
): Promise<Record<string, Uint8Array>> {
  const name = fileName(leaving.name);
  const bytes = async (blob: Blob) => new Uint8Array(await blob.arrayBuffer());
  const text = (words: string) => new TextEncoder().encode(words);
  const result: Record<string, Uint8Array> = {
    [`${name}.svg`]: text(await svgOf(leaving, "embedded")),
    [`${name}.pdf`]: await bytes(await pdfOf(leaving)),
    [`${name}.png`]: await bytes(await pictureOf(leaving, "png", dpi)),
    [`${name}.md`]: text(captionOf(leaving)),
  };
  if (forms === "pictures") return result;
  return {
    ...result,
    [`${name}.tiff`]: await bytes(await pictureOf(leaving, "tiff", dpi)),
    [`${name}-alternative.txt`]: text(`${leaving.alternative}\n`),
    [`${name}-data.csv`]: text(await readData(leaving.document, leaving.id)),
    [`${name}.json`]: text(specificationOf(leaving)),
    "plate.schema.json": text(await schema()),
  };
}

export async function zipped(files: Record<string, Uint8Array>): Promise<Blob> {
  const { zipSync } = await import("fflate");
  return new Blob([zipSync(files, { level: 6 }) as Uint8Array<ArrayBuffer>], { type: "application/zip" });
}

/** The picture on the clipboard; with its caption, as a figure of a page. */
export async function copyPlate(leaving: Leaving, withCaption: boolean): Promise<void> {
  const picture = await pictureOf(leaving, "png", 300);
  if (!withCaption) return navigator.clipboard.write([new ClipboardItem({ "image/png": picture })]);
  const figure = document.createElement("figure");
  const image = document.createElement("img");
  image.src = `data:image/png;base64,${base64(await picture.arrayBuffer())}`;
  image.alt = leaving.alternative;
  image.width = Math.round((leaving.document.sheet.width / 25.4) * 96);
  const caption = document.createElement("figcaption");
  caption.textContent = leaving.caption;
  figure.append(image, caption);
  await navigator.clipboard.write([
    new ClipboardItem({
      "text/html": new Blob([figure.outerHTML], { type: "text/html" }),
      "text/plain": new Blob([leaving.caption], { type: "text/plain" }),
    }),
  ]);
}

/** The words that go out with a plate: as edited, else as the data say. */
export async function wordsOf(id: string, document: PlateDocument): Promise<{ caption: string; alternative: string }> {
  const words = await readWords(document, id);
  return {
    caption: document.caption.text ?? words.caption,
    alternative: document.alternative.text ?? words.alternative,
  };
}

/** SVG without its type, for who has it. */
export const bareSvgOf = async (leaving: Leaving) => written(await drawn(leaving));

/** A page of a word processor with the picture and its caption. */
export const pageOf = async (leaving: Leaving, dpi: number) =>
  paged(await pictureOf(leaving, "png", dpi), leaving.document.sheet.width, leaving.caption, leaving.alternative);
