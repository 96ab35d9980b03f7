import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { GridRow } from "../../../api/grid";
import { cellShown } from "../../../words/numbers";
import type { PlacedColumn } from "./columnLayout";

type CellProps = {
  row: GridRow | undefined;
  column: PlacedColumn;
  active: boolean;
  /** New text that is not recorded yet. */
  pending: string | undefined;
  pinned?: boolean;
};

const isNumber = (kind: string) => kind === "continuous" || kind === "count" || kind === "ordered";

export function Cell({ row, column: { variable, index, left, width }, active, pending, pinned = false }: CellProps) {
  const text = pending ?? row?.cells[index] ?? "";
  const missing = pending === undefined && (row?.missing[index] ?? false);
  const look = [
    pinned ? "shrink-0" : "absolute top-0",
    isNumber(variable.kind) ? "justify-end" : "",
    missing ? "text-caution italic" : "",
    pending === undefined ? "" : "bg-accent-tint text-accent font-semibold",
    row?.aside_values.includes(variable.symbol) ? "text-muted-ink line-through" : "",
    active ? "outline-2 outline-focus-ring -outline-offset-2 outline" : "",
  ];
  return (
    <div
      role="gridcell"
      data-column={index}
      data-at-hand={active}
      aria-colindex={index + 2}
      title={
        pending === undefined
          ? undefined
          : `was ${cellShown(row?.cells[index] ?? "", isNumber(variable.kind)) || "blank"}`
      }
      className={`flex h-full items-center overflow-hidden whitespace-nowrap px-2.5 ${look.join(" ")}`}
      style={pinned ? { width } : { left, width }}
    >
      {text === "" && row ? (
        <em className={missing ? "" : "not-italic opacity-70"}>blank</em>
      ) : (
        cellShown(text, isNumber(variable.kind))
      )}
    </div>
  );
}

type CellEditorProps = {
  label: string;
  text: string;
  left: number;
  width: number;
  top: number;
  height: number;
  onKeep: (text: string, then: "down" | "right" | "stay") => void;
  onLeave: () => void;
};

/** A cell being typed in. Enter keeps it and goes down, Tab goes right, Escape leaves it as it was. */
export function CellEditor({ label, text, left, width, top, height, onKeep, onLeave }: CellEditorProps) {
  const [typed, setTyped] = useState(text);
  const field = useRef<HTMLInputElement>(null);
  const left_ = useRef(false);
  useEffect(() => field.current?.focus({ preventScroll: true }), []);
  const keep = (then: "down" | "right" | "stay") => {
    if (left_.current) return;
    left_.current = true;
    onKeep(typed, then);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    event.stopPropagation();
    const then = ({ Enter: "down", Tab: "right" } as const)[event.key];
    if (then) keep(then);
    else if (event.key === "Escape") {
      left_.current = true;
      onLeave();
    } else return;
    event.preventDefault();
  };
  return (
    <input
      ref={field}
      aria-label={label}
      value={typed}
      maxLength={2000}
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={onKeyDown}
      onPaste={(event) => event.stopPropagation()}
      onBlur={() => keep("stay")}
      className="figures absolute z-20 border-2 border-accent bg-surface px-2 outline-none"
      style={{ left, width: Math.max(width, 120), top, height }}
    />
  );
}
