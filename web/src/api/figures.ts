import { queryOptions } from "@tanstack/react-query";
import { bytes, client } from "./client";
import { type Unpacked, unpack } from "./envelope";
import type { NewPanel } from "./plates";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";
import type { Table } from "./studies";
import { inView } from "./views";

type Schemas = components["schemas"];
/** What a stage shows: panels with all their settings and scenes, their words, and what deserves a look. */
export type Figure = Unpacked<Schemas["FigureOut"]>;

/** A picture as a stage asks for it; what is not said is as usual. */
export type Picture = Omit<NewPanel, "address">;

/** The picture of a table, or several that stand side by side. view: under which its progress is told, and by which a
 *  newer question overtakes it; sketch: of a sample of the rows of a long table. */
export function figureOf(table: Table, pictures: Picture | readonly Picture[], view: string, sketch = false) {
  const panels = JSON.stringify([pictures].flat());
  const of = subjectOf([pictures].flat());
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, sketch ? "sketch" : "figure", of, { panels }),
    queryFn: async ({ signal, meta }) =>
      unpack<Schemas["FigureOut"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/figure", {
            params: { path: { table_id: table.id }, query: { panels, sketch } },
            headers: inView(view, meta),
            signal,
            parseAs: "arrayBuffer",
          }),
        ),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** What a picture is of: while another of the same is asked for, the last one stays. */
export function subjectOf([first]: readonly { source: NewPanel["source"] }[]): string {
  if (!first) return "";
  const { source } = first;
  if (source.kind === "pair") return `pair ${source.x} ${source.y}`;
  return `${source.kind} ${"variable" in source ? (source.variable ?? "") : ""}`;
}

/** What an axis cuts off, in words; "" where nothing is. */
export const cutOf = (figure: Figure): string =>
  figure.findings.find(({ code, holds }) => code === "cut" && !holds)?.words ?? "";
