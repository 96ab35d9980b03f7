import { useQuery } from "@tanstack/react-query";
import { type Definition, meaningsOf, type Spread } from "../../api/readings";
import type { Table } from "../../api/studies";
import { useMeanings } from "../../state/meanings";
import { listHere, usePreferences } from "../../state/preferences";
import { Card } from "../../ui/Card";
import { Hint } from "../../ui/Hint";
import { counted, fixed, significant } from "../../words/numbers";
import { RowLinks } from "../RowLinks";
import { KeepTable } from "../tables/KeepTable";
import { linesOf } from "../tables/linesOf";
import { useMarkSelection } from "../useMarkSelection";
import { unitOf } from "./classWords";
import { DefinitionsChoice } from "./DefinitionsChoice";
import { IntervalsChoice } from "./IntervalsChoice";
import { StatisticsChoice } from "./StatisticsChoice";
import { type Line, lineOf, listedOf, percentLines, USUAL } from "./statistics";

type ReadingCardProps = { table: Table; spread: Spread; onDefinition: (definition: Definition) => void };

/** What a careful colleague would say of the variable, and the numbers behind it. */
export function ReadingCard({ table, spread, onDefinition }: ReadingCardProps) {
  const chosen = usePreferences((state) => listHere(state).statistics) ?? USUAL;
  const setMeanings = useMeanings((state) => state.setOpen);
  const percents = usePreferences((state) => listHere(state).percents);
  const lines = [
    ...listedOf(chosen, [spread]).map((statistic) => lineOf(statistic, spread)),
    ...percentLines(spread, percents),
  ];
  return (
    <Card
      help="reading"
      title="Reading"
      className="min-h-[220px] shrink"
      aside={
        <span className="flex gap-2">
          <IntervalsChoice table={table} spread={spread} />
          <DefinitionsChoice table={table} spread={spread} onDefinition={onDefinition} />
          <StatisticsChoice chosen={chosen} />
        </span>
      }
    >
      <p className="border-line border-b px-3.5 py-2 font-serif text-lead">
        {spread.words.map((said, i) => (
          <span key={said.text}>
            {i > 0 && " "}
            {said.text}
            {said.rows.length > 0 && (
              <>
                {": "}
                <RowLinks table={table} rows={said.rows} />.
              </>
            )}
          </span>
        ))}
        {spread.axis === "log" && " All of this is of the values themselves, not of their logarithms."}
        <BeyondLimits table={table} spread={spread} />
      </p>
      <div className="min-h-0 flex-1 overflow-y-auto py-1">
        <dl className="figures">
          {lines.map((line) => (
            <StatisticLine key={line.label} line={line} unit={spread.subject.unit} />
          ))}
        </dl>
        <p className="mx-3.5 mt-1 flex items-center justify-between">
          <button
            type="button"
            className="min-h-6 text-muted-ink text-small hover:text-primary hover:underline"
            onClick={() => setMeanings(true)}
          >
            what each number means
          </button>
          <KeepTable
            name={spread.subject.label}
            source={{
              kind: "summary",
              table: table.id,
              variables: [spread.subject.symbol],
              lines: linesOf(chosen),
              quantile_definition: spread.summary.quantile_definition,
              level: spread.summary.level,
            }}
          />
        </p>
      </div>
    </Card>
  );
}

/** How many rows lie beyond the specification limits, and what share a normal distribution would have there. */
function BeyondLimits({ table, spread: { subject, beyond } }: { table: Table; spread: Spread }) {
  const onSelect = useMarkSelection(table, subject.symbol);
  if (!beyond || beyond.n === 0) return null;
  const unit = unitOf(subject.unit);
  const percent = (share: number) => (share < 0.0005 ? "less than 0.05 %" : `${fixed(100 * share, 1)} %`);
  const side = (n: number | null, limit: number | null, share: number | null, within: object, words: string) =>
    n === null || limit === null ? null : (
      <>
        {" "}
        <button
          type="button"
          className="underline decoration-primary/40 underline-offset-3 hover:decoration-primary"
          onClick={() => onSelect({ words: [`${words} ${significant(limit, 6)}${unit}`], within }, false)}
        >
          {counted(n, "row")}
        </button>{" "}
        ({percent(n / beyond.n)}) {n === 1 ? "lies" : "lie"} {words} the limit {significant(limit, 6)}
        {unit}
        {share !== null && `; a normal distribution would have ${percent(share)} there`}.
      </>
    );
  return (
    <>
      {side(
        beyond.n_below,
        subject.spec_lower,
        beyond.normal_below,
        { high: subject.spec_lower, closed: "left" },
        "below",
      )}
      {side(
        beyond.n_above,
        subject.spec_upper,
        beyond.normal_above,
        { low: subject.spec_upper, closed: "right" },
        "above",
      )}
    </>
  );
}

function StatisticLine({ line, unit }: { line: Line; unit: string }) {
  const { data: chapters = [] } = useQuery(meaningsOf());
  const meaning = chapters.flatMap(({ meanings }) => meanings).find(({ id }) => id === line.meaning);
  const text = (
    <>
      <p className="font-semibold">{line.exact}</p>
      {meaning && <p className="mt-1">{meaning.definition}</p>}
      {meaning?.source && <p className="mt-1 text-muted-ink">{meaning.source}</p>}
      {unit && <p className="mt-1 text-muted-ink">Unit of the variable: {unit}</p>}
    </>
  );
  return (
    <Hint text={text}>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the exact figure and its definition open on focus */}
      <div tabIndex={0} className="flex min-h-5 items-baseline gap-x-2 px-3.5 hover:bg-surface">
        <dt>{line.label}</dt>
        <dd className="flex-1 whitespace-nowrap text-right font-semibold">{line.figures}</dd>
        <dd className="w-[102px] shrink-0 truncate text-muted-ink text-small">{line.aside}</dd>
      </div>
    </Hint>
  );
}
