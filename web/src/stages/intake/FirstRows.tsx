import type { Kind, Preview, Variable } from "../../api/studies";
import { WordChoice } from "../../ui/WordChoice";
import { keysOf, nth } from "../../values";
import { KIND_WORDS, missingWords } from "../../words/kinds";
import { whole } from "../../words/numbers";

type FirstRowsProps = { found: Preview; onKind: (symbol: string, kind: Kind) => void };

const KINDS = keysOf(KIND_WORDS).map((kind) => ({ value: kind, label: KIND_WORDS[kind] }));
const isNumber = ({ kind }: Variable) => kind === "continuous" || kind === "count" || kind === "ordered";

/** The first rows of the file, each variable with its kind (changeable), unit and missing values. */
export function FirstRows({ found, onKind }: FirstRowsProps) {
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <table className="figures w-max min-w-full border-separate border-spacing-0">
        <thead className="sticky top-0 z-10 bg-raised text-left align-top">
          <tr>
            <th className="border-line-strong border-b px-3 py-1.5 text-right font-normal text-muted-ink text-small">
              row
            </th>
            {found.variables.map((variable) => (
              <th
                key={variable.symbol}
                className={`border-line-strong border-b px-2.5 py-1.5 font-normal ${isNumber(variable) ? "text-right" : ""}`}
              >
                <span className="block font-semibold">{variable.label}</span>
                <span className="block text-small">
                  <WordChoice
                    label={`Kind of ${variable.label}`}
                    shown={KIND_WORDS[variable.kind]}
                    value={variable.kind}
                    options={KINDS}
                    onChoose={(kind) => onKind(variable.symbol, kind)}
                  />
                  {variable.unit && variable.unit !== variable.kind && (
                    <span className="text-muted-ink"> · {variable.unit}</span>
                  )}
                </span>
                <span className="block text-muted-ink text-small">
                  {variable.n_missing > 0 ? (
                    <span className="text-caution">{missingWords(variable.missing_counts)}</span>
                  ) : variable.n_levels > 0 ? (
                    `${whole(variable.n_levels)} different`
                  ) : (
                    "none missing"
                  )}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {found.rows.map(({ row, cells }, r) => (
            <tr key={row} className="hover:bg-surface">
              <th className="border-line border-b px-3 py-1 text-right font-normal text-muted-ink text-small">
                {whole(row)}
              </th>
              {cells.map((cell, c) => {
                const variable = nth(found.variables, c);
                const missing = found.missing[r]?.[c];
                return (
                  <td
                    key={variable.symbol}
                    className={`max-w-64 truncate border-line border-b px-2.5 py-1 ${isNumber(variable) ? "text-right" : ""} ${missing ? "text-caution italic" : ""}`}
                  >
                    {missing && cell === "" ? "blank" : cell.replace(/^-(?=\d)/, "\u2212")}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
