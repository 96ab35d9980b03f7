import { type ReactNode, useState } from "react";
import { Choices } from "../../ui/Choices";
import { TakeTable } from "../../ui/TakeTable";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { fixed, whole } from "../../words/numbers";

/** One value, level or class. */
export type FrequencyLine = { label: string; count: number };

type FrequencyTableProps = {
  /** What the lines are: "class (g)", "level". */
  of: string;
  lines: FrequencyLine[];
  /** Rows beyond the first and the last boundary. */
  outside?: { below: number; above: number };
  missing: Record<string, number>;
  /** Whether the lines have an order that cumulative counts can follow. */
  onSelect: (place: number, add: boolean) => void;
  onMissing: () => void;
  /** A way to keep it as a table. */
  keep?: ReactNode;
};

type Order = "given" | "largest" | "label";
const ORDERS: Record<Order, string> = { given: "in their order", largest: "largest first", label: "by name" };
const SHOWN = 100;

/** Counts, percents and what they come to, line by line; with missing values the percents are of all rows. */
export function FrequencyTable({ of, lines, outside, missing, onSelect, onMissing, keep }: FrequencyTableProps) {
  const [counting, setCounting] = useState<string[]>([]);
  const [all, setAll] = useState(false);
  const [order, setOrder] = useState<Order>("given");
  const inside = lines.reduce((sum, { count }) => sum + count, 0);
  const known = inside + (outside ? outside.below + outside.above : 0);
  const nMissing = Object.values(missing).reduce((sum, count) => sum + count, 0);
  const counted = Object.entries(missing).filter(([code]) => counting.includes(code));
  const base = known + counted.reduce((sum, [, count]) => sum + count, 0);
  const basis =
    base === known + nMissing && nMissing > 0
      ? `percent of all ${whole(base)} rows not set aside`
      : counted.length === 0
        ? `percent of the ${whole(base)} rows with a value`
        : `percent of ${whole(base)} rows: those with a value and ${counted.map(([code]) => code).join(", ")}`;
  const percent = (count: number) => (base > 0 ? fixed((100 * count) / base, 1) : "");
  const places = lines.map((_, place) => place);
  if (order === "largest") places.sort((a, b) => (lines[b]?.count ?? 0) - (lines[a]?.count ?? 0));
  if (order === "label") {
    places.sort((a, b) => (lines[a]?.label ?? "").localeCompare(lines[b]?.label ?? "", "en", { numeric: true }));
  }
  let cumulative = order === "given" ? (outside?.below ?? 0) : 0;
  const rows = places.map((place) => {
    const { label = "", count = 0 } = lines[place] ?? {};
    cumulative += count;
    return { place, label, cells: [whole(count), percent(count), whole(cumulative), percent(cumulative)] };
  });
  const head = [of, "rows", "%", "up to here", "%"];
  const extra: { label: string; count: number }[] = [];
  if (outside && outside.below > 0) extra.push({ label: "below the first boundary", count: outside.below });
  if (outside && outside.above > 0) extra.push({ label: "above the last boundary", count: outside.above });
  const codes = counted.map(([code, count]) => ({ label: code, count }));
  const taken = () => ({
    head,
    body: [
      ...rows.map(({ label, cells }) => [label, ...cells]),
      ...[...extra, ...codes].map(({ label, count }) => [label, whole(count), percent(count), "", ""]),
    ],
  });
  const cell = "border-line border-b px-3.5 py-1 text-right";
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1 border-line border-b px-3.5 py-1.5 text-small">
        <Choices label="Order" options={ORDERS} chosen={order} onChoose={setOrder} />
        {Object.entries(missing).map(([code, count]) => (
          <Tick
            key={code}
            checked={counting.includes(code)}
            onChange={(on) => setCounting((now) => withOrWithout(now, code, on))}
          >
            with {code.replace(/^-(?=\d)/, "\u2212")} {whole(count)}
          </Tick>
        ))}
        <span className="text-muted-ink">{basis}</span>
        <span className="ml-auto">
          <span className="flex gap-2">
            {keep}
            <TakeTable name={of} table={taken} />
          </span>
        </span>
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        <table className="figures w-full">
          <thead className="sticky top-0 bg-raised text-muted-ink text-small">
            <tr>
              {head.map((words, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two columns are percents
                <th key={i} className={`${cell} font-normal ${i === 0 ? "text-left!" : ""}`}>
                  {words}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {(all ? rows : rows.slice(0, SHOWN)).map(({ place, label, cells }) => (
              <tr key={place} className="hover:bg-surface">
                <th className={`${cell} max-w-96 truncate text-left! font-normal`}>
                  <button
                    type="button"
                    className="max-w-full truncate text-primary hover:underline"
                    onClick={(event) => onSelect(place, event.shiftKey || event.ctrlKey || event.metaKey)}
                  >
                    {label}
                  </button>
                </th>
                {cells.map((text, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: the cells are a fixed number of places
                  <td key={i} className={cell}>
                    {text}
                  </td>
                ))}
              </tr>
            ))}
            {rows.length > SHOWN && !all && (
              <tr>
                <td colSpan={5} className={`${cell} text-left! text-muted-ink`}>
                  <button type="button" className="hover:underline" onClick={() => setAll(true)}>
                    and {whole(rows.length - SHOWN)} more
                  </button>
                </td>
              </tr>
            )}
            {[...extra, ...codes].map(({ label, count }) => (
              <tr key={label} className="text-caution">
                <th className={`${cell} text-left! font-normal`}>
                  {codes.some((code) => code.label === label) ? (
                    <button type="button" className="hover:underline" onClick={onMissing}>
                      missing: {label.replace(/^-(?=\d)/, "\u2212")}
                    </button>
                  ) : (
                    label
                  )}
                </th>
                <td className={cell}>{whole(count)}</td>
                <td className={cell}>{percent(count)}</td>
                <td className={cell} />
                <td className={cell} />
              </tr>
            ))}
          </tbody>
          <tfoot className="font-semibold">
            <tr>
              <th className={`${cell} text-left! border-b-0`}>all</th>
              <td className={`${cell} border-b-0`}>{whole(base)}</td>
              <td className={`${cell} border-b-0`}>{base > 0 ? "100" : ""}</td>
              <td className={`${cell} border-b-0`} />
              <td className={`${cell} border-b-0`} />
            </tr>
          </tfoot>
        </table>
      </div>
    </div>
  );
}
