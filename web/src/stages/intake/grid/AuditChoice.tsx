import { useQuery } from "@tanstack/react-query";
import { type Audit, auditOf } from "../../../api/grid";
import type { Table } from "../../../api/studies";
import { Button } from "../../../ui/Button";
import { Floating } from "../../../ui/Floating";
import { counted, whole } from "../../../words/numbers";
import { RowLinks } from "../../RowLinks";

/** What is complete, what is missing together, and what deserves a look; each finding opens its rows. */
export function AuditChoice({ table }: { table: Table }) {
  const { data: audit } = useQuery(auditOf(table));
  if (!audit) return null;
  const n = audit.findings.length;
  return (
    <Floating
      label="Audit"
      className="w-[26rem] p-3.5"
      trigger={
        <Button look="link" className="text-small!">
          {whole(audit.n_complete)} complete, {n === 0 ? "no problems found" : counted(n, "finding")}
        </Button>
      }
    >
      <h2 className="text-lead">What deserves a look</h2>
      <ul className="mb-3">
        {audit.findings.map((finding) => (
          <li key={`${finding.code} ${finding.symbol}`} className="border-line border-b py-1.5 last:border-0">
            {finding.words} <RowLinks table={table} rows={Float64Array.from(finding.rows, (row) => row ?? 0)} />
          </li>
        ))}
        {n === 0 && (
          <li className="py-1 text-muted-ink">
            {table.is_long
              ? "No variable is constant, no value is beyond its bounds, none are heaped."
              : "No row repeats, no variable is constant, no identifier occurs twice, no value is beyond its bounds, none are heaped."}
          </li>
        )}
        {table.is_long && (
          <li className="py-1 text-muted-ink">
            Rows and identifiers that repeat are not looked for in a table this long.
          </li>
        )}
      </ul>
      <h2 className="text-lead">What is missing together</h2>
      <Patterns audit={audit} table={table} />
    </Floating>
  );
}

const CELL = 15;

/** Each pattern a line, each variable with a missing value a column; a filled cell is missing. */
function Patterns({ audit, table }: { audit: Audit; table: Table }) {
  const symbols = [...new Set(audit.patterns.flatMap(({ symbols }) => symbols))];
  if (symbols.length === 0) return <p className="text-muted-ink">All {counted(audit.n_rows, "row")} are complete.</p>;
  const label = (symbol: string) => table.variables.find((variable) => variable.symbol === symbol)?.label ?? symbol;
  return (
    <>
      <table className="figures mt-1">
        <caption className="sr-only">Patterns of missing values, with the number of rows of each</caption>
        <thead>
          <tr>
            {symbols.map((symbol) => (
              <th key={symbol} className="h-24 align-bottom font-normal text-small" style={{ width: CELL + 6 }}>
                <span className="inline-block rotate-180 truncate [writing-mode:vertical-rl]">{label(symbol)}</span>
              </th>
            ))}
            <th className="pl-3 text-left align-bottom font-normal text-muted-ink text-small">rows</th>
          </tr>
        </thead>
        <tbody>
          {audit.patterns.map((pattern) => (
            <tr key={pattern.symbols.join(" ")}>
              {symbols.map((symbol) => {
                const missing = pattern.symbols.includes(symbol);
                return (
                  <td key={symbol} className="p-[3px]">
                    <span className="sr-only">{missing ? "missing" : "there"}</span>
                    <span
                      aria-hidden="true"
                      className={`block rounded-[3px] ${missing ? "bg-series-ochre" : "bg-blocks"}`}
                      style={{ width: CELL, height: CELL }}
                    />
                  </td>
                );
              })}
              <td className="pl-3">{whole(pattern.n)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {audit.n_patterns > audit.patterns.length && (
        <p className="text-muted-ink text-small">
          and {whole(audit.n_patterns - audit.patterns.length)} rarer patterns
        </p>
      )}
    </>
  );
}
