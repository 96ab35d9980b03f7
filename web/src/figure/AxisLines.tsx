import type { PlateDocument } from "../api/plates";
import { nth } from "../values";
import { airOf, countsShown, countWords, type PanelPlan, type Side } from "./layout";
import { inLines, widthOf } from "./text";
import { round, Words } from "./Words";

const TICK = 3;
const MINOR = 1.8;
const LINE = 1.22;

/** Both axes of a panel: lines, ticks with their words, titles, grid; a gap is shown by two strokes. */
export function AxisLines({ plan, document }: { plan: PanelPlan; document: PlateDocument }) {
  const { style } = document;
  const { area, across, up, panel, scene } = plan;
  const bottom = area.y + area.height;
  const right = area.x + area.width;
  const acrossAt = crossing(panel.up.crosses, up, bottom);
  const upAt = crossing(panel.across.crosses, across, area.x);
  const [foot, start] = [up.from, across.from];
  const line = { stroke: style.ink, strokeWidth: style.axis_line, fill: "none", strokeLinecap: "square" as const };
  const inward = style.ticks === "in" ? -1 : 1;
  const upDrawn = up.kind !== "bare";
  const acrossDrawn = across.kind !== "bare";
  const marks = (side: Side, values: number[], length: number) =>
    values
      .map((value) =>
        side === "across"
          ? `M${round(across.place(value))} ${round(acrossAt)}v${inward * length}`
          : `M${round(upAt)} ${round(up.place(value))}h${-inward * length}`,
      )
      .join("");
  // Levels are told by their names: a tick under each says nothing more.
  const tickValues = (side: Side) => {
    const axis = side === "across" ? across : up;
    return axis.kind === "levels" ? [] : axis.ticks.map(({ value }) => value);
  };
  const closed = style.frame === "closed";
  return (
    <>
      <g data-part={`${plan.i}:across`} pointerEvents="bounding-box">
        {acrossDrawn && (
          <path
            data-line=""
            d={`M${round(scene.across.strips.length ? start : area.x)} ${round(acrossAt)}H${round(right)}${marks("across", tickValues("across"), TICK)}${marks("across", across.minor, MINOR)}`}
            {...line}
          />
        )}
        {closed && <path d={`M${round(area.x)} ${round(area.y)}H${round(right)}V${round(bottom)}`} {...line} />}
        {plan.named.across && <AcrossWords {...{ plan, document, at: acrossAt }} />}
      </g>
      <g data-part={`${plan.i}:up`} pointerEvents="bounding-box">
        {upDrawn && (
          <path
            data-line=""
            d={`M${round(upAt)} ${round(area.y)}V${round(foot)}${marks("up", tickValues("up"), TICK)}${marks("up", up.minor, MINOR)}`}
            {...line}
          />
        )}
        {!upDrawn && closed && <path d={`M${round(area.x)} ${round(area.y)}V${round(bottom)}`} {...line} />}
        {plan.named.up && <UpWords {...{ plan, document, at: upAt }} />}
      </g>
      {upDrawn && scene.up.strips.length > 0 && (
        <path d={`M${round(area.x)} ${round(foot)}H${round(right)}`} {...line} stroke={quiet(style.ink)} />
      )}
      {acrossDrawn && scene.across.strips.length > 0 && (
        <path d={`M${round(start)} ${round(area.y)}V${round(bottom)}`} {...line} stroke={quiet(style.ink)} />
      )}
      <Gaps {...{ plan, document, acrossAt, upAt }} />
    </>
  );
}

function crossing(value: number | null | undefined, axis: PanelPlan["up"], otherwise: number): number {
  return value === null || value === undefined || value < axis.low || value > axis.high ? otherwise : axis.place(value);
}

/** Lines behind the data, at the ticks. */
export function GridLines({ plan, document }: { plan: PanelPlan; document: PlateDocument }) {
  const { style } = document;
  const { area, across, up, panel } = plan;
  const wanted = (side: Side) => panel[side].grid ?? style.gridlines;
  const d = [
    ...(wanted("across") && across.kind !== "levels"
      ? across.ticks.map(({ value }) => `M${round(across.place(value))} ${round(area.y)}v${round(area.height)}`)
      : []),
    ...(wanted("up") && up.kind !== "levels"
      ? up.ticks.map(({ value }) => `M${round(area.x)} ${round(up.place(value))}h${round(area.width)}`)
      : []),
  ].join("");
  return d ? <path d={d} stroke="#D9D4CB" strokeWidth={Math.max(style.axis_line * 0.6, 0.5)} fill="none" /> : null;
}

