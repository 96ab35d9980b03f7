import type { Furniture, PlateDocument } from "../api/plates";
import { ordered } from "../values";
import { significant } from "../words/numbers";
import { quiet } from "./AxisLines";
import type { PanelPlan } from "./layout";
import { inLines, widthOf } from "./text";
import { round, Words } from "./Words";

type FurnishingProps = { plan: PanelPlan; document: PlateDocument };
type OneProps = FurnishingProps & { piece: Furniture; part: string };

const LINE = 1.22;

/** Bands lie behind the data; lines, notes, brackets and slips stand before them. */
export function Furnishing({ plan, document, behind }: FurnishingProps & { behind: boolean }) {
  return plan.panel.furniture.map((piece, i) => {
    if ((piece.kind === "band") !== behind) return null;
    const One = KINDS[piece.kind];
    const part = `${plan.i}:furniture:${i}`;
    return (
      // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no name but their place
      <g key={i} data-part={part} data-kind={piece.kind}>
        <One {...{ plan, document, piece, part }} />
      </g>
    );
  });
}

const colourOf = (piece: Furniture, ink: string) => piece.colour ?? quiet(ink);

function Reference({ plan, document, piece }: OneProps) {
  const { style } = document;
  const { area } = plan;
  if (piece.at == null) return null;
  const upright = piece.axis === "across";
  const at = plan[piece.axis].place(piece.at);
  if (!Number.isFinite(at)) return null;
  const size = style.type_size;
  const colour = colourOf(piece, style.ink);
  return (
    <>
      <path
        data-of="line"
        d={
          upright
            ? `M${round(at)} ${round(area.y)}v${round(area.height)}`
            : `M${round(area.x)} ${round(at)}h${round(area.width)}`
        }
        stroke={colour}
        strokeWidth={Math.max(style.axis_line, 0.5)}
        strokeDasharray="4 2.5"
        fill="none"
      />
      {piece.text &&
        (upright ? (
          <Words
            text={piece.text}
            x={at + 3}
            y={area.y + size}
            size={size}
            font={style.font}
            colour={colour}
            halo={style.paper}
          />
        ) : (
          <Words
            text={piece.text}
            x={area.x + area.width - 2}
            y={at - 3}
            anchor="end"
            size={size}
            font={style.font}
            colour={colour}
            halo={style.paper}
          />
        ))}
    </>
  );
}

function Band({ plan, document, piece }: OneProps) {
  const { style } = document;
  const { area } = plan;
  if (piece.at == null || piece.to == null) return null;
  const axis = plan[piece.axis];
  const clamp = (value: number) => axis.place(Math.min(Math.max(value, axis.low), axis.high));
  const [a, b] = ordered(clamp(piece.at), clamp(piece.to));
  const upright = piece.axis === "across";
  const rect = upright
    ? { x: round(a), y: round(area.y), width: round(b - a), height: round(area.height) }
    : { x: round(area.x), y: round(a), width: round(area.width), height: round(b - a) };
  const size = style.type_size;
  return (
    <>
      <rect data-of="band" {...rect} fill={piece.colour ?? "#8A7F6A"} fillOpacity={0.15} />
      {piece.text && (
        <Words
          text={piece.text}
          x={upright ? (a + b) / 2 : area.x + area.width - 3}
          y={(upright ? area.y : a) + size + 1}
          anchor={upright ? "middle" : "end"}
          size={size}
          font={style.font}
          colour={quiet(style.ink)}
        />
      )}
    </>
  );
}

/** The lines of a note, and where they lie; null where it has no place. */
export function noteOf(plan: PanelPlan, { style }: PlateDocument, piece: Furniture) {
  if (piece.x == null || piece.y == null) return null;
  const [x, y] = [plan.across.place(piece.x), plan.up.place(piece.y)];
  const { type_size: size, font } = style;
  const lines = piece.text.split("\n").flatMap((line) => inLines(line, plan.area.width * 0.6, size, font));
  const width = Math.max(...lines.map((line) => widthOf(line, size, font)), 0);
  const height = lines.length * size * LINE;
  return { lines, x, y, width, height, rect: { x, y: y - size * 0.8, width, height } };
}

function Note({ plan, document, piece }: OneProps) {
  const { style } = document;
  const note = noteOf(plan, document, piece);
  if (!note) return null;
  const { lines, x, y, width, height } = note;
  const { type_size: size, font } = style;
  const colour = piece.colour ?? style.ink;
  const arrow = piece.arrow_x != null && piece.arrow_y != null;
  const tip = arrow
    ? ([plan.across.place(piece.arrow_x as number), plan.up.place(piece.arrow_y as number)] as const)
    : null;
  return (
    <>
      {tip && (
        <Arrow
          from={[x + width / 2, y - size * 0.8 + height / 2]}
          to={tip}
          half={[width / 2 + 2, height / 2 + 1]}
          colour={colour}
          line={Math.max(style.axis_line, 0.5)}
        />
      )}
      {lines.map((line, k) => (
        <Words
          key={line}
          text={line}
          x={x}
          y={y + k * size * LINE}
          size={size}
          font={font}
          colour={colour}
          halo={style.paper}
        />
      ))}
    </>
  );
}

