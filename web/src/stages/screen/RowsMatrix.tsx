import type { ScreenReading } from "../../api/screen";
import type { Table } from "../../api/studies";
import { useSelection } from "../../state/selection";
import { Button } from "../../ui/Button";
import { named } from "../../words/kinds";
import { counted, fixed, whole } from "../../words/numbers";
import { NamedRows } from "./NamedRows";
import { RULES } from "./useScreenChoices";

/** Of which the server sends all. */
const MOST = 100_000;

/** Which rule names which row, and how strongly; the rows on which most rules agree stand first. */
export function RowsMatrix({ table, reading }: { table: Table; reading: ScreenReading }) {
  const { rules, rows, within, subject, flagged, n_flagged: n } = reading;
  const select = useSelection((state) => state.select);
  const listed = rows.filter((row) => row.flagged.some(Boolean)).length;
  return (
    <NamedRows
      table={table}
      title={n === 0 ? "No row flagged" : `${counted(n, "row")} flagged`}
      file={`${subject.label} rows flagged`}
      head={[named(subject), ...(within ? [within] : []), ...rules.map(({ rule }) => RULES[rule])]}
      rows={rows}
      cells={(row) => [
        { text: row.text },
        ...(within ? [{ text: row.group }] : []),
        ...row.scores.map((score, i) => ({
          text: `${score === null ? "" : fixed(score, 2)}${row.flagged[i] ? " beyond" : ""}`,
          drawn: <Score score={score} beyond={row.flagged[i] ?? false} />,
        })),
      ]}
      footer={
        <>
          {n > listed && <span>the {whole(listed)} on which most rules agree are listed</span>}
          {n > 1 && flagged.length === n && (
            <Button
              look="link"
              className="min-h-0! border-0! p-0! text-small!"
              onClick={() => select(table.id, [...flagged], `the ${whole(n)} rows flagged`)}
            >
              select all {whole(n)}
            </Button>
          )}
          {n > flagged.length && (
            <span>More than {whole(MOST)} rows are not selected at once; a wider reach flags fewer.</span>
          )}
          <span>Numbers: distance by the rule&apos;s own measure; ringed where it lies beyond its limit.</span>
        </>
      }
    />
  );
}

function Score({ score, beyond }: { score: number | null; beyond: boolean }) {
  const words = score === null ? (beyond ? "" : "–") : fixed(score, 2);
  if (!beyond) return <span className="text-muted-ink">{words}</span>;
  return (
    <span className="inline-flex items-center gap-1.5 font-semibold text-danger">
      <svg aria-hidden="true" width={9} height={13} fill="none" className="stroke-[1.4] stroke-danger">
        <circle cx={4.5} cy={8.5} r={3.5} />
        <path d="M4.5 5V1" />
      </svg>
      {words}
      <span className="sr-only"> beyond</span>
    </span>
  );
}
