import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { type Changes, useDescribe, useNameOfTable } from "../../../api/ledger";
import type { Table, Variable } from "../../../api/studies";
import { SmallShape } from "../../../plot/SmallShape";
import { Card } from "../../../ui/Card";
import { WordChoice } from "../../../ui/WordChoice";
import { keysOf } from "../../../values";
import { about, KIND_WORDS, missingWords } from "../../../words/kinds";
import { counted, significant } from "../../../words/numbers";
import { recipeAddress } from "../../rescale/ways";
import { useTableHere } from "../../TableRoute";
import { VariableForm } from "./VariableForm";

/** What each variable of a table is; one is edited in the panel beside, or many at once. */
export function VariablesStage() {
  const table = useTableHere();
  const [query, setQuery] = useSearchParams();
  const wanted = query.get("variable");
  const [chosen, setChosen] = useState<ReadonlySet<string>>(() => new Set(wanted ? [wanted] : []));
  // A kind chosen in the list is looked at in the panel before it is kept, with what it would lose.
  const [draft, setDraft] = useState<Changes>({});
  const name = useNameOfTable(table);
  const variables = table.variables.filter(({ symbol }) => chosen.has(symbol));
  const toggle = (symbol: string) =>
    setChosen((now) => {
      const next = new Set(now);
      if (!next.delete(symbol)) next.add(symbol);
      return next;
    });
  const onlyOne = (symbol: string) => {
    setDraft({});
    setChosen(new Set([symbol]));
    setQuery({ variable: symbol }, { replace: true });
  };
  const unit = table.variables.find(({ symbol }) => symbol === table.unit_variable);
  const units = table.variables.filter(({ kind }) => kind !== "continuous" && kind !== "date-time");
  const weight = table.variables.find(({ symbol }) => symbol === table.weight_variable);
  const weights = table.variables.filter(({ kind }) => kind === "count" || kind === "continuous");
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center gap-x-6 gap-y-1 py-2">
        <h1 className="text-head">
          Variables of <span className="text-accent">{table.name}</span>, where n counts{" "}
          <WordChoice
            label="What n counts"
            shown={unit ? `each ${unit.label}` : "rows"}
            value={table.unit_variable}
            options={[
              { value: "", label: "rows", note: "each stands for itself" },
              ...units.map((variable) => ({
                value: variable.symbol,
                label: `each ${variable.label}`,
                note: about(variable),
              })),
            ]}
            onChoose={(symbol) => name.mutate({ unit_variable: symbol })}
          />{" "}
          and each row counts{" "}
          <WordChoice
            label="How often a row counts"
            shown={weight ? `as often as ${weight.label} says` : "once"}
            value={table.weight_variable}
            options={[
              { value: "", label: "once", note: "each stands for itself" },
              ...weights.map((variable) => ({
                value: variable.symbol,
                label: `as often as ${variable.label} says`,
                note: about(variable),
              })),
            ]}
            onChoose={(symbol) => name.mutate({ weight_variable: symbol })}
          />
        </h1>
        {name.error && <span className="text-caution">{name.error.message}</span>}
      </div>
      <div className="stage-grid">
        <Card
          title={counted(table.variables.length, "variable")}
          aside={
            <span className="text-muted-ink text-small">
              {chosen.size > 1 ? `${chosen.size} chosen` : "tick several to change them at once"}
            </span>
          }
        >
          <div className="min-h-0 overflow-auto">
            <table className="figures w-full text-left">
              <thead className="sticky top-0 z-10 bg-raised text-muted-ink text-small">
                <tr>
                  <th className="border-line border-b px-3.5 py-1">
                    <input
                      type="checkbox"
                      aria-label="All variables"
                      className="accent-[var(--accent)]"
                      checked={chosen.size === table.variables.length}
                      onChange={() =>
                        setChosen(
                          chosen.size === table.variables.length
                            ? new Set()
                            : new Set(table.variables.map(({ symbol }) => symbol)),
                        )
                      }
                    />
                  </th>
                  {["variable", "symbol", "kind", "missing", "what it can be", ""].map((words) => (
                    <th key={words} className="border-line border-b px-2.5 py-1 font-normal">
                      {words}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {table.variables.map((variable) => (
                  <tr
                    key={variable.symbol}
                    className={chosen.has(variable.symbol) ? "bg-selection" : "hover:bg-surface"}
                  >
                    <td className="border-line border-b px-3.5 py-1.5">
                      <input
                        type="checkbox"
                        aria-label={`Choose ${variable.label}`}
                        className="accent-[var(--accent)]"
                        checked={chosen.has(variable.symbol)}
                        onChange={() => toggle(variable.symbol)}
                      />
                    </td>
                    <td className="max-w-56 border-line border-b px-2.5 py-1.5">
                      <span className="flex items-baseline gap-1">
                        <TypedInPlace
                          table={table}
                          variable={variable}
                          what="label"
                          onFocus={() => onlyOne(variable.symbol)}
                        />
                        <TypedInPlace
                          table={table}
                          variable={variable}
                          what="unit"
                          onFocus={() => onlyOne(variable.symbol)}
                        />
                      </span>
                      {variable.follows_from.length > 0 && (
                        <span className="block truncate text-muted-ink text-small">
                          {variable.follows}{" "}
                          <Link
                            to={recipeAddress(table, variable)}
                            className="text-primary underline decoration-primary/40 underline-offset-3"
                          >
                            change
                          </Link>
                        </span>
                      )}
                      {variable.note && (
                        <span className="block truncate text-muted-ink text-small">{variable.note}</span>
                      )}
                    </td>
                    <td className="border-line border-b px-2.5 py-1.5 text-muted-ink">{variable.symbol}</td>
                    <td className="border-line border-b px-2.5 py-1.5">
                      <WordChoice
                        label={`Kind of ${variable.label}`}
                        shown={kindWords(variable)}
                        value={variable.kind}
                        options={KINDS}
                        onChoose={(kind) => {
                          onlyOne(variable.symbol);
                          setDraft({ kind });
                        }}
                      />
                    </td>
                    <td className="border-line border-b px-2.5 py-1.5 text-caution">
                      {missingWords(variable.missing_counts)}
                    </td>
                    <td className="max-w-72 border-line border-b px-2.5 py-1.5">{limitsWords(variable)}</td>
                    <td className="border-line border-b px-2.5 py-1.5">
                      <Link
                        to={`/tables/${table.id}/spread?variable=${encodeURIComponent(variable.symbol)}`}
                        aria-label={`Spread of ${variable.label}`}
                      >
                        <SmallShape
                          heights={variable.shape}
                          bars={variable.kind !== "continuous" && variable.kind !== "date-time"}
                        />
                      </Link>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </Card>
        <Card
          title={variables.length === 1 ? (variables[0]?.label ?? "") : chosenWords(variables.length)}
          className="self-start"
        >
          <div className="min-h-0 overflow-y-auto p-3.5">
            {variables.length === 0 ? (
              <p className="font-serif text-lead text-muted-ink">
                Choose a variable to say what it is: label, unit, kind, levels, missing codes, limits. Nothing in the
                file is changed; each description is an entry of the Ledger.
              </p>
            ) : (
              <VariableForm
                key={`${table.revision} ${variables.map(({ symbol }) => symbol).join(" ")} ${JSON.stringify(draft)}`}
                start={draft}
                table={table}
                variables={variables}
                onDone={() => undefined}
              />
            )}
          </div>
        </Card>
      </div>
    </div>
  );
}

type TypedInPlaceProps = { table: Table; variable: Variable; what: "label" | "unit"; onFocus: () => void };

/** A label or unit that is typed where it stands in the list. Enter keeps it, Escape leaves it as it was. */
function TypedInPlace({ table, variable, what, onFocus }: TypedInPlaceProps) {
  const describe = useDescribe(table);
  const now = what === "label" ? variable.typed_label : variable.typed_unit;
  const shown = what === "label" ? variable.label : variable.unit;
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    const text = typed?.trim() ?? now;
    setTyped(null);
    if (text !== now && (what === "unit" || text)) {
      describe.mutate({ variables: [variable.symbol], changes: { [what]: text } });
    }
  };
  const text = typed ?? shown;
  return (
    <input
      aria-label={`${what === "label" ? "Label" : "Unit"} of ${variable.symbol}`}
      value={text}
      placeholder={what === "unit" ? "no unit" : ""}
      size={Math.max(text.length, what === "unit" ? 3 : 6)}
      maxLength={what === "label" ? 200 : 60}
      onFocus={() => {
        onFocus();
        setTyped(now);
      }}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        else if (event.key === "Escape") {
          setTyped(null);
          event.stopPropagation();
        }
      }}
      className={`min-h-6 min-w-0 rounded-md border border-transparent bg-transparent px-1 [field-sizing:content] hover:border-line focus:border-line-strong focus:bg-surface ${what === "label" ? "font-semibold" : "text-muted-ink placeholder:text-disabled-ink"}`}
    />
  );
}

const KINDS = keysOf(KIND_WORDS).map((kind) => ({ value: kind, label: KIND_WORDS[kind] }));
const chosenWords = (n: number) => (n === 0 ? "What a variable is" : `${n} variables at once`);

function kindWords(variable: Variable): string {
  const levels = variable.kind === "category" || variable.kind === "ordered";
  return levels && variable.n_levels > 0
    ? `${KIND_WORDS[variable.kind]}, ${counted(variable.n_levels, "level")}`
    : KIND_WORDS[variable.kind];
}

/** Bounds, limits and levels in a line. */
function limitsWords(variable: Variable): string {
  const parts: string[] = [];
  const { lower, upper, spec_lower: from, spec_upper: to, target, detection_limit: limit } = variable;
  if (lower !== null) parts.push(`not below ${significant(lower, 6)}`);
  if (upper !== null) parts.push(`not above ${significant(upper, 6)}`);
  if (limit !== null) parts.push(`detected from ${significant(limit, 6)}`);
  if (variable.n_limited > 0) parts.push(`${counted(variable.n_limited, "value")} below a limit`);
  if (from !== null || to !== null) {
    parts.push(
      `specified ${from !== null ? `from ${significant(from, 6)} ` : ""}${to !== null ? `to ${significant(to, 6)}` : ""}`,
    );
  }
  if (target !== null) parts.push(`target ${significant(target, 6)}`);
  if (parts.length > 0) return parts.join(", ");
  if (variable.kind === "category" || variable.kind === "ordered") {
    return variable.levels.slice(0, 5).join(", ") + (variable.n_levels > 5 ? " …" : "");
  }
  return "";
}
