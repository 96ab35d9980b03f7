import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { body, client, Problem } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";
import type { Table } from "./studies";

type Schemas = components["schemas"];
export type Ledger = Schemas["LedgerOut"];
export type Entry = Schemas["EntryOut"];
type Decision = Omit<Schemas["DecisionIn"], "revision">;

const MOMENT = 5_000;

/** The decisions on a table; looked at again every few seconds, since others may decide too. */
export function useLedger(table: Table | undefined) {
  return useQuery({
    queryKey: queryKeys.ledger(table?.id ?? ""),
    queryFn: () =>
      body(client.GET("/api/tables/{table_id}/ledger", { params: { path: { table_id: table?.id ?? "" } } })),
    enabled: table !== undefined,
    refetchInterval: MOMENT,
  });
}

function useDeciding<Asked>(table: Table | undefined, decide: (table: Table, asked: Asked) => Promise<Ledger>) {
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ queryKey: queryKeys.table(table?.id ?? "") });
  return useMutation({
    mutationFn: (asked: Asked) => {
      if (!table) throw new Error("There is no table to decide on.");
      return decide(table, asked);
    },
    onSuccess: (ledger) => {
      queries.setQueryData(queryKeys.ledger(table?.id ?? ""), ledger);
      return refresh();
    },
    onError: (error) => {
      // Somebody was faster: show what they did.
      if (error instanceof Problem && error.code === "changed-meanwhile") {
        queries.invalidateQueries({ queryKey: queryKeys.ledger(table?.id ?? "") });
        refresh();
      }
    },
  });
}

const path = (table: Table) => ({ params: { path: { table_id: table.id } } });

export const useDecide = (table: Table | undefined) =>
  useDeciding(table, (on, asked: Decision) =>
    body(client.POST("/api/tables/{table_id}/ledger", { ...path(on), body: { ...asked, revision: on.revision } })),
  );

type Changes = Schemas["DescribeIn"]["changes"];

/** What is left out of the changes stays as it is. */
export const useDescribe = (table: Table | undefined) =>
  useDeciding(table, (on, { variable, changes }: { variable: string; changes: Partial<Changes> }) =>
    body(
      client.POST("/api/tables/{table_id}/ledger/describe", {
        ...path(on),
        body: { variable, changes: changes as Changes, revision: on.revision },
      }),
    ),
  );

export const useUndo = (table: Table | undefined) =>
  useDeciding<void>(table, (on) =>
    body(client.POST("/api/tables/{table_id}/ledger/undo", { ...path(on), body: { revision: on.revision } })),
  );

export const useRedo = (table: Table | undefined) =>
  useDeciding<void>(table, (on) =>
    body(client.POST("/api/tables/{table_id}/ledger/redo", { ...path(on), body: { revision: on.revision } })),
  );
