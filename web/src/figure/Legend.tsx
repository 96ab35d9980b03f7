import type { Layer, PlateDocument } from "../api/plates";
import { type LegendPlan, type PanelPlan, SWATCH } from "./layout";
import { DASHES, type Look, markPath } from "./look";
import { Hatch } from "./Marks";
import { keyed, shade, shareOf } from "./shades";
import { writeValue } from "./values";
import { round, Words } from "./Words";

/** What the colours, shapes and dashes of a panel stand for. */
export function Legend({ plan, legend, document }: { plan: PanelPlan; legend: LegendPlan; document: PlateDocument }) {
  const { style } = document;
  const { rect, entries, title } = legend;
  const { type_size: size, font } = style;
  return (
    <g data-part={`${plan.i}:legend`}>
      <rect
        x={round(rect.x)}
        y={round(rect.y)}
        width={round(rect.width)}
        height={round(rect.height)}
        fill={style.paper}
        fillOpacity={0.86}
        stroke="none"
      />
      {title && (
        <Words
          text={title}
          x={rect.x + 3}
          y={rect.y + 3 + size * 0.82}
          size={size}
          font={font}
          bold
          colour={style.ink}
        />
      )}
      {entries.map(({ look, label, x, y }, i) => (
        <g key={look.key} data-entry={look.key}>
          <Swatch
            {...{ plan, look }}
            x={rect.x + x}
            y={rect.y + y - size * 0.33}
            paper={style.paper}
            name={`legend-${plan.i}-${i}`}
          />
          <Words text={label} x={rect.x + x + SWATCH + 4} y={rect.y + y} size={size} font={font} colour={style.ink} />
        </g>
      ))}
    </g>
  );
}

type SwatchProps = { plan: PanelPlan; look: Look; x: number; y: number; paper: string; name: string };

/** A small sample of the marks of a series, of those forms that it has. */
function Swatch({ plan, look, x, y, paper, name }: SwatchProps) {
  const own = plan.scene.layers.filter(({ series }) => series === look.key);
  const has = (...forms: Layer["form"][]) => own.some(({ form }) => forms.includes(form));
  const middle = x + SWATCH / 2;
  const dash = DASHES[look.dash];
  const area = own.some(({ form, role }) => (form === "area" && role !== "band") || form === "blocks");
  const box = `M${round(x)} ${round(y - 3.2)}h${SWATCH}v6.4h${-SWATCH}Z`;
  const absolute = `M${round(x)} ${round(y - 3.2)}H${round(x + SWATCH)}V${round(y + 3.2)}H${round(x)}Z`;
  const solid = own.some(({ role }) => role === "answers");
  return (
    <>
      {area && (
        <>
          <path d={box} fill={solid && look.ranked ? look.colour : look.fill} fillOpacity={solid ? 1 : 0.8} />
          {look.hatch > 0 && <Hatch name={name} look={look} outlines={[absolute]} />}
          {!solid && (
            <path
              d={box}
              fill="none"
              stroke={look.colour}
              strokeWidth={look.line}
              {...(dash ? { strokeDasharray: dash } : {})}
            />
          )}
        </>
      )}
      {!area && has("line", "interval") && (
        <path
          d={`M${round(x)} ${round(y)}h${SWATCH}`}
          stroke={look.colour}
          strokeWidth={look.line * 1.3}
          fill="none"
          {...(dash ? { strokeDasharray: dash } : {})}
        />
      )}
      {has("points", "interval") && (
        <g transform={`translate(${round(middle)} ${round(y)})`}>
          <path
            d={markPath(look.shape, Math.min(look.size * 0.62, 3.4))}
            {...(has("interval")
              ? { fill: paper, stroke: look.colour, strokeWidth: look.line }
              : { fill: look.colour, fillOpacity: look.opacity })}
          />
        </g>
      )}
    </>
  );
}

/** Names at the ends of lines. */
export function DirectLabels({ plan, document }: { plan: PanelPlan; document: PlateDocument }) {
  const { style } = document;
  const { type_size: size, font } = style;
  const x = plan.area.x + plan.area.width + 5;
  return (
    <g data-part={`${plan.i}:legend`}>
      {plan.ends.map(({ look, y, end }) => (
        <g key={look.key} data-entry={look.key}>
          {Math.abs(y - end) > size * 0.5 && (
            <path
              d={`M${round(x - 4)} ${round(end)}L${round(x - 1)} ${round(y)}`}
              stroke={look.colour}
              strokeWidth={0.5}
              fill="none"
            />
          )}
          <Words text={look.label} x={x} y={y + size * 0.34} size={size} font={font} colour={look.colour} />
        </g>
      ))}
    </g>
  );
}

const STEPS = 24;

/** The key of a shade: from none, or from one, to the highest value. */
export function ShadeKey({ plan, document }: { plan: PanelPlan; document: PlateDocument }) {
  const { style } = document;
  const { type_size: size, font } = style;
  const { scene, area, keyAt } = plan;
  if (keyAt === null) return null;
  const height = Math.min(area.height * 0.62, 110);
  const top = area.y + (area.height - height) / 2;
  const share = shareOf(scene);
  const words = keyed(scene).map((value) => ({ share: share(value), text: writeValue(value) }));
  return (
    <g data-part={`${plan.i}:marks:tiles`} data-key="">
      {Array.from({ length: STEPS }, (_, i) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no name but their place
          key={i}
          x={round(keyAt)}
          y={round(top + (height * (STEPS - 1 - i)) / STEPS - 0.15)}
          width={7}
          height={round(height / STEPS + 0.3)}
          fill={shade((i + 0.5) / STEPS, style.colours)}
        />
      ))}
      {words.map(({ share, text }) => (
        <Words
          key={share}
          text={text}
          x={keyAt + 10}
          y={top + height * (1 - share) + size * 0.34}
          size={size}
          font={font}
          colour={style.ink}
        />
      ))}
      <Words
        text={scene.values_title}
        x={keyAt + 3.5}
        y={top - 5}
        size={size}
        font={font}
        anchor="middle"
        colour={style.ink}
      />
    </g>
  );
}
