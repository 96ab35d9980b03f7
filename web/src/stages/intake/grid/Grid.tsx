import { useQueries, useQueryClient } from "@tanstack/react-query";
import {
  type ClipboardEvent,
  type KeyboardEvent,
  type MouseEvent,
  type Ref,
  useCallback,
  useImperativeHandle,
  useMemo,
  useRef,
  useState,
} from "react";
import { type GridRow, type GridView, PAGE, pageOf, rowsView } from "../../../api/grid";
import type { Table } from "../../../api/studies";
import { cellKey, useCorrections, useCorrectionsOf } from "../../../state/corrections";
import { useLayoutOf } from "../../../state/gridLayout";
import { useSelectedRows, useSelection } from "../../../state/selection";
import { useSize } from "../../../ui/useSize";
import { isNumeric } from "../../../words/kinds";
import { cellShown, cellTyped, whole } from "../../../words/numbers";
import { LongWork } from "../../LongWork";
import { Cell, CellEditor } from "./Cell";
import { ColumnHead } from "./ColumnHead";
import { inSight, type PlacedColumn, placeColumns } from "./columnLayout";
import { HEAD, heightFor, ROW, scrollFor, windowAt } from "./rowWindow";

export type GridHandle = { goTo: (place: number, symbol?: string) => void };
export type Changes = Record<string, string | null>;
type GridProps = {
  table: Table;
  view: GridView;
  n: number;
  onChange: (changes: Changes) => void;
  ref: Ref<GridHandle>;
};

const NUMBER_WIDTH = 84;
const MOST_PASTED_ROWS = 2_000;

