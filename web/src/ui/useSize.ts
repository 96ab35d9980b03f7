import { useCallback, useState } from "react";

export type Size = { width: number; height: number };

/** The size of an element, followed as it changes; null until it stands. */
export function useSize(): [(element: HTMLElement | null) => void, Size | null] {
  const [size, setSize] = useState<Size | null>(null);
  const attach = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const measure = () => {
      const next = { width: Math.floor(element.clientWidth), height: Math.floor(element.clientHeight) };
      setSize((now) => (now && now.width === next.width && now.height === next.height ? now : next));
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [attach, size];
}
