import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef } from "react";

type GripProps = {
  x: number;
  y: number;
  label: string;
  value: number;
  valueText: string;
  /** The pointer's place, in the picture's pixels. */
  onDrag: (x: number, y: number) => void;
  /** So many small steps by the keyboard; Shift makes ten. */
  onStep: (steps: number) => void;
  onKey?: (key: string) => void;
  /** The hand has let go. */
  onEnd: () => void;
  children: ReactNode;
};

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 };

/** A place on the picture that can be taken hold of, with the mouse, a finger or the arrow keys. */
export function Grip({ x, y, label, value, valueText, onDrag, onStep, onKey, onEnd, children }: GripProps) {
  const held = useRef(false);
  const follow = (event: PointerEvent<SVGGElement>) => {
    const frame = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (frame) onDrag(event.clientX - frame.left, event.clientY - frame.top);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (step === undefined) return onKey?.(event.key);
    event.preventDefault();
    event.stopPropagation();
    onStep(event.shiftKey ? 10 * step : step);
  };
  return (
    <g
      data-screen-only
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuetext={valueText}
      transform={`translate(${x},${y})`}
      className="pointer-events-auto cursor-ew-resize touch-none outline-none [&:focus-visible_.halo]:opacity-100 [&:hover_.halo]:opacity-60"
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
      }}
      onPointerMove={(event) => {
        if (!held.current) return;
        event.stopPropagation();
        follow(event);
      }}
      onPointerUp={() => {
        if (held.current) onEnd();
        held.current = false;
      }}
      onPointerCancel={() => {
        if (held.current) onEnd();
        held.current = false;
      }}
      onClick={(event) => event.stopPropagation()}
    >
      <circle r={12} className="fill-transparent" />
      <circle r={9} className="halo fill-accent-tint stroke-focus-ring opacity-0" />
      {children}
    </g>
  );
}
