import { useCallback, useEffect, useMemo, useReducer, useRef, useState } from "react";
import { Problem } from "../../api/client";
import type { PlateDocument } from "../../api/plates";
import { merged } from "./merging";

type History<Document> = { past: Document[]; now: Document; future: Document[]; hand: string };
type Act<Document> =
  | { deed: "edit"; change: (now: Document) => Document; hand: string }
  | { deed: "rebase"; change: (now: Document) => Document }
  | { deed: "undo" }
  | { deed: "redo" }
  | { deed: "let go" };

const MOST_STEPS = 200;

function step<Document>(state: History<Document>, act: Act<Document>): History<Document> {
  if (act.deed === "let go") return state.hand ? { ...state, hand: "" } : state;
  // What another changed stands in every step, so that taking back takes back one's own.
  if (act.deed === "rebase") {
    const { past, now, future } = state;
    return { past: past.map(act.change), now: act.change(now), future: future.map(act.change), hand: "" };
  }
  if (act.deed === "undo") {
    const before = state.past.at(-1);
    return before
      ? { past: state.past.slice(0, -1), now: before, future: [state.now, ...state.future], hand: "" }
      : state;
  }
  if (act.deed === "redo") {
    const [next, ...rest] = state.future;
    return next ? { past: [...state.past, state.now], now: next, future: rest, hand: "" } : state;
  }
  const now = act.change(state.now);
  if (now === state.now) return state;
  // While the hand drags one thing, all of its way is one step.
  const past = act.hand && act.hand === state.hand ? state.past : [...state.past, state.now].slice(-MOST_STEPS);
  return { past, now, future: [], hand: act.hand };
}

export type EditOf<Document> = (change: (now: Document) => Document, hand?: string) => void;
export type Edit = EditOf<PlateDocument>;

type KeptLike<Document> = { id: string; name: string; version: number; document: Document };
/** How what is edited is kept: what writes it, and what is told of it then. */
type Keeping<Kept extends KeptLike<unknown>> = {
  change: (kept: Kept, name: string, document: Kept["document"]) => Promise<Kept>;
  known: (kept: Kept) => unknown;
  fetchAgain: (id: string) => unknown;
};

const SAVED_AFTER = 600;

/** A plate being edited: each step can be taken back, and is kept shortly after it was made. */
export function useEditing<Kept extends KeptLike<unknown>>(
  plate: Kept,
  { change, known, fetchAgain }: Keeping<Kept>,
): Editing<Kept["document"]> {
  type Document = Kept["document"];
  const [state, act] = useReducer(step<Document>, { past: [], now: plate.document, future: [], hand: "" });
  const [name, setName] = useState(plate.name);
  const kept = useRef({ plate, name: plate.name, document: plate.document });
  const busy = useRef(false);
  const wanted = useRef({ name, document: state.now });
  wanted.current = { name, document: state.now };
  const [trouble, setTrouble] = useState<Error | null>(null);
  const [waiting, setWaiting] = useState(false);
  const [settled, setSettled] = useState(0);

  const keep = useCallback(async () => {
    const { document, name: called } = wanted.current;
    if (busy.current || (kept.current.document === document && kept.current.name === called) || !called.trim()) return;
    busy.current = true;
    try {
      const saved = await change(kept.current.plate, called, document);
      // A name that another plate has comes back with a number; what was typed since stays.
      const numbered = saved.name !== called.trim();
      kept.current = { plate: saved, name: numbered ? saved.name : called, document };
      if (numbered) setName((now) => (now === called ? saved.name : now));
      known(saved);
      setTrouble(null);
    } catch (error) {
      setTrouble(error as Error);
      // Somebody was faster: their version is fetched, and joins this one.
      if (error instanceof Problem && error.code === "changed-since") fetchAgain(kept.current.plate.id);
    } finally {
      busy.current = false;
      setSettled((times) => times + 1);
      setWaiting(wanted.current.document !== kept.current.document || wanted.current.name !== kept.current.name);
    }
  }, [change, known, fetchAgain]);

  // Also once one was kept: what was changed meanwhile found it busy.
  // biome-ignore lint/correctness/useExhaustiveDependencies: settled says that one was kept, or was not
  useEffect(() => {
    if (kept.current.document === state.now && kept.current.name === name) return setWaiting(false);
    setWaiting(true);
    if (trouble) return;
    const soon = setTimeout(keep, SAVED_AFTER);
    return () => clearTimeout(soon);
  }, [state.now, name, keep, trouble, settled]);
  // What somebody else changed meanwhile, or a deed of its own (a style for all, freezing), joins what is changed here.
  // biome-ignore lint/correctness/useExhaustiveDependencies: what came while this one was being kept is looked at then
  useEffect(() => {
    if (busy.current) return;
    const { plate: held, document: before, name: called } = kept.current;
    if (plate.version <= held.version) return;
    kept.current = { plate, name: plate.name, document: plate.document };
    act({ deed: "rebase", change: (now) => merged(before, now, plate.document) as Document });
    setName((now) => merged(called, now, plate.name) as string);
    setTrouble(null);
  }, [plate, settled]);
  // Nothing is lost when the reader goes on at once.
  useEffect(
    () => () => {
      keep();
    },
    [keep],
  );

  const edit: EditOf<Document> = useCallback((made, hand = "") => act({ deed: "edit", change: made, hand }), []);
  const deeds = useMemo(
    () => ({
      undo: () => act({ deed: "undo" }),
      redo: () => act({ deed: "redo" }),
      letGo: () => act({ deed: "let go" }),
      again: () => {
        setTrouble(null);
        return keep();
      },
    }),
    [keep],
  );
  return {
    document: state.now,
    name,
    setName,
    edit,
    ...deeds,
    canUndo: state.past.length > 0,
    canRedo: state.future.length > 0,
    trouble,
    waiting,
  };
}

