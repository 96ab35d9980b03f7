import { type QueryClient, queryOptions } from "@tanstack/react-query";
import { body, bytes, client } from "./client";
import { type Unpacked, unpack } from "./envelope";
import {
  type ClassSettings,
  type CrossSettings,
  type DensitySettings,
  queryKeys,
  type RowsWithin,
  type SplitSettings,
  type SpreadSettings,
} from "./queryKeys";
import type { components, operations } from "./schema.gen";
import type { Table } from "./studies";
import { inView } from "./views";

type Schemas = components["schemas"];
export type Spread = Unpacked<Schemas["Spread"]>;
export type Summary = Spread["summary"];
export type Density = Unpacked<Schemas["DensityOut"]>["density"];
type ClassArrays = "boundaries" | "counts" | "percents" | "densities" | "cumulative_counts";
export type Classes = Omit<Schemas["ShortClasses"], ClassArrays> & Record<ClassArrays, number[]>;
export type Split = Unpacked<Schemas["ByLevels"]>;
export type GroupSpread = Split["groups"][number];
export type LineUp = Unpacked<Schemas["LineUpShown"]>;
export type Overview = Schemas["ShortOverview"];
export type NormalityReading = Unpacked<Schemas["NormalityReading"]>;
export type LadderReading = Unpacked<Schemas["LadderReading"]>;
export type Rung = LadderReading["ladder"]["steps"][number];
export type OrderReading = Unpacked<Schemas["OrderReading"]>;
export type Against = Unpacked<Schemas["Against"]>;
export type ValueCounts = Schemas["ShortValueCounts"];
export type ControlReading = Schemas["ShortControlReading"];
export type Cross = Schemas["ShortCross"];
export type Definition = Summary["quantile_definition"];
export type { ClassSettings, DensitySettings, SpreadSettings } from "./queryKeys";

const binary = { parseAs: "arrayBuffer" } as const;
/** A height beyond the largest number comes as null, and cannot be drawn. */
const drawable = (numbers: (number | null)[]): number[] => numbers.map((number) => number ?? 0);

const steady = { staleTime: Number.POSITIVE_INFINITY, gcTime: 300_000 } as const;

/** The first look at a variable; its usual classes and curve become known answers of their own. */
export function spreadOf(table: Table, variable: string, settings: SpreadSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "spread", variable, settings),
    queryFn: async ({ signal, meta, client: queries }) => {
      const result = unpack<Schemas["Spread"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/spread", {
            params: { path: { table_id: table.id }, query: { variable, ...settings } },
            signal,
            headers: inView(settings.as_if ? "spread-as-if" : "spread", meta),
            ...binary,
          }),
        ),
      );
      const { closed, kernel, axis, as_if } = settings;
      if (result.classes) {
        queries.setQueryData(classesOf(table, variable, { closed, axis, as_if }).queryKey, listed(result.classes));
      }
      if (result.density)
        queries.setQueryData(densityOf(table, variable, { kernel, axis, as_if }).queryKey, result.density);
      return result;
    },
    ...steady,
  });
}

/** Classes as they came in an envelope; a height beyond the largest number cannot be drawn. */
export function listed(classes: NonNullable<Spread["classes"]>): Classes {
  return {
    ...classes,
    boundaries: Array.from(classes.boundaries),
    counts: Array.from(classes.counts),
    percents: Array.from(classes.percents),
    densities: Array.from(classes.densities, (height) => (Number.isFinite(height) ? height : 0)),
    cumulative_counts: Array.from(classes.cumulative_counts),
  };
}

export function classesOf(table: Table, variable: string, settings: ClassSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "classes", variable, settings),
    queryFn: async ({ signal, meta }): Promise<Classes> => {
      const { classes } = await body(
        client.GET("/api/tables/{table_id}/readings/classes", {
          params: { path: { table_id: table.id }, query: { variable, ...settings } },
          signal,
          headers: inView("classes", meta),
        }),
      );
      return {
        ...classes,
        boundaries: drawable(classes.boundaries),
        counts: drawable(classes.counts),
        percents: drawable(classes.percents),
        densities: drawable(classes.densities),
        cumulative_counts: drawable(classes.cumulative_counts),
      };
    },
    ...steady,
  });
}

