import sans400 from "../../../type/sans-400.ttf";
import { type Furnishings, type PlateLine, readPlate } from "../../api/plates";
import { drawn, fileName, filesOf, type Leaving, wordsOf, zipped } from "./files";

const PAGE = { width: 595.28, height: 841.89 };
const MARGIN = 36;
const COLUMNS = 3;
const ROWS = 4;

/** A plate of the gallery, ready to leave. */
export async function leavingOf(plate: PlateLine, furnishings: Furnishings): Promise<Leaving> {
  const { scenes } = await readPlate(plate, plate.document);
  const { id, name, document } = plate;
  return { id, name, document, scenes, furnishings, ...(await wordsOf(id, document)) };
}

/** A set of plates as one zip: a picture in each form with its caption, and a contact sheet of all of them. */
export async function setZip(
  name: string,
  plates: PlateLine[],
  furnishings: Furnishings,
  dpi: number,
  onProgress: (done: number) => boolean,
): Promise<Blob | null> {
  const files: Record<string, Uint8Array> = {};
  const leaving: Leaving[] = [];
  for (const [i, plate] of plates.entries()) {
    if (!onProgress(i)) return null;
    const file = await leavingOf(plate, furnishings);
    // Plates of one name are told apart by their place.
    const own =
      plates.filter((other) => fileName(other.name) === fileName(plate.name)).length > 1
        ? `${plate.name} ${i + 1}`
        : plate.name;
    Object.assign(files, await filesOf({ ...file, name: own }, dpi, "pictures"));
    leaving.push(file);
  }
  if (!onProgress(plates.length)) return null;
  files["contact-sheet.pdf"] = new Uint8Array(await (await contactSheet(name, leaving)).arrayBuffer());
  files["captions.md"] = new TextEncoder().encode(
    leaving.map((file) => `## ${file.name}\n\n${file.caption}\n`).join("\n"),
  );
  return zipped(files);
}

/** All plates of a set on pages, small, each with its name. */
async function contactSheet(name: string, leaving: Leaving[]): Promise<Blob> {
  const [{ jsPDF: Pdf }, { svg2pdf }] = await Promise.all([import("jspdf"), import("svg2pdf.js")]);
  const pdf = new Pdf({ unit: "pt", format: "a4", putOnlyUsedFonts: true, compress: true });
  const bytes = new Uint8Array(await (await fetch(sans400)).arrayBuffer());
  let text = "";
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  pdf.addFileToVFS("sans-400.ttf", btoa(text));
  for (const family of ["Heron Sans", "Heron Serif"])
    for (const weight of [400, 600]) pdf.addFont("sans-400.ttf", family, "normal", weight);
  pdf.setProperties({ title: name, creator: "Velvet Heron" });
  const cell = { width: (PAGE.width - 2 * MARGIN) / COLUMNS, height: (PAGE.height - 2 * MARGIN - 20) / ROWS };
  const room = document.createElement("div");
  room.className = "pointer-events-none fixed top-0 left-[-9999px]";
  document.body.append(room);
  try {
    for (const [i, file] of leaving.entries()) {
      const place = i % (COLUMNS * ROWS);
      if (i > 0 && place === 0) pdf.addPage();
      pdf.setFont("Heron Sans", "normal", 400);
      if (place === 0) pdf.setFontSize(11).text(name, MARGIN, MARGIN - 6);
      const [x, y] = [MARGIN + (place % COLUMNS) * cell.width, MARGIN + 8 + Math.floor(place / COLUMNS) * cell.height];
      const { width, height } = file.document.sheet;
      const scale = Math.min((cell.width - 10) / width, (cell.height - 26) / height);
      const svg = await drawn(file);
      room.replaceChildren(svg);
      await svg2pdf(svg, pdf, { x, y, width: width * scale, height: height * scale });
      pdf.setFont("Heron Sans", "normal", 400);
      pdf.setFontSize(7).text(file.name.slice(0, 60), x, y + height * scale + 9);
    }
  } finally {
    room.remove();
  }
  return pdf.output("blob");
}
