import type { MarkSettings } from "../../api/plates";
import { coloursOf, DASH_NAMES, HATCH_NAMES, lookOf, roleLook, SHAPE_NAMES } from "../../figure/look";
import { Tick } from "../../ui/Tick";
import { changed } from "./editing";
import { ColourBox, NumberBox, Numbers, OneOf, PartLine, TextBox } from "./fields";
import type { PartProps } from "./PartCard";
import { kindOf, panelOf, restOf } from "./parts";

const optionsOf = (names: readonly string[]) => names.map((label, i) => ({ value: String(i), label }));

/** A series, or all marks of one kind: how they look. */
export function SeriesPart({ document, scenes, furnishings, edit, part }: PartProps) {
  const i = panelOf(part);
  const key = restOf(part);
  const bySeries = kindOf(part) === "series";
  const panel = document.panels[i];
  const scene = scenes[i];
  if (!panel || !scene) return null;
  const series = scene.series.find((other) => other.key === key);
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
  const own: MarkSettings = { ...EMPTY, ...panel[where][key] };
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
            unit="pt"
            onChange={(size) => set({ size }, `${part} size`)}
          />
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
          unit="pt"
        />
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
        <Numbers
          line="opacity"
          {...{ part, own, set }}
          boxes={[
            {
              name: "opacity",
              label: "Opacity",
              usual: look.opacity,
              min: 0.02,
              max: 1,
              step: 0.05,
              className: "w-12",
            },
          ]}
        />
      )}
      <PartLine name="">
        <Tick label="not drawn" checked={own.hidden} onChange={(hidden) => set({ hidden })} />
      </PartLine>
    </>
  );
}

const EMPTY: MarkSettings = { hidden: false };
