import { type RefObject, useState } from "react";
import { onPaper, type Shown } from "../figure/screen";
import { handOver } from "../ui/handOver";

export const DPI = 300;

/** Hands over what a stage shows, with its caption below, as a file. */
export function useTakePicture(drawing: RefObject<Shown | null> | null, name: string, caption: string) {
  const [trouble, setTrouble] = useState("");
  const take = async (kind: "svg" | "png") => {
    if (!drawing?.current) return;
    setTrouble("");
    try {
      const { document, scenes } = drawing.current;
      // What writes files, and their type, are fetched when first wanted.
      const { fileName, pictureOf, svgOf } = await import("./plates/files");
      const leaving = { id: null, name, scenes, caption, alternative: caption, captioned: true, ...onPaper(document) };
      const made =
        kind === "svg"
          ? new Blob([await svgOf(leaving, "embedded")], { type: "image/svg+xml" })
          : await pictureOf(leaving, "png", DPI);
      handOver(made, `${fileName(name)}.${kind}`);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "The file could not be written.");
    }
  };
  return { take, trouble };
}
