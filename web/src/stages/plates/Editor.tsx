import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type CSSProperties, type KeyboardEvent, useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import {
  type Finding,
  type Furnishings,
  type Furniture,
  type Plate,
  readWords,
  type Scene,
  usePlateDeeds,
} from "../../api/plates";
import { POINTS_PER_MM, planOf } from "../../figure/layout";
import { Sheet } from "../../figure/Sheet";
import { typeLoaded } from "../../figure/text";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { useSize } from "../../ui/useSize";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf, nth } from "../../values";
import { significant } from "../../words/numbers";
import { compareAddress } from "../compare/address";
import { InPlace } from "../InPlace";
import { relateAddress } from "../relate/address";
import { screenAddress } from "../screen/address";
import { spreadAddress } from "../spread/address";
import { ChecksCard } from "./ChecksCard";
import { EditingHead } from "./EditingHead";
import { changed, type Editing, useStepKeys, withName } from "./editing";
import { newFurniture } from "./furniture";
import { Handles } from "./Handles";
import { moved, type Spot, standingAt } from "./moving";
import { Outline } from "./Outline";
import { coveringFindings, overlapFinding } from "./overlaps";
import { PartCard } from "./PartCard";
import { kindOf, type Part, panelOf, restOf } from "./parts";
import { RepeatChoice } from "./RepeatChoice";
import { TakeAwayPlate } from "./TakeAwayPlate";
import { filterOf, VIEWS, type View, ViewFilters } from "./Views";
import { WordsCard } from "./WordsCard";

type EditorProps = { plate: Plate; furnishings: Furnishings; editing: Editing; scenes: Scene[] };

const PIXELS_PER_POINT = 96 / 72;
const ZOOMS = ["fit", "50", "100", "150", "200", "300", "400"] as const;
type Typing = {
  part: Part;
  text: string;
  place: { left: number; top: number; width: number };
  label: string;
  /** The level that is named, as its data call it. */
  level?: string | undefined;
};
type Hold = { part: Part; x: number; y: number; moved: boolean; start: Spot };

