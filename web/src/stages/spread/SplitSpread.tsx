import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { densityOf, normalityOf, type Split, splitOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { WordChoice } from "../../ui/WordChoice";
import { named, titled } from "../../words/kinds";
import { counted, whole } from "../../words/numbers";
import { AxisChoice } from "./AxisChoice";
import { BandwidthChoice } from "./BandwidthChoice";
import { BoxChoice } from "./BoxChoice";
import { nWords } from "./caption";
import { DirectionChoice } from "./DirectionChoice";
import { LevelsPicture } from "./LevelsPicture";
import { needed } from "./levelsLayout";
import { NormalityCard } from "./NormalityCard";
import { NumbersByGroup } from "./NumbersByGroup";
import { TakeAway } from "./TakeAway";
import { FORMS, type Form, type Layer, SCALINGS, type Scaling, type useSpreadChoices } from "./useSpreadChoices";

type SplitSpreadProps = ReturnType<typeof useSpreadChoices> & {
  table: Table;
  variable: Variable;
  by: Variable | undefined;
};

const SHOWN = ["classes", "density", "rug", "box", "violin"] as const;
const isShown = (layer: Layer): layer is (typeof SHOWN)[number] => (SHOWN as readonly Layer[]).includes(layer);
const FORM_WORDS: Record<Form, string> = {
  lanes: "in lanes",
  ridges: "as ridges",
  overlay: "one over the other",
  facing: "back to back",
};
const SCALING_WORDS: Record<Scaling, { label: string; note: string }> = {
  area: { label: "equal area", note: "each level counts alike" },
  height: { label: "equal height", note: "shapes alone are compared" },
  count: { label: "area by count", note: "as many rows, as much area" },
};

/** A variable within the levels of another, or upright as one: curves, classes and boxes, and their numbers beside. */
export function SplitSpread({ table, variable, by, choices, change }: SplitSpreadProps) {
  const { definition, classes, density, box, axis } = choices;
  const asked = {
    by: by?.symbol ?? "",
    quantile_definition: definition,
    ...(choices.percents.length > 0 ? { percents: choices.percents } : {}),
    ...box,
    ...density,
    ...classes,
  };
  const found = useQuery({ ...splitOf(table, variable.symbol, asked), placeholderData: keepPreviousData });
  const whole_ = useQuery(densityOf(table, variable.symbol, density));
  const residuals = useQuery({ ...normalityOf(table, variable.symbol, by?.symbol), placeholderData: keepPreviousData });
  const [room, size] = useSize();
  const drawing = useRef<SVGSVGElement>(null);
  const split = found.data;
  const error = found.error;
  const remedy = error && "remedy" in error ? String(error.remedy) : "";
  const levels = split?.groups.length ?? 0;
  const form: Form = choices.form === "facing" && levels !== 2 ? "lanes" : choices.form;
  const lanes = form === "lanes" || form === "ridges";
  const upright = choices.upright;
  const wanted = needed(levels, form, upright);
  return (
    <>
      <Card
        title={by ? `Within each ${by.label}` : "All rows, upright"}
        className="stack-card"
        aside={
          <LayerToggles
            label="Layers shown"
            layers={form === "ridges" ? [] : lanes ? SHOWN : SHOWN.filter((layer) => layer !== "violin")}
            shown={choices.layers.filter(isShown)}
            onChange={(layers) =>
              change({ layers: [...choices.layers.filter((each) => !isShown(each)), ...layers].join(" ") }, true)
            }
          />
        }
        footer={
          split && (
            <>
              {by && (
                <span>
                  levels{" "}
                  <WordChoice
                    label="Levels set"
                    shown={FORM_WORDS[form]}
                    value={form}
                    options={FORMS.filter((each) => each !== "facing" || levels === 2).map((value) => ({
                      value,
                      label: FORM_WORDS[value],
                    }))}
                    onChoose={(value) => change({ form: value === "lanes" ? null : value })}
                    className="min-h-6"
                  />
                </span>
              )}
              <span>
                curves of{" "}
                <WordChoice
                  label="Curves scaled"
                  shown={SCALING_WORDS[choices.scaling].label}
                  value={choices.scaling}
                  options={SCALINGS.map((value) => ({ value, ...SCALING_WORDS[value] }))}
                  onChoose={(value) => change({ scaling: value === "area" ? null : value })}
                  className="min-h-6"
                />
              </span>
              <DirectionChoice upright={upright} onChange={change} />
              {by && lanes && (
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
              <AxisChoice axis={axis} onChange={change} />
              {whole_.data && (
                <BandwidthChoice density={whole_.data} axis={axis} unit={variable.unit} onChange={change} />
              )}
              <BoxChoice box={box} layers={choices.layers} marks={["notch", "mean", "widths"]} onChange={change} />
              {split.without_level > 0 && by && (
                <span className="text-caution">
                  {counted(split.without_level, "row")} with a value but no {by.label}, not shown
                </span>
              )}
              <TakeAway
                drawing={drawing}
                caption={captionOf(split, choices.layers, form, choices.scaling)}
                table={table}
                variable={variable}
                definition={choices.definition}
                classes={choices.classes}
              />
            </>
          )
        }
      >
        {error && <Notice problem={error.message} remedy={remedy} className="m-3.5" />}
        <div ref={room} className="relative min-h-[300px] flex-1 overflow-auto">
          {split && size && size.width > 80 && (
            <LevelsPicture
              {...{ table, split, form, upright, drawing }}
              by={by?.symbol ?? ""}
              layers={choices.layers}
              freeAxes={choices.freeAxes}
              scaling={choices.scaling}
              width={upright ? Math.max(size.width, wanted) : size.width}
              height={upright ? size.height : Math.max(size.height, wanted)}
            />
          )}
          {found.isPending && <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />}
        </div>
      </Card>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        {split && <NumbersByGroup key={split.by} split={split} />}
        {residuals.data && <NormalityCard table={table} reading={residuals.data} />}
      </div>
    </>
  );
}

function captionOf(split: Split, layers: Layer[], form: Form, scaling: Scaling): string {
  const { subject, used, by, groups, without_level: without, whiskers, axis } = split;
  const levels = by ? `: ${groups.map(({ label, n }) => `${label} ${whole(n)}`).join(", ")}` : "";
  const parts = [`${titled(named(subject))}${by ? ` by ${by}` : ""}, ${nWords(used)}${levels}`];
  if (without > 0 && by) parts.push(`${counted(without, "row")} without ${by} not shown`);
  const rule = { silverman: "Silverman's rule", scott: "Scott's rule", "plug-in": "plug-in bandwidth" }[
    split.bandwidth_rule
  ];
  const curve = `kernel density${by ? " within each level" : ""}, ${titled(split.kernel)} kernel, ${rule ?? `bandwidth ${split.bandwidth_rule}`}, ${SCALING_WORDS[scaling].label}`;
  const violin = layers.includes("violin") && form === "lanes";
  if (violin) parts.push(`Violins: ${curve}, mirrored, cut at the range of the values`);
  else if (layers.includes("density") || form === "ridges") parts.push(`Curves: ${curve}`);
  if (layers.includes("classes") && form !== "ridges" && !violin)
    parts.push(`Blocks: ${counted(split.boundaries.length - 1, "class", "classes")}, the same for every level`);
  if (axis === "log") parts.push("Logarithmic axis; curves and classes are those of log₁₀ of the values");
  if (layers.includes("box") && form !== "ridges") {
    parts.push(`Boxes: quartiles and median; whiskers to ${whiskers}; rings: rows beyond`);
    if (layers.includes("notch")) parts.push("Notch: median ± 1.57 IQR/√n");
    if (layers.includes("mean")) parts.push("Lozenge: mean");
    if (layers.includes("widths")) parts.push("Width of a box: root of n");
  }
  return `${parts.join(". ")}.`;
}
