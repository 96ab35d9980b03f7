import { FAMILY, type Font, runsOf, SHIFT, SMALLER, widthOf } from "./text";

type WordsProps = {
  x: number;
  y: number;
  text: string;
  size: number;
  font: Font;
  bold?: boolean;
  anchor?: "start" | "middle" | "end";
  turn?: number;
  colour: string;
  /** Paper around the letters, where marks may lie under them. */
  halo?: string | undefined;
  part?: string | undefined;
  /** Which level it names, from 0. */
  level?: number | undefined;
};

/** One line of words; what is raised or lowered stands as a text of its own, the same in every program. */
export function Words({
  x,
  y,
  text,
  size,
  font,
  bold = false,
  anchor = "start",
  turn = 0,
  colour,
  halo,
  part,
  level,
}: WordsProps) {
  const runs = runsOf(text);
  if (runs.length === 0) return null;
  const width = widthOf(text, size, font, bold);
  let at = anchor === "start" ? 0 : anchor === "middle" ? -width / 2 : -width;
  const shared = {
    fontFamily: FAMILY[font],
    fontWeight: bold ? 600 : 400,
    style: { fontKerning: "none", whiteSpace: "pre" } as const,
  };
  const drawn = runs.map((run) => {
    const own = run.shift === 0 ? size : size * SMALLER;
    const place = { x: round(at), y: round(SHIFT[run.shift] * size), fontSize: round(own) };
    at += widthOf(run.text, own, font, bold);
    return { run, place };
  });
  const turned = turn ? ` rotate(${turn})` : "";
  return (
    <g
      transform={`translate(${round(x)} ${round(y)})${turned}`}
      data-words={text}
      {...(part ? { "data-part": part } : {})}
      {...(level === undefined ? {} : { "data-level": level })}
    >
      {halo &&
        drawn.map(({ run, place }) => (
          <text
            key={`halo ${place.x}`}
            {...shared}
            {...place}
            fill={halo}
            stroke={halo}
            strokeWidth={size * 0.3}
            strokeLinejoin="round"
          >
            {run.text}
          </text>
        ))}
      {drawn.map(({ run, place }) => (
        <text key={place.x} data-run="" {...shared} {...place} fill={colour}>
          {run.text}
        </text>
      ))}
    </g>
  );
}

export const round = (value: number) => Math.round(value * 1000) / 1000;
