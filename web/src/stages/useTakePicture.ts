import { useQueryClient } from "@tanstack/react-query";
import { type RefObject, useEffect, useRef, useState } from "react";
import { onPaper, type Shown } from "../figure/screen";
import { handOver } from "../ui/handOver";
import { allCome } from "./coming";

export const DPI = 300;

/** Hands over what a stage shows, with its caption below, as a file; a picture that is on its way is waited for. */
export function useTakePicture(drawing: RefObject<Shown | null> | null, name: string, caption: string) {
  const [trouble, setTrouble] = useState("");
  const queries = useQueryClient();
  const words = useRef({ name, caption });
  useEffect(() => {
    words.current = { name, caption };
  }, [name, caption]);
  const take = async (kind: "svg" | "png") => {
    setTrouble("");
    try {
      await allCome(queries);
      if (!drawing?.current) return;
      const { document, scenes } = drawing.current;
      // What writes files, and their type, are fetched when first wanted.
      const { fileName, pictureOf, svgOf } = await import("./plates/files");
      const said = { ...words.current, alternative: words.current.caption, captioned: true };
      const leaving = { id: null, scenes, ...said, ...onPaper(document) };
      const made =
        kind === "svg"
          ? new Blob([await svgOf(leaving, "embedded")], { type: "image/svg+xml" })
          : await pictureOf(leaving, "png", DPI);
      handOver(made, `${fileName(said.name)}.${kind}`);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "The file could not be written.");
    }
  };
  return { take, trouble };
}
