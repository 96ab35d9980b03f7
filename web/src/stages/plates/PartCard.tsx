import type { ReactNode } from "react";
import type { AxisSettings, Furnishings, Furniture, MarkSettings, PlateDocument, Scene } from "../../api/plates";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { WordChoice } from "../../ui/WordChoice";
import { changed, type Edit, without } from "./editing";
import { ColourBox, ListBox, NumberBox, OneOf, PartLine, TextBox, Tick } from "./fields";
import { endsOf, scaleOf } from "./figure/axis";
import { titleOf } from "./figure/layout";
import { coloursOf, DASH_NAMES, HATCH_NAMES, lookOf, roleLook, SHAPE_NAMES } from "./figure/look";
import { newFurniture } from "./furniture";
import { kindOf, type Part, panelOf, partsOf, restOf } from "./parts";
import { PanelPart, SheetPart } from "./SheetPart";
import { StylePart } from "./StylePart";

export type PartProps = {
  document: PlateDocument;
  scenes: Scene[];
  furnishings: Furnishings;
  edit: Edit;
  part: Part;
  onPart: (part: Part) => void;
  study: string;
};

/** Everything that can be set of the part at hand, typed: what the hand does on the sheet, and more. */
export function PartCard(props: PartProps) {
  const { document, scenes, part, onPart } = props;
  const parts = partsOf(document, scenes);
  const chosen = parts.find(({ value }) => value === part) ?? parts[0];
  const Form = FORMS[kindOf(chosen?.value ?? "sheet")] ?? SheetPart;
  return (
    <Card
      title="Part"
      className="shrink-0"
      aside={
        <WordChoice
          label="Part"
          className="min-h-6"
          shown={chosen?.label ?? ""}
          value={chosen?.value ?? ""}
          options={parts}
          onChoose={onPart}
        />
      }
    >
      <div key={chosen?.value} className="max-h-[330px] overflow-y-auto px-3.5 py-2">
        <Form {...props} part={chosen?.value ?? "sheet"} />
      </div>
    </Card>
  );
}

const FORMS: Record<string, (props: PartProps) => ReactNode> = {
  sheet: SheetPart,
  style: StylePart,
  panel: PanelPart,
  across: AxisPart,
  up: AxisPart,
  series: SeriesPart,
  marks: SeriesPart,
  legend: LegendPart,
  furniture: FurniturePart,
};

function AxisPart({ document, scenes, edit, part }: PartProps) {
  const i = panelOf(part);
  const side = kindOf(part) as "across" | "up";
  const panel = document.panels[i];
  const scene = scenes[i];
  if (!panel || !scene) return null;
  const axis = scene[side];
  const own = panel[side];
  const set = (changes: Partial<AxisSettings>, hand = "") =>
    edit((now) => changed(now, ["panels", i, side], { ...(now.panels[i]?.[side] ?? {}), ...changes }), hand);
  const [low, high] = endsOf(axis, { ...own, low: null, high: null });
  const number = axis.kind === "number";
  const scale = scaleOf(axis, own);
  const step = (high - low) / 50;
  return (
    <>
      <PartLine name="title">
        <TextBox
          label="Title"
          value={own.title}
          usual={titleOf(axis, { ...own, title: null })}
          onChange={(title) => set({ title }, `${part} title`)}
          onUsual={() => set({ title: null })}
        />
      </PartLine>
      {axis.kind !== "levels" && axis.kind !== "bare" && (
        <PartLine name="from, to">
          <NumberBox
            label="From"
            value={own.low}
            usual={low}
            step={step}
            onChange={(value) => set({ low: value }, `${part} low`)}
          />
          <NumberBox
            label="To"
            value={own.high}
            usual={high}
            step={step}
            onChange={(value) => set({ high: value }, `${part} high`)}
          />
        </PartLine>
      )}
      {number && (
        <>
          <PartLine name="scale">
            <OneOf
              label="Scale"
              value={scale}
              options={SCALES}
              onChange={(value) => set({ scale: value === axis.scale ? null : value })}
            />
          </PartLine>
          <PartLine name="ticks every">
            <NumberBox
              label="Ticks every"
              value={own.every}
              min={1e-300}
              step={step}
              onChange={(every) => set({ every, at: null }, `${part} every`)}
            />
            <span className="text-muted-ink text-small">between</span>
            <NumberBox
              label="Minor ticks"
              value={own.minor}
              min={0}
              max={9}
              className="w-10"
              onChange={(minor) => set({ minor: Math.round(minor ?? 0) })}
            />
          </PartLine>
          <PartLine name="ticks at">
            <ListBox label="Ticks at" value={own.at} onChange={(at) => set({ at }, `${part} at`)} />
          </PartLine>
          <PartLine name="written">
            <OneOf label="Format" value={own.format} options={FORMATS} onChange={(format) => set({ format })} />
            <NumberBox
              label="Decimals"
              value={own.decimals}
              min={0}
              max={12}
              className="w-10"
              onChange={(decimals) => set({ decimals: decimals === null ? null : Math.round(decimals) })}
            />
            <span className="text-muted-ink text-small">decimals</span>
          </PartLine>
          <PartLine name="crossed at">
            <NumberBox
              label="Crossed at"
              value={own.crosses}
              step={step}
              onChange={(crosses) => set({ crosses }, `${part} crosses`)}
            />
          </PartLine>
          <PartLine name="broken">
            <NumberBox
              label="Break from"
              value={own.gap_from}
              step={step}
              onChange={(gap_from) => set({ gap_from }, `${part} gap`)}
            />
            <span className="text-muted-ink text-small">to</span>
            <NumberBox
              label="Break to"
              value={own.gap_to}
              step={step}
              onChange={(gap_to) => set({ gap_to }, `${part} gap to`)}
            />
          </PartLine>
        </>
      )}
      {axis.kind !== "bare" && (
        <PartLine name="turned">
          <OneOf
            label="Rotation"
            value={String(own.rotation) as "0"}
            options={ROTATIONS}
            onChange={(value) => set({ rotation: Number(value) as 0 | 45 | 90 })}
          />
        </PartLine>
      )}
      {axis.kind !== "levels" && axis.kind !== "bare" && (
        <PartLine name="">
          <Tick
            label="gridlines"
            checked={own.grid ?? document.style.gridlines}
            onChange={(grid) => set({ grid: grid === document.style.gridlines ? null : grid })}
          />
        </PartLine>
      )}
      {axis.kind === "levels" && axis.counts.length > 0 && (
        <PartLine name="">
          <Tick label="n under each name" checked={own.counts} onChange={(counts) => set({ counts })} />
        </PartLine>
      )}
    </>
  );
}

