import type { ReactNode } from "react";
import {
  BARS,
  CENTRES,
  EFFECTS,
  QUANTILE_DEFINITIONS,
  TABLE_ABOVE,
  TABLE_COEFFICIENTS,
  TABLE_LINES,
  TABLE_PERCENTS,
} from "../../api/choices.gen";
import type { Table } from "../../api/studies";
import type { TablePlateDocument, TableSource } from "../../api/tablePlates";
import { Card } from "../../ui/Card";
import { Tick } from "../../ui/Tick";
import { WordChoice } from "../../ui/WordChoice";
import { keysOf } from "../../values";
import { isNumeric } from "../../words/kinds";
import { SeveralChoice } from "../SeveralChoice";
import { canSplit } from "../spread/Sentence";

type SourceCardProps = {
  table: Table;
  document: TablePlateDocument;
  edit: (change: (now: TablePlateDocument) => TablePlateDocument, hand?: string) => void;
  frozen: boolean;
};
type Of<Kind extends TableSource["kind"]> = Extract<TableSource, { kind: Kind }>;
type FieldsProps<Kind extends TableSource["kind"]> = {
  table: Table;
  source: Of<Kind>;
  set: (changes: Partial<Of<Kind>>) => void;
};

const MOST_ACROSS_TERMS = 12;

/** What a table is of, and which of its numbers it tells. */
export function SourceCard({ table, document, edit, frozen }: SourceCardProps) {
  const { source } = document;
  const set = (changes: Partial<TableSource>) =>
    edit((now) => ({ ...now, source: { ...now.source, ...changes } as TableSource }));
  if (frozen) return null;
  return (
    <Card help="tables" title="What it tells" className="shrink-0">
      <div className="flex flex-col gap-1.5 px-3.5 py-2.5">
        <Fields {...{ table, source, set }} />
      </div>
    </Card>
  );
}

function Fields({ table, source, set }: { table: Table; source: TableSource; set: (changes: never) => void }) {
  const given = { table, set } as { table: Table; set: (changes: object) => void };
  switch (source.kind) {
    case "summary":
      return <SummaryFields {...given} source={source} />;
    case "groups":
      return <GroupFields {...given} source={source} />;
    case "group-differences":
      return <PairsOfGroupsFields {...given} source={source} />;
    case "correlations":
      return <CorrelationFields {...given} source={source} />;
    case "frequencies":
      return <FrequencyFields {...given} source={source} />;
    case "percent-points":
      return <QuantileFields {...given} source={source} />;
    default:
      return <RelationFields {...given} source={source} />;
  }
}

function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex min-h-6 items-start gap-2">
      <span className="w-22 shrink-0 pt-0.5 text-muted-ink text-small">{label}</span>
      <span className="min-w-0">{children}</span>
    </div>
  );
}

const optionsOf = (variables: Table["variables"]) => variables.map(({ symbol, label }) => ({ value: symbol, label }));
const inSummaries = (table: Table) => table.variables.filter((each) => isNumeric(each) || each.levels.length > 0);
const labelsOf = (table: Table, symbols: readonly string[]) =>
  symbols.map((symbol) => table.variables.find((each) => each.symbol === symbol)?.label ?? symbol).join(", ");

type ByProps = { table: Table; by: string; taken?: readonly string[]; onChoose: (by: string) => void };

function ByField({ table, by, taken = [], onChoose }: ByProps) {
  const options = table.variables.filter((each) => canSplit(each) && !taken.includes(each.symbol));
  return (
    <Field label="Groups">
      <WordChoice
        label="Groups"
        value={by}
        options={[{ value: "", label: "none" }, ...optionsOf(options)]}
        onChoose={onChoose}
      />
    </Field>
  );
}

type VariablesProps = {
  table: Table;
  from: Table["variables"];
  chosen: readonly string[];
  set: (chosen: string[]) => void;
};

function VariablesField({ table, from, chosen, set }: VariablesProps) {
  return (
    <Field label="Variables">
      <SeveralChoice
        label="Variables"
        shown={labelsOf(table, chosen) || "none"}
        options={optionsOf(from)}
        chosen={[...chosen]}
        onChoose={set}
      />
    </Field>
  );
}

function DefinitionField({
  value,
  onChoose,
}: {
  value: Of<"summary">["quantile_definition"];
  onChoose: (value: Of<"summary">["quantile_definition"]) => void;
}) {
  const options = keysOf(QUANTILE_DEFINITIONS).map((id) => ({
    value: String(id),
    label: QUANTILE_DEFINITIONS[id].label,
  }));
  return (
    <Field label="Quantiles">
      <WordChoice
        label="Quantile definition"
        value={String(value ?? 7)}
        options={options}
        onChoose={(said) => onChoose((said === "hinges" ? said : Number(said)) as typeof value)}
      />
    </Field>
  );
}