type WordsProps = { plan: PanelPlan; document: PlateDocument; at: number };

function AcrossWords({ plan, document, at }: WordsProps) {
  const { style } = document;
  const { across, area, panel, scene } = plan;
  const { type_size: size, font } = style;
  const own = panel.across;
  const bottom = area.y + area.height;
  // Numbers stand at their axis, wherever it crosses; names and titles stay at the foot.
  const first = (across.kind === "levels" ? bottom : Math.max(at, Math.min(at, bottom))) + TICK + 2 + size * 0.78;
  const turned = own.rotation !== 0;
  const counts = countsShown(scene.across, own);
  const most = Math.max(1, ...plan.levelNames.across.map((lines) => lines.length));
  const longest = turned ? Math.max(0, ...across.ticks.map(({ text }) => widthOf(text, size, font))) : 0;
  const depth = turned ? (own.rotation === 90 ? longest + 2 : longest * 0.71 + size * 0.4) : (most - 1) * size * LINE;
  const every = turned ? 1 : thinning(across, size, font);
  const countAt = first + depth + size * LINE;
  const titleAt =
    bottom + TICK + 2 + size * 0.78 + depth + (counts ? size * LINE : 0) + size * 0.35 + style.title_size * 1.1;
  const lines = inLines(plan.titles.across, area.width + 30, style.title_size, font, style.bold_titles);
  return (
    <>
      {across.ticks.map(({ value, text }, i) => {
        const level = across.kind === "levels" ? value : undefined;
        if (across.kind !== "levels" && i % every !== 0) return null;
        const x = across.place(value);
        if (turned)
          return (
            <Words
              key={value}
              {...{ text, size, font, level }}
              x={x + (own.rotation === 90 ? size * 0.3 : 0)}
              y={first - size * 0.35}
              anchor="end"
              turn={-own.rotation}
              colour={style.ink}
            />
          );
        return (plan.levelNames.across[i] ?? [text]).map((line, k) => (
          <Words
            key={`${value} ${line}`}
            text={line}
            {...{ x, size, font, level }}
            y={first + k * size * LINE}
            anchor="middle"
            colour={style.ink}
          />
        ));
      })}
      {counts &&
        across.ticks.map(({ value }) => (
          <Words
            key={value}
            text={countWords(scene.across.counts[value] ?? 0, document.numbers)}
            x={across.place(value)}
            y={countAt}
            size={size}
            font={font}
            anchor="middle"
            colour={quiet(style.ink)}
          />
        ))}
      {lines.map((line, k) => (
        <Words
          key={line}
          part={`${plan.i}:across:title`}
          text={line}
          x={area.x + area.width / 2}
          y={titleAt + k * style.title_size * LINE}
          size={style.title_size}
          font={font}
          bold={style.bold_titles}
          anchor="middle"
          colour={style.ink}
        />
      ))}
    </>
  );
}

/** Every how many numbers there is room for one. */
function thinning(axis: PanelPlan["across"], size: number, font: "sans" | "serif"): number {
  const places = axis.ticks.map(({ value, text }) => ({ at: axis.place(value), half: widthOf(text, size, font) / 2 }));
  for (let every = 1; every < places.length; every++) {
    const kept = places.filter((_, i) => i % every === 0);
    if (kept.slice(1).every((label, i) => label.at - label.half > nth(kept, i).at + nth(kept, i).half + 2))
      return every;
  }
  return Math.max(places.length, 1);
}

/** Ink that stands back. */
export const quiet = (ink: string) =>
  ink.startsWith("var(") ? "var(--muted-ink)" : ink === "#000000" ? "#4A4A4A" : "#5E5965";