type ArrowProps = {
  from: readonly [number, number];
  to: readonly [number, number];
  half: [number, number];
  colour: string;
  line: number;
};

/** From the edge of a text to a spot, with a head. */
function Arrow({ from, to, half, colour, line }: ArrowProps) {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy);
  const leaves = Math.min(half[0] / Math.max(Math.abs(dx), 1e-9), half[1] / Math.max(Math.abs(dy), 1e-9));
  if (leaves >= 1 || length < 4) return null;
  const [ux, uy] = [dx / length, dy / length];
  const end = [to[0] - ux * 2, to[1] - uy * 2] as const;
  const back = [end[0] - ux * 4.6, end[1] - uy * 4.6] as const;
  return (
    <>
      <path
        data-of="shaft"
        d={`M${round(from[0] + dx * leaves)} ${round(from[1] + dy * leaves)}L${round(back[0])} ${round(back[1])}`}
        stroke={colour}
        strokeWidth={line}
        fill="none"
      />
      <path
        data-of="head"
        d={`M${round(end[0])} ${round(end[1])}L${round(back[0] - uy * 1.8)} ${round(back[1] + ux * 1.8)}L${round(back[0] + uy * 1.8)} ${round(back[1] - ux * 1.8)}Z`}
        fill={colour}
      />
    </>
  );
}

/** A bracket from one place on the levels to another, with a text over it. */
function Bracket({ plan, document, piece }: OneProps) {
  const { style } = document;
  if (piece.at == null || piece.to == null || piece.y == null) return null;
  const upright = plan.across.kind === "levels" || plan.up.kind !== "levels";
  const { type_size: size, font } = style;
  const line = { stroke: style.ink, strokeWidth: style.axis_line, fill: "none" };
  if (upright) {
    const [a, b, y] = [plan.across.place(piece.at), plan.across.place(piece.to), plan.up.place(piece.y)];
    return (
      <>
        <path data-of="bracket" d={`M${round(a)} ${round(y + 4)}v-4H${round(b)}v4`} {...line} />
        <Words
          text={piece.text}
          x={(a + b) / 2}
          y={y - 2.5}
          anchor="middle"
          size={size}
          font={font}
          colour={style.ink}
        />
      </>
    );
  }
  const [a, b, x] = [plan.up.place(piece.at), plan.up.place(piece.to), plan.across.place(piece.y)];
  return (
    <>
      <path data-of="bracket" d={`M${round(x - 4)} ${round(a)}h4V${round(b)}h-4`} {...line} />
      <Words text={piece.text} x={x + 3} y={(a + b) / 2 + size * 0.34} size={size} font={font} colour={style.ink} />
    </>
  );
}

/** What a slip says, and where it lies; null where none of its numbers is known. */
export function slipOf({ area, scene }: PanelPlan, { style, numbers }: PlateDocument, piece: Furniture) {
  const { font, type_size: size } = style;
  const lines = piece.names.flatMap((name) =>
    scene.numbers
      .filter((number) => number.name === name)
      .map(({ value, unit, digits }) => ({
        name,
        text: `${significant(value, digits, numbers)}${unit ? ` ${unit}` : ""}`,
      })),
  );
  if (lines.length === 0) return null;
  const names = Math.max(...lines.map(({ name }) => widthOf(name, size, font)));
  const texts = Math.max(...lines.map(({ text }) => widthOf(text, size, font)));
  const [width, height] = [names + texts + 14, lines.length * size * 1.3 + 5];
  // What was put near an edge stays whole.
  const x = area.x + Math.min((piece.x ?? 0.03) * area.width, Math.max(area.width - width, 0));
  const y = area.y + Math.min((piece.y ?? 0.04) * area.height, Math.max(area.height - height, 0));
  return { lines, x, y, width, height };
}

/** A small box of chosen numbers. */
function Slip({ plan, document, piece }: OneProps) {
  const { style } = document;
  const { font, type_size: size } = style;
  const slip = slipOf(plan, document, piece);
  if (!slip) return null;
  const { lines, x, y, width, height } = slip;
  return (
    <>
      <rect
        x={round(x)}
        y={round(y)}
        width={round(width)}
        height={round(height)}
        rx={2}
        fill={style.paper}
        fillOpacity={0.92}
        stroke={quiet(style.ink)}
        strokeWidth={0.5}
      />
      {lines.map(({ name, text }, i) => {
        const at = y + 2.5 + size * (0.95 + 1.3 * i);
        return (
          <g key={name}>
            <Words text={name} x={x + 4} y={at} size={size} font={font} colour={quiet(style.ink)} />
            <Words text={text} x={x + width - 4} y={at} anchor="end" size={size} font={font} colour={style.ink} />
          </g>
        );
      })}
    </>
  );
}

const KINDS = { line: Reference, band: Band, note: Note, bracket: Bracket, slip: Slip };
