import { useCallback, useEffect, useRef, useState } from "react";
import { Problem } from "../../api/client";
import { bumpsOf, type Classes, classesOf, densityOf, normalityOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { Domain } from "../../plot/scales";
import { useSelectedRows } from "../../state/selection";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { RowLinks } from "../RowLinks";
import type { Change } from "../useAddress";
import { useMarkSelection } from "../useMarkSelection";
import { AxisChoice } from "./AxisChoice";
import { BandwidthChoice } from "./BandwidthChoice";
import { BoxChoice } from "./BoxChoice";
import { ClassesChoice } from "./ClassesChoice";
import { CumulativeView } from "./CumulativeView";
import { captionOf, classesWords, interval, MOST_BUMPS, ruleWords } from "./caption";
import { DirectionChoice } from "./DirectionChoice";
import { FrequencyTable } from "./FrequencyTable";
import type { WidthChoice } from "./Handles";
import { MeasureChoice } from "./MeasureChoice";
import { NormalityCard } from "./NormalityCard";
import { ReadingCard } from "./ReadingCard";
import { Stack } from "./Stack";
import { domainOf } from "./stackLayout";
import { TakeAway } from "./TakeAway";
import { useFollowing, useSteady } from "./useFollowing";
import {
  firstLook,
  isUsual,
  LAYERS,
  type Layer,
  setsNoClasses,
  type useSpreadChoices,
  type View,
} from "./useSpreadChoices";

const TITLES: Record<View, string> = {
  shape: "Shape on one axis",
  table: "Frequencies",
  cumulative: "Shares that lie below",
  order: "In order",
};

type NumericSpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable };

const isLayer = (layer: Layer): layer is (typeof LAYERS)[number] => (LAYERS as readonly Layer[]).includes(layer);

const inAddress = (classes: WidthChoice | { boundaries: number[] }): Change =>
  "boundaries" in classes ? { boundaries: classes.boundaries.join(" ") } : classes;

const problemOf = (error: Error | null) =>
  error instanceof Problem ? { problem: error.message, remedy: error.remedy, rows: error.rows } : null;

