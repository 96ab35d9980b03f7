import { type InfiniteData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { pastOf } from "../state/lookingBack";
import { body, client, Problem } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";
import type { Table } from "./studies";

type Schemas = components["schemas"];
export type Ledger = Schemas["LedgerOut"];
export type Entry = Schemas["EntryOut"];
type Decision = Omit<Schemas["DecisionIn"], "revision">;

const LOOKING_BACK = new Problem(
  409,
  "looking-back",
  "You are looking back at an earlier point.",
  "Return to now, then decide.",
);

type Pages = InfiniteData<Ledger, number | undefined>;

/**
 * The decisions on a table, the last of them first asked for, earlier ones by the page; what others decide comes with
 * the pulse of the study.
 */
export function useLedger(table: Table | undefined) {
  const { data, hasNextPage, fetchNextPage } = useInfiniteQuery({
    queryKey: queryKeys.ledger(table?.id ?? ""),
    queryFn: ({ pageParam: before }) =>
      body(
        client.GET("/api/tables/{table_id}/ledger", {
          params: { path: { table_id: table?.id ?? "" }, query: { before } },
        }),
      ),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: ({ entries }: Ledger) => {
      const first = entries[0]?.number ?? 1;
      return first > 1 ? first : undefined;
    },
    enabled: table !== undefined,
  });
  const last = data?.pages[0];
  const entries = [...(data?.pages ?? [])].reverse().flatMap((page) => page.entries);
  return { data: last && { ...last, entries }, readEarlier: hasNextPage ? fetchNextPage : undefined };
}

/** The pages of a ledger after a decision: its entry behind the others, those that it changed in their place. */
export function withChanges(pages: Pages, changed: Ledger): Pages {
  const byNumber = new Map(changed.entries.map((entry) => [entry.number, entry]));
  const [last, ...earlier] = pages.pages.map((page) => ({
    ...page,
    entries: page.entries.map((entry) => byNumber.get(entry.number) ?? entry),
  }));
  if (!last) return pages;
  const end = last.entries.at(-1)?.number ?? 0;
  const added = changed.entries.filter((entry) => entry.number > end);
  return { ...pages, pages: [{ ...changed, entries: [...last.entries, ...added] }, ...earlier] };
}

/** The digest of what a table stands on. */
export function useDigest(table: Table) {
  return useQuery({
    queryKey: queryKeys.digest(table.id, table.revision),
    queryFn: () =>
      body(client.GET("/api/tables/{table_id}/ledger/digest", { params: { path: { table_id: table.id } } })),
  });
}

function useDeciding<Sent>(table: Table | undefined, decide: (table: Table, sent: Sent) => Promise<Ledger>) {
  const queries = useQueryClient();
  // Tables made of this one follow it.
  const refresh = () => queries.invalidateQueries({ queryKey: queryKeys.tables() });
  return useMutation({
    mutationFn: (decision: Sent) => {
      if (!table) throw new Error("There is no table to decide on.");
      if (pastOf(table.id) !== undefined) throw LOOKING_BACK;
      return decide(table, decision);
    },
    onSuccess: (changed) => {
      const known = (pages: Pages | undefined) => pages && withChanges(pages, changed);
      queries.setQueryData<Pages>(queryKeys.ledger(table?.id ?? ""), known);
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
  useDeciding(table, (on, decision: Decision) =>
    body(client.POST("/api/tables/{table_id}/ledger", { ...path(on), body: { ...decision, revision: on.revision } })),
  );

export type Changes = Partial<NonNullable<Schemas["DescribeIn"]["changes"]>>;

/** The same changes for one variable or many; what is left out of them stays as it is. */
export const useDescribe = (table: Table | undefined) =>
  useDeciding(table, (on, { variables, changes }: { variables: string[]; changes: Changes }) =>
    body(
      client.POST("/api/tables/{table_id}/ledger/describe", {
        ...path(on),
        body: { variables, changes: changes as Required<Changes>, revision: on.revision },
      }),
    ),
  );

/** Which variable names the unit that n counts, or says how often each row counts; "" for none. */
export const useNameOfTable = (table: Table | undefined) =>
  useDeciding(table, (on, said: { unit_variable: string } | { weight_variable: string }) =>
    body(
      client.POST("/api/tables/{table_id}/ledger/describe", {
        ...path(on),
        body: { variables: [], ...said, revision: on.revision },
      }),
    ),
  );

/** What changes would take away from a variable, a sentence each. */
export function useLosses(table: Table, variable: string, changes: Changes, enabled: boolean) {
  return useQuery({
    queryKey: queryKeys.losses(table.id, table.revision, variable, changes),
    queryFn: () =>
      body(
        client.POST("/api/tables/{table_id}/ledger/losses", {
          ...path(table),
          body: { variable, changes: changes as Required<Changes> },
        }),
      ),
    enabled,
  });
}

type Cell = Schemas["CellIn"];

export const useCorrect = (table: Table | undefined) =>
  useDeciding(table, (on, { cells, reason }: { cells: Cell[]; reason: string }) =>
    body(
      client.POST("/api/tables/{table_id}/ledger/correct", {
        ...path(on),
        body: { cells, reason, revision: on.revision },
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

type Derived = Pick<Schemas["DeriveIn"], "of" | "label" | "way"> &
  Partial<Pick<Schemas["DeriveIn"], "unit" | "also" | "instead" | "reason">>;
/** How a variable is made of another. */
export type Way = Schemas["DeriveIn"]["way"];

/** Add a variable that follows from another; the answer is its symbol. */
export function useDerive(table: Table) {
  const queries = useQueryClient();
  return useMutation({
    /** earlier: entries made just before, which the table at hand does not know yet. */
    mutationFn: ({ earlier = 0, ...derived }: Derived & { earlier?: number }) => {
      if (pastOf(table.id) !== undefined) throw LOOKING_BACK;
      return body(
        client.POST("/api/tables/{table_id}/ledger/derive", {
          ...path(table),
          body: { unit: "", also: [], instead: "", reason: "", ...derived, revision: table.revision + earlier },
        }),
      );
    },
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: queryKeys.ledger(table.id) });
      return queries.invalidateQueries({ queryKey: queryKeys.tables() });
    },
  });
}

export const useTakeAway = (table: Table) =>
  useDeciding(table, (on, variable: string) =>
    body(
      client.POST("/api/tables/{table_id}/ledger/take-away", {
        ...path(on),
        body: { variable, revision: on.revision },
      }),
    ),
  );

type Picked = Omit<Schemas["PickIn"], "revision">;

/** Record which panel of a line-up was picked; the answer is the place of the data. */
export function usePick(table: Table | undefined) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (pick: Picked) =>
      body(
        client.POST("/api/tables/{table_id}/ledger/line-up", {
          params: { path: { table_id: table?.id ?? "" } },
          body: { ...pick, revision: table?.revision ?? 0 },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: queryKeys.ledger(table?.id ?? "") });
      return queries.invalidateQueries({ queryKey: queryKeys.tables() });
    },
  });
}
