import { queryOptions } from "@tanstack/react-query";
import { body, client } from "./client";
import { queryKeys } from "./queryKeys";
import type { components, operations } from "./schema.gen";
import type { Table } from "./studies";
import { inView } from "./views";

export type GridRow = components["schemas"]["GridRow"];
type GridQuery = NonNullable<operations["server_readings_api_grid"]["parameters"]["query"]>;
/** Which rows, in which order. */
export type GridView = Omit<GridQuery, "start" | "count" | "find">;

export const PAGE = 100;

/** The view of a page that takes its time; two pages in sight are next to each other, and do not overtake each other. */
export const rowsView = (page: number) => (page % 2 === 0 ? "even-rows" : "odd-rows");

/** The view of a row or a text that is looked for. */
export const SEEKING = "sought-rows";

/** One page of the grid, by its number from 0. */
export function pageOf(table: Table, view: GridView, page: number) {
  return queryOptions({
    queryKey: queryKeys.grid(table.id, table.revision, view, page),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/grid", {
          params: { path: { table_id: table.id }, query: { ...view, start: page * PAGE, count: PAGE } },
          headers: table.is_long ? inView(rowsView(page)) : {},
          signal,
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Where a row stands in a view, from 0; null where it does not. */
export async function placeOf(table: Table, view: GridView, row: number): Promise<number | null> {
  const result = await body(
    client.GET("/api/tables/{table_id}/grid", {
      params: { path: { table_id: table.id }, query: { ...view, start: 0, count: 1, find: row } },
      headers: inView(SEEKING),
    }),
  );
  return result.place;
}

export type Sought = components["schemas"]["Sought"];

/** Where a text stands next in a view, behind a place. */
export function soughtIn(table: Table, view: GridView, text: string, after: number): Promise<Sought> {
  return body(
    client.GET("/api/tables/{table_id}/grid/sought", {
      params: { path: { table_id: table.id }, query: { ...view, text, after } },
      headers: inView(SEEKING),
    }),
  );
}

export type Audit = components["schemas"]["ShortAudit"];

export function auditOf(table: Table) {
  return queryOptions({
    queryKey: queryKeys.audit(table.id, table.revision),
    queryFn: () => body(client.GET("/api/tables/{table_id}/audit", { params: { path: { table_id: table.id } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
}