/** The sheet at its true size, edited where it stands; at its right what can be typed, what is checked, and its words. */
export function Editor({ plate, furnishings, editing, scenes }: EditorProps) {
  const { document, edit } = editing;
  const { panels, sheet } = document;
  const [part, setPart] = useState<Part>("sheet");
  const [view, setView] = useState<View>("");
  const [zoom, setZoom] = useState<(typeof ZOOMS)[number]>("fit");
  const [typing, setTyping] = useState<Typing | null>(null);
  const [loaded, setLoaded] = useState(false);
  const [room, size] = useSize();
  const svg = useRef<SVGSVGElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const hold = useRef<Hold | null>(null);
  const deeds = usePlateDeeds(plate.study);
  useEffect(() => {
    typeLoaded().then(() => setLoaded(true));
  }, []);

  const [width, height] = [sheet.width * POINTS_PER_MM, sheet.height * POINTS_PER_MM];
  const fits = size ? Math.min((size.width - 48) / width, (size.height - 40) / height, 4 * PIXELS_PER_POINT) : 1;
  const scale = zoom === "fit" ? Math.max(fits, 0.2) : (Number(zoom) / 100) * PIXELS_PER_POINT;
  const plan = useMemo(
    () => (loaded ? planOf(document, scenes, furnishings) : null),
    [loaded, document, scenes, furnishings],
  );

  const settled = useDeferredValue(document);
  const wording = useQuery({
    queryKey: ["words", plate.id, plate.version, JSON.stringify(settled), JSON.stringify(plate.moved)],
    queryFn: () => readWords(settled, plate.id),
    placeholderData: keepPreviousData,
    staleTime: 5_000,
  });
  const words = wording.data;
  const [overlaps, setOverlaps] = useState<Finding | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is drawn is looked at, once it stands
  useEffect(() => {
    const soon = setTimeout(() => svg.current && setOverlaps(overlapFinding(svg.current)), 250);
    return () => clearTimeout(soon);
  }, [document, scenes, scale, loaded]);

  const covering = useMemo(() => (plan ? coveringFindings(plan, document) : []), [plan, document]);

  const leaving = {
    id: plate.id,
    name: editing.name,
    document,
    scenes,
    furnishings,
    caption: document.caption.text ?? words?.caption ?? "",
    alternative: document.alternative.text ?? words?.alternative ?? "",
  };

  /** The part under the pointer, and where the pointer is on the sheet. */
  const at = (event: { clientX: number; clientY: number; target: EventTarget | null }) => {
    const box = svg.current?.getBoundingClientRect();
    const under = event.target instanceof Element ? event.target.closest("[data-part]") : null;
    return {
      part: under?.getAttribute("data-part") ?? "sheet",
      under,
      level: event.target instanceof Element ? event.target.closest("[data-level]") : null,
      x: box ? (event.clientX - box.left) / scale : 0,
      y: box ? (event.clientY - box.top) / scale : 0,
    };
  };
  const type = (of: Part, under: Element | null) => {
    const i = panelOf(of);
    const box = under?.getBoundingClientRect();
    const own = frame.current?.getBoundingClientRect();
    if (!box || !own) return;
    const place = { left: box.left - own.left, top: box.top - own.top, width: box.width };
    const side = restOf(of) === "" ? kindOf(of) : "";
    const level = Number(under?.getAttribute("data-level") ?? Number.NaN);
    const name = side === "across" || side === "up" ? scenes[i]?.[side].levels[level] : undefined;
    if (name !== undefined && (side === "across" || side === "up")) {
      const text = panels[i]?.[side].names?.[name] ?? name;
      setTyping({ part: of, text, place, label: `Name of ${name}`, level: name });
      return;
    }
    const texts: Record<string, [string, string]> = {
      "across:title": [plan?.panels[i]?.titles.across ?? "", "Title of the axis across"],
      "up:title": [plan?.panels[i]?.titles.up ?? "", "Title of the axis up"],
      title: [panels[i]?.title ?? "", "Title of the panel"],
    };
    const [text, label] =
      of === "sheet:title"
        ? [sheet.title, "Title of the sheet"]
        : (texts[of.split(":").slice(1).join(":")] ?? [panels[i]?.furniture[Number(restOf(of))]?.text ?? "", "Text"]);
    setTyping({ part: of, text, place, label });
  };
  const typed = (text: string | null) => {
    if (typing?.level !== undefined && text !== null) {
      const [i, side] = [panelOf(typing.part), kindOf(typing.part) as "across" | "up"];
      const level = typing.level;
      edit((now) => changed(now, ["panels", i, side, "names"], withName(now.panels[i]?.[side].names, level, text)));
    } else if (typing && text !== null && text !== typing.text) {
      const i = panelOf(typing.part);
      const tail = typing.part.split(":").slice(1).join(":");
      const path =
        typing.part === "sheet:title"
          ? ["sheet", "title"]
          : tail === "title"
            ? ["panels", i, "title"]
            : tail.endsWith(":title")
              ? ["panels", i, nth(tail.split(":"), 0), "title"]
              : ["panels", i, "furniture", Number(restOf(typing.part)), "text"];
      edit((now) => changed(now, path, text));
    }
    setTyping(null);
  };

  const standsAt = (of: Part) => standingAt(of, document, plan?.panels[panelOf(of)]);
  const moveBy = (of: Part, dx: number, dy: number, start: Spot, hand: string) => {
    const own = plan?.panels[panelOf(of)];
    if (own) edit((now) => moved(now, of, own, { x: start.x + dx, y: start.y + dy }), hand);
  };

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    const start = standsAt(part);
    if (by && start) {
      event.preventDefault();
      const far = event.shiftKey ? 10 : 1;
      moveBy(part, nth(by, 0) * far, nth(by, 1) * far, start, "");
    }
    if ((event.key === "Delete" || event.key === "Backspace") && kindOf(part) === "furniture") {
      event.preventDefault();
      takeOff(part);
    }
  };
  const takeOff = (of: Part) => {
    const [i, k] = [panelOf(of), Number(restOf(of))];
    edit((now) =>
      changed(
        now,
        ["panels", i, "furniture"],
        (now.panels[i]?.furniture ?? []).filter((_, place) => place !== k),
      ),
    );
    setPart(`${i}:up`);
  };
  const { undo, redo } = editing;
  useStepKeys(editing);

  const add = (kind: Furniture["kind"]) => {
    const i = panelOf(part);
    const scene = scenes[i];
    if (!scene) return;
    edit((now) =>
      changed(now, ["panels", i, "furniture"], [...(now.panels[i]?.furniture ?? []), newFurniture(kind, scene)]),
    );
    setPart(`${i}:furniture:${panels[i]?.furniture.length ?? 0}`);
  };
  const chosenPanel = panels[panelOf(part)] ?? panels[0];
  const stageAddress =
    chosenPanel &&
    (compareAddress(chosenPanel) ??
      spreadAddress(chosenPanel) ??
      screenAddress(chosenPanel) ??
      relateAddress(chosenPanel, document.panels) ??
      chosenPanel.address);
  const sheetStyle: CSSProperties = { filter: filterOf(view) };
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <ViewFilters furnishings={furnishings} />
      <EditingHead what="plate" kept={plate} {...{ editing, deeds }} />
      <div className="screen-grid">
        <Card
          help="plates"
          title="Sheet"
          className="min-h-[420px] flex-1"
          aside={
            <span className="flex flex-wrap items-center gap-x-3 gap-y-1">
              <WordChoice
                label="Width"
                className="min-h-6"
                shown={`${significant(sheet.width, 4)} × ${significant(sheet.height, 4)} mm`}
                value={String(sheet.width)}
                options={Object.entries(furnishings.widths).map(([label, mm]) => ({
                  value: String(mm),
                  label,
                  note: `${mm} mm`,
                }))}
                onChoose={(mm) =>
                  edit((now) => ({
                    ...now,
                    sheet: {
                      ...now.sheet,
                      width: Number(mm),
                      height: Math.round((now.sheet.height * Number(mm)) / now.sheet.width),
                    },
                  }))
                }
              />
              <WordChoice
                label="Seen"
                className="min-h-6"
                value={view}
                options={choicesOf(VIEWS)}
                onChoose={(next) => setView(next)}
              />
              <WordChoice
                label="Zoom"
                className="min-h-6"
                shown={zoom === "fit" ? "fitted" : `${zoom} %`}
                value={zoom}
                options={ZOOMS.map((value) => ({
                  value,
                  label: value === "fit" ? "fitted" : `${value} %`,
                  ...(value === "100" ? { note: "true size" } : {}),
                }))}
                onChoose={(next) => setZoom(next)}
              />
              <TakeAwayPlate
                leaving={leaving}
                ready={loaded && settled === document && !wording.isPending && !wording.isPlaceholderData}
                refused={wording.error?.message}
              />
            </span>
          }
          footer={
            <>
              <span className="flex items-center gap-1">
                <Button className="text-small!" disabled={!editing.canUndo} onClick={undo}>
                  Undo
                </Button>
                <Button className="text-small!" disabled={!editing.canRedo} onClick={redo}>
                  Redo
                </Button>
              </span>
              <WordChoice
                label="Add"
                className="min-h-6"
                shown="add to the sheet"
                value=""
                options={ADDED}
                onChoose={(kind) => add(kind)}
              />
              <RepeatChoice plate={plate} document={document} />
              <Button
                look="word"
                className="text-small!"
                onClick={() => deeds.freeze.mutate({ id: plate.id, on: !plate.frozen })}
              >
                {plate.frozen ? "let it follow again" : "freeze with its numbers"}
              </Button>
              {stageAddress && (
                <Link
                  to={stageAddress}
                  className="ml-auto text-primary underline decoration-primary/40 underline-offset-3"
                >
                  Open in its stage
                </Link>
              )}
            </>
          }
        >
          <div ref={room} className="relative min-h-0 flex-1 overflow-auto rounded-b-none bg-background">
            <div className="flex min-h-full min-w-full items-center justify-center p-5">
              {/* biome-ignore lint/a11y/useSemanticElements: a sheet whose parts are moved by keys */}
              <div
                ref={frame}
                role="group"
                aria-label="Sheet: click a part to change it; arrows move the legend or note that is chosen"
                // biome-ignore lint/a11y/noNoninteractiveTabindex: the sheet is one tab stop
                tabIndex={0}
                className="relative shrink-0 touch-none shadow-float"
                onKeyDown={onKeyDown}
                onPointerDown={(event) => {
                  const result = at(event);
                  const start = standsAt(result.part);
                  if (start) {
                    event.currentTarget.setPointerCapture(event.pointerId);
                    hold.current = { part: result.part, x: result.x, y: result.y, moved: false, start };
                  }
                }}
                onPointerMove={(event) => {
                  const held = hold.current;
                  if (!held) return;
                  const { x, y } = at(event);
                  const [dx, dy] = [x - held.x, y - held.y];
                  if (!held.moved && Math.hypot(dx, dy) * scale < 3) return;
                  held.moved = true;
                  setPart(held.part);
                  moveBy(held.part, dx, dy, held.start, `drag ${held.part}`);
                }}
                onPointerUp={() => {
                  if (hold.current?.moved) editing.letGo();
                  else if (hold.current) setPart(hold.current.part);
                  // The click that follows a drag changes nothing.
                  setTimeout(() => {
                    hold.current = null;
                  });
                }}
                onClick={(event) => {
                  const held = hold.current;
                  if (held?.moved) return;
                  // What was taken hold of hears the click in place of what lies under it.
                  const result = held ? { part: held.part, under: partOn(svg.current, held.part) } : at(event);
                  const isTitle = /(^|:)title$/.test(result.part);
                  const again = result.part === part && kindOf(result.part) === "furniture";
                  setPart(isTitle ? result.part.replace(/:title$/, "").replace(/^(\d+)$/, "$1:panel") : result.part);
                  if (
                    isTitle ||
                    (again && panels[panelOf(result.part)]?.furniture[Number(restOf(result.part))]?.kind !== "slip")
                  )
                    type(result.part, result.under);
                  else if ("level" in result && result.level) type(result.part, result.level);
                }}
              >
                <div data-seen={view} style={sheetStyle}>
                  {loaded && (
                    <Sheet
                      ref={svg}
                      {...{ document, scenes, furnishings, scale }}
                      title={leaving.alternative || editing.name}
                    >
                      {(made) => (
                        <>
                          <Outline part={part} svg={svg} scale={scale} drawn={made} />
                          <Handles plan={made} {...{ document, part, edit, scale }} onEnd={editing.letGo} />
                        </>
                      )}
                    </Sheet>
                  )}
                </div>
                {typing && (
                  <InPlace
                    key={typing.part}
                    label={typing.label}
                    text={typing.text}
                    place={typing.place}
                    onDone={typed}
                    onUsual={typing.level === undefined ? undefined : () => typed("")}
                  />
                )}
              </div>
            </div>
          </div>
        </Card>
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          <PartCard {...{ document, scenes, furnishings, edit, part }} onPart={setPart} study={plate.study} />
          <ChecksCard words={words} own={overlaps ? [overlaps, ...covering] : covering} edit={edit} />
          <WordsCard {...{ document, words, edit }} />
        </div>
      </div>
    </div>
  );
}

const partOn = (svg: SVGSVGElement | null, part: Part) =>
  svg?.querySelector(`[data-part="${CSS.escape(part)}"]`) ?? null;

const ADDED = choicesOf({
  line: "a reference line",
  band: "a band",
  note: "a note, with an arrow",
  bracket: "a bracket between groups",
  slip: "a number slip",
});
