import { useState } from "react";
import type { Rounding, Shown, TablePlateDocument } from "../../api/tablePlates";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Choices } from "../../ui/Choices";
import { NumbersChoice } from "../../ui/NumbersChoice";
import { Tick } from "../../ui/Tick";
import { WordChoice } from "../../ui/WordChoice";
import { withOrWithout } from "../../values";

type PartsCardProps = {
  shown: Shown;
  document: TablePlateDocument;
  edit: (change: (now: TablePlateDocument) => TablePlateDocument, hand?: string) => void;
};

const WHICH = { rows: "Rows", columns: "Columns", words: "Title and note" } as const;

const written = (rule: Rounding) => `${rule.by} ${rule.digits}`;
const ROUNDINGS: { value: string; label: string; note?: string }[] = [
  { value: "", label: "as the data", note: "one decimal more than recorded" },
  ...[0, 1, 2, 3, 4].map((n) => ({ value: `fixed ${n}`, label: n === 1 ? "1 decimal" : `${n} decimals` })),
  ...[2, 3, 4].map((n) => ({ value: `significant ${n}`, label: `${n} digits` })),
  { value: "se 2", label: "by the standard error", note: "as many decimals as give it two digits" },
];

/** Which rows and columns are shown, in which order, and with how many decimals. */
export function PartsCard({ shown, document, edit }: PartsCardProps) {
  const [which, setWhich] = useState<keyof typeof WHICH>("rows");
  const hidden = document.hidden ?? [];
  const order = document.order ?? [];
  const own = which === "columns" ? shown.columns : shown.rows;
  const place = new Map(order.map((key, i) => [key, i]));
  const heads = own.filter(({ under }) => !under);
  const sorted = [...heads].sort((a, b) => (place.get(a.key) ?? order.length) - (place.get(b.key) ?? order.length));
  const listed =
    which === "columns"
      ? own
      : sorted.flatMap((head) => {
          const from = own.indexOf(head);
          const next = own.slice(from + 1).findIndex(({ under }) => !under);
          return [head, ...own.slice(from + 1, next < 0 ? undefined : from + 1 + next)];
        });
  const move = (key: string, by: number) =>
    edit((now) => {
      const keys = sorted.map((row) => row.key);
      const at = keys.indexOf(key);
      const to = at + by;
      if (to < 0 || to >= keys.length) return now;
      keys.splice(at, 1);
      keys.splice(to, 0, key);
      return { ...now, order: keys };
    });
  const round = (key: string, said: string) =>
    edit((now) => {
      const { [key]: _, ...others } = now.decimals ?? {};
      const [by, digits] = said.split(" ");
      if (!by) return { ...now, decimals: others };
      return { ...now, decimals: { ...others, [key]: { by: by as Rounding["by"], digits: Number(digits) } } };
    });
  return (
    <Card
      help="tables"
      title="Parts"
      className="shrink-0"
      aside={<Choices label="Parts" options={WHICH} chosen={which} onChoose={setWhich} />}
    >
      {which === "words" ? (
        <div className="flex flex-col gap-2 px-3.5 py-2.5">
          <label className="flex flex-col gap-1 text-muted-ink text-small">
            Title
            <input
              value={document.title ?? ""}
              onChange={(event) => edit((now) => ({ ...now, title: event.target.value }), "title")}
              className="rounded-lg border border-line-strong/60 bg-surface px-2 py-1 text-body text-ink"
            />
          </label>
          <span className="flex items-center gap-2 text-muted-ink text-small">
            Numbers
            <NumbersChoice value={document.numbers} onChoose={(numbers) => edit((now) => ({ ...now, numbers }))} />
          </span>
          <label className="flex flex-col gap-1 text-muted-ink text-small">
            Note below
            <textarea
              value={document.note ?? ""}
              onChange={(event) => edit((now) => ({ ...now, note: event.target.value }), "note")}
              className="min-h-14 rounded-lg border border-line-strong/60 bg-surface px-2 py-1 text-body text-ink"
            />
          </label>
        </div>
      ) : (
        <ul aria-label={WHICH[which]} className="max-h-60 overflow-y-auto px-3.5 py-2">
          {which === "columns" && shown.laid.heads.some(({ key }) => key.startsWith("level:")) && (
            <li>
              <Tick
                checked={document.sizes ?? true}
                onChange={(on) => edit((now) => ({ ...now, sizes: on }))}
                label="n in the heads"
              />
            </li>
          )}
          {listed.map(({ key, label, under, heading }) => (
            <li key={key} className="flex items-center gap-2" style={{ paddingLeft: under ? "1.2em" : 0 }}>
              <Tick
                checked={!hidden.includes(key)}
                onChange={(on) => edit((now) => ({ ...now, hidden: withOrWithout(now.hidden ?? [], key, !on) }))}
                className="min-w-0 flex-1"
              >
                <span className="truncate" title={label}>
                  {document.labels?.[key] ?? label}
                </span>
              </Tick>
              {!heading && (
                <WordChoice
                  label={`Decimals of ${label}`}
                  className="text-small"
                  value={document.decimals?.[key] ? written(document.decimals[key]) : ""}
                  options={ROUNDINGS}
                  onChoose={(said) => round(key, said)}
                />
              )}
              {which === "rows" && !under && heads.length > 1 && (
                <>
                  <Button
                    look="link"
                    className="text-small!"
                    aria-label={`Move up: ${label}`}
                    onClick={() => move(key, -1)}
                  >
                    up
                  </Button>
                  <Button
                    look="link"
                    className="text-small!"
                    aria-label={`Move down: ${label}`}
                    onClick={() => move(key, 1)}
                  >
                    down
                  </Button>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
    </Card>
  );
}
