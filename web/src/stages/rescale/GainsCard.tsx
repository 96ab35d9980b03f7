import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { laddersOf } from "../../api/readings";
import type { Table } from "../../api/studies";
import { Card } from "../../ui/Card";
import { SCROLLS } from "../../ui/scrolls";
import { Wave } from "../../ui/Wave";
import { named } from "../../words/kinds";
import { fixed, significant } from "../../words/numbers";
import { powerSign } from "../../words/recipes";
import { power } from "./ways";

/** All numeric variables, those first that the best step of the ladder would bring nearest to normal. */
export function GainsCard({ table, onChoose }: { table: Table; onChoose: () => void }) {
  const { data: result } = useQuery(laddersOf(table));
  const cell = "border-line border-b px-3 py-1 text-right";
  return (
    <Card help="ladder" title="Which variables gain most from the ladder" className="max-h-72 shrink-0">
      {!result && <Wave moving className="mx-auto my-6 w-24 text-primary" />}
      {result && (
        <div className="min-h-0 overflow-auto" {...SCROLLS}>
          <table className="figures w-full">
            <thead className="sticky top-0 bg-raised text-muted-ink text-small">
              <tr>
                {["variable", "Q-Q correlation now", "best step", "there", "gain", "likeliest power"].map(
                  (words, i) => (
                    <th key={words} className={`${cell} font-normal ${i === 0 ? "text-left!" : ""}`}>
                      {words}
                    </th>
                  ),
                )}
              </tr>
            </thead>
            <tbody>
              {result.variables.map(({ subject, now, then, power: best, estimate }) => (
                <tr key={subject.symbol} className="hover:bg-surface">
                  <th className={`${cell} text-left! font-semibold`}>
                    <Link
                      to={`/tables/${table.id}/rescale?variable=${encodeURIComponent(subject.symbol)}${
                        best === null ? "" : `&way=${encodeURIComponent(JSON.stringify(power(best)))}`
                      }`}
                      onClick={onChoose}
                      className="text-primary hover:underline"
                    >
                      {named(subject)}
                    </Link>
                  </th>
                  <td className={cell}>{now === null ? "none" : fixed(now, 3)}</td>
                  <td className={cell}>{best === null ? "none" : powerSign(best)}</td>
                  <td className={cell}>{then === null ? "none" : fixed(then, 3)}</td>
                  <td className={cell}>{now === null || then === null ? "" : fixed(then - now, 3)}</td>
                  <td className={cell}>{estimate === null ? "none" : significant(estimate)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Card>
  );
}