export function densityOf(table: Table, variable: string, settings: DensitySettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "density", variable, settings),
    queryFn: async ({ signal, meta }) =>
      unpack<Schemas["DensityOut"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/density", {
            params: { path: { table_id: table.id }, query: { variable, ...settings } },
            signal,
            headers: inView("density", meta),
            ...binary,
          }),
        ),
      ).density,
    ...steady,
  });
}

/** The checks of a variable, or of its distances from the mean of each level of another. */
export function normalityOf(table: Table, variable: string, by?: string, as_if?: string) {
  const settings = { ...(by ? { by } : {}), ...(as_if ? { as_if } : {}) };
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "normality", variable, settings),
    queryFn: async ({ signal, meta }) =>
      unpack<Schemas["NormalityReading"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/normality", {
            params: { path: { table_id: table.id }, query: { variable, ...settings } },
            signal,
            headers: inView(as_if ? "normality-as-if" : "normality", meta),
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** What is said of values of which some lie below a limit. */
export function detectionOf(table: Table, variable: string) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "detection", variable, {}),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/detection", {
          params: { path: { table_id: table.id }, query: { variable } },
          signal,
        }),
      ),
    ...steady,
  });
}

/** A variable as a process gave it, within its limits. */
export function controlOf(
  table: Table,
  variable: string,
  settings: Omit<operations["server_readings_api_controlled"]["parameters"]["query"], "variable">,
) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "control", variable, settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/control", {
          params: { path: { table_id: table.id }, query: { variable, ...settings } },
          signal,
        }),
      ),
    ...steady,
  });
}

/** How often the levels or classes of a variable occur within the levels of another. */
export function crossOf(table: Table, variable: string, settings: CrossSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "cross", variable, settings),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/cross", {
          params: { path: { table_id: table.id }, query: { variable, ...settings } },
          signal,
        }),
      ),
    ...steady,
  });
}

/** A variable within the levels of another; by "" as one. */
export function splitOf(table: Table, variable: string, settings: SplitSettings) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "split", variable, settings),
    queryFn: async ({ signal, meta }) =>
      unpack<Schemas["ByLevels"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/split", {
            params: { path: { table_id: table.id }, query: { variable, ...settings } },
            signal,
            headers: inView("split", meta),
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** A variable in the order of the rows ("") or of another variable. */
export function orderOf(table: Table, variable: string, along: string) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "order", variable, { along }),
    queryFn: async ({ signal }) =>
      unpack<Schemas["OrderReading"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/order", {
            params: { path: { table_id: table.id }, query: { variable, along } },
            signal,
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

export type TimeUnit = NonNullable<Schemas["ShortTimes"]>["unit"];

/** Dates and times: their range, counts per unit of time, and gaps. */
export function timesOf(table: Table, variable: string, unit: TimeUnit | undefined) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "times", variable, { unit }),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/times", {
          params: { path: { table_id: table.id }, query: { variable, ...(unit ? { unit } : {}) } },
          signal,
        }),
      ),
    ...steady,
  });
}

export type Family = Schemas["Against"]["family"];

/** A variable against a fitted distribution, quantile by quantile and share by share. */
export function againstOf(table: Table, variable: string, family: Family) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "against", variable, { family }),
    queryFn: async ({ signal }) =>
      unpack<Schemas["Against"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/against", {
            params: { path: { table_id: table.id }, query: { variable, family } },
            signal,
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

export function countsOf(table: Table, variable: string) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "counts", variable),
    queryFn: ({ signal, meta }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/counts", {
          params: { path: { table_id: table.id }, query: { variable } },
          signal,
          headers: inView("counts", meta),
        }),
      ),
    ...steady,
  });
}