export function NumericSpread({ table, variable, choices, change }: NumericSpreadProps) {
  const symbol = variable.symbol;
  // What the hand holds while it drags; the address takes it when the hand lets go.
  const [held, setHeld] = useState<{ classes?: WidthChoice | { boundaries: number[] }; bandwidth?: number }>({});
  const askedClasses = held.classes ? { ...held.classes, closed: choices.classes.closed } : choices.classes;
  const askedDensity = held.bandwidth ? { ...choices.density, bandwidth: held.bandwidth } : choices.density;
  const spread = useSteady(spreadOf(table, symbol, firstLook(choices)));
  const looked = spread.data !== undefined && !spread.isPlaceholderData;
  const classes = useFollowing(askedClasses, looked || !isUsual(askedClasses), (asked) =>
    classesOf(table, symbol, asked),
  );
  const density = useFollowing(askedDensity, looked || askedDensity.bandwidth !== undefined, (asked) =>
    densityOf(table, symbol, asked),
  );
  const normality = useSteady(normalityOf(table, symbol));
  const few = spread.data !== undefined && spread.data.summary.n <= MOST_BUMPS;
  const bumps = useFollowing(askedDensity, few && choices.layers.includes("bumps"), (asked) =>
    bumpsOf(table, symbol, asked),
  );

  const selected = useSelectedRows(table.id);
  const onSelect = useMarkSelection(table, symbol);
  const [room, size] = useSize();
  const drawing = useRef<SVGSVGElement>(null);
  const heldDomain = useRef<Domain | null>(null);
  const onDragEnd = useCallback(() => {
    heldDomain.current = null;
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

  const found = spread.data;
  const trouble = problemOf(spread.error) ?? problemOf(classes.error);
  const noCurve = problemOf(density.error);
  const fresh = found ? domainOf(found, classes.data) : null;
  const hand = held.classes || held.bandwidth;
  if (hand && !heldDomain.current) heldDomain.current = fresh;
  if (!hand) heldDomain.current = null;
  const domain = heldDomain.current ?? fresh;
  const drawable = found && found.summary.n > 0;
  const caption = found
    ? captionOf({
        spread: found,
        classes: classes.data,
        density: density.data,
        layers: choices.layers,
        measure: choices.measure,
      })
    : "";
  const unit = variable.unit;
  const selectClass = (place: number, add: boolean) => {
    if (!classes.data) return;
    const [low, high] = [classes.data.boundaries[place], classes.data.boundaries[place + 1]];
    const ends = classes.data.closed === "left" ? place === classes.data.counts.length - 1 : place === 0;
    const closed = ends ? "both" : classes.data.closed;
    onSelect({ words: [`class ${interval(classes.data, place)}`], asked: { low, high, closed } }, add);
  };
  return (
    <>
      <Card
        title={TITLES[choices.view]}
        className="stack-card"
        aside={
          choices.view === "shape" && (
            <LayerToggles
              label="Layers shown"
              layers={LAYERS.filter((layer) => layer !== "bumps" || few)}
              shown={choices.layers.filter(isLayer)}
              onChange={(layers) =>
                change({ layers: [...layers, ...choices.layers.filter((each) => !isLayer(each))].join(" ") }, true)
              }
            />
          )
        }
        footer={
          drawable && (
            <>
              {classes.data && (
                <ClassesChoice
                  {...{ table, variable }}
                  classes={classes.data}
                  asked={choices.classes}
                  onChange={(changes) => change(changes)}
                  shown={`${classesWords(classes.data, unit, choices.axis)}, ${interval(classes.data, 0)} …`}
                  rule={ruleWords(classes.data.rule)}
                />
              )}
              {density.data && choices.view === "shape" && (
                <BandwidthChoice
                  density={density.data}
                  axis={choices.axis}
                  unit={unit}
                  onChange={(changes) => change(changes)}
                />
              )}
              {choices.view === "shape" && choices.layers.includes("box") && (
                <BoxChoice box={choices.box} layers={choices.layers} onChange={change} />
              )}
              {choices.view !== "table" && (
                <MeasureChoice
                  measure={choices.measure}
                  cumulative={choices.view === "cumulative"}
                  onChange={(measure) => change({ measure })}
                />
              )}
              {choices.view === "shape" && <AxisChoice axis={choices.axis} onChange={change} />}
              {choices.view === "shape" && <DirectionChoice upright={false} onChange={change} />}
              {choices.view === "shape" && (
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
                drawing={drawing}
                caption={caption}
                table={table}
                variable={variable}
                definition={choices.definition}
                classes={choices.classes}
              />
            </>
          )
        }
      >
        {trouble && (
          <Notice problem={trouble.problem} remedy={trouble.remedy} className="m-3.5">
            <RowLinks table={table} rows={Float64Array.from(trouble.rows)} />
            {choices.axis === "log" && (
              <Button className="mt-1.5" onClick={() => change({ axis: null })}>
                Straight axis
              </Button>
            )}
          </Notice>
        )}
        {noCurve && drawable && choices.view === "shape" && (
          <Notice problem={noCurve.problem} remedy={noCurve.remedy} className="mx-3.5 mt-3">
            <RowLinks table={table} rows={Float64Array.from(noCurve.rows)} />
          </Notice>
        )}
        {choices.view === "shape" &&
          density.data?.cautions.map((caution) => <Notice key={caution} problem={caution} className="mx-3.5 mt-3" />)}
        {found && !drawable && (
          <p className="m-auto max-w-80 py-16 text-center font-serif text-lead text-muted-ink">
            All {table.n_rows} rows are missing here. Once there are values, their classes, box and points stand here on
            one axis.
          </p>
        )}
        {drawable && choices.view === "table" && classes.data && (
          <FrequencyTable
            of={unit ? `class (${unit})` : "class"}
            lines={Array.from(classes.data.counts, (count, i) => ({
              label: interval(classes.data as Classes, i),
              count,
            }))}
            outside={classes.data}
            missing={found.used.missing_counts}
            onSelect={selectClass}
            onMissing={() => onSelect({ words: [`missing in ${variable.label}`], asked: { missing: true } }, false)}
          />
        )}
        {drawable && choices.view === "cumulative" && (
          <CumulativeView
            spread={found}
            classes={classes.data}
            counts={choices.measure === "count"}
            drawing={drawing}
          />
        )}
        <div ref={room} className={choices.view === "shape" ? "relative min-h-[300px] flex-1" : "hidden"}>
          {choices.view === "shape" && drawable && domain && size && size.width > 80 && (
            <Stack
              spread={found}
              classes={classes.data}
              density={noCurve ? undefined : density.data}
              domain={domain}
              choices={choices}
              selected={selected}
              size={size}
              bumps={bumps.data}
              onSlip={(place) => change({ slip: place.map((share) => share.toFixed(3)).join(" ") }, true)}
              drawing={drawing}
              onSelect={onSelect}
              onBoundaries={(boundaries) => setHeld({ classes: { boundaries } })}
              onWidth={(width) => setHeld({ classes: width })}
              onBandwidth={(bandwidth) => setHeld({ bandwidth })}
              onDragEnd={onDragEnd}
            />
          )}
          {spread.isPending && <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />}
        </div>
      </Card>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        {found && <ReadingCard table={table} spread={found} onDefinition={(definition) => change({ definition })} />}
        {normality.data && normality.data.subject.symbol === symbol && (
          <NormalityCard table={table} reading={normality.data} />
        )}
      </div>
    </>
  );
}
