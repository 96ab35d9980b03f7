import { useState } from "react";
import { readData } from "../../api/plates";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { Floating } from "../../ui/Floating";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { Wave } from "../../ui/Wave";
import {
  captionOf,
  copyPlate,
  DPIS,
  fileName,
  filesOf,
  type Leaving,
  pageOf,
  pdfOf,
  pictureOf,
  specificationOf,
  svgOf,
  zipped,
} from "./files";
import { useOnceReady } from "./useOnceReady";

const DPI_WORDS = Object.fromEntries(DPIS.map((dpi) => [String(dpi), `${dpi} dpi`])) as Record<string, string>;

type TakeAwayPlateProps = {
  leaving: Leaving;
  /** Whether its words are those of what stands on the sheet; what leaves waits for them. */
  ready: boolean;
  /** Why there are no words, where they could not be had. */
  refused: string | undefined;
};

/** A plate in every form in which it can leave. */
export function TakeAwayPlate({ leaving, ready, refused }: TakeAwayPlateProps) {
  const [dpi, setDpi] = useState("300");
  const [busy, setBusy] = useState("");
  const [said, setSaid] = useState("");
  const [trouble, setTrouble] = useState("");
  const name = fileName(leaving.name);
  const onceReady = useOnceReady({ leaving, refused }, ready);
  const take = async (what: string, make: (leaving: Leaving) => Promise<void>) => {
    setBusy(what);
    setTrouble("");
    setSaid("");
    try {
      const now = await onceReady();
      if (now.refused) throw new Error(now.refused);
      await make(now.leaving);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "The file could not be written.");
    } finally {
      setBusy("");
    }
  };
  const file = (
    label: string,
    end: string,
    make: (leaving: Leaving) => Promise<Blob | string>,
    type = "text/plain",
  ) => (
    <Button
      disabled={busy !== ""}
      onClick={() =>
        take(label, async (now) => {
          const made = await make(now);
          handOver(typeof made === "string" ? new Blob([made], { type }) : made, `${name}${end}`);
        })
      }
    >
      {label}
    </Button>
  );
  const dots = Number(dpi);
  return (
    <Floating label="Download" align="end" className="w-96 p-3.5" trigger={<Button look="primary">Download…</Button>}>
      <p className="text-muted-ink text-small">
        {leaving.document.sheet.width} × {leaving.document.sheet.height} mm, as it stands on the page.
      </p>
      <div className="mt-2 flex flex-wrap gap-1.5">
        {file("SVG", ".svg", (now) => svgOf(now, "embedded"), "image/svg+xml")}
        {file("SVG, letters as outlines", "-outlines.svg", (now) => svgOf(now, "outlines"), "image/svg+xml")}
        {file("PDF", ".pdf", (now) => pdfOf(now))}
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-1.5 border-line border-t pt-3">
        <Choices label="Dots per inch" options={DPI_WORDS} chosen={dpi} onChoose={setDpi} />
        {file("PNG", ".png", (now) => pictureOf(now, "png", dots))}
        {file("TIFF", ".tiff", (now) => pictureOf(now, "tiff", dots))}
      </div>
      <div className="mt-3 flex flex-wrap gap-1.5 border-line border-t pt-3">
        {file("Word processor, with caption (.docx)", ".docx", (now) => pageOf(now, dots))}
        {file("Caption", ".md", async (now) => captionOf(now), "text/markdown")}
        {file("Alternative text", "-alternative.txt", async (now) => `${now.alternative}\n`)}
        {file("Data, CSV", "-data.csv", (now) => readData(now.document, now.id), "text/csv")}
        {file("Specification, JSON", ".json", async (now) => specificationOf(now), "application/json")}
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-1.5 border-line border-t pt-3">
        {file("All of it, as one zip", ".zip", async (now) => zipped(await filesOf(now, dots)))}
        <Button
          disabled={busy !== ""}
          onClick={() =>
            take("copy", (now) => copyPlate(now, false).then(() => setSaid("The picture is on the clipboard.")))
          }
        >
          Copy the picture
        </Button>
        <Button
          disabled={busy !== ""}
          onClick={() =>
            take("copy", (now) => copyPlate(now, true).then(() => setSaid("Picture and caption are on the clipboard.")))
          }
        >
          Copy with caption
        </Button>
      </div>
      <div role="status" className="mt-2 min-h-5 text-muted-ink text-small">
        {busy ? <Wave moving className="w-16 text-primary" /> : said}
      </div>
      {trouble && <Notice problem={trouble} className="mt-1" />}
    </Floating>
  );
}
