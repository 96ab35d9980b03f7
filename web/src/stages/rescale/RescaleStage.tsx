import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import type { Way } from "../../api/ledger";
import { ladderOf, normalityOf, spreadOf } from "../../api/readings";
import { type Table, useStudies, useTable, type Variable } from "../../api/studies";
import { useSentence } from "../../state/sentence";
import { Choices } from "../../ui/Choices";
import { Notice } from "../../ui/Notice";
import { WordChoice } from "../../ui/WordChoice";
import { about, isNumeric, named } from "../../words/kinds";
import { counted } from "../../words/numbers";
import { settingWords } from "../../words/recipes";
import { canSplit } from "../spread/Sentence";
import { firstLook, useSpreadChoices } from "../spread/useSpreadChoices";
import { AdoptCard } from "./AdoptCard";
import { SideCard } from "./BeforeAfter";
import { ChangeCard } from "./ChangeCard";
import { ExpressionLine } from "./ExpressionLine";
import { GainsCard } from "./GainsCard";
import { LadderCard } from "./LadderCard";
import { LADDER, otherScales, power, wayIn, wayWords } from "./ways";

/** Would another scale serve better? */
export function RescaleStage() {
  const { tableId } = useParams();
  const { data: table, error } = useTable(tableId);
  const { choices, change } = useSpreadChoices();
  const numeric = table?.variables.filter(isNumeric) ?? [];
  const variable = numeric.find(({ symbol }) => symbol === choices.variable) ?? numeric[0];
  useEffect(() => {
    if (variable && choices.variable !== variable.symbol) change({ variable: variable.symbol }, true);
  }, [variable, choices.variable, change]);
  if (error) return <Notice problem={error.message} remedy="Choose another table at the left." className="m-4.5" />;
  if (!table) return null;
  if (!variable) {
    return (
      <p className="m-auto max-w-96 p-8 text-center font-serif text-lead text-muted-ink">
        No variable of {table.name} is a number, so there is no scale to change. Change a kind under its variables, if
        it should be.
      </p>
    );
  }
  return <Rescaling key={`${table.id} ${variable.symbol}`} table={table} variable={variable} />;
}

const PICTURES = { stack: "stack", qq: "Q-Q plot" } as const;
const OWN = "an expression …";

function Rescaling({ table, variable }: { table: Table; variable: Variable }) {
  const { choices, change } = useSpreadChoices();
  const [query] = useSearchParams();
  const symbol = variable.symbol;
  const way = wayIn(query.get("way"));
  const text = JSON.stringify(way);
  const by = table.variables.find((other) => other.symbol === choices.by && other !== variable && canSplit(other));
  const [picture, setPicture] = useState<keyof typeof PICTURES>("stack");
  const [ranking, setRanking] = useState(false);
  const setWay = useCallback((next: Way) => change({ way: JSON.stringify(next) }), [change]);
  const setText = useCallback((typed: string) => setWay({ how: "expression", text: typed }), [setWay]);
  const ladder = useQuery({ ...ladderOf(table, symbol, by?.symbol ?? ""), placeholderData: keepPreviousData });
  const look = firstLook(choices);
  const before = useQuery(spreadOf(table, symbol, look));
  const after = useQuery({ ...spreadOf(table, symbol, { ...look, as_if: text }), placeholderData: keepPreviousData });
  const normalBefore = useQuery(normalityOf(table, symbol, by?.symbol));
  const normalAfter = useQuery({
    ...normalityOf(table, symbol, by?.symbol, text),
    placeholderData: keepPreviousData,
  });
  const chosen =
    way.how === "scale" && way.setting.way === "power"
      ? way.setting.power
      : way.how === "scale" && way.setting.way === "log" && way.setting.base === "10" && !way.setting.offset
        ? 0
        : null;
  const offset = before.data ? suggestedOffset(before.data.values) : null;
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <div className="flex min-h-[56px] flex-wrap items-center justify-between gap-x-6 gap-y-1 py-2">
        <RescaleSentence
          {...{ table, variable, way, by }}
          ladder={ladder.data?.ladder}
          change={change}
          onWay={setWay}
        />
        <span className="flex items-center gap-4">
          <button
            type="button"
            className="min-h-6 text-primary text-small hover:underline"
            onClick={() => setRanking(!ranking)}
          >
            {ranking ? "the ladder of this variable" : "which variables gain most"}
          </button>
          <Choices label="Picture" options={PICTURES} chosen={picture} onChoose={setPicture} />
        </span>
      </div>
      {way.how === "expression" && <ExpressionLine {...{ table, symbol }} text={way.text} onText={setText} />}
      {ranking ? (
        <GainsCard table={table} onChoose={() => setRanking(false)} />
      ) : (
        way.how === "scale" &&
        ladder.data && <LadderCard reading={ladder.data} chosen={chosen} onChoose={(step) => setWay(power(step))} />
      )}
      <div className="rescale-grid mt-3.5">
        <SideCard
          {...{ table, symbol, picture, choices }}
          title={`Before: ${named(variable)}`}
          side={{ spread: before.data, normality: normalBefore.data, error: before.error, waiting: before.isPending }}
        />
        <SideCard
          {...{ table, symbol, picture, choices }}
          title={`After: ${wayWords(way)}`}
          side={{
            spread: after.error ? undefined : after.data,
            normality: normalAfter.error ? undefined : normalAfter.data,
            // What is wrong with an expression is said where it is typed.
            waiting: after.isPending,
            error: way.how === "expression" ? null : after.error,
          }}
        />
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {before.data && after.data && !after.error && (
            <ChangeCard
              before={before.data}
              after={after.data}
              normalBefore={normalBefore.data}
              normalAfter={normalAfter.error ? undefined : normalAfter.data}
            />
          )}
          <AdoptCard key={text} {...{ table, symbol, way, offset }} onWay={setWay} />
        </div>
      </div>
    </div>
  );
}

