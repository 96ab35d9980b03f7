import { type ReactNode, type RefObject, useRef } from "react";
import { Problem } from "../api/client";
import type { Shown } from "../figure/screen";
import { Button } from "../ui/Button";
import { Card } from "../ui/Card";
import { Notice } from "../ui/Notice";
import { type Size, useSize } from "../ui/useSize";
import { Wave } from "../ui/Wave";
import { TakePicture } from "./TakePicture";

type PictureCardProps = {
  title: string;
  aside: ReactNode;
  caption: string;
  file: string;
  error: Error | null;
  /** What the axis cuts off, and the way back. */
  cut?: string;
  onWhole?: () => void;
  /** What stands above the picture while it is worked. */
  above?: ReactNode;
  onAgain?: () => void;
  /** What the card is called, where it is not the picture of groups. */
  label?: string;
  help: string;
  /** What stands below the picture, on the same width. */
  below?: ((size: Size) => ReactNode) | undefined;
  children: ((size: Size, drawing: RefObject<Shown | null>) => ReactNode) | null;
};

/** A picture with its caption, both to be taken away. */
export function PictureCard({
  title,
  aside,
  caption,
  file,
  error,
  cut = "",
  onWhole,
  above,
  onAgain,
  label = "Groups",
  help,
  below,
  children,
}: PictureCardProps) {
  const [room, size] = useSize();
  const drawing = useRef<Shown>(null);
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const stopped = error instanceof Problem && error.code === "overtaken";
  return (
    <Card
      title={title}
      label={label}
      help={help}
      className="min-h-[340px] flex-1"
      aside={aside}
      footer={
        caption && (
          <>
            <span className="min-w-0 flex-1">{caption}</span>
            <TakePicture {...{ drawing, caption }} name={file} />
          </>
        )
      }
    >
      {above}
      {error && !stopped && <Notice problem={error.message} remedy={remedy} className="m-3" />}
      {stopped && (
        <p className="px-3.5 py-2">
          It was stopped before it was done.{" "}
          <Button look="link" onClick={onAgain}>
            ask again
          </Button>
        </p>
      )}
      {cut && (
        <p role="alert" className="flex items-baseline gap-2 bg-caution-tint px-3.5 py-1 text-small">
          {cut}
          <Button look="link" className="text-small!" onClick={onWhole}>
            show all
          </Button>
        </p>
      )}
      <div ref={room} className="relative min-h-0 flex-1 overflow-y-auto overflow-x-hidden">
        {children && !error && size && size.width > 80 && size.height > 80 && children(size, drawing)}
        {!children && !error && (
          <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
        )}
      </div>
      {below && !error && size && below(size)}
    </Card>
  );
}

/** The sentence of the stage, and what stands at its right. */
export function StageHead({ aside, children }: { aside: ReactNode; children: ReactNode }) {
  return (
    <div className="flex min-h-[56px] items-center justify-between gap-x-6 py-2">
      <h1 className="min-w-0 flex-1 text-head leading-tight">{children}</h1>
      <div className="shrink-0">{aside}</div>
    </div>
  );
}
