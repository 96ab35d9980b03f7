import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { numbersOnScreen } from "../words/numbers";
import { body, client, file } from "./client";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type TablePlateDocument = Schemas["TablePlateDocument"];
export type TableSource = TablePlateDocument["source"];
export type TablePlateLine = Schemas["TablePlateLine"];
export type TablePlate = Schemas["TablePlateOut"];
export type Shown = Schemas["ShownOut"];
export type Rounding = Schemas["Rounding"];
export type TableForm = "docx" | "html" | "latex" | "markdown" | "xlsx" | "csv";

/** What a table is of, as a stage gives it: what is not said is as usual. */
export type NewTableSource = TableSource extends infer Kind
  ? Kind extends TableSource
    ? Pick<Kind, "table" | "kind"> & Partial<Kind>
    : never
  : never;

export const tablePlatesOf = (study: string) =>
  queryOptions({
    queryKey: queryKeys.tablePlates(study),
    queryFn: () => body(client.GET("/api/studies/{study_id}/table-plates", { params: { path: { study_id: study } } })),
  });

export const useTablePlates = (study: string | undefined) =>
  useQuery({ ...tablePlatesOf(study ?? ""), enabled: study !== undefined });

export function useTablePlate(id: string | undefined) {
  return useQuery({
    queryKey: queryKeys.tablePlate(id ?? ""),
    queryFn: () => body(client.GET("/api/table-plates/{plate_id}", { params: { path: { plate_id: id ?? "" } } })),
    enabled: id !== undefined,
    // Somebody else may have changed what it stands on.
    refetchOnMount: "always",
  });
}

/** A table as it is written, with its words and checks. */
export function shownOf(plate: Pick<TablePlate, "id" | "version" | "revisions">, document: TablePlateDocument) {
  return queryOptions({
    queryKey: ["shown", plate.id, plate.version, JSON.stringify(plate.revisions), JSON.stringify(document)],
    queryFn: ({ signal }) =>
      body(client.POST("/api/table-plates/shown", { body: { document, plate: plate.id }, signal })),
    staleTime: 5_000,
  });
}

/** A table as a file. */
export const readTableFile = (plate: string, document: TablePlateDocument, form: TableForm) =>
  file(
    client.POST("/api/table-plates/file", {
      params: { query: { form } },
      body: { document, plate },
      parseAs: "blob",
    }),
  );

const of = (id: string) => ({ params: { path: { plate_id: id } } });

/** Keep a table as it was edited, refused where another version stands. */
export const changeTablePlate = ({ id, version }: TablePlate, name: string, document: TablePlateDocument) =>
  body(client.PUT("/api/table-plates/{plate_id}", { ...of(id), body: { version, name, document } }));

/** Everything that changes tables of numbers; each leaves the gallery and the table as they now are. */
export function useTablePlateDeeds(study: string | undefined) {
  const queries = useQueryClient();
  const known = useCallback(
    (plate: TablePlate) => {
      queries.setQueryData(queryKeys.tablePlate(plate.id), plate);
      return queries.invalidateQueries({ queryKey: queryKeys.tablePlates(plate.study) });
    },
    [queries],
  );
  const gallery = () => queries.invalidateQueries({ queryKey: queryKeys.tablePlates(study ?? "") });
  const keep = useMutation({
    mutationFn: ({
      to,
      name,
      source,
      address,
    }: {
      to: string;
      name: string;
      source: NewTableSource;
      address: string;
    }) =>
      body(
        client.POST("/api/studies/{study_id}/table-plates", {
          params: { path: { study_id: to } },
          // What is not said is as usual, which the server fills in.
          body: {
            name: name.slice(0, 200),
            document: { source, address, numbers: numbersOnScreen() } as unknown as TablePlateDocument,
          },
        }),
      ),
    onSuccess: known,
  });
  const review = useMutation({
    mutationFn: (id: string) => body(client.POST("/api/table-plates/{plate_id}/reviewed", of(id))),
    onSuccess: known,
  });
  const freeze = useMutation({
    mutationFn: ({ id, on }: { id: string; on: boolean }) =>
      body(client.POST("/api/table-plates/{plate_id}/freeze", { params: { path: { plate_id: id }, query: { on } } })),
    onSuccess: known,
  });
  const duplicate = useMutation({
    mutationFn: (id: string) => body(client.POST("/api/table-plates/{plate_id}/duplicate", of(id))),
    onSuccess: known,
  });
  const place = useMutation({
    mutationFn: ({ id, before }: { id: string; before: string | null }) =>
      client.POST("/api/table-plates/{plate_id}/place", { ...of(id), body: { before } }),
    onSuccess: gallery,
  });
  const takeAway = useMutation({
    mutationFn: (id: string) => client.DELETE("/api/table-plates/{plate_id}", of(id)),
    onSuccess: (_, id) => {
      queries.removeQueries({ queryKey: queryKeys.tablePlate(id) });
      return gallery();
    },
  });
  const fetchAgain = useCallback(
    (id: string) => queries.invalidateQueries({ queryKey: queryKeys.tablePlate(id) }),
    [queries],
  );
  return { keep, review, freeze, duplicate, place, takeAway, fetchAgain, known };
}
