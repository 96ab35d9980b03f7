import type { AxisSettings } from "../../api/plates";
import { axisOf, endsOf, scaleOf } from "../../figure/axis";
import { titleOf } from "../../figure/layout";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { Tick } from "../../ui/Tick";
import { counted } from "../../words/numbers";
import { changed, turned, withName } from "./editing";
import { ListBox, NumberBox, Numbers, OneOf, PartLine, TextBox } from "./fields";
import type { PartProps } from "./PartCard";
import { kindOf, panelOf } from "./parts";

/** An axis: its words, ends, scale, ticks, and where the other crosses it. */
export function AxisPart({ document, scenes, edit, part }: PartProps) {
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
  // Ticks that follow from the room have no names of their own.
  const named = axis.kind === "levels" || (number && own.at);
  const labels = named
    ? axisOf(axis, { ...own, names: {} }, 0, 300, document.numbers).ticks.map(({ name }) => name)
    : [];
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
        <Numbers
          line="from, to"
          {...{ part, own, set }}
          boxes={[
            { name: "low", label: "From", usual: low, step },
            { name: "high", label: "To", usual: high, step },
          ]}
        />
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
              unit="between"
            />
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
              unit="decimals"
            />
          </PartLine>
          <Numbers line="crossed at" {...{ part, own, set }} boxes={[{ name: "crosses", label: "Crossed at", step }]} />
          <Numbers
            line="broken"
            {...{ part, own, set }}
            boxes={[
              { name: "gap_from", label: "Break from", unit: "to", step },
              { name: "gap_to", label: "Break to", step },
            ]}
          />
        </>
      )}
      {labels.length > 0 && (
        <PartLine name="names">
          <Floating
            label="Names at the ticks"
            className="max-h-80 w-64 overflow-y-auto p-3"
            trigger={<Button look="word">{counted(labels.length, "tick")}</Button>}
          >
            {labels.map((label) => (
              <TextBox
                key={label}
                label={`Name of ${label}`}
                value={own.names?.[label] ?? null}
                usual={label}
                onChange={(name) => set({ names: withName(own.names, label, name) }, `${part} name ${label}`)}
                onUsual={() => set({ names: withName(own.names, label, "") })}
              />
            ))}
          </Floating>
        </PartLine>
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
      {"upright" in panel.source && (
        <PartLine name="">
          <Button look="link" className="text-small!" onClick={() => edit((now) => turned(now, i))}>
            turn the panel
          </Button>
        </PartLine>
      )}
    </>
  );
}

const SCALES = [
  { value: "linear", label: "linear" },
  { value: "log10", label: "log, base 10" },
  { value: "log2", label: "log, base 2" },
] as const;
const FORMATS = [
  { value: "plain", label: "plain" },
  { value: "thousands", label: "thousands separated" },
  { value: "percent", label: "percent" },
  { value: "scientific", label: "powers of ten" },
] as const;
const ROTATIONS = [
  { value: "0", label: "horizontal" },
  { value: "45", label: "slanted" },
  { value: "90", label: "vertical" },
] as const;