export type Editing<Document = PlateDocument> = {
  document: Document;
  name: string;
  setName: (name: string) => void;
  edit: EditOf<Document>;
  undo: () => void;
  redo: () => void;
  letGo: () => void;
  again: () => Promise<void>;
  canUndo: boolean;
  canRedo: boolean;
  trouble: Error | null;
  waiting: boolean;
};

/** Steps are taken back and made again by the keys that elsewhere do so with decisions. */
export function useStepKeys({ undo, redo }: Pick<Editing, "undo" | "redo">) {
  useEffect(() => {
    const listen = (event: globalThis.KeyboardEvent) => {
      const target = event.target;
      if (target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return;
      if (event.key.toLowerCase() !== "z" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, [undo, redo]);
}

type Path = readonly (string | number)[];

/** A document with another value at a place; what leads there is made where it is not. */
export function changed<T>(whole: T, path: Path, value: unknown): T {
  const [first, ...rest] = path;
  if (first === undefined) return value as T;
  const inner = (whole as Record<string | number, unknown> | null | undefined)?.[first];
  const next = changed(inner, rest, value);
  if (Array.isArray(whole)) return whole.map((item, i) => (i === first ? next : item)) as T;
  return { ...(whole as object), [first]: next } as T;
}

const OTHER_SIDE = { across: "up", up: "across" } as const;

/** A document with a panel turned: values that went up go across, with all that was set of their axis. */
export function turned(document: PlateDocument, i: number): PlateDocument {
  const panel = document.panels[i];
  if (!panel || !("upright" in panel.source)) return document;
  const furniture = panel.furniture.map((piece) => {
    const axis = piece.axis && OTHER_SIDE[piece.axis];
    if (piece.kind !== "note") return { ...piece, axis };
    return { ...piece, axis, x: piece.y, y: piece.x, arrow_x: piece.arrow_y, arrow_y: piece.arrow_x };
  });
  const source = { ...panel.source, upright: !panel.source.upright };
  return changed(document, ["panels", i], { ...panel, source, across: panel.up, up: panel.across, furniture });
}

/** The names of levels or ticks with another one; no words, or those that stand there by themselves, are none. */
export const withName = (names: Record<string, string> | undefined, label: string, name: string) => ({
  ...Object.fromEntries(Object.entries(names ?? {}).filter(([other]) => other !== label)),
  ...(name.trim() && name !== label ? { [label]: name } : {}),
});

/** A document without an item of a list. */
export function without<T>(whole: T, path: Path, at: number): T {
  const list = path.reduce<unknown>(
    (inner, part) => (inner as Record<string | number, unknown>)[part],
    whole,
  ) as unknown[];
  return changed(
    whole,
    path,
    list.filter((_, i) => i !== at),
  );
}