const SCALES = [
  { value: "linear", label: "straight" },
  { value: "log10", label: "log, base 10" },
  { value: "log2", label: "log, base 2" },
] as const;
const FORMATS = [
  { value: "plain", label: "plain" },
  { value: "thousands", label: "with thin spaces" },
  { value: "percent", label: "percent" },
  { value: "scientific", label: "powers of ten" },
] as const;
const ROTATIONS = [
  { value: "0", label: "level" },
  { value: "45", label: "slanted" },
  { value: "90", label: "upright" },
] as const;

const optionsOf = (names: readonly string[]) => names.map((label, i) => ({ value: String(i), label }));

function SeriesPart({ document, scenes, furnishings, edit, part }: PartProps) {
  const i = panelOf(part);
  const key = restOf(part);
  const bySeries = kindOf(part) === "series";
  const panel = document.panels[i];
  const scene = scenes[i];
  if (!panel || !scene) return null;
  const series = scene.series.find((each) => each.key === key);
  const plain = lookOf(
    bySeries ? key : "",
    series?.place ?? 0,
    series?.label ?? "",
    panel,
    document.style,
    furnishings,
  );
  const look = bySeries ? plain : roleLook(plain, panel, key);
  const where = bySeries ? "series" : "marks";
  const own: Partial<MarkSettings> = panel[where][key] ?? {};
  const set = (changes: Partial<MarkSettings>, hand = "") =>
    edit(
      (now) =>
        changed(now, ["panels", i, where, key], { ...EMPTY, ...(now.panels[i]?.[where][key] ?? {}), ...changes }),
      hand,
    );
  const own_layers = scene.layers.filter((layer) => (bySeries ? layer.series === key : layer.role === key));
  const has = (...forms: string[]) => own_layers.some(({ form }) => forms.includes(form));
  const swatches = coloursOf(document.style, furnishings).colours;
  return (
    <>
      {bySeries && (
        <PartLine name="name">
          <TextBox
            label="Name"
            value={own.name}
            usual={series?.label ?? ""}
            onChange={(name) => set({ name }, `${part} name`)}
            onUsual={() => set({ name: null })}
          />
        </PartLine>
      )}
      {!has("blocks") || key !== "tiles" ? (
        <PartLine name="colour">
          <ColourBox
            label="Colour"
            value={own.colour}
            usual={plain.colour}
            swatches={swatches}
            onChange={(colour) => set({ colour }, `${part} colour`)}
          />
        </PartLine>
      ) : null}
      {has("points", "interval") && (
        <PartLine name="shape">
          <OneOf
            label="Shape"
            value={String(look.shape)}
            options={optionsOf(SHAPE_NAMES)}
            onChange={(value) => set({ shape: Number(value) })}
          />
          <NumberBox
            label="Size"
            value={own.size}
            usual={look.size}
            min={0.5}
            max={60}
            step={0.2}
            className="w-12"
            onChange={(size) => set({ size }, `${part} size`)}
          />
          <span className="text-muted-ink text-small">pt</span>
        </PartLine>
      )}
      <PartLine name="line">
        <NumberBox
          label="Line"
          value={own.line}
          usual={look.line}
          min={0.1}
          max={20}
          step={0.1}
          className="w-12"
          onChange={(line) => set({ line }, `${part} line`)}
        />
        <span className="text-muted-ink text-small">pt</span>
        {has("line", "area") && (
          <OneOf
            label="Dash"
            value={String(look.dash)}
            options={optionsOf(DASH_NAMES)}
            onChange={(value) => set({ dash: Number(value) })}
          />
        )}
      </PartLine>
      {has("blocks", "area") && (
        <PartLine name="hatch">
          <OneOf
            label="Hatch"
            value={String(look.hatch)}
            options={optionsOf(HATCH_NAMES)}
            onChange={(value) => set({ hatch: Number(value) })}
          />
        </PartLine>
      )}
      {has("points", "blocks", "area", "box", "interval") && (
        <PartLine name="">
          <Tick label="filled" checked={look.filled ?? !has("interval", "box")} onChange={(fill) => set({ fill })} />
          <Tick
            label="outlined in ink"
            checked={look.outline !== null}
            onChange={(on) => set({ outline: on ? document.style.ink : null })}
          />
        </PartLine>
      )}
      {has("points") && (
        <PartLine name="opacity">
          <NumberBox
            label="Opacity"
            value={own.opacity}
            usual={look.opacity}
            min={0.02}
            max={1}
            step={0.05}
            className="w-12"
            onChange={(opacity) => set({ opacity }, `${part} opacity`)}
          />
        </PartLine>
      )}
      <PartLine name="">
        <Tick label="not drawn" checked={own.hidden ?? false} onChange={(hidden) => set({ hidden })} />
      </PartLine>
    </>
  );
}

