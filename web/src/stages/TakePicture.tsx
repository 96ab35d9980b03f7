import { type RefObject, useState } from "react";
import { figurePng, figureSvg } from "../plot/figureFile";
import { Button } from "../ui/Button";
import { handOver } from "../ui/handOver";
import { KeepPlate } from "./plates/KeepPlate";

type TakePictureProps = { drawing: RefObject<SVGSVGElement | null>; caption: string; name: string };

const DPI = 300;

/** The picture with its caption, as SVG or PNG. */
export function TakePicture({ drawing, caption, name }: TakePictureProps) {
  const [trouble, setTrouble] = useState("");
  const file = name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, "-");
  const take = async (kind: "svg" | "png") => {
    if (!drawing.current) return;
    setTrouble("");
    try {
      const svg = await figureSvg(drawing.current, { title: name, caption });
      const made = kind === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await figurePng(svg, DPI);
      handOver(made, `${file}.${kind}`);
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : "The file could not be written.");
    }
  };
  return (
    <span className="flex items-baseline gap-2">
      <Button look="word" className="text-small!" onClick={() => take("svg")}>
        SVG
      </Button>
      <Button look="word" className="text-small!" onClick={() => take("png")}>
        PNG
      </Button>
      <KeepPlate />
      {trouble && <span className="text-caution">{trouble}</span>}
    </span>
  );
}
