import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { type NumberStyle, numbersOnScreen } from "../words/numbers";
import { body, bytes, client, file } from "./client";
import { type Unpacked, unpack } from "./envelope";
import { queryKeys } from "./queryKeys";
import type { components } from "./schema.gen";

type Schemas = components["schemas"];
export type PlateDocument = Schemas["PlateDocument"];
export type Panel = Schemas["PlatePanel"];
export type Source = Panel["source"];
export type Sheet = PlateDocument["sheet"];
export type AxisSettings = Schemas["AxisSettings"];
export type MarkSettings = Schemas["MarkSettings"];
export type Furniture = Schemas["Furniture"];
export type PlateStyle = Schemas["StyleBody"];
export type PlateLine = Schemas["PlateLine"];
export type Plate = Schemas["PlateOut"];
export type Finding = Schemas["FindingOut"];
export type PlateWords = Schemas["WordsOut"];
export type Furnishings = Schemas["FurnishingsOut"];
export type Scene = Unpacked<Schemas["Scene"]>;
export type Layer = Scene["layers"][number];
export type SceneAxis = Scene["across"];
type Scenes = { scenes: Scene[]; revisions: Record<string, number> };
type Loose<T> = T extends (infer Item)[] ? Loose<Item>[] : T extends object ? { [Key in keyof T]?: Loose<T[Key]> } : T;

/** A reading as a stage gives it: what is not said is as usual. */
export type NewSource = Source extends infer Kind
  ? Kind extends Source
    ? Pick<Kind, "table" | "kind"> & Loose<Kind>
    : never
  : never;
export type NewPanel = Loose<Omit<Panel, "source" | "address">> & { source: NewSource; address: string };
export type NewPlate = { name: string; group?: string; panels: NewPanel[]; sheet?: Partial<PlateDocument["sheet"]> };

const unpackScenes = (answer: ArrayBuffer) => unpack<Schemas["ScenesOut"]>(answer) as Scenes;

/** What of a document says what its panels show. */
type OfScenes = { panels: readonly { source: Source }[]; numbers: NumberStyle };

async function readScenes({ panels, numbers }: OfScenes, signal?: AbortSignal): Promise<Scenes> {
  const response = client.POST("/api/plates/scenes", {
    body: { sources: panels.map(({ source }) => source), numbers },
    parseAs: "arrayBuffer",
    ...(signal ? { signal } : {}),
  });
  return unpackScenes(await bytes(response));
}

type Kept = Pick<Plate, "id" | "frozen" | "version">;

/** Scenes as they were frozen, or as the tables of their sources stand now. */
export async function readPlate(plate: Kept, document: OfScenes, signal?: AbortSignal): Promise<Scenes> {
  if (!plate.frozen) return readScenes(document, signal);
  const params = { path: { plate_id: plate.id } };
  const response = client.GET("/api/plates/{plate_id}/frozen", {
    params,
    parseAs: "arrayBuffer",
    ...(signal ? { signal } : {}),
  });
  return unpackScenes(await bytes(response));
}

