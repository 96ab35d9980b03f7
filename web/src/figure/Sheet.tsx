import { type ReactNode, type Ref, useId, useMemo } from "react";
import type { Furnishings, PlateDocument, Scene } from "../api/plates";
import { AxisLines, GridLines } from "./AxisLines";
import { Furnishing } from "./Furnishing";
import { DirectLabels, Legend, ShadeKey, SizeKey } from "./Legend";
import { axesOf, type PanelPlan, planOf, type SheetPlan } from "./layout";
import { Marks } from "./Marks";
import { round, Words } from "./Words";

type SheetProps = {
  document: PlateDocument;
  scenes: Scene[];
  furnishings: Furnishings;
  /** Pixels of the screen for a point of the sheet. */
  scale?: number;
  title: string;
  /** Of the words that tell what it shows, where they stand beside it. */
  describedBy?: string | undefined;
  /** Where everything stands, where that is known already. */
  plan?: SheetPlan;
  ref?: Ref<SVGSVGElement>;
  /** What is drawn for the hand alone, and does not leave with the plate. */
  children?: (plan: SheetPlan) => ReactNode;
};

/** A plate as it leaves: everything in points, every look written out, nothing taken from the page but its type. */
export function Sheet({
  document,
  scenes,
  furnishings,
  scale = 1,
  title,
  describedBy,
  plan: given,
  ref,
  children,
}: SheetProps) {
  const plan = useMemo(() => given ?? planOf(document, scenes, furnishings), [given, document, scenes, furnishings]);
  const id = useId().replace(/[^a-zA-Z0-9]/g, "");
  const { sheet, style } = document;
  return (
    <svg
      ref={ref}
      xmlns="http://www.w3.org/2000/svg"
      viewBox={`0 0 ${round(plan.width)} ${round(plan.height)}`}
      width={round(plan.width * scale)}
      height={round(plan.height * scale)}
      role={children ? "group" : "img"}
      aria-label={title}
      aria-describedby={describedBy}
      data-style={style.name}
      className="block"
    >
      <rect data-paper="" width={round(plan.width)} height={round(plan.height)} fill={style.paper} data-part="sheet" />
      {sheet.title && (
        <Words
          part="sheet:title"
          text={sheet.title}
          x={plan.width / 2}
          y={plan.titleAt}
          anchor="middle"
          size={style.title_size * 1.15}
          font={style.font}
          bold
          colour={style.ink}
        />
      )}
      {plan.panels.map((panel) => (
        <PanelDrawing key={panel.i} plan={panel} document={document} id={`p${id}${panel.i}`} />
      ))}
      {children && <g data-screen-only="">{children(plan)}</g>}
    </svg>
  );
}

/** Where what has a height is seen: not over the strips beneath its axis. */
function boxOf({ area, across, up, strips }: PanelPlan, air: number) {
  const bare = strips.length === 0;
  const [left, bottom] = [across.from, up.from];
  const pad = bare || bottom === area.y + area.height ? air * 0.4 : 0;
  const own = bare || left === area.x ? air * 0.4 : 0;
  return {
    x: round(left - own),
    y: round(area.y - air),
    width: round(area.x + area.width - left + own + air * 0.4),
    height: round(Math.max(bottom - area.y + air + (bare ? 0 : pad), 0)),
  };
}

/** Layers in the order in which they lie over one another. */
function PanelDrawing({ plan, document, id }: { plan: PanelPlan; document: PlateDocument; id: string }) {
  const { area, panel, scene, frame } = plan;
  const { style } = document;
  const keyed = scene.series.length > 0;
  const air = style.point_size;
  return (
    <g data-panel={plan.i}>
      <clipPath id={id}>
        <rect
          x={round(area.x - air * 0.4)}
          y={round(area.y - air)}
          width={round(area.width + air * 0.8)}
          height={round(area.height + air)}
        />
      </clipPath>
      <Furnishing plan={plan} document={document} behind />
      <clipPath id={`${id}b`}>
        <rect {...boxOf(plan, air)} />
      </clipPath>
      {plan.strips.length > 0 && (
        <>
          <clipPath id={`${id}s`}>
            <rect {...boxOf(plan, air)} y={round(area.y - air)} height={round(area.height + air)} />
          </clipPath>
          <clipPath id={`${id}t`}>
            <rect {...boxOf(plan, air)} x={round(area.x - air * 0.4)} width={round(area.width + air * 0.8)} />
          </clipPath>
        </>
      )}
      <GridLines plan={plan} document={document} />
      {scene.layers.map((layer, i) => {
        const look = plan.looks.get(layer.series) ?? plan.looks.get("");
        // What stands in a strip reaches no further than the data beside it.
        const strip = plan.across.kind === "bare" || plan.up.kind === "bare" ? "" : layer.upright ? "t" : "s";
        const clip = layer.strip != null ? strip : layer.role === "limits" ? "" : "b";
        return (
          look && (
            // biome-ignore lint/suspicious/noArrayIndexKey: layers have no name but their place
            <g key={i} clipPath={`url(#${id}${clip})`}>
              <Marks
                name={`${id}h${i}`}
                {...{ layer, look, keyed, panel, style, area }}
                panelPlace={plan.i}
                {...axesOf(plan, layer)}
                scene={scene}
              />
            </g>
          )
        );
      })}
      <AxisLines plan={plan} document={document} />
      {plan.legend && <Legend plan={plan} legend={plan.legend} document={document} />}
      {plan.ends.length > 0 && <DirectLabels plan={plan} document={document} />}
      <ShadeKey plan={plan} document={document} />
      <SizeKey plan={plan} document={document} />
      <Equations plan={plan} document={document} />
      <Furnishing plan={plan} document={document} behind={false} />
      {plan.letter && (
        <Words
          text={plan.letter}
          x={frame.x + 4}
          y={frame.y + 4 + style.letter_size * 0.8}
          size={style.letter_size}
          font={style.font}
          bold
          colour={style.ink}
        />
      )}
      {panel.title && (
        <Words
          part={`${plan.i}:title`}
          text={panel.title}
          x={area.x + area.width / 2}
          y={frame.y + 4 + style.title_size}
          anchor="middle"
          size={style.title_size}
          font={style.font}
          bold
          colour={style.ink}
        />
      )}
    </g>
  );
}

/** The equations of lines, in the upper left corner of the data. */
function Equations({ plan, document }: { plan: PanelPlan; document: PlateDocument }) {
  const { style } = document;
  const left = plan.across.from + 6;
  return plan.scene.equations.map((text, i) => (
    <Words
      key={text}
      part={`${plan.i}:equation:${i}`}
      text={text}
      x={left}
      y={plan.area.y + style.type_size * (1.1 + 1.45 * i)}
      size={style.type_size}
      font={style.font}
      colour={style.ink}
      halo={style.paper}
    />
  ));
}