function SummaryFields({ table, source, set }: FieldsProps<"summary">) {
  const lines = source.lines ?? [];
  const levels = table.variables.find(({ symbol }) => symbol === source.by)?.levels.length ?? 0;
  const asked = lines.includes("median_quartiles") || lines.length === 0;
  return (
    <>
      <VariablesField
        table={table}
        from={inSummaries(table).filter(({ symbol }) => symbol !== source.by)}
        chosen={source.variables}
        set={(variables) => set({ variables })}
      />
      <ByField
        table={table}
        by={source.by ?? ""}
        onChoose={(by) => set({ by, difference: false, standardized: false, test: false })}
      />
      <Field label="Lines">
        <SeveralChoice
          label="Lines of each number"
          shown={lines.map((id) => TABLE_LINES[id].label).join(", ") || "what suits each"}
          options={keysOf(TABLE_LINES).map((id) => ({
            value: id,
            label: TABLE_LINES[id].label,
            note: TABLE_LINES[id].help,
          }))}
          chosen={[...lines]}
          onChoose={(next) => set({ lines: keysOf(TABLE_LINES).filter((id) => next.includes(id)) })}
        >
          <p className="mt-1 text-muted-ink text-small">
            With none, medians stand for skewed and ordered variables, means for others.
          </p>
        </SeveralChoice>
      </Field>
      {asked && (
        <DefinitionField value={source.quantile_definition} onChoose={(value) => set({ quantile_definition: value })} />
      )}
      <Tick
        checked={source.missing ?? true}
        onChange={(on) => set({ missing: on })}
        label="missing values, where there are some"
      />
      {source.by && (
        <>
          <Tick checked={source.total ?? true} onChange={(on) => set({ total: on })} label="a column of all rows" />
          <Tick checked={source.test ?? false} onChange={(on) => set({ test: on })} label="a p value, with its test" />
          {levels === 2 && (
            <>
              <Tick
                checked={source.difference ?? false}
                onChange={(on) => set({ difference: on })}
                label="differences, with limits"
              />
              <Tick
                checked={source.standardized ?? false}
                onChange={(on) => set({ standardized: on })}
                label="standardized differences"
              />
            </>
          )}
          <Tick
            checked={source.turned ?? false}
            onChange={(on) => set({ turned: on })}
            label="groups down, variables across"
          />
        </>
      )}
    </>
  );
}

function GroupFields({ table, source, set }: FieldsProps<"groups">) {
  const centre = source.centre ?? "mean";
  const levels = table.variables.find(({ symbol }) => symbol === source.by)?.levels ?? [];
  const fitting = CENTRES[centre].fitting as readonly (keyof typeof BARS)[];
  return (
    <>
      <Field label="Centre">
        <WordChoice
          label="Centre"
          value={centre}
          options={keysOf(CENTRES).map((id) => ({ value: id, label: CENTRES[id].label }))}
          onChoose={(id) => set({ centre: id, bars: CENTRES[id].bars as keyof typeof BARS })}
        />
      </Field>
      <Field label="Bars">
        <WordChoice
          label="Bars"
          value={source.bars ?? "mean-interval"}
          options={fitting.map((id) => ({ value: id, label: BARS[id].label }))}
          onChoose={(bars) => set({ bars })}
        />
      </Field>
      {!source.second && (
        <Field label="Differences">
          <WordChoice
            label="Differences"
            value={source.effect ?? ""}
            options={[
              { value: "", label: "none" },
              ...keysOf(EFFECTS).map((id) => ({ value: id, label: EFFECTS[id].label })),
            ]}
            onChoose={(effect) => set({ effect: effect as NonNullable<typeof source.effect> })}
          />
        </Field>
      )}
      {source.effect && levels.length > 0 && (
        <Field label="Against">
          <WordChoice
            label="Reference"
            value={source.reference || (levels[0] ?? "")}
            options={levels.map((level) => ({ value: level, label: level }))}
            onChoose={(reference) => set({ reference })}
          />
        </Field>
      )}
    </>
  );
}

