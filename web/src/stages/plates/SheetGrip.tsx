import { type KeyboardEvent, useRef } from "react";
import { exact } from "../../words/numbers";

type GripProps = {
  x: number;
  y: number;
  label: string;
  value: number;
  scale: number;
  chosen: boolean;
  /** The pointer's place on the sheet, in points. */
  onDrag: (x: number, y: number) => void;
  onStep: (steps: number) => void;
  onEnd: () => void;
};

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 };

/** A place on the sheet to take hold of; as large on the screen at every zoom. */
export function Grip({ x, y, label, value, scale, chosen, onDrag, onStep, onEnd }: GripProps) {
  const held = useRef(false);
  const onKeyDown = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    onStep(event.shiftKey ? 10 * step : step);
    onEnd();
  };
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={value}
      aria-valuetext={exact(value)}
      transform={`translate(${x} ${y})`}
      className={`cursor-move touch-none outline-none hover:opacity-100 focus-visible:opacity-100 ${chosen ? "opacity-100" : "opacity-0"}`}
      onKeyDown={onKeyDown}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
      }}
      onPointerMove={(event) => {
        if (!held.current) return;
        event.stopPropagation();
        const frame = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
        if (frame) onDrag((event.clientX - frame.left) / scale, (event.clientY - frame.top) / scale);
      }}
      onPointerUp={() => {
        if (held.current) onEnd();
        held.current = false;
      }}
      onPointerCancel={() => {
        held.current = false;
        onEnd();
      }}
      onClick={(event) => event.stopPropagation()}
    >
      <circle r={12 / scale} fill="transparent" />
      <circle r={4.5 / scale} className="fill-raised stroke-accent" strokeWidth={1.8 / scale} />
    </g>
  );
}
