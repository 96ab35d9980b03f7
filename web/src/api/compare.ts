import { queryOptions } from "@tanstack/react-query";
import { body, bytes, client } from "./client";
import { type Unpacked, unpack } from "./envelope";
import { queryKeys } from "./queryKeys";
import type { components, operations } from "./schema.gen";
import type { Table } from "./studies";
import { inView } from "./views";

type Schemas = components["schemas"];
type Query<Name extends keyof operations> = NonNullable<operations[Name]["parameters"]["query"]>;
export type Comparison = Unpacked<Schemas["Comparison"]>;
export type Differences = Schemas["ShortDifferenceReading"];
export type SharesReading = Schemas["ShortSharesReading"];
export type Estimates = Schemas["EstimatesReading"];
export type ShareSettings = Omit<Query<"server_readings_api_shared">, "variable">;
export type EstimateSettings = Query<"server_readings_api_estimated">;
export type CompareSettings = Omit<Query<"server_readings_api_compared">, "variable">;
export type DifferenceSettings = Omit<Query<"server_readings_api_differed">, "variable">;
export type Centre = Comparison["centre"];
export type Bars = Comparison["bars"];
export type Measure = Differences["measure"];

const steady = { staleTime: Number.POSITIVE_INFINITY } as const;

/** Groups of a variable with their centres, bars, boxes and curves. */
export function comparedOf(table: Table, variable: string, settings: CompareSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "compare", variable, settings),
    queryFn: async ({ signal }) =>
      unpack<Schemas["Comparison"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/compare", {
            params: { path: { table_id: table.id }, query: { variable, ...settings } },
            headers: inView("compare"),
            signal,
            parseAs: "arrayBuffer",
          }),
        ),
      ),
    ...steady,
  });
}

/** How the groups differ, by one measure. */
export function differencesOf(table: Table, variable: string, settings: DifferenceSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "differences", variable, settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/differences", {
          params: { path: { table_id: table.id }, query: { variable, ...settings } },
          headers: inView("differences"),
          signal,
        }),
      ),
    ...steady,
  });
}

/** The share of chosen answers in each group. */
export function sharesOf(table: Table, variable: string, settings: ShareSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "shares", variable, settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/shares", {
          params: { path: { table_id: table.id }, query: { variable, ...settings } },
          signal,
        }),
      ),
    ...steady,
  });
}

/** Rows that are results already. */
export function estimatesOf(table: Table, settings: EstimateSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "estimates", settings.of.join(" "), settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/estimates", {
          params: { path: { table_id: table.id }, query: settings },
          signal,
        }),
      ),
    ...steady,
  });
}

/** The rows of a group, by its place among the groups compared. */
export async function readGroupRows(table: Table, variable: string, by: string, second: string, group: number) {
  const query = { variable, by, group, ...(second ? { second } : {}) };
  const response = client.GET("/api/tables/{table_id}/readings/group-rows", {
    params: { path: { table_id: table.id }, query },
    parseAs: "arrayBuffer",
  });
  return unpack<Schemas["Within"]>(await bytes(response)).rows;
}
