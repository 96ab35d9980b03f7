import { queryOptions } from "@tanstack/react-query";
import { body, bytes, client } from "./client";
import { type Unpacked, unpack } from "./envelope";
import { queryKeys } from "./queryKeys";
import type { components, operations } from "./schema.gen";
import type { Table } from "./studies";
import { inView } from "./views";

type Schemas = components["schemas"];
export type ScreenReading = Unpacked<Schemas["ScreenReading"]>;
export type RuleFound = ScreenReading["rules"][number];
export type TogetherReading = Unpacked<Schemas["TogetherReading"]>;
export type RelationReading = Unpacked<Schemas["RelationReading"]>;
export type Weighed = Schemas["ShortWeighed"];
export type Pulled = Schemas["ShortPulledReading"];
type Query<Name extends keyof operations> = NonNullable<operations[Name]["parameters"]["query"]>;
export type ScreenSettings = Omit<Query<"server_readings_api_screened">, "variable">;
export type Rule = NonNullable<ScreenSettings["rules"]>[number];
export type RelationSettings = Query<"server_readings_api_related">;
export type Statistic = Schemas["LeftOutSource"]["statistic"];

const steady = { staleTime: Number.POSITIVE_INFINITY } as const;
const binary = { parseAs: "arrayBuffer" } as const;

/** Which values of a variable which rules name, and what was decided on them. */
export function screenOf(table: Table, variable: string, settings: ScreenSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "screen", variable, settings),
    queryFn: async ({ signal }) =>
      unpack<Schemas["ScreenReading"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/screen", {
            params: { path: { table_id: table.id }, query: { variable, ...settings } },
            signal,
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** How far rows lie from the middle of several variables together. */
export function togetherOf(table: Table, variables: string[]) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "together", variables.join()),
    queryFn: async ({ signal }) =>
      unpack<Schemas["TogetherReading"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/together", {
            params: { path: { table_id: table.id }, query: { variables } },
            headers: inView("together"),
            signal,
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** A fitted relation, and what each row does to it. */
export function relationOf(table: Table, settings: RelationSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "relation", settings.response, settings),
    queryFn: async ({ signal }) =>
      unpack<Schemas["RelationReading"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/relation", {
            params: { path: { table_id: table.id }, query: settings },
            signal,
            headers: inView("relation"),
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** The relation with and without rows. */
export function pullOf(table: Table, settings: RelationSettings, rows: number[]) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "pull", settings.response, { asked: settings, rows }),
    queryFn: ({ signal }) =>
      body(
        client.POST("/api/tables/{table_id}/readings/pull", {
          params: { path: { table_id: table.id } },
          body: { product: [], ...settings, rows },
          signal,
        }),
      ),
    ...steady,
  });
}

/** What results are with and without rows. */
export function weighOf(table: Table, variable: string, by: string, rows: number[]) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "weigh", variable, { by, rows }),
    queryFn: ({ signal }) =>
      body(
        client.POST("/api/tables/{table_id}/readings/weigh", {
          params: { path: { table_id: table.id } },
          body: { variable, by, rows },
          signal,
        }),
      ),
    ...steady,
  });
}
