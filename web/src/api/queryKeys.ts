import type { operations } from "./schema.gen";

type Query<Name extends keyof operations> = operations[Name]["parameters"]["query"];
export type ClassSettings = Omit<NonNullable<Query<"server_readings_api_classes">>, "variable">;
export type DensitySettings = Omit<NonNullable<Query<"server_readings_api_density">>, "variable">;
export type SpreadSettings = Omit<NonNullable<Query<"server_readings_api_spread">>, "variable">;
export type SplitSettings = Omit<NonNullable<Query<"server_readings_api_split">>, "variable">;
export type CrossSettings = Omit<NonNullable<Query<"server_readings_api_cross">>, "variable">;
export type RowsWithin = NonNullable<Query<"server_readings_api_rows">>;

export const queryKeys = {
  session: () => ["session"] as const,
  account: () => ["account"] as const,
  operating: () => ["operating"] as const,
  owned: () => ["owned"] as const,
  studies: () => ["studies"] as const,
  tables: () => ["table"] as const,
  table: (table: string) => ["table", table] as const,
  tableAt: (table: string, at: number | undefined) => ["table", table, at ?? "now"] as const,
  reading: (table: string, revision: number, name: string, variable: string, settings: object = {}) =>
    ["reading", table, revision, name, variable, settings] as const,
  rows: (table: string, revision: number, numbers: string) => ["rows", table, revision, numbers] as const,
  ledger: (table: string) => ["ledger", table] as const,
  digest: (table: string, revision: number) => ["digest", table, revision] as const,
  grid: (table: string, revision: number, view: object, page: number) => ["grid", table, revision, view, page] as const,
  audit: (table: string, revision: number) => ["audit", table, revision] as const,
  glance: (table: string, revision: number) => ["glance", table, revision] as const,
  stems: (table: string, revision: number) => ["stems", table, revision] as const,
  losses: (table: string, revision: number, variable: string, changes: object) =>
    ["losses", table, revision, variable, changes] as const,
  classStructures: (study: string) => ["class structures", study] as const,
  made: (study: string, recipe: object) => ["made", study, recipe] as const,
  meanings: () => ["meanings"] as const,
  inbox: (study: string) => ["inbox", study] as const,
  distributions: () => ["distributions"] as const,
  tokens: () => ["tokens"] as const,
  people: (study: string) => ["people", study] as const,
  pulse: (study: string) => ["pulse", study] as const,
  routine: (table: string, revision: number | undefined) => ["routine", table, revision] as const,
  fit: (study: string, upload: string, routine: object, names: object) =>
    ["fit", study, upload, routine, names] as const,
  furnishings: () => ["furnishings"] as const,
  plates: (study: string) => ["plate", "of", study] as const,
  plate: (plate: string) => ["plate", plate] as const,
  tablePlates: (study: string) => ["table plate", "of", study] as const,
  tablePlate: (plate: string) => ["table plate", plate] as const,
  reports: (study: string) => ["report", "of", study] as const,
  report: (report: string) => ["report", report] as const,
  composed: (report: string, version: number) => ["composed", report, version] as const,
  reportPages: (report: string) => ["pages", report] as const,
  job: (job: string) => ["job", job] as const,
};
