import { queryOptions } from "@tanstack/react-query";
import { body, client } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";
import type { Table } from "./studies";

export type StandsOut = components["schemas"]["StandsOut"];

/** What stands out in a table at first sight. */
export const glanceOf = (table: Table) =>
  queryOptions({
    queryKey: queryKeys.glance(table.id, table.revision),
    queryFn: ({ signal }) =>
      body(client.GET("/api/tables/{table_id}/glance", { params: { path: { table_id: table.id } }, signal })),
    staleTime: Number.POSITIVE_INFINITY,
  });
