type AsideRingsProps = { marks: readonly { key: string; x: number; y: number }[] };

/** Rows that are set aside: dashed rings where they were, outside all calculations. */
export function AsideRings({ marks }: AsideRingsProps) {
  return (
    <g fill="none" strokeDasharray="2.2 1.8" className="stroke-[1.3] stroke-danger">
      {marks.map(({ key, x, y }) => (
        <circle key={key} data-aside="" cx={x} cy={y} r={3.6} />
      ))}
    </g>
  );
}
