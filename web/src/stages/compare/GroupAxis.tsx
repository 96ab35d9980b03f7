import { type PointerEvent, useState } from "react";
import type { Drawing } from "../../api/compare";
import { seriesOf, shapeOf } from "../../plot/series";
import { nth } from "../../values";
import { titled } from "../../words/kinds";
import type { ComparePlan, Level } from "./compareLayout";

type GroupAxisProps = {
  reading: Drawing;
  plan: ComparePlan;
  size: { width: number; height: number };
  /** A level was dragged to another place among those drawn. */
  onMove: ((from: number, to: number) => void) | null;
};

const LETTER = 6.4;

/** The levels, each with its n; they can be dragged to another place unless they stand at their numbers. */
export function GroupAxis({ reading, plan, size, onMove }: GroupAxisProps) {
  const { upright, edge, levels } = plan;
  const [held, setHeld] = useState<{ from: number; at: number } | null>(null);
  const [start, end] = upright ? [edge.left, size.width - edge.right] : [edge.top, size.height - edge.bottom];
  const step = plan.number ? (levels[0]?.width ?? 40) : (end - start) / Math.max(levels.length, 1);
  const every = Math.ceil((upright ? 16 : 15) / Math.max(step, 1));
  const fits = upright ? Math.max(Math.floor(step / LETTER), 1) : Math.floor((edge.left - 34) / LETTER);
  const bottom = size.height - edge.bottom;
  const placeOf = (event: PointerEvent<SVGGElement>) => {
    const frame = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    return frame ? (upright ? event.clientX - frame.left : event.clientY - frame.top) : 0;
  };
  const nearest = (at: number) => Math.min(Math.max(Math.floor((at - start) / step), 0), levels.length - 1);
  const drop = () => {
    if (held && onMove) {
      const to = nearest(held.at);
      if (to !== held.from) onMove(held.from, to);
    }
    setHeld(null);
  };
  const title = titled(reading.by_unit ? `${reading.by} (${reading.by_unit})` : reading.by);
  return (
    <g className="figures text-small">
      <path
        d={upright ? `M${edge.left} ${bottom}H${size.width - edge.right}` : `M${edge.left} ${edge.top}V${bottom}`}
        className="stroke-chart-axis"
      />
      {plan.number &&
        levels.map(({ place, at }) => (
          <path
            key={place}
            d={upright ? `M${at} ${bottom}v5` : `M${edge.left} ${at}h-5`}
            className="stroke-chart-axis"
          />
        ))}
      {held && (
        <path
          data-screen-only
          d={
            upright
              ? `M${start + step * (nearest(held.at) + 0.5)} ${edge.top}V${bottom}`
              : `M${edge.left} ${start + step * (nearest(held.at) + 0.5)}H${size.width - edge.right}`
          }
          strokeWidth={step * 0.9}
          className="stroke-accent"
          opacity={0.08}
        />
      )}
      {levels.map(
        (level, i) =>
          i % every === 0 && (
            // biome-ignore lint/a11y/noStaticElementInteractions: the order is typed too, under "drawn"
            <g
              key={level.place}
              className={onMove ? "cursor-grab touch-none" : ""}
              onPointerDown={(event) => {
                if (!onMove) return;
                event.currentTarget.setPointerCapture(event.pointerId);
                setHeld({ from: i, at: placeOf(event) });
              }}
              onPointerMove={(event) => held && setHeld({ ...held, at: placeOf(event) })}
              onPointerUp={drop}
              onPointerCancel={() => setHeld(null)}
              onClick={(event) => event.stopPropagation()}
            >
              <LevelWords
                level={held?.from === i ? { ...level, at: held.at } : level}
                {...{ upright, fits, bottom }}
                left={edge.left}
                withN={upright ? step > 34 : step > 22}
              />
            </g>
          ),
      )}
      <text
        {...(upright
          ? { x: (start + end) / 2, y: bottom + 51 }
          : { transform: `translate(13,${(start + end) / 2}) rotate(-90)` })}
        textAnchor="middle"
        className="fill-ink text-body"
      >
        {title}
      </text>
    </g>
  );
}

type LevelWordsProps = { level: Level; upright: boolean; fits: number; bottom: number; left: number; withN: boolean };

function LevelWords({ level: { label, at, n }, upright, fits, bottom, left, withN }: LevelWordsProps) {
  const text = label.length > fits ? `${label.slice(0, Math.max(fits - 1, 1))}…` : label;
  const place = upright ? { x: at, y: bottom + 16 } : { x: left - 9, y: at + (withN ? -3 : 4) };
  return (
    <g textAnchor={upright ? "middle" : "end"}>
      <text {...place} className="fill-ink">
        {text}
      </text>
      {withN && (
        <text x={place.x} y={place.y + 14} className="fill-muted-ink">
          n {n}
        </text>
      )}
    </g>
  );
}

/** What the colours and shapes stand for, above the data. */
export function Legend({ reading, right }: { reading: Drawing; right: number }) {
  const widths = reading.second_labels.map((label) => 26 + label.length * LETTER);
  let at = right - widths.reduce((sum, width) => sum + width, 0);
  return (
    <g className="text-small">
      {reading.second_labels.map((label, kind) => {
        const x = at;
        at += nth(widths, kind);
        const look = seriesOf(kind);
        return (
          <g key={label} transform={`translate(${x},14)`}>
            <path d="M0 0H16" className={`stroke-[2.2] ${look.stroke}`} />
            <g transform="translate(8,0)">
              <path d={shapeOf(kind, 3.6)} className={`fill-raised stroke-[1.8] ${look.stroke}`} />
            </g>
            <text x={20} dy="0.33em" className="fill-ink">
              {label}
            </text>
          </g>
        );
      })}
    </g>
  );
}
