import type { Preview, Remedy } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { whole } from "../../words/numbers";

type QuestionsProps = { found: Preview; kept: string[]; onAnswer: (symbol: string, remedy: Remedy) => void };

const NUMBERS = ["No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine"];
const rowsWords = (rows: number[], count: number) =>
  rows.length === 0
    ? ""
    : `row${count === 1 ? "" : "s"} ${rows
        .slice(0, 3)
        .map((n) => whole(n))
        .join(", ")}${count > 3 ? " …" : ""}`;

/** What looks wrong, with counts and example rows, each with its ways out. */
export function Questions({ found, kept, onAnswer }: QuestionsProps) {
  const open = found.problems.filter(
    ({ symbol, remedies }) => !remedies.some(({ keep }) => keep !== null && kept.includes(`${symbol} ${keep}`)),
  );
  const label = (symbol: string) => found.variables.find((variable) => variable.symbol === symbol)?.label ?? symbol;
  const title = `${NUMBERS[open.length] ?? open.length} question${open.length === 1 ? "" : "s"} before it is stored`;
  return (
    <Card title={title} aside={<span className="text-muted-ink text-small">nothing is dropped without you</span>}>
      <ul className="min-h-0 overflow-y-auto">
        {open.map((problem) => (
          <li
            key={`${problem.code} ${problem.symbol} ${problem.problem}`}
            className="grid grid-cols-[8rem_minmax(14rem,1fr)_minmax(auto,19rem)] items-center gap-3 border-line border-b px-3.5 py-2 last:border-0"
          >
            <span className="truncate font-semibold">{problem.symbol ? label(problem.symbol) : "the file"}</span>
            <span>
              {problem.problem} <span className="text-muted-ink">{rowsWords(problem.rows, problem.count)}</span>
            </span>
            <span className="flex flex-wrap justify-end gap-1.5">
              {problem.remedies.map((remedy) => (
                <Button key={remedy.words} className="text-small!" onClick={() => onAnswer(problem.symbol, remedy)}>
                  {remedy.words}
                </Button>
              ))}
            </span>
          </li>
        ))}
        {open.length === 0 && (
          <li className="px-3.5 py-3 text-muted-ink">
            Nothing looks wrong. See the first rows below, then store the table.
          </li>
        )}
      </ul>
    </Card>
  );
}
