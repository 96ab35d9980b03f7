import { useQueries } from "@tanstack/react-query";
import { type KeyboardEvent, type Ref, useCallback, useImperativeHandle, useMemo, useRef, useState } from "react";
import { type GridRow, type GridView, PAGE, pageOf } from "../../../api/grid";
import type { Table } from "../../../api/studies";
import { useSelectedRows, useSelection } from "../../../state/selection";
import { useSize } from "../../../ui/useSize";
import { whole } from "../../../words/numbers";
import { ColumnHead } from "./ColumnHead";
import { HEAD, heightFor, ROW, scrollFor, windowAt } from "./rowWindow";

export type GridHandle = { goTo: (place: number) => void };
export type Changes = Record<string, string | null>;
type GridProps = {
  table: Table;
  view: GridView;
  n: number;
  onChange: (changes: Changes) => void;
  ref: Ref<GridHandle>;
};

const NUMBER_WIDTH = 84;
const NARROWEST = 92;
const WIDEST = 190;
const isNumber = (kind: string) => kind === "continuous" || kind === "count" || kind === "ordered";

/** The rows in sight and no others, however many there are; arrows move, Space selects. */
export function Grid({ table, view, n, onChange, ref }: GridProps) {
  const [room, size] = useSize();
  const scroller = useRef<HTMLDivElement | null>(null);
  const [scroll, setScroll] = useState({ top: 0, left: 0 });
  const [active, setActive] = useState({ place: 0, column: 0 });
  const anchor = useRef(0);
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const fair = Math.floor(((size?.width ?? 0) - NUMBER_WIDTH) / table.variables.length);
  const wide = Math.min(Math.max(fair, NARROWEST), WIDEST);
  const height = Math.max((size?.height ?? 0) - HEAD, ROW);
  const { first, last, top } = windowAt(n, scroll.top, height);
  const fromColumn = Math.max(Math.floor(scroll.left / wide) - 1, 0);
  const toColumn = Math.min(fromColumn + Math.ceil((size?.width ?? 0) / wide) + 2, table.variables.length);
  const columns = table.variables.slice(fromColumn, toColumn);

  const pages = useMemo(() => {
    const [from, to] = [Math.floor(first / PAGE), Math.floor(Math.max(last - 1, first) / PAGE)];
    return Array.from({ length: to - from + 1 }, (_, i) => from + i);
  }, [first, last]);
  const found = useQueries({ queries: pages.map((page) => pageOf(table, view, page)) });
  const rowAt = (place: number): GridRow | undefined => {
    const page = found[Math.floor(place / PAGE) - (pages[0] ?? 0)]?.data;
    return page?.rows[place % PAGE];
  };

  const goTo = useCallback(
    (place: number, column?: number) => {
      setActive((now) => ({ place, column: column ?? now.column }));
      const box = scroller.current;
      if (!box) return;
      const next = scrollFor(n, place, box.scrollTop, height);
      if (next !== box.scrollTop) box.scrollTop = next;
      if (column !== undefined) {
        const left = column * wide;
        const width = box.clientWidth - NUMBER_WIDTH;
        if (left < box.scrollLeft) box.scrollLeft = left;
        else if (left + wide > box.scrollLeft + width) box.scrollLeft = left + wide - width;
      }
    },
    [n, height, wide],
  );
  useImperativeHandle(ref, () => ({ goTo: (place) => goTo(place) }), [goTo]);

  const choose = (place: number, add: boolean, range: boolean) => {
    const row = rowAt(place);
    if (!row) return;
    if (range) {
      const [from, to] = [Math.min(anchor.current, place), Math.max(anchor.current, place)];
      const rows = Array.from({ length: to - from + 1 }, (_, i) => rowAt(from + i)?.row).filter((r) => r !== undefined);
      select(table.id, rows, "", true);
    } else {
      anchor.current = place;
      select(table.id, [row.row], `row ${whole(row.row)}`, add);
    }
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const page = Math.max(Math.floor(height / ROW) - 1, 1);
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page }[event.key];
    const across = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const lastColumn = table.variables.length - 1;
    if (step !== undefined) {
      const place = Math.min(Math.max(active.place + step, 0), n - 1);
      goTo(place);
      if (event.shiftKey) choose(place, true, true);
    } else if (across !== undefined) {
      goTo(active.place, Math.min(Math.max(active.column + across, 0), lastColumn));
    } else if (event.key === "Home" || event.key === "End") {
      const end = event.key === "End";
      if (event.ctrlKey) goTo(end ? n - 1 : 0);
      else goTo(active.place, end ? lastColumn : 0);
    } else if (event.key === " " || event.key === "Enter") choose(active.place, event.ctrlKey, event.shiftKey);
    else return;
    event.preventDefault();
  };
  const attach = useCallback(
    (element: HTMLDivElement | null) => {
      scroller.current = element;
      return room(element);
    },
    [room],
  );
  const places = Array.from({ length: Math.max(last - first, 0) }, (_, i) => first + i);
  return (
    <div
      ref={attach}
      role="grid"
      aria-label={`Rows of ${table.name}`}
      aria-rowcount={n + 1}
      aria-colcount={table.variables.length + 1}
      // The grid is one stop; the arrows move within it.
      tabIndex={0}
      onKeyDown={onKeyDown}
      onScroll={({ currentTarget: { scrollTop, scrollLeft } }) => setScroll({ top: scrollTop, left: scrollLeft })}
      className="figures relative min-h-0 flex-1 overflow-auto rounded-card border border-line bg-raised [overflow-anchor:none]"
    >
      <div style={{ height: heightFor(n) + HEAD, width: NUMBER_WIDTH + table.variables.length * wide }}>
        <div role="row" className="sticky top-0 z-10 bg-raised" style={{ height: HEAD }}>
          <div
            role="columnheader"
            className="sticky left-0 z-10 flex h-full items-end justify-end border-line-strong border-b bg-raised px-3 pb-2 text-muted-ink text-small"
            style={{ width: NUMBER_WIDTH }}
          >
            row
          </div>
          {columns.map((variable, i) => (
            <div
              key={variable.symbol}
              role="columnheader"
              aria-sort={view.sort === variable.symbol ? (view.descending ? "descending" : "ascending") : "none"}
              className="absolute top-0 h-full border-line-strong border-b px-2.5 py-1.5"
              style={{ left: NUMBER_WIDTH + (fromColumn + i) * wide, width: wide }}
            >
              <ColumnHead variable={variable} view={view} onChange={onChange} />
            </div>
          ))}
        </div>
        <div className="absolute left-0" style={{ top: HEAD + top, width: "100%" }}>
          {places.map((place) => {
            const row = rowAt(place);
            const isSelected = row !== undefined && selected.has(row.row);
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are those of the grid around it
              <div
                key={place}
                role="row"
                aria-rowindex={place + 2}
                aria-selected={isSelected}
                onClick={(event) => {
                  setActive((now) => ({ ...now, place }));
                  choose(place, event.ctrlKey || event.metaKey, event.shiftKey);
                }}
                className={`relative border-line border-b ${isSelected ? "bg-selection" : "hover:bg-surface"} ${row?.aside ? "text-muted-ink line-through" : ""}`}
                style={{ height: ROW, width: NUMBER_WIDTH + table.variables.length * wide }}
              >
                <div
                  role="rowheader"
                  className={`sticky left-0 z-[5] flex h-full items-center justify-end px-3 text-small ${isSelected ? "bg-selection font-semibold text-accent" : "bg-raised text-muted-ink"}`}
                  style={{ width: NUMBER_WIDTH }}
                >
                  {row ? whole(row.row) : ""}
                </div>
                {columns.map((variable, i) => (
                  <Cell
                    key={variable.symbol}
                    row={row}
                    column={fromColumn + i}
                    right={isNumber(variable.kind)}
                    symbol={variable.symbol}
                    active={active.place === place && active.column === fromColumn + i}
                    width={wide}
                  />
                ))}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

type CellProps = {
  row: GridRow | undefined;
  column: number;
  right: boolean;
  symbol: string;
  active: boolean;
  width: number;
};

function Cell({ row, column, right, symbol, active, width }: CellProps) {
  const text = row?.cells[column] ?? "";
  const missing = row?.missing[column] ?? false;
  const look = [
    right ? "justify-end" : "",
    missing ? "text-caution italic" : "",
    row?.aside_values.includes(symbol) ? "text-muted-ink line-through" : "",
    active ? "outline-2 outline-focus-ring -outline-offset-2 outline" : "",
  ];
  return (
    <div
      role="gridcell"
      className={`absolute top-0 flex h-full items-center overflow-hidden whitespace-nowrap px-2.5 ${look.join(" ")}`}
      style={{ left: NUMBER_WIDTH + column * width, width }}
    >
      {missing && text === "" ? "blank" : text.replace(/^-(?=\d)/, "\u2212")}
    </div>
  );
}
