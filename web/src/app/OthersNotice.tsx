import { useEffect, useRef, useState } from "react";
import { type Entry, useLedger } from "../api/ledger";
import type { Table } from "../api/studies";
import { useLedgerPanel } from "../state/ledgerPanel";
import { Button } from "../ui/Button";
import { counted } from "../words/numbers";

const DEEDS: Record<Entry["kind"], string> = {
  "set-aside": "set aside",
  "put-back": "put back",
  keep: "looked at",
  describe: "described a variable",
  correct: "corrected",
  derive: "made or took away a variable",
  reread: "read the file again",
  follow: "",
  "line-up": "took a line-up",
  undo: "took a decision back",
  redo: "made a decision again",
};

function words({ kind, n_rows, author }: Entry): string {
  const rows = ["set-aside", "put-back", "keep", "correct"].includes(kind) ? ` ${counted(n_rows, "row")}` : "";
  return `${author} ${DEEDS[kind]}${rows}`;
}

/** What somebody else has just decided on the table at hand; it stays until it is read, or there is newer. */
export function OthersNotice({ table, me }: { table: Table; me: string | null }) {
  const { data: ledger } = useLedger(table);
  const setOpen = useLedgerPanel((state) => state.setOpen);
  const known = useRef<number | null>(null);
  const [news, setNews] = useState<Entry[]>([]);
  useEffect(() => {
    if (!ledger) return;
    const from = known.current;
    known.current = ledger.n_entries;
    if (from === null) return;
    const result = ledger.entries.filter(
      ({ number, author, kind }) => number > from && author !== me && kind !== "follow",
    );
    if (result.length > 0) setNews(result);
  }, [ledger, me]);
  const last = news.at(-1);
  return (
    <div aria-live="polite" className="pointer-events-none fixed bottom-14 left-[246px] z-40">
      {last && (
        <div className="rising pointer-events-auto flex max-w-96 items-baseline gap-3 rounded-card border border-line bg-raised px-3.5 py-2.5 shadow-float">
          <p>
            {words(last)}
            {news.length > 1 && ` and decided ${news.length - 1} more`}, in {table.name}.
          </p>
          <Button look="link" className="text-small!" onClick={() => setOpen(true)}>
            the Ledger
          </Button>
          <Button look="link" className="text-small!" onClick={() => setNews([])}>
            close
          </Button>
        </div>
      )}
    </div>
  );
}