/** An offset that lets zeros stand on a log: half the smallest value above 0, beyond the lowest one. */
function suggestedOffset(values: ArrayLike<number>): number | null {
  let [low, least] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY];
  for (let i = 0; i < values.length; i++) {
    const value = values[i] as number;
    low = Math.min(low, value);
    if (value > 0) least = Math.min(least, value);
  }
  if (!(low <= 0) || !Number.isFinite(least)) return null;
  return Number((least / 2 - low).toPrecision(3));
}

type SentenceProps = {
  table: Table;
  variable: Variable;
  way: Way;
  by: Variable | undefined;
  ladder: Parameters<typeof otherScales>[0];
  change: ReturnType<typeof useSpreadChoices>["change"];
  onWay: (way: Way) => void;
};

function RescaleSentence({ table, variable, way, by, ladder, change, onWay }: SentenceProps) {
  const navigate = useNavigate();
  const { data: studies = [] } = useStudies();
  const typing = useSentence((state) => state.typing);
  const setTyping = useSentence((state) => state.setTyping);
  const tables = studies.flatMap((study) => study.tables);
  const others = otherScales(ladder);
  const steps = LADDER.map((step) => ({ way: power(step), note: "a step of the ladder" }));
  const options = [...steps, ...others].map(({ way: each, note }) => ({
    value: JSON.stringify(each),
    label: settingWords(each.setting),
    note,
  }));
  return (
    <h1 className="text-head leading-tight">
      Rescale{" "}
      <WordChoice
        label="Variable"
        shown={named(variable)}
        value={variable.symbol}
        open={typing}
        onOpenChange={setTyping}
        options={table.variables
          .filter(isNumeric)
          .map((other) => ({ value: other.symbol, label: other.label, note: about(other) }))}
        onChoose={(symbol) => change({ variable: symbol })}
      />{" "}
      in{" "}
      <WordChoice
        label="Table"
        shown={table.name}
        value={table.id}
        options={tables.map((other) => ({ value: other.id, label: other.name, note: counted(other.n_rows, "row") }))}
        onChoose={(id) => navigate(`/tables/${id}/rescale`)}
      />{" "}
      as{" "}
      <WordChoice
        label="Scale"
        shown={wayWords(way)}
        value={JSON.stringify(way)}
        options={[...options, { value: OWN, label: OWN, note: "in ordinary arithmetic" }]}
        onChoose={(value) =>
          onWay(value === OWN ? { how: "expression", text: variable.symbol } : (JSON.parse(value) as Way))
        }
      />
      , judged{" "}
      <WordChoice
        label="Judged within"
        shown={by ? `within each ${by.label}` : "over all rows"}
        value={by?.symbol ?? ""}
        options={[
          { value: "", label: "over all rows" },
          ...table.variables
            .filter((other) => other.symbol !== variable.symbol && canSplit(other))
            .map((other) => ({ value: other.symbol, label: `within each ${other.label}`, note: about(other) })),
        ]}
        onChoose={(symbol) => change({ by: symbol || null })}
      />
    </h1>
  );
}