const EMPTY: MarkSettings = { hidden: false };

function LegendPart({ document, scenes, edit, part, onPart }: PartProps) {
  const i = panelOf(part);
  const panel = document.panels[i];
  const scene = scenes[i];
  if (!panel || !scene) return null;
  const { legend } = panel;
  const set = (changes: Partial<typeof legend>, hand = "") =>
    edit((now) => changed(now, ["panels", i, "legend"], { ...(now.panels[i]?.legend ?? legend), ...changes }), hand);
  return (
    <>
      <PartLine name="shown">
        <OneOf label="Legend" value={legend.shown} options={LEGENDS} onChange={(shown) => set({ shown })} />
      </PartLine>
      <PartLine name="title">
        <TextBox
          label="Title"
          value={legend.title}
          usual={scene.series_title}
          onChange={(title) => set({ title }, `${part} title`)}
          onUsual={() => set({ title: null })}
        />
      </PartLine>
      <PartLine name="place">
        <NumberBox
          label="From the left"
          value={legend.x}
          min={-1}
          max={2}
          step={0.02}
          className="w-14"
          onChange={(x) => set({ x, y: legend.y ?? 0.02 }, `${part} x`)}
        />
        <NumberBox
          label="From the top"
          value={legend.y}
          min={-1}
          max={2}
          step={0.02}
          className="w-14"
          onChange={(y) => set({ y, x: legend.x ?? 0.02 }, `${part} y`)}
        />
        {legend.x !== null && legend.x !== undefined && (
          <Button look="link" className="text-small!" onClick={() => set({ x: null, y: null })}>
            where there is room
          </Button>
        )}
      </PartLine>
      <PartLine name="names">
        {scene.series.map(({ key, label }) => (
          <Button key={key} look="link" className="text-small!" onClick={() => onPart(`${i}:series:${key}`)}>
            {panel.series[key]?.name ?? label}
          </Button>
        ))}
      </PartLine>
    </>
  );
}

const LEGENDS = [
  { value: "auto", label: "where it is needed" },
  { value: "yes", label: "a legend" },
  { value: "ends", label: "names at line ends" },
  { value: "no", label: "none" },
] as const;

