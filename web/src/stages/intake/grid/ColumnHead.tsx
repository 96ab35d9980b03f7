import { type FormEvent, type PointerEvent, useRef, useState } from "react";
import type { GridView } from "../../../api/grid";
import type { Table, Variable } from "../../../api/studies";
import { useGridLayout, useLayoutOf } from "../../../state/gridLayout";
import { Button } from "../../../ui/Button";
import { Field } from "../../../ui/Field";
import { Floating } from "../../../ui/Floating";
import { about, isNumeric } from "../../../words/kinds";
import { readNumber, typed, whole } from "../../../words/numbers";
import { LEAST, MOST } from "./columnLayout";
import type { Changes } from "./Grid";

type ColumnHeadProps = {
  table: Table;
  variable: Variable;
  width: number;
  view: GridView;
  onChange: (changes: Changes) => void;
};

const NO_CONDITION: Changes = { where: null, low: null, high: null, level: null, missing: null };

/** A variable above its column: press its name to sort, or set which of its values are shown. */
export function ColumnHead({ table, variable, width, view, onChange }: ColumnHeadProps) {
  const sorted = view.sort === variable.symbol;
  const arrow = sorted ? (view.descending ? " \u2193" : " \u2191") : "";
  const nextSort = (): Changes => {
    if (!sorted) return { sort: variable.symbol, descending: null };
    return view.descending ? { sort: null, descending: null } : { descending: "true" };
  };
  const conditioned = view.variable === variable.symbol;
  return (
    <>
      <button
        type="button"
        tabIndex={-1}
        className="block max-w-full truncate font-semibold hover:text-accent"
        onClick={() => onChange(nextSort())}
        title={`Sort by ${variable.label}`}
      >
        {variable.label}
        {arrow}
      </button>
      <span className="block truncate text-muted-ink text-small">{about(variable)}</span>
      <span className="flex items-center justify-between text-small">
        <MissingBar variable={variable} />
        <Condition {...{ table, variable, width, view, onChange, conditioned }} />
      </span>
      <WidthHandle table={table} symbol={variable.symbol} width={width} />
    </>
  );
}

function MissingBar({ variable }: { variable: Variable }) {
  return variable.n_missing > 0 ? (
    <span className="text-caution">{whole(variable.n_missing)} missing</span>
  ) : (
    <span className="text-muted-ink">complete</span>
  );
}

/** The right edge of a column, to be dragged; the popover of its condition has the width as a number too. */
function WidthHandle({ table, symbol, width }: { table: Table; symbol: string; width: number }) {
  const setWidth = useGridLayout((state) => state.setWidth);
  const start = useRef({ x: 0, width: 0 });
  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    start.current = { x: event.clientX, width };
    event.currentTarget.setPointerCapture(event.pointerId);
    event.preventDefault();
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const next = start.current.width + event.clientX - start.current.x;
    setWidth(table.id, symbol, Math.round(Math.min(Math.max(next, LEAST), MOST)));
  };
  return (
    <div
      aria-hidden="true"
      data-width-of={symbol}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      className="absolute top-0 -right-1 z-10 h-full w-2 cursor-col-resize touch-none border-transparent border-r-2 hover:border-accent group-hover:border-line"
    />
  );
}

function Condition({
  table,
  variable,
  width,
  view,
  conditioned,
  onChange,
}: ColumnHeadProps & { conditioned: boolean }) {
  const { setWidth, togglePin } = useGridLayout();
  const { pinned } = useLayoutOf(table.id);
  const [open, setOpen] = useState(false);
  const [low, setLow] = useState(conditioned && view.low != null ? typed(view.low) : "");
  const [high, setHigh] = useState(conditioned && view.high != null ? typed(view.high) : "");
  const set = (changes: Changes) => {
    setOpen(false);
    onChange({ ...NO_CONDITION, ...changes });
  };
  const range = (event: FormEvent) => {
    event.preventDefault();
    const [from, to] = [readNumber(low), readNumber(high)];
    if (from !== null || to !== null)
      set({ where: variable.symbol, low: from === null ? null : String(from), high: to === null ? null : String(to) });
  };
  return (
    <Floating
      label={`Rows shown by ${variable.label}`}
      open={open}
      onOpenChange={setOpen}
      className="w-60 p-3"
      trigger={
        <button
          type="button"
          tabIndex={-1}
          aria-label={`Choose rows by ${variable.label}: ${conditioned ? "some" : "all"}`}
          className={conditioned ? "dotted-word" : "text-primary hover:underline"}
        >
          {conditioned ? "some" : "all"}
        </button>
      }
    >
      <div className="flex flex-col gap-2.5">
        {conditioned && <Button onClick={() => set({})}>All rows again</Button>}
        {variable.n_missing > 0 && (
          <Button onClick={() => set({ where: variable.symbol, missing: "true" })}>
            Only rows where it is missing
          </Button>
        )}
        {isNumeric(variable) && (
          <form onSubmit={range} className="flex items-end gap-2">
            <Field label="From" inputMode="decimal" value={low} onChange={(event) => setLow(event.target.value)} />
            <Field label="To" inputMode="decimal" value={high} onChange={(event) => setHigh(event.target.value)} />
            <Button type="submit">Set</Button>
          </form>
        )}
        {variable.levels.length > 0 && !isNumeric(variable) && (
          <div className="flex max-h-56 flex-col overflow-y-auto">
            {variable.levels.map((level) => (
              <button
                key={level}
                type="button"
                className="rounded px-2 py-1 text-left hover:bg-accent-tint"
                onClick={() => set({ where: variable.symbol, level })}
              >
                {level}
              </button>
            ))}
          </div>
        )}
        <div className="flex items-end gap-2 border-line border-t pt-2.5">
          <Field
            label="Width"
            type="number"
            min={LEAST}
            max={MOST}
            step={10}
            value={width}
            onChange={(event) => setWidth(table.id, variable.symbol, Number(event.target.value) || null)}
          />
          <Button aria-pressed={pinned.includes(variable.symbol)} onClick={() => togglePin(table.id, variable.symbol)}>
            {pinned.includes(variable.symbol) ? "Unpin" : "Pin"}
          </Button>
        </div>
      </div>
    </Floating>
  );
}
