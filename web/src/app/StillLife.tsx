const bell = (x: number, middle: number, spread: number) => Math.exp(-0.5 * ((x - middle) / spread) ** 2);
const shape = (x: number) => 0.95 * bell(x, 130, 46) + 0.42 * bell(x, 236, 62) + 0.1 * bell(x, 360, 70);
const BLOCKS = Array.from({ length: 20 }, (_, i) => ({
  x: 20 + i * 24,
  height: 150 * shape(32 + i * 24) * (1 + 0.09 * Math.sin(i * 5.1)),
}));
const CURVE = Array.from({ length: 121 }, (_, i) => `${20 + i * 4} ${(166 - 150 * shape(20 + i * 4)).toFixed(1)}`).join(
  "L",
);

/** An idle picture in the manner of the Spread stage; it shows no data. */
export function StillLife() {
  return (
    <svg aria-hidden="true" viewBox="0 0 520 232" className="mt-8 w-full max-w-[560px]">
      {BLOCKS.map(({ x, height }) => (
        <rect key={x} x={x + 1} y={166 - height} width={22} height={height} rx={3} className="fill-blocks" />
      ))}
      <path d={`M${CURVE}`} fill="none" className="stroke-[2.2] stroke-series-heron" />
      <path d="M20 166H500" className="stroke-chart-axis" />
      <path d="M112 166V196M154 166V196M236 166V196" strokeDasharray="1.5 3.5" className="stroke-line-strong" />
      <path d="M40 200H112M236 200H392" strokeLinecap="round" className="stroke-[1.5] stroke-ink" />
      <rect x={112} y={187} width={124} height={26} rx={6} className="fill-raised stroke-[1.5] stroke-ink" />
      <path d="M154 189V211" strokeLinecap="round" className="stroke-[3] stroke-series-velvet" />
      {[420, 441, 478].map((x) => (
        <path
          key={x}
          d={`M${x - 3.6} 200a3.6 3.6 0 1 0 7.2 0a3.6 3.6 0 1 0 -7.2 0M${x} 196.4v-3.6`}
          fill="none"
          className={x > 450 ? "stroke-[1.5] stroke-danger" : "stroke-[1.5] stroke-caution"}
        />
      ))}
    </svg>
  );
}
