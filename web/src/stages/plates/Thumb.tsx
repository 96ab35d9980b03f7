import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { type Furnishings, type PlateLine, scenesOf } from "../../api/plates";
import { POINTS_PER_MM } from "../../figure/layout";
import { Sheet } from "../../figure/Sheet";
import { typeLoaded } from "../../figure/text";

type ThumbProps = { plate: PlateLine; furnishings: Furnishings; width: number; height: number };

/** A plate in small, drawn once it comes into sight. */
export function Thumb({ plate, furnishings, width, height }: ThumbProps) {
  const frame = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState(false);
  const [loaded, setLoaded] = useState(false);
  useEffect(() => {
    typeLoaded().then(() => setLoaded(true));
    const watcher = new IntersectionObserver(([entry]) => entry?.isIntersecting && setSeen(true), {
      rootMargin: "200px",
    });
    if (frame.current) watcher.observe(frame.current);
    return () => watcher.disconnect();
  }, []);
  const { data, error } = useQuery({
    ...scenesOf(plate, plate.document, JSON.stringify([plate.revisions, plate.stale])),
    enabled: seen,
  });
  const { sheet } = plate.document;
  const scale = Math.min(width / (sheet.width * POINTS_PER_MM), height / (sheet.height * POINTS_PER_MM));
  return (
    <div ref={frame} aria-hidden="true" className="flex items-center justify-center overflow-hidden" style={{ height }}>
      {error && <p className="px-4 text-center text-caution text-small">{error.message}</p>}
      {data && loaded && (
        <Sheet
          document={plate.document}
          scenes={data.scenes}
          furnishings={furnishings}
          scale={scale}
          title={plate.name}
        />
      )}
    </div>
  );
}