function FurniturePart({ document, scenes, furnishings, edit, part, onPart }: PartProps) {
  const i = panelOf(part);
  const k = Number(restOf(part));
  const each = document.panels[i]?.furniture[k];
  const scene = scenes[i];
  if (!each || !scene) return null;
  const set = (changes: Partial<Furniture>, hand = "") =>
    edit(
      (now) =>
        changed(now, ["panels", i, "furniture", k], { ...(now.panels[i]?.furniture[k] as Furniture), ...changes }),
      hand,
    );
  const numbers = (names: [keyof Furniture & string, string][], line: string, steps: Record<string, number>) => (
    <PartLine name={line}>
      {names.map(([name, label]) => (
        <NumberBox
          key={name}
          label={label}
          value={each[name] as number | null}
          step={steps[name] ?? 1}
          onChange={(value) => set({ [name]: value }, `${part} ${name}`)}
        />
      ))}
    </PartLine>
  );
  const stepOf = (side: "across" | "up") => {
    const axis = scene[side];
    return Number(((axis.high - axis.low) / 50).toPrecision(1));
  };
  const own = stepOf(each.axis);
  const byAxis = {
    at: own,
    to: own,
    x: stepOf("across"),
    y: stepOf("up"),
    arrow_x: stepOf("across"),
    arrow_y: stepOf("up"),
  };
  return (
    <>
      {each.kind !== "slip" && (
        <PartLine name="text">
          <TextBox label="Text" value={each.text} onChange={(text) => set({ text }, `${part} text`)} />
        </PartLine>
      )}
      {(each.kind === "line" || each.kind === "band") && (
        <>
          <PartLine name="on">
            <OneOf label="Axis" value={each.axis} options={AXES} onChange={(axis) => set({ axis })} />
          </PartLine>
          {numbers(
            each.kind === "line"
              ? [["at", "At"]]
              : [
                  ["at", "From"],
                  ["to", "To"],
                ],
            each.kind === "line" ? "at" : "from, to",
            byAxis,
          )}
        </>
      )}
      {each.kind === "note" && (
        <>
          {numbers(
            [
              ["x", "Across"],
              ["y", "Up"],
            ],
            "stands at",
            byAxis,
          )}
          {numbers(
            [
              ["arrow_x", "Arrow across"],
              ["arrow_y", "Arrow up"],
            ],
            "points to",
            byAxis,
          )}
        </>
      )}
      {each.kind === "bracket" &&
        numbers(
          [
            ["at", "From group"],
            ["to", "To group"],
            ["y", "Height"],
          ],
          "from, to, at",
          { at: 1, to: 1, y: stepOf("up") },
        )}
      {each.kind === "slip" && (
        <>
          {numbers(
            [
              ["x", "From the left"],
              ["y", "From the top"],
            ],
            "place",
            { x: 0.02, y: 0.02 },
          )}
          <PartLine name="numbers">
            <span className="flex max-h-36 w-full flex-col overflow-y-auto">
              {scene.numbers.map(({ name }) => (
                <Tick
                  key={name}
                  label={name}
                  checked={each.names.includes(name)}
                  onChange={(on) =>
                    set({ names: on ? [...each.names, name] : each.names.filter((other) => other !== name) })
                  }
                />
              ))}
            </span>
          </PartLine>
        </>
      )}
      {each.kind !== "slip" && each.kind !== "bracket" && (
        <PartLine name="colour">
          <ColourBox
            label="Colour"
            value={each.colour}
            usual={document.style.ink}
            swatches={coloursOf(document.style, furnishings).colours.slice(0, 5)}
            onChange={(colour) => set({ colour }, `${part} colour`)}
          />
        </PartLine>
      )}
      <PartLine name="">
        <Button
          className="text-small!"
          onClick={() => {
            edit((now) => without(now, ["panels", i, "furniture"], k));
            onPart(`${i}:${document.panels.length > 1 ? "panel" : "across"}`);
          }}
        >
          Take it off
        </Button>
        <Button
          className="text-small!"
          onClick={() => {
            edit((now) =>
              changed(
                now,
                ["panels", i, "furniture"],
                [...(now.panels[i]?.furniture ?? []), newFurniture(each.kind, scene, each)],
              ),
            );
            onPart(`${i}:furniture:${document.panels[i]?.furniture.length ?? 0}`);
          }}
        >
          One more
        </Button>
      </PartLine>
    </>
  );
}

const AXES = [
  { value: "up", label: "the axis up" },
  { value: "across", label: "the axis across" },
] as const;