function UpWords({ plan, document, at }: WordsProps) {
  const { style } = document;
  const { up, area, panel, scene, frame } = plan;
  const { type_size: size, font } = style;
  const counts = countsShown(scene.up, panel.up);
  const x = (up.kind === "levels" ? area.x : at) - TICK - 3;
  const lines = inLines(plan.titles.up, area.height + 20, style.title_size, font, style.bold_titles);
  const titleX = frame.x + airOf(size) + style.title_size * 0.8;
  return (
    <>
      {up.ticks.map(({ value, text }, i) => {
        const y = up.place(value);
        const level = up.kind === "levels" ? value : undefined;
        if (panel.up.rotation === 90)
          return (
            <Words
              key={value}
              {...{ text, size, font, level }}
              x={x}
              y={y}
              anchor="middle"
              turn={-90}
              colour={style.ink}
            />
          );
        if (scene.up.heads?.includes(value))
          return (
            <Words key={value} {...{ text, size, font }} x={frame.x + 6} y={y + size * 0.34} bold colour={style.ink} />
          );
        const names = plan.levelNames.up[i] ?? [text];
        const rows = names.length + (counts ? 0.9 : 0);
        return names.map((line, k) => (
          <Words
            key={`${value} ${line}`}
            text={line}
            {...{ x, size, font, level }}
            y={y + size * 0.34 + (k - (rows - 1) / 2) * size * LINE}
            anchor="end"
            colour={style.ink}
          />
        ));
      })}
      {counts &&
        up.ticks.map(({ value }, i) => {
          const rows = (plan.levelNames.up[i]?.length ?? 1) + 0.9;
          return (
            <Words
              key={value}
              text={countWords(scene.up.counts[value] ?? 0, document.numbers)}
              x={x}
              y={up.place(value) + size * 0.34 + ((rows - 1) / 2) * size * LINE}
              size={size}
              font={font}
              anchor="end"
              colour={quiet(style.ink)}
            />
          );
        })}
      {up.ticks.map(({ value }) => {
        const text = scene.up.beside?.[value];
        return (
          text && (
            <Words
              key={`beside ${value}`}
              {...{ text, size, font }}
              x={area.x + area.width + 10}
              y={up.place(value) + size * 0.34}
              colour={style.ink}
            />
          )
        );
      })}
      {lines.map((line, k) => (
        <Words
          key={line}
          part={`${plan.i}:up:title`}
          text={line}
          x={titleX + k * style.title_size * LINE}
          y={area.y + area.height / 2}
          turn={-90}
          size={style.title_size}
          font={font}
          bold={style.bold_titles}
          anchor="middle"
          colour={style.ink}
        />
      ))}
    </>
  );
}

/** Where an axis leaves something out: the paper shows through, between two slanted strokes. */
function Gaps({
  plan,
  document,
  acrossAt,
  upAt,
}: {
  plan: PanelPlan;
  document: PlateDocument;
  acrossAt: number;
  upAt: number;
}) {
  const { style } = document;
  const { area } = plan;
  const line = { stroke: style.ink, strokeWidth: style.axis_line, fill: "none" };
  const upGap = plan.up.gapAt && [...plan.up.gapAt].sort((a, b) => a - b);
  const acrossGap = plan.across.gapAt && [...plan.across.gapAt].sort((a, b) => a - b);
  return (
    <>
      {upGap && (
        <g data-gap="up">
          <rect
            x={round(area.x - 4)}
            y={round(nth(upGap, 0))}
            width={round(area.width + 6)}
            height={round(nth(upGap, 1) - nth(upGap, 0))}
            fill={style.paper}
          />
          <path d={upGap.map((y) => `M${round(upAt - 4)} ${round(y + 1.8)}l8 -3.6`).join("")} {...line} />
        </g>
      )}
      {acrossGap && (
        <g data-gap="across">
          <rect
            x={round(nth(acrossGap, 0))}
            y={round(area.y - 2)}
            width={round(nth(acrossGap, 1) - nth(acrossGap, 0))}
            height={round(area.height + 6)}
            fill={style.paper}
          />
          <path d={acrossGap.map((x) => `M${round(x - 1.8)} ${round(acrossAt + 4)}l3.6 -8`).join("")} {...line} />
        </g>
      )}
    </>
  );
}