export function definitionsOf(table: Table, variable: string) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "definitions", variable),
    queryFn: async () =>
      (
        await body(
          client.GET("/api/tables/{table_id}/readings/definitions", {
            params: { path: { table_id: table.id }, query: { variable } },
          }),
        )
      ).definitions,
    ...steady,
  });
}

/** The data among nineteen samples of the fitted normal distribution; which they are is said once one is picked. */
export function lineUpOf(table: Table, variable: string, seed: number) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "line-up", variable, { seed }),
    queryFn: async () =>
      unpack<Schemas["LineUpShown"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/line-up", {
            params: { path: { table_id: table.id }, query: { variable, seed } },
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** Every numeric variable of a table with its numbers and its departure from a normal distribution. */
export function overviewOf(table: Table, quantile_definition: Definition) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "overview", "", { quantile_definition }),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/overview", {
          params: { path: { table_id: table.id }, query: { quantile_definition } },
          signal,
        }),
      ),
    ...steady,
  });
}

/** Tolerance intervals for a share of the population at a level, and reference intervals. */
export function intervalsOf(table: Table, variable: string, share: number, level: number, percent: number) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "intervals", variable, { share, level, percent }),
    queryFn: () =>
      body(
        client.GET("/api/tables/{table_id}/readings/intervals", {
          params: { path: { table_id: table.id }, query: { variable, share, level, percent } },
        }),
      ),
    ...steady,
  });
}

/** A variable on every step of the ladder of powers, within the levels of another where one is named. */
export function ladderOf(table: Table, variable: string, by: string) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "ladder", variable, { by }),
    queryFn: async ({ signal }) =>
      unpack<Schemas["LadderReading"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/ladder", {
            params: { path: { table_id: table.id }, query: { variable, by } },
            signal,
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
}

/** How much the ladder would bring each numeric variable nearer to normal. */
export function laddersOf(table: Table) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "ladders", ""),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/ladders", {
          params: { path: { table_id: table.id } },
          signal,
        }),
      ),
    ...steady,
  });
}

/** What would be made of a variable, by a way as JSON. */
export type Tried = Schemas["ShortTried"];

export function triedOf(table: Table, variable: string, as_if: string) {
  return queryOptions({
    queryKey: queryKeys.reading(table.id, table.revision, "tried", variable, { as_if }),
    queryFn: ({ signal }) =>
      body(
        client.GET("/api/tables/{table_id}/readings/tried", {
          params: { path: { table_id: table.id }, query: { variable, as_if } },
          signal,
        }),
      ),
    ...steady,
  });
}

/** What each number means, with its source, chapter by chapter. */
export function meaningsOf() {
  return queryOptions({
    queryKey: queryKeys.meanings(),
    queryFn: () => body(client.GET("/api/meanings")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** The rows of a mark. */
export async function rowsOf(queries: QueryClient, table: Table, settings: RowsWithin): Promise<number[]> {
  const result = await queries.fetchQuery({
    queryKey: queryKeys.reading(table.id, table.revision, "rows", settings.variable, settings),
    queryFn: async () =>
      unpack<Schemas["Within"]>(
        await bytes(
          client.GET("/api/tables/{table_id}/readings/rows", {
            params: { path: { table_id: table.id }, query: settings },
            ...binary,
          }),
        ),
      ),
    ...steady,
  });
  return Array.from(result.rows);
}

/** Where the numbers of a reading can be fetched as a file. */
export function numbersAddress(table: Table, variable: string, spread: SpreadSettings, classes: ClassSettings): string {
  const query = new URLSearchParams({ variable });
  for (const [name, value] of Object.entries({ ...spread, ...classes })) {
    if (Array.isArray(value)) for (const item of value) query.append(name, String(item));
    else if (value !== undefined && value !== null) query.set(name, String(value));
  }
  return `/api/tables/${table.id}/readings/numbers.csv?${query}`;
}
