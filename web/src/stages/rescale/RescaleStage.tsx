import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { useSearchParams } from "react-router";
import type { Way } from "../../api/ledger";
import { ladderOf, normalityOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { WordChoice } from "../../ui/WordChoice";
import { isNumeric, named } from "../../words/kinds";
import { KeepPlate } from "../plates/KeepPlate";
import { GroupWord, NothingHere, optionOf, TableWord, VariableWord } from "../SentenceWords";
import { worthALook } from "../spread/firstToLookAt";
import { canSplit } from "../spread/Sentence";
import { firstLook, useSpreadChoices } from "../spread/useSpreadChoices";
import { useTableHere } from "../TableRoute";
import { useNamed } from "../useAddress";
import { AdoptCard } from "./AdoptCard";
import { SideCard } from "./BeforeAfter";
import { ChangeCard } from "./ChangeCard";
import { ExpressionLine } from "./ExpressionLine";
import { GainsCard } from "./GainsCard";
import { LadderCard } from "./LadderCard";
import { scalePicture } from "./pictures";
import { RangesCard, RangesLine } from "./RangesLine";
import { AlongLine, NumberLine, PercentLine } from "./WayLine";
import { LADDER, otherScales, otherWays, power, wayIn, wayWords } from "./ways";

/** Would another scale serve better? */
export function RescaleStage() {
  const table = useTableHere();
  const { choices, change } = useSpreadChoices();
  const numeric = table.variables.filter(isNumeric);
  const variable = numeric.find(({ symbol }) => symbol === choices.variable) ?? worthALook(table).find(isNumeric);
  useNamed(variable, choices, change);
  if (!variable) {
    return (
      <NothingHere>
        {`No variable of ${table.name} is a number, so there is no scale to change. Change a kind under its variables, if it should be.`}
      </NothingHere>
    );
  }
  return <Rescaling key={variable.symbol} table={table} variable={variable} />;
}

const PICTURES = { stack: "stack", qq: "Q-Q plot" } as const;
function Rescaling({ table, variable }: { table: Table; variable: Variable }) {
  const { choices, change } = useSpreadChoices();
  const [query] = useSearchParams();
  const symbol = variable.symbol;
  const way = wayIn(query.get("way"));
  const text = JSON.stringify(way);
  const numbers = way.how !== "classes" && way.how !== "recode";
  const instead = table.variables.find((other) => other.symbol === query.get("instead"));
  const by = table.variables.find((other) => other.symbol === choices.by && other !== variable && canSplit(other));
  const drawn = query.get("picture") === "qq" ? "qq" : "stack";
  const pictureOf = (as_if: string | null) => scalePicture(table, variable, by, choices, drawn, as_if);
  const setPicture = (next: keyof typeof PICTURES) => change({ picture: next === "stack" ? null : next });
  const [ranking, setRanking] = useState(false);
  const setWay = useCallback((next: Way) => change({ way: JSON.stringify(next) }), [change]);
  const setText = useCallback((typed: string) => setWay({ how: "expression", text: typed }), [setWay]);
  const ladder = useQuery({ ...ladderOf(table, symbol, by?.symbol ?? ""), placeholderData: keepPreviousData });
  const look = firstLook(choices);
  // Kept while a decision has them read again, so that nothing moves under the pointer.
  const before = useQuery({ ...spreadOf(table, symbol, look), placeholderData: keepPreviousData });
  const after = useQuery({
    ...spreadOf(table, symbol, { ...look, as_if: text }),
    placeholderData: keepPreviousData,
    enabled: numbers,
  });
  const normalBefore = useQuery({
    ...normalityOf(table, symbol, by?.symbol),
    placeholderData: keepPreviousData,
  });
  const normalAfter = useQuery({
    ...normalityOf(table, symbol, by?.symbol, text),
    placeholderData: keepPreviousData,
    enabled: numbers,
  });
  const chosen =
    way.how === "scale" && way.setting.way === "power"
      ? way.setting.power
      : way.how === "scale" && way.setting.way === "log" && way.setting.base === "10" && !way.setting.offset
        ? 0
        : null;
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
          <Choices label="Picture" options={PICTURES} chosen={drawn} onChoose={setPicture} />
        </span>
      </div>
      {instead && (
        <p className="mb-3 flex items-baseline gap-3 rounded-card bg-accent-tint px-3.5 py-1.5">
          The recipe of {instead.label} is being changed; what follows from it changes with it.
          <Button look="link" className="ml-auto" onClick={() => change({ instead: null })}>
            make a new variable instead
          </Button>
        </p>
      )}
      {way.how === "expression" && <ExpressionLine {...{ table, variable }} text={way.text} onText={setText} />}
      {way.how === "scale" && <NumberLine key={text} way={way} onWay={setWay} />}
      {way.how === "percent" && <PercentLine {...{ table, variable, way }} onWay={setWay} />}
      {way.how === "along" && <AlongLine {...{ table, variable, way }} onWay={setWay} />}
      {way.how === "classes" && before.data && <RangesLine spread={before.data} way={way} onWay={setWay} />}
      {ranking ? (
        <GainsCard table={table} onChoose={() => setRanking(false)} />
      ) : (
        way.how === "scale" &&
        !ladder.error && (
          <LadderCard reading={ladder.data} picture={drawn} {...{ chosen }} onChoose={(step) => setWay(power(step))} />
        )
      )}
      <div className="rescale-grid mt-3.5">
        <SideCard
          {...{ table, symbol, drawn }}
          picture={pictureOf(null)}
          title={`Before: ${named(variable)}`}
          side={{ spread: before.data, normality: normalBefore.data, error: before.error, waiting: before.isPending }}
        />
        {way.how === "classes" ? (
          <RangesCard {...{ table, symbol, way }} />
        ) : (
          <SideCard
            {...{ table, symbol, drawn }}
            picture={pictureOf(text)}
            title={`After: ${wayWords(way)}`}
            aside={<KeepPlate />}
            side={{
              spread: after.error ? undefined : after.data,
              normality: normalAfter.error ? undefined : normalAfter.data,
              // What is wrong with an expression is said where it is typed.
              waiting: after.isPending,
              error: way.how === "expression" ? null : after.error,
            }}
          />
        )}
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {numbers && !after.error && (
            <ChangeCard
              before={before.data}
              after={after.data}
              normalBefore={normalBefore.data}
              normalAfter={normalAfter.error ? undefined : normalAfter.data}
            />
          )}
          <AdoptCard key={text} {...{ table, symbol, way, instead }} onWay={setWay} />
        </div>
      </div>
    </div>
  );
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
  const others = otherScales(ladder);
  const steps = LADDER.map((step) => ({ way: power(step), note: "A step of the ladder." }));
  const options = [...steps, ...others, ...otherWays(table, variable)].map(({ way: offered, note }) => ({
    value: JSON.stringify(offered),
    label: offered.how === "scale" ? wayWords(offered) : `${wayWords(offered)} …`,
    note,
  }));
  return (
    <h1 className="text-head leading-tight">
      Rescale{" "}
      <VariableWord
        variable={variable}
        options={table.variables.filter(isNumeric).map(optionOf)}
        onChoose={(symbol) => change({ variable: symbol })}
      />{" "}
      in <TableWord table={table} stage="rescale" /> as{" "}
      <WordChoice
        label="Scale"
        shown={wayWords(way)}
        value={JSON.stringify(way)}
        options={options}
        onChoose={(value) => onWay(JSON.parse(value))}
      />
      , judged{" "}
      <GroupWord
        label="Judged within"
        chosen={by}
        none="over all rows"
        before="within each "
        options={table.variables.filter((other) => other !== variable && canSplit(other))}
        onChoose={(symbol) => change({ by: symbol })}
      />
    </h1>
  );
}
