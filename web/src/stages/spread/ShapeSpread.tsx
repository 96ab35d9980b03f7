import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { FORMS, SCALINGS, SHAPE_LAYERS } from "../../api/choices.gen";
import { Problem } from "../../api/client";
import { type Figure, figureOf } from "../../api/figures";
import type { Scene, Layer as SceneLayer } from "../../api/plates";
import { classesOf, densityOf, type Split, type Spread, splitOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { Shown } from "../../figure/screen";
import { listHere, usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { WordChoice } from "../../ui/WordChoice";
import { nth, optionsOf } from "../../values";
import { named, titled } from "../../words/kinds";
import { counted, decimalsFor, fixed, significant, whole } from "../../words/numbers";
import { GroupsOverlay } from "../GroupsOverlay";
import { LongWork } from "../LongWork";
import { RowLinks } from "../RowLinks";
import { StageFigure } from "../StageFigure";
import type { Change } from "../useAddress";
import { useMarkSelection } from "../useMarkSelection";
import { useRenaming } from "../useRenaming";
import { useSketch } from "../useSketch";
import { AxisChoice } from "./AxisChoice";
import { BandwidthChoice } from "./BandwidthChoice";
import { BoxChoice } from "./BoxChoice";
import { ClassesChoice } from "./ClassesChoice";
import { classesWords, densityWords, MOST_BUMPS, unitOf } from "./classWords";
import { DetectionCard } from "./DetectionCard";
import { DirectionChoice } from "./DirectionChoice";
import type { WidthChoice } from "./Handles";
import { MeasureChoice } from "./MeasureChoice";
import { NormalityCard, useNormality } from "./NormalityCard";
import { NumbersByGroup } from "./NumbersByGroup";
import { MOST_PANELS, panelled, shapePicture, sheetOf } from "./pictures";
import { ReadingCard } from "./ReadingCard";
import { canSplit } from "./Sentence";
import { ShapeOverlay } from "./ShapeOverlay";
import { USUAL } from "./statistics";
import { TakeAway } from "./TakeAway";
import { useFollowing, useSteady } from "./useFollowing";
import {
  firstLook,
  LAYERS,
  type Layer,
  type SpreadChoices,
  setsNoClasses,
  type useSpreadChoices,
} from "./useSpreadChoices";

type ShapeSpreadProps = ReturnType<typeof useSpreadChoices> & {
  table: Table;
  variable: Variable;
  by: Variable | undefined;
  separately: Variable | undefined;
};

const isLayer = (layer: Layer): layer is (typeof LAYERS)[number] => (LAYERS as readonly Layer[]).includes(layer);
const inAddress = (classes: WidthChoice | { boundaries: number[] }): Change =>
  "boundaries" in classes ? { boundaries: classes.boundaries.join(" ") } : classes;

const problemOf = (error: Error | null) =>
  error instanceof Problem && error.code !== "overtaken"
    ? { problem: error.message, remedy: error.remedy, rows: error.rows }
    : null;

/** What the hand holds while it drags; the address takes it when the hand lets go. */
type Held = { classes?: WidthChoice | { boundaries: number[] }; bandwidth?: number };

const BODIES: readonly Layer[] = ["classes", "density", "normal", "bumps"];

/** The layers that follow the hand; heights that are counts depend on the classes, all of them. */
function following(held: Held, { layers, measure }: SpreadChoices): Layer[] {
  const moves: readonly Layer[] = held.classes
    ? measure === "density"
      ? ["classes"]
      : BODIES
    : held.bandwidth
      ? ["density", "bumps"]
      : BODIES;
  return layers.filter((layer) => moves.includes(layer));
}

/** Whether marks of both can stand on one picture; where it was turned, or its heights are another measure, they cannot. */
const sameAxes = (before: Scene, now: Scene): boolean =>
  (["across", "up"] as const).every(
    (side) => before[side].title === now[side].title && before[side].scale === now[side].scale,
  );

/** What the hand changes over what lies still, on an axis of heights that holds both. */
function withBodies(still: Figure, moving: Figure, upright: boolean): Figure {
  const [before, now] = [still.scenes[0], moving.scenes[0]];
  if (!before || !now || !sameAxes(before, now)) return still;
  const bodies = now.layers.filter(({ strip, role }) => strip == null && role !== "limits");
  const moved = new Set(bodies.map(({ role }) => role));
  const isStill = ({ strip, role }: SceneLayer) => strip != null || !moved.has(role);
  // What follows the hand stays over and under what it lay over and under.
  const layers = before.layers
    .filter((layer, i, all) => isStill(layer) || all.findIndex(({ role }) => role === layer.role) === i)
    .flatMap((layer) => (isStill(layer) ? layer : bodies.filter(({ role }) => role === layer.role)));
  const tops = before.layers
    .filter((layer) => isStill(layer) && layer.strip == null && layer.role !== "limits")
    .flatMap(({ x, y, high_x, high_y }) => (upright ? [x, high_x] : [y, high_y]).map(highest));
  const side = upright ? "across" : "up";
  const own = now[side];
  const high = own.kind === "number" ? Math.max(own.high, AIR * Math.max(0, ...tops)) : own.high;
  return { ...still, scenes: [{ ...before, [side]: { ...own, high, strips: before[side].strips }, layers }] };
}

const AIR = 1.04;
const highest = (values: Float64Array) => values.reduce((most, value) => Math.max(most, value || 0), 0);

/** A variable, or each level of another, as a shape: classes and curves over box and points, and its numbers beside. */
export function ShapeSpread({ table, variable, by, separately, choices, change }: ShapeSpreadProps) {
  const symbol = variable.symbol;
  const statistics = usePreferences((state) => listHere(state).statistics) ?? USUAL;
  const [held, setHeld] = useState<Held>({});
  const heldClasses = held.classes ? { ...held.classes, closed: choices.classes.closed } : choices.classes;
  const heldDensity = held.bandwidth ? { ...choices.density, bandwidth: held.bandwidth } : choices.density;
  const hand = held.classes !== undefined || held.bandwidth !== undefined;
  const pictures = panelled(separately, (only) => shapePicture(table, variable, by, choices, statistics, only));
  const drawn = useSteady(figureOf(table, pictures, "spread figure"));
  const moving = {
    ...choices,
    classes: heldClasses,
    density: heldDensity,
    layers: following(held, choices),
  };
  // While a hand drags, and until the whole picture has come, bodies alone are asked for.
  const bodies = useFollowing(
    shapePicture(table, variable, by, moving, []),
    !by && !separately && (hand || (drawn.isPlaceholderData && !table.is_long)),
    (settings) => figureOf(table, settings, "spread in hand"),
  );
  const { figure: whole, sketched } = useSketch(table, pictures, drawn);
  const figure =
    !sketched && drawn.data && bodies.data && (hand || drawn.isPlaceholderData)
      ? withBodies(drawn.data, bodies.data, choices.upright)
      : whole;
  const spread = useSteady({ ...spreadOf(table, symbol, firstLook(choices)), enabled: drawn.isFetched });
  const looked = drawn.isFetched;
  const classes = useFollowing(heldClasses, looked, (settings) => classesOf(table, symbol, settings));
  const density = useFollowing(choices.density, looked, (settings) => densityOf(table, symbol, settings));
  const curve = density.data && held.bandwidth ? { ...density.data, bandwidth: held.bandwidth } : density.data;
  const normality = useNormality(table, symbol, by?.symbol ?? "", choices, looked);
  const split = useQuery({
    ...splitOf(table, symbol, splitSettings(by, choices)),
    enabled: looked && by !== undefined,
  });
  const onSelect = useMarkSelection(table, symbol);
  const onLevel = useMarkSelection(table, by?.symbol ?? "");
  const [room, size] = useSize();
  const drawing = useRef<Shown>(null);
  const [marked, onMark] = useState<number | null>(null);
  const renaming = useRenaming(table, by);
  const onEnd = useCallback(() => {
    setHeld((now) => {
      const { classes: kept } = now;
      if (kept) queueMicrotask(() => change({ ...setsNoClasses, ...inAddress(kept) }, true));
      if (now.bandwidth) queueMicrotask(() => change({ bandwidth: now.bandwidth }, true));
      return now;
    });
  }, [change]);
  const addressKeeps = JSON.stringify([choices.classes, choices.density]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once the address holds what was dragged, the hand does not
  useEffect(() => setHeld({}), [addressKeeps]);

  const result = spread.data;
  const n = result?.summary.n ?? 0;
  const few = result !== undefined && n <= MOST_BUMPS;
  const empty = result !== undefined && n === 0;
  const trouble = problemOf(drawn.error) ?? problemOf(classes.error);
  const noCurve = problemOf(density.error);
  const tooMany = separately !== undefined && separately.levels.length > MOST_PANELS;
  const form = choices.form === "facing" && by?.n_levels !== 2 ? "lanes" : choices.form;
  const offered = LAYERS.filter(
    (layer) =>
      (layer !== "bumps" || few) &&
      (layer !== "limits" || (result && hasLimits(result.subject))) &&
      // Ridges stand too close for anything but bodies.
      (!by || form !== "ridges" || ["classes", "density", "normal"].includes(layer)),
  );
  // A choice that nothing drawn depends on is not offered.
  const shows = (...layers: string[]) => choices.layers.some((layer) => layers.includes(layer));
  const heights = shows("classes", "density", "normal", "bumps");
  const classed = shows("classes") || (heights && choices.measure !== "density");
  const curved = shows("density", "violin", "bumps") || (by && form === "ridges");
  const sheet = sheetOf(pictures.length, choices);
  const title = titled(named(variable));
  return (
    <>
      <Card
        help="shape"
        title={by ? `Within each ${by.label}` : choices.upright ? "All rows, vertical" : "Shape on one axis"}
        className="stack-card"
        aside={
          <LayerToggles
            label="Layers shown"
            words={SHAPE_LAYERS}
            layers={offered}
            shown={choices.layers.filter(isLayer)}
            onChange={(layers) => {
              const kept = choices.layers.filter((other) => !isLayer(other) || !offered.includes(other));
              change({ layers: [...layers, ...kept].join(" ") }, true);
            }}
          />
        }
        footer={
          figure &&
          !empty && (
            <>
              {by && (
                <span>
                  levels{" "}
                  <WordChoice
                    label="Levels set"
                    value={form}
                    options={optionsOf(FORMS).filter(({ value }) => value !== "facing" || by.n_levels === 2)}
                    onChoose={(value) => change({ form: value === "lanes" ? null : value })}
                    className="min-h-6"
                  />
                </span>
              )}
              {by && curved && (
                <span>
                  curves of{" "}
                  <WordChoice
                    label="Curves scaled"
                    value={choices.scaling}
                    options={optionsOf(SCALINGS)}
                    onChoose={(value) => change({ scaling: value === "area" ? null : value })}
                    className="min-h-6"
                  />
                </span>
              )}
              {classes.data && classed && (
                <ClassesChoice {...{ table, variable, choices }} classes={classes.data} onChange={change} />
              )}
              {curve && curved && (
                <BandwidthChoice density={curve} axis={choices.axis} unit={variable.unit} onChange={change} />
              )}
              {shows("box") && (
                <BoxChoice
                  box={choices.box}
                  layers={choices.layers}
                  rings={choices.rings}
                  marks={by ? ["fences", "notch", "mean", "widths"] : ["fences", "notch", "mean"]}
                  onChange={change}
                />
              )}
              {heights && (!by || form === "overlay" || form === "facing") && (
                <MeasureChoice
                  measure={choices.measure}
                  cumulative={false}
                  onChange={(measure) => change({ measure })}
                />
              )}
              <AxisChoice axis={choices.axis} onChange={change} />
              <DirectionChoice upright={choices.upright} onChange={change} />
              <span>
                panels{" "}
                <WordChoice
                  label="Panels"
                  shown={separately ? `for each ${separately.label}` : "one"}
                  value={separately?.symbol ?? ""}
                  options={[
                    { value: "", label: "one", note: "all rows together" },
                    ...table.variables
                      .filter((other) => other !== variable && other !== by && canSplit(other))
                      .map((other) => ({
                        value: other.symbol,
                        label: `for each ${other.label}`,
                        note: counted(other.n_levels, "level"),
                      })),
                  ]}
                  onChoose={(value) => change({ each: value || null })}
                  className="min-h-6"
                />
              </span>
              {separately && (
                <span>
                  axes{" "}
                  <WordChoice
                    label="Axes"
                    shown={choices.freeAxes ? "each its own" : "shared"}
                    value={choices.freeAxes ? "free" : "shared"}
                    options={[
                      { value: "shared", label: "shared", note: "places can be compared" },
                      { value: "free", label: "each its own", note: "shapes can be compared" },
                    ]}
                    onChoose={(value) => change({ axes: value === "free" ? value : null })}
                    className="min-h-6"
                  />
                </span>
              )}
              {!by && (
                <Button
                  look="word"
                  aria-pressed={choices.slip !== null}
                  className="text-small!"
                  onClick={() => change({ slip: choices.slip ? null : "0.66 0.08" }, true)}
                >
                  {choices.slip ? "no number slip" : "number slip"}
                </Button>
              )}
              <TakeAway
                {...{ drawing, table, variable }}
                caption={figure.caption}
                definition={choices.definition}
                classes={choices.classes}
              />
            </>
          )
        }
      >
        <LongWork view="spread figure" busy={drawn.isFetching} words="Looking at all rows" />
        {trouble && !empty && (
          <Notice problem={trouble.problem} remedy={trouble.remedy} className="m-3.5">
            <RowLinks table={table} rows={Float64Array.from(trouble.rows)} />
            {choices.axis === "log" && (
              <Button className="mt-1.5" onClick={() => change({ axis: null })}>
                Linear axis
              </Button>
            )}
          </Notice>
        )}
        {tooMany && separately && (
          <Notice
            problem={`${separately.label} has ${counted(separately.levels.length, "level")}; ${MOST_PANELS} panels stand side by side at most.`}
            remedy="The first are shown. Split by it instead, or choose a variable with fewer levels."
            className="mx-3.5 mt-3"
          />
        )}
        {noCurve && !trouble && !empty && !by && curved && (
          <Notice problem={noCurve.problem} remedy={noCurve.remedy} className="mx-3.5 mt-3">
            <RowLinks table={table} rows={Float64Array.from(noCurve.rows)} />
          </Notice>
        )}
        {!by && curve?.cautions.map((caution) => <Notice key={caution} problem={caution} className="mx-3.5 mt-3" />)}
        {figure?.findings
          .filter(({ code, holds }) => !holds && code === "unequal")
          .map(({ code, words }) => (
            <Notice key={code} problem={words} className="mx-3.5 mt-3">
              <Button className="mt-1.5" onClick={() => change({ measure: null })}>
                Draw densities
              </Button>
            </Notice>
          ))}
        {empty && (
          <p className="m-auto max-w-80 py-16 text-center font-serif text-lead text-muted-ink">
            All {table.n_rows} rows are missing here. Once there are values, their classes, box and points stand here on
            one axis.
          </p>
        )}
        {figure && !by && !separately && !empty && !trouble && (
          <ShapeKey
            layers={choices.layers}
            words={{
              density: curve ? `density, ${densityWords(curve, variable.unit, choices.axis)}` : "",
              normal: result ? normalWords(result, variable.unit, choices.axis) : "",
              classes: classes.data ? classesWords(classes.data, variable.unit, choices.axis) : "",
            }}
          />
        )}
        {figure?.scenes[0]?.facts.cannot.map((words) => (
          <p key={words} className="px-3.5 pt-2 text-caution text-small">
            {words}
          </p>
        ))}
        <div ref={room} className="relative min-h-[300px] flex-1 overflow-y-auto overflow-x-hidden">
          {figure && !empty && !trouble && size && size.width > 80 && (
            <StageFigure {...{ figure, size, title, drawing, sheet }}>
              {(plan, document) =>
                by ? (
                  <GroupsOverlay
                    {...{ table, plan, marked, onMark, renaming }}
                    label={`${title} by ${by.label}: arrows walk the levels, Enter selects their rows`}
                    unit={variable.unit}
                    wordsOf={(place) => levelWords(split.data, by, place)}
                    onChoose={(place, label, add) =>
                      onLevel({ words: [label], within: { level: by.levels[place] ?? label } }, add)
                    }
                  />
                ) : (
                  result &&
                  !sketched && (
                    <ShapeOverlay
                      {...{ table, plan, document, spread: result, onSelect }}
                      upright={choices.upright}
                      {...(separately
                        ? {}
                        : {
                            handles: {
                              classes: classes.data,
                              density: noCurve ? undefined : curve,
                              byHand: choices.classes.boundaries !== undefined,
                              onWidth: (width) => setHeld({ classes: width }),
                              onBoundaries: (boundaries) => setHeld({ classes: { boundaries } }),
                              onBandwidth: (bandwidth) => setHeld({ bandwidth }),
                              onSlip: (place) =>
                                change({ slip: place.map((share) => share.toFixed(3)).join(" ") }, true),
                              onEnd,
                            },
                          })}
                    />
                  )
                )
              }
            </StageFigure>
          )}
          {drawn.isPending && !sketched && (
            <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />
          )}
        </div>
      </Card>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        {by
          ? split.data && (
              <NumbersByGroup key={split.data.by} table={table.id} by={by?.symbol ?? ""} split={split.data} />
            )
          : result && (
              <ReadingCard table={table} spread={result} onDefinition={(definition) => change({ definition })} />
            )}
        {result && !by && <DetectionCard table={table} spread={result} />}
        {normality && (
          <NormalityCard {...{ table, symbol, choices, change }} by={by?.symbol ?? ""} reading={normality} />
        )}
      </div>
    </>
  );
}

const hasLimits = (subject: { spec_lower: number | null; spec_upper: number | null; target: number | null }) =>
  subject.spec_lower !== null || subject.spec_upper !== null || subject.target !== null;

const splitSettings = (by: Variable | undefined, { definition, percents, box }: SpreadChoices) => ({
  by: by?.symbol ?? "",
  quantile_definition: definition,
  ...(percents.length > 0 ? { percents } : {}),
  ...box,
});

/** What is said of a level at hand. */
function levelWords(split: Split | undefined, by: Variable, place: number) {
  const label = nth(by.levels, place);
  const group = split?.groups.find((other) => other.label === label);
  if (!split || !group) return null;
  const { subject } = split;
  const decimals = decimalsFor(subject.decimals, group.summary.sd);
  const write = (name: string, value: number | null) =>
    value === null ? [] : [`${name} ${fixed(value, decimals)}${unitOf(subject.unit)}`];
  return {
    name: label,
    words: [
      label,
      `n ${whole(group.n)}`,
      ...write("median", group.summary.median),
      ...write("mean", group.summary.mean),
    ],
    ends: [group.summary.median],
  };
}

/** The normal curve that is drawn. */
const normalWords = (
  { normal_mean: mean, normal_sd: sd }: Spread,
  unit: string,
  axis: SpreadChoices["axis"],
): string =>
  mean === null || sd === null
    ? ""
    : axis === "log"
      ? `normal of log₁₀, mean ${significant(mean)}, SD ${significant(sd)}`
      : `normal, mean ${significant(mean)}, SD ${significant(sd)}${unitOf(unit)}`;

type ShapeKeyProps = { layers: Layer[]; words: Record<"density" | "normal" | "classes", string> };

/** What each line and block is, above the picture. */
function ShapeKey({ layers, words }: ShapeKeyProps) {
  return (
    <ul className="figures flex flex-wrap gap-x-4 px-3.5 pt-2 text-muted-ink text-small">
      {(["density", "normal", "classes"] as const)
        .filter((name) => layers.includes(name) && words[name])
        .map((name) => (
          <li key={name} className="flex items-center gap-1.5">
            <svg aria-hidden="true" width={16} height={10}>
              {name === "density" && <path d="M0 5H16" className="stroke-[2] stroke-series-heron" />}
              {name === "normal" && (
                <path d="M1 5H16" strokeDasharray="0.1 4" strokeLinecap="round" className="stroke-[2] stroke-ink" />
              )}
              {name === "classes" && (
                <rect x={2} y={0.5} width={9} height={9} className="fill-heron-fill stroke-series-heron" />
              )}
            </svg>
            {words[name]}
          </li>
        ))}
    </ul>
  );
}
