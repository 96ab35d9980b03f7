import { Button } from "../../ui/Button";
import { changed } from "./editing";
import { NumberBox, OneOf, PartLine, TextBox } from "./fields";
import type { PartProps } from "./PartCard";
import { panelOf } from "./parts";

/** The legend: whether and where it stands. */
export function LegendPart({ document, scenes, edit, part, onPart }: PartProps) {
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
