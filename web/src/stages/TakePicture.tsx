import type { RefObject } from "react";
import type { Shown } from "../figure/screen";
import { Button } from "../ui/Button";
import { KeepPlate } from "./plates/KeepPlate";
import { useTakePicture } from "./useTakePicture";

type TakePictureProps = { drawing: RefObject<Shown | null>; caption: string; name: string };

/** The picture with its caption, as SVG or PNG. */
export function TakePicture({ drawing, caption, name }: TakePictureProps) {
  const { take, trouble } = useTakePicture(drawing, name, caption);
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