/** What a plate shows. */
export function scenesOf(plate: Kept, document: OfScenes, revisions: string) {
  const sources = JSON.stringify(document.panels.map(({ source }) => source));
  return queryOptions({
    queryKey: plate.frozen ? ["frozen", plate.id, plate.version] : ["scenes", sources, document.numbers, revisions],
    queryFn: ({ signal }) => readPlate(plate, document, signal),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export const furnishingsOf = () =>
  queryOptions({
    queryKey: queryKeys.furnishings(),
    queryFn: () => body(client.GET("/api/plates/furnishings")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const useFurnishings = () => useQuery(furnishingsOf());

export const platesOf = (study: string) =>
  queryOptions({
    queryKey: queryKeys.plates(study),
    queryFn: () => body(client.GET("/api/studies/{study_id}/plates", { params: { path: { study_id: study } } })),
  });

export const usePlates = (study: string | undefined) =>
  useQuery({ ...platesOf(study ?? ""), enabled: study !== undefined });

export function usePlate(id: string | undefined) {
  return useQuery({
    queryKey: queryKeys.plate(id ?? ""),
    queryFn: () => body(client.GET("/api/plates/{plate_id}", { params: { path: { plate_id: id ?? "" } } })),
    enabled: id !== undefined,
    // Somebody else may have changed what it stands on.
    refetchOnMount: "always",
  });
}

/** Words and checks of a plate as it stands on the page. */
export const readWords = (document: PlateDocument, plate: string | null = null) =>
  body(client.POST("/api/plates/words", { body: { document, plate } }));

export const readData = (document: PlateDocument, plate: string | null = null) =>
  body(
    client.POST("/api/plates/data", { body: { document, plate }, parseAs: "text" }),
  ) as Promise<unknown> as Promise<string>;

/** Hand over a plate as it was drawn here, for reports. */
export const keepDrawn = (id: string, version: number, revisions: Record<string, number>, svg: string) =>
  body(
    client.PUT("/api/plates/{plate_id}/drawn", {
      params: { path: { plate_id: id } },
      body: { version, revisions, svg },
    }),
  );

/** A methods paragraph for plates of a study. */
export const readMethods = (study: string, plates: string[]) =>
  body(client.POST("/api/studies/{study_id}/methods", { params: { path: { study_id: study } }, body: { plates } }));

/** A picture with its dots per inch recorded, as PNG or TIFF. */
export async function recorded(picture: Blob, form: "png" | "tiff", dpi: number): Promise<Blob> {
  const data = new FormData();
  data.append("picture", picture, "plate.png");
  const response = client.POST("/api/plates/picture", {
    params: { query: { form, dpi } },
    // The generated type of a file is text; what is sent is the form.
    body: data as never,
    bodySerializer: (given: unknown) => given as FormData,
    parseAs: "blob",
  });
  return await file(response);
}

/** A picture with its caption as a page of a word processor. width: in mm. */
export async function paged(picture: Blob, width: number, caption: string, alternative: string): Promise<Blob> {
  const data = new FormData();
  data.append("picture", picture, "plate.png");
  data.append("width", String(width));
  data.append("caption", caption);
  data.append("alternative", alternative);
  const response = client.POST("/api/plates/page", {
    // The generated type of a file is text; what is sent is the form.
    body: data as never,
    bodySerializer: (given: unknown) => given as FormData,
    parseAs: "blob",
  });
  return await file(response);
}

/** Put a plate aside for publication; what is not said of it is as usual. */
export async function keepPlate(study: string, plate: NewPlate, style: PlateStyle): Promise<Plate> {
  const document = {
    style,
    numbers: numbersOnScreen(),
    panels: plate.panels as unknown as Panel[],
    ...(plate.sheet ? { sheet: plate.sheet } : {}),
  };
  const said = { name: plate.name.slice(0, 200), group: plate.group ?? "", document: document as PlateDocument };
  return body(client.POST("/api/studies/{study_id}/plates", { params: { path: { study_id: study } }, body: said }));
}

/** A whole specification as a plate of its own, one of a set where it has a name for it. */
export const keepDocument = (study: string, name: string, group: string, document: PlateDocument) =>
  body(
    client.POST("/api/studies/{study_id}/plates", {
      params: { path: { study_id: study } },
      body: { name: name.slice(0, 200), group: group.slice(0, 200), document },
    }),
  );

const of = (id: string) => ({ params: { path: { plate_id: id } } });

/** Keep a plate as it was edited, refused where another version stands. */
export const changePlate = ({ id, version }: Plate, name: string, document: PlateDocument) =>
  body(client.PUT("/api/plates/{plate_id}", { ...of(id), body: { version, name, document } }));

/** Everything that changes plates; each leaves the gallery and the plate as they now are. */
export function usePlateDeeds(study: string | undefined) {
  const queries = useQueryClient();
  const known = useCallback(
    (plate: Plate) => {
      queries.setQueryData(queryKeys.plate(plate.id), plate);
      return queries.invalidateQueries({ queryKey: queryKeys.plates(plate.study) });
    },
    [queries],
  );
  const gallery = () => queries.invalidateQueries({ queryKey: queryKeys.plates(study ?? "") });
  const keep = useMutation({
    mutationFn: ({ to, plate, style }: { to: string; plate: NewPlate; style: PlateStyle }) =>
      keepPlate(to, plate, style),
    onSuccess: known,
  });
  const review = useMutation({
    mutationFn: (id: string) => body(client.POST("/api/plates/{plate_id}/reviewed", of(id))),
    onSuccess: known,
  });
  const freeze = useMutation({
    mutationFn: ({ id, on }: { id: string; on: boolean }) =>
      body(client.POST("/api/plates/{plate_id}/freeze", { params: { path: { plate_id: id }, query: { on } } })),
    onSuccess: known,
  });
  const duplicate = useMutation({
    mutationFn: (id: string) => body(client.POST("/api/plates/{plate_id}/duplicate", of(id))),
    onSuccess: known,
  });
  const place = useMutation({
    mutationFn: ({ id, before }: { id: string; before: string | null }) =>
      client.POST("/api/plates/{plate_id}/place", { ...of(id), body: { before } }),
    onSuccess: gallery,
  });
  const takeAway = useMutation({
    mutationFn: (id: string) => client.DELETE("/api/plates/{plate_id}", of(id)),
    onSuccess: (_, id) => {
      queries.removeQueries({ queryKey: queryKeys.plate(id) });
      return gallery();
    },
  });
  const fetchAgain = useCallback(
    (id: string) => queries.invalidateQueries({ queryKey: queryKeys.plate(id) }),
    [queries],
  );
  return { keep, review, freeze, duplicate, place, takeAway, fetchAgain, known };
}

/** Styles that a person keeps, and the style of all plates of a study. */
export function useStyleDeeds(study: string | undefined) {
  const queries = useQueryClient();
  const known = (furnishings: Furnishings) => queries.setQueryData(queryKeys.furnishings(), furnishings);
  const keep = useMutation({
    mutationFn: (style: PlateStyle) => body(client.PUT("/api/plates/styles", { body: style })),
    onSuccess: known,
  });
  const forget = useMutation({
    mutationFn: (name: string) => body(client.DELETE("/api/plates/styles", { params: { query: { name } } })),
    onSuccess: known,
  });
  const all = useMutation({
    mutationFn: (style: PlateStyle) =>
      body(
        client.PUT("/api/studies/{study_id}/plates/style", {
          params: { path: { study_id: study ?? "" } },
          body: style,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["plate"] }),
  });
  return { keep, forget, all };
}
