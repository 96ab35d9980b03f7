import { useNavigate } from "react-router";
import { type Table, useStudies, type Variable } from "../api/studies";
import { useSentence } from "../state/sentence";
import { WordChoice, type WordOption } from "../ui/WordChoice";
import { about, named } from "../words/kinds";
import { counted } from "../words/numbers";

/** A variable as an option of a choice. */
export const optionOf = (variable: Variable): WordOption => ({
  value: variable.symbol,
  label: variable.label,
  note: about(variable),
});

type VariableWordProps = {
  variable: Variable;
  options: WordOption[];
  onChoose: (symbol: string) => void;
};

/** The word of a sentence that names its variable; "/" opens it, to be typed. */
export function VariableWord({ variable, options, onChoose }: VariableWordProps) {
  const typing = useSentence((state) => state.typing);
  const setTyping = useSentence((state) => state.setTyping);
  return (
    <WordChoice
      label="Variable"
      shown={named(variable)}
      value={variable.symbol}
      open={typing}
      onOpenChange={setTyping}
      options={options}
      onChoose={onChoose}
    />
  );
}

/** The word of a sentence that names its table. */
export function TableWord({ table, stage }: { table: Table; stage: string }) {
  const navigate = useNavigate();
  const { data: studies = [] } = useStudies();
  // Two studies may each have a table of one name.
  const tables = studies.flatMap(({ title, tables }) =>
    tables.map((other) => ({ ...other, where: studies.length > 1 ? `${title}, ` : "" })),
  );
  return (
    <WordChoice
      label="Table"
      shown={table.name}
      value={table.id}
      options={tables.map((other) => ({
        value: other.id,
        label: other.name,
        note: `${other.where}${counted(other.n_rows, "row")}`,
      }))}
      onChoose={(id) => navigate(`/tables/${id}/${stage}`)}
    />
  );
}

type GroupWordProps = {
  label: string;
  chosen: Variable | undefined;
  /** What stands there where none is chosen, and what stands before the label where one is. */
  none: string;
  before?: string;
  options: Variable[];
  onChoose: (symbol: string | null) => void;
};

/** A word that names a variable, or none. */
export function GroupWord({ label, chosen, none, before = "", options, onChoose }: GroupWordProps) {
  return (
    <WordChoice
      label={label}
      shown={chosen ? `${before}${chosen.label}` : none}
      value={chosen?.symbol ?? ""}
      options={[
        { value: "", label: none },
        ...options.map((other) => ({ ...optionOf(other), label: `${before}${other.label}` })),
      ]}
      onChoose={(symbol) => onChoose(symbol || null)}
    />
  );
}

/** What a stage says of a table that has nothing for it. */
export function NothingHere({ children }: { children: string }) {
  return <p className="m-auto max-w-96 p-8 text-center font-serif text-lead text-muted-ink">{children}</p>;
}
