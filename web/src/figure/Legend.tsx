import type { Layer, PlateDocument, PlateStyle, Scene } from "../api/plates";
import { nth } from "../values";
import { significant } from "../words/numbers";
import { KEY_TITLE, type LegendPlan, type PanelPlan, SWATCH } from "./layout";
import { DASHES, type Look, markPath } from "./look";
import { Hatch } from "./Marks";
import { radiusOf } from "./paths";
import { keyed, shade, shareOf } from "./shades";
import { inLines } from "./text";
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
  const bands = ["band", "one more"];
  const area = own.some(({ form, role }) => (form === "area" && !bands.includes(role)) || form === "blocks");
  const box = `M${round(x)} ${round(y - 3.2)}h${SWATCH}v6.4h${-SWATCH}Z`;
  const absolute = `M${round(x)} ${round(y - 3.2)}H${round(x + SWATCH)}V${round(y + 3.2)}H${round(x)}Z`;
  const solid = own.some(({ role }) => role === "answers" || role === "enclosed");
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
            {...(has("interval") && !has("points")
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
const titleLines = ({ values_title }: Scene, { type_size: size, font }: PlateStyle) =>
  inLines(values_title, KEY_TITLE * size, size, font);

/** The key of a shade: from none, or from one, to the highest value. */
export function ShadeKey({ plan, document }: { plan: PanelPlan; document: PlateDocument }) {
  const { style } = document;
  const { type_size: size, font } = style;
  const { scene, area, keyAt } = plan;
  if (keyAt === null || !scene.values_title) return null;
  const height = Math.min(area.height * 0.62, 110);
  const top = area.y + (area.height - height) / 2;
  const share = shareOf(scene);
  const words = keyed(scene).map((value) => ({ share: share(value), text: significant(value, 3, document.numbers) }));
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
          fill={shade((i + 0.5) / STEPS, style.colours, scene.values_ramp)}
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
      {titleLines(scene, style).map((line, i, all) => (
        <Words
          key={line}
          text={line}
          x={keyAt}
          y={top - size * 0.85 - (all.length - 1 - i) * size * 1.2}
          size={size}
          font={font}
          colour={style.ink}
        />
      ))}
    </g>
  );
}

/** The key of points whose area tells a number: the largest, a quarter of it, a sixteenth. */
export function SizeKey({ plan, document }: { plan: PanelPlan; document: PlateDocument }) {
  const { style } = document;
  const { type_size: size, font } = style;
  const { scene, area, keyAt } = plan;
  const layer = scene.layers.find((own) => own.size.length > 0);
  if (keyAt === null || !scene.sizes_title || !layer) return null;
  const look = nth([...plan.looks.values()], 0);
  const counted = layer.role === "counted";
  const values = [...new Set([1, 1 / 4, 1 / 16].map((share) => roundedSize(share * scene.sizes_high, counted)))];
  const radius = (share: number) =>
    radiusOf(layer.role, share, look.size / 2, size, scene.sizes_high, scene.sizes_room * area.width);
  let y = area.y + size * 1.6;
  return (
    <g data-part={`${plan.i}:marks:${layer.role}`} data-key="">
      <Words text={scene.sizes_title} x={keyAt} y={area.y + size * 0.9} size={size} font={font} colour={style.ink} />
      {values.map((value) => {
        const r = radius(value / scene.sizes_high);
        const most = radius(1);
        const at = y + Math.max(r, size * 0.5);
        y = at + Math.max(r, size * 0.5) + 3;
        return (
          <g key={value}>
            <circle
              cx={round(keyAt + most)}
              cy={round(at)}
              r={round(r)}
              fill="none"
              stroke={style.ink}
              strokeWidth={0.6}
            />
            <Words
              text={significant(value, 3, document.numbers)}
              x={keyAt + 2 * most + 4}
              y={at + size * 0.34}
              size={size}
              font={font}
              colour={style.ink}
            />
          </g>
        );
      })}
    </g>
  );
}

/** A size that is named in a key: a whole count, or two digits. */
const roundedSize = (value: number, counted: boolean) =>
  counted ? Math.max(Math.round(value), 1) : Number(value.toPrecision(2));