/** The rows in sight and no others, however many there are; arrows move, Space selects, typing corrects. */
export function Grid({ table, view, n, onChange, ref }: GridProps) {
  const [room, size] = useSize();
  const scroller = useRef<HTMLDivElement | null>(null);
  const [scroll, setScroll] = useState({ top: 0, left: 0 });
  const [active, setActive] = useState({ place: 0, column: 0 });
  const [typing, setTyping] = useState<string | null>(null);
  const anchor = useRef(0);
  const queries = useQueryClient();
  const selected = useSelectedRows(table.id);
  const select = useSelection((state) => state.select);
  const pending = useCorrectionsOf(table.id);
  const { put, drop } = useCorrections();
  const layout = useLayoutOf(table.id);
  const width = size?.width ?? 0;
  const columns = useMemo(
    () => placeColumns(table.variables, layout, width - NUMBER_WIDTH - 12),
    [table.variables, layout, width],
  );
  const fixed = NUMBER_WIDTH + columns.pinnedWidth;
  const total = fixed + columns.looseWidth;
  const order = useMemo(() => [...columns.pinned, ...columns.loose], [columns]);
  const height = Math.max((size?.height ?? 0) - HEAD, ROW);
  const { first, last, top } = windowAt(n, scroll.top, height);
  const loose = inSight(columns.loose, scroll.left, scroll.left + width - fixed);

  const pages = useMemo(() => {
    const [from, to] = [Math.floor(first / PAGE), Math.floor(Math.max(last - 1, first) / PAGE)];
    return Array.from({ length: to - from + 1 }, (_, i) => from + i);
  }, [first, last]);
  const result = useQueries({ queries: pages.map((page) => pageOf(table, view, page)) });
  const rowAt = (place: number): GridRow | undefined => {
    const page = result[Math.floor(place / PAGE) - (pages[0] ?? 0)]?.data;
    return page?.rows[place % PAGE];
  };

  /** Bring a cell into sight; `column` is its place in the order in which the columns are drawn. */
  const goTo = useCallback(
    (place: number, column?: number) => {
      setActive((now) => ({ place, column: column ?? now.column }));
      const box = scroller.current;
      if (!box) return;
      const next = scrollFor(n, place, box.scrollTop, height);
      if (next !== box.scrollTop) box.scrollTop = next;
      const to = column === undefined ? undefined : order[column];
      if (to && !columns.pinned.includes(to)) {
        const shown = box.clientWidth - fixed;
        if (to.left < box.scrollLeft) box.scrollLeft = to.left;
        else if (to.left + to.width > box.scrollLeft + shown) box.scrollLeft = to.left + to.width - shown;
      }
    },
    [n, height, order, columns, fixed],
  );
  useImperativeHandle(
    ref,
    () => ({
      goTo: (place, symbol) => {
        const column = order.findIndex(({ variable }) => variable.symbol === symbol);
        goTo(place, column < 0 ? undefined : column);
      },
    }),
    [goTo, order],
  );

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
  const write = (row: GridRow, column: PlacedColumn, text: string) => {
    const recorded = cellTyped(text, isNumeric(column.variable))
      .trim()
      .replace(/^\u2212/, "-");
    const cell = { variable: column.variable.symbol, row: row.row, text: recorded };
    if (cell.text === (row.cells[column.index] ?? "")) drop(cell);
    else put(table.id, [cell]);
  };
  const textAt = (place: number, column: PlacedColumn) => {
    const row = rowAt(place);
    if (!row) return "";
    const recorded = pending.get(cellKey(row.row, column.variable.symbol))?.text ?? row.cells[column.index] ?? "";
    return cellShown(recorded, isNumeric(column.variable));
  };
  const keep = (text: string, then: "down" | "right" | "stay") => {
    const [row, column] = [rowAt(active.place), order[active.column]];
    if (row && column) write(row, column, text);
    setTyping(null);
    if (then === "stay") return;
    if (then === "down") goTo(Math.min(active.place + 1, n - 1));
    else goTo(active.place, Math.min(active.column + 1, order.length - 1));
    scroller.current?.focus({ preventScroll: true });
  };
  const onPaste = async (event: ClipboardEvent) => {
    const text = event.clipboardData.getData("text").trimEnd();
    if (!text || typing !== null) return;
    event.preventDefault();
    const block = text.split(/\r?\n/).slice(0, MOST_PASTED_ROWS);
    for (const [down, line] of block.entries()) {
      const place = active.place + down;
      if (place >= n) break;
      const page = await queries.ensureQueryData(pageOf(table, view, Math.floor(place / PAGE)));
      const row = page.rows[place % PAGE];
      if (!row) continue;
      for (const [across, cell] of line.split("\t").entries()) {
        const column = order[active.column + across];
        if (column) write(row, column, cell);
      }
    }
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const page = Math.max(Math.floor(height / ROW) - 1, 1);
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page }[event.key];
    const across = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const column = order[active.column];
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey;
    if (step !== undefined) {
      const place = Math.min(Math.max(active.place + step, 0), n - 1);
      goTo(place);
      if (event.shiftKey) choose(place, true, true);
    } else if (across !== undefined) {
      goTo(active.place, Math.min(Math.max(active.column + across, 0), order.length - 1));
    } else if (event.key === "Home" || event.key === "End") {
      const end = event.key === "End";
      if (event.ctrlKey) goTo(end ? n - 1 : 0);
      else goTo(active.place, end ? order.length - 1 : 0);
    } else if (event.key === " ") choose(active.place, event.ctrlKey, event.shiftKey);
    else if (event.key === "Enter" || event.key === "F2") setTyping(column ? textAt(active.place, column) : "");
    else if (event.key === "Delete" && column) {
      const row = rowAt(active.place);
      if (row) write(row, column, "");
    } else if (plain && /^[\d.<\u2212-]$/.test(event.key)) setTyping(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const columnUnder = (event: MouseEvent) => {
    const cell = event.target instanceof Element ? event.target.closest("[data-column]") : null;
    const index = cell ? Number(cell.getAttribute("data-column")) : -1;
    return order.findIndex((column) => column.index === index);
  };
  const attach = useCallback(
    (element: HTMLDivElement | null) => {
      scroller.current = element;
      return room(element);
    },
    [room],
  );
  const places = Array.from({ length: Math.max(last - first, 0) }, (_, i) => first + i);
  const cell = (place: number, row: GridRow | undefined, column: PlacedColumn, pinned: boolean) => (
    <Cell
      key={column.variable.symbol}
      row={row}
      column={pinned ? column : { ...column, left: fixed + column.left }}
      active={active.place === place && order[active.column] === column}
      pending={row && pending.get(cellKey(row.row, column.variable.symbol))?.text}
      pinned={pinned}
    />
  );
  const edited = order[active.column];
  const head = (column: PlacedColumn, pinned: boolean) => (
    <div
      key={column.variable.symbol}
      role="columnheader"
      aria-colindex={column.index + 2}
      aria-sort={view.sort === column.variable.symbol ? (view.descending ? "descending" : "ascending") : "none"}
      className={`group h-full border-line-strong border-b px-2.5 py-1.5 ${pinned ? "relative shrink-0" : "absolute top-0"}`}
      style={pinned ? { width: column.width } : { left: fixed + column.left, width: column.width }}
    >
      <ColumnHead table={table} variable={column.variable} width={column.width} view={view} onChange={onChange} />
    </div>
  );
  const waiting = pages[result.findIndex((page) => page.isFetching)];
  return (
    <>
      <LongWork view={rowsView(waiting ?? 0)} busy={waiting !== undefined && table.is_long} words="Looking for rows" />
      <div
        ref={attach}
        role="grid"
        aria-label={`Rows of ${table.name}`}
        aria-rowcount={n + 1}
        aria-colcount={table.variables.length + 1}
        // The grid is one stop; the arrows move within it.
        tabIndex={0}
        onKeyDown={onKeyDown}
        onPaste={onPaste}
        onScroll={({ currentTarget: { scrollTop, scrollLeft } }) => setScroll({ top: scrollTop, left: scrollLeft })}
        className="figures relative min-h-0 flex-1 overflow-auto rounded-card border border-line bg-raised [overflow-anchor:none]"
      >
        <div style={{ height: heightFor(n) + HEAD, width: total }}>
          <div role="row" className="sticky top-0 z-10 bg-raised" style={{ height: HEAD }}>
            <div className="sticky left-0 z-10 flex h-full bg-raised" style={{ width: fixed }}>
              <div
                role="columnheader"
                className="flex h-full shrink-0 items-end justify-end border-line-strong border-b px-3 pb-2 text-muted-ink text-small"
                style={{ width: NUMBER_WIDTH }}
              >
                row
              </div>
              {columns.pinned.map((column) => head(column, true))}
            </div>
            {loose.map((column) => head(column, false))}
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
                    const column = columnUnder(event);
                    setActive((now) => ({ place, column: column < 0 ? now.column : column }));
                    choose(place, event.ctrlKey || event.metaKey, event.shiftKey);
                  }}
                  onDoubleClick={(event) => {
                    const column = order[columnUnder(event)];
                    if (column) setTyping(textAt(place, column));
                  }}
                  className={`relative border-line border-b ${isSelected ? "bg-selection" : "hover:bg-surface"} ${row?.aside ? "text-muted-ink line-through" : ""}`}
                  style={{ height: ROW, width: total }}
                >
                  <div
                    className={`sticky left-0 z-[5] flex h-full ${isSelected ? "bg-selection" : "bg-raised"}`}
                    style={{ width: fixed }}
                  >
                    <div
                      role="rowheader"
                      className={`flex h-full shrink-0 items-center justify-end px-3 text-small ${isSelected ? "font-semibold text-accent" : "text-muted-ink"}`}
                      style={{ width: NUMBER_WIDTH }}
                    >
                      {row ? whole(row.row) : ""}
                    </div>
                    {columns.pinned.map((column) => cell(place, row, column, true))}
                  </div>
                  {loose.map((column) => cell(place, row, column, false))}
                </div>
              );
            })}
            {typing !== null && edited && active.place >= first && active.place < last && (
              <CellEditor
                label={`${edited.variable.label}, row ${rowAt(active.place)?.row ?? ""}`}
                text={typing}
                left={columns.pinned.includes(edited) ? scroll.left + NUMBER_WIDTH + edited.left : fixed + edited.left}
                width={edited.width}
                top={(active.place - first) * ROW}
                height={ROW}
                onKeep={keep}
                onLeave={() => {
                  setTyping(null);
                  scroller.current?.focus({ preventScroll: true });
                }}
              />
            )}
          </div>
        </div>
      </div>
    </>
  );
}