function PairsOfGroupsFields({ table, source, set }: FieldsProps<"group-differences">) {
  const levels = table.variables.find(({ symbol }) => symbol === source.by)?.levels ?? [];
  return (
    <>
      <Field label="Measure">
        <WordChoice
          label="Measure"
          value={source.measure ?? "mean"}
          options={keysOf(EFFECTS).map((id) => ({ value: id, label: EFFECTS[id].label }))}
          onChoose={(measure) => set({ measure })}
        />
      </Field>
      {levels.length > 0 && (
        <Field label="Pairs">
          <WordChoice
            label="Pairs"
            value={source.reference ?? ""}
            options={[
              { value: "", label: "all pairs" },
              ...levels.map((level) => ({ value: level, label: `each against ${level}` })),
            ]}
            onChoose={(reference) => set({ reference })}
          />
        </Field>
      )}
      {EFFECTS[source.measure ?? "mean"].of_means && (
        <Tick
          checked={source.together ?? true}
          onChange={(on) => set({ together: on })}
          label="limits for all pairs together"
        />
      )}
    </>
  );
}

function CorrelationFields({ table, source, set }: FieldsProps<"correlations">) {
  return (
    <>
      <VariablesField
        table={table}
        from={table.variables.filter(isNumeric)}
        chosen={source.variables}
        set={(variables) => set({ variables })}
      />
      <Field label="Coefficient">
        <WordChoice
          label="Coefficient"
          value={source.coefficient ?? "pearson"}
          options={keysOf(TABLE_COEFFICIENTS).map((id) => ({ value: id, label: TABLE_COEFFICIENTS[id].label }))}
          onChoose={(coefficient) => set({ coefficient })}
        />
      </Field>
      <Field label="Above">
        <WordChoice
          label="Above the diagonal"
          value={source.above ?? "none"}
          options={keysOf(TABLE_ABOVE).map((id) => ({ value: id, label: TABLE_ABOVE[id].label }))}
          onChoose={(above) => set({ above })}
        />
      </Field>
    </>
  );
}

function FrequencyFields({ table, source, set }: FieldsProps<"frequencies">) {
  return (
    <>
      <ByField table={table} by={source.by ?? ""} taken={[source.variable]} onChoose={(by) => set({ by })} />
      {source.by && (
        <Field label="Percents">
          <WordChoice
            label="Percents"
            value={source.percents ?? "columns"}
            options={keysOf(TABLE_PERCENTS).map((id) => ({ value: id, label: TABLE_PERCENTS[id].label }))}
            onChoose={(percents) => set({ percents })}
          />
        </Field>
      )}
      {!source.by && (
        <Tick
          checked={source.missing ?? false}
          onChange={(on) => set({ missing: on })}
          label="a line of missing values"
        />
      )}
    </>
  );
}

function QuantileFields({ table, source, set }: FieldsProps<"percent-points">) {
  return (
    <>
      <VariablesField
        table={table}
        from={table.variables.filter(isNumeric)}
        chosen={source.variables}
        set={(variables) => set({ variables })}
      />
      <ByField table={table} by={source.by ?? ""} taken={source.variables} onChoose={(by) => set({ by })} />
      <Field label="Percents">
        <SeveralChoice
          label="Percents"
          shown={(source.percents ?? []).map((share) => `${share} %`).join(", ") || "none"}
          options={[1, 2.5, 5, 10, 20, 25, 40, 50, 60, 75, 80, 90, 95, 97.5, 99].map((share) => ({
            value: String(share),
            label: `${share} %`,
          }))}
          chosen={(source.percents ?? []).map(String)}
          onChoose={(next) => set({ percents: next.map(Number).sort((a, b) => a - b) })}
        />
      </Field>
      <DefinitionField value={source.quantile_definition} onChoose={(value) => set({ quantile_definition: value })} />
    </>
  );
}

function RelationFields({ table, source, set }: FieldsProps<"regression" | "influential">) {
  const others = table.variables.filter(
    (each) => each.symbol !== source.response && (isNumeric(each) || canSplit(each)),
  );
  return (
    <>
      <Field label="Predictors">
        <SeveralChoice
          label="Predictors"
          shown={labelsOf(table, source.predictors) || "none"}
          options={optionsOf(others)}
          chosen={[...source.predictors]}
          onChoose={(next) => set({ predictors: next.slice(0, MOST_ACROSS_TERMS), product: [] })}
        />
      </Field>
      {source.kind === "regression" ? (
        <Tick
          checked={source.robust ?? false}
          onChange={(on) => set({ robust: on })}
          label="robust standard errors (HC3)"
        />
      ) : (
        <Field label="Rows">
          <WordChoice
            label="Rows"
            value={String(source.rows ?? 10)}
            options={[5, 10, 20, 40, 60].map((n) => ({ value: String(n), label: `the first ${n}` }))}
            onChoose={(n) => set({ rows: Number(n) })}
          />
        </Field>
      )}
    </>
  );
}
