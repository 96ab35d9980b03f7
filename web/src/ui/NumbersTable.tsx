import { SCROLLS } from "./scrolls";

type NumbersTableProps = {
  head: string[];
  /** Cells as text, the name of each line first. */
  body: string[][];
  /** The column that stands out. */
  strong?: string;
  /** The line at hand, here or in a picture. */
  marked?: number | null;
  onMark?: (line: number | null) => void;
};

const CELL = "whitespace-nowrap border-line border-b px-1 py-1 text-right first:pl-3.5 last:pr-3.5";

/** Numbers in lines; names stay in sight at the left, heads above. */
export function NumbersTable({ head, body, strong, marked = null, onMark }: NumbersTableProps) {
  return (
    <div className="relative min-h-0 overflow-auto" {...SCROLLS}>
      <table className="figures w-full border-separate border-spacing-0">
        <thead className="sticky top-0 z-10 bg-raised text-muted-ink text-small">
          <tr>
            {head.map((name, i) => (
              <th key={name} className={`${CELL} font-normal ${i === 0 ? "sticky left-0 bg-raised text-left!" : ""}`}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {body.map(([name, ...rest], line) => {
            const ground = line === marked ? "bg-accent-tint" : "bg-raised";
            return (
              <tr
                key={name}
                className={ground}
                onPointerEnter={() => onMark?.(line)}
                onPointerLeave={() => onMark?.(null)}
              >
                <th className={`${CELL} ${ground} sticky left-0 text-left! font-semibold`}>{name}</th>
                {rest.map((text, i) => (
                  <td key={head[i + 1]} className={`${CELL} ${head[i + 1] === strong ? "font-semibold" : ""}`}>
                    {text}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
