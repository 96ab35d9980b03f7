import { queryOptions } from "@tanstack/react-query";
import { body, bytes, client } from "./client";
import { type Unpacked, unpack } from "./envelope";
import { queryKeys } from "./queryKeys";
import type { components, operations, paths } from "./schema.gen";
import type { Table } from "./studies";
import { inView } from "./views";

type Schemas = components["schemas"];
type Query<Name extends keyof operations> = NonNullable<operations[Name]["parameters"]["query"]>;
export type Pairs = Schemas["ShortPairsReading"];
export type Correlations = Schemas["ShortCorrelationsReading"];
export type Matrix = Unpacked<Schemas["MatrixReading"]>;
export type BoardReading = Unpacked<Schemas["BoardReading"]>;
export type Cell = BoardReading["board"]["cells"][number];
export type Agreement = Schemas["ShortAgreementReading"];
export type Fits = Schemas["ShortFitsReading"];
export type Predicted = Schemas["Predicted"];
export type FitScale = Cell["x_scale"];

const steady = { staleTime: Number.POSITIVE_INFINITY } as const;
const binary = { parseAs: "arrayBuffer" } as const;

type Readings = {
  matrix: [Query<"server_readings_relate_api_matrix">, Schemas["MatrixReading"]];
  straighten: [Query<"server_readings_relate_api_straighten">, Schemas["BoardReading"]];
};

/** A question about pairs whose answer comes in an envelope; each is of one view, the newest is wanted. */
export function pairReading<Name extends keyof Readings>(name: Name, table: Table, settings: Readings[Name][0]) {
  const path = `/api/tables/{table_id}/readings/${name}` as keyof paths;
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, name, "", settings as object),
    queryFn: async ({ signal }) =>
      unpack<Readings[Name][1]>(
        await bytes(
          // biome-ignore lint/suspicious/noExplicitAny: the address and its question belong together by `Readings`
          (client.GET as any)(path, {
            params: { path: { table_id: table.id }, query: settings },
            headers: inView(`relate-${name}`),
            signal,
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** How many pairs there are, and which rows are none. */
export function pairsOf(table: Table, settings: Query<"server_readings_relate_api_paired">) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "pairs", "", settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/pairs", {
          params: { path: { table_id: table.id }, query: settings },
          headers: inView("relate-pairs"),
          signal,
        }),
      ),
    ...steady,
  });
}

/** How far two methods lie apart, in numbers. */
export function agreementOf(table: Table, settings: Query<"server_readings_relate_api_agreed">) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "agreement", "", settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/agreement", {
          params: { path: { table_id: table.id }, query: settings },
          headers: inView("relate-agreement"),
          signal,
        }),
      ),
    ...steady,
  });
}

/** The lines through pairs in numbers. */
export function fitsOf(table: Table, settings: Query<"server_readings_relate_api_fitted">) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "fits", "", settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/fits", {
          params: { path: { table_id: table.id }, query: settings },
          headers: inView("relate-fits"),
          signal,
        }),
      ),
    ...steady,
  });
}

/** How closely two variables move together, in all rows and within groups. */
export function correlationsOf(table: Table, settings: Query<"server_readings_relate_api_correlated">) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "correlations", "", settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/correlations", {
          params: { path: { table_id: table.id }, query: settings },
          signal,
        }),
      ),
    ...steady,
  });
}

/** What a line says of one x. */
export function predictionOf(table: Table, settings: Query<"server_readings_relate_api_predicted">) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "predict", "", settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/predict", {
          params: { path: { table_id: table.id }, query: settings },
          signal,
        }),
      ),
    ...steady,
  });
}

/** The rows inside an outline, of all pairs, those not sent too. */
export async function enclosedRows(
  table: Table,
  pair: { x: string; y: string },
  outline: [number, number][],
): Promise<number[]> {
  const result = await bytes(
    client.POST("/api/tables/{table_id}/readings/enclosed", {
      params: { path: { table_id: table.id } },
      body: { ...pair, outline_x: outline.map(([x]) => x), outline_y: outline.map(([, y]) => y) },
      ...binary,
    }),
  );
  return Array.from(unpack<Schemas["Enclosed"]>(result).rows);
}
