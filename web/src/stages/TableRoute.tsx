import { useState } from "react";
import { Link, Outlet, useLocation, useOutletContext, useParams } from "react-router";
import { Problem } from "../api/client";
import { type Table, useTable } from "../api/studies";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";
import { StandsOutList } from "./StandsOut";

/** The stages of a table, once it is there. */
export function TableRoute() {
  const { tableId } = useParams();
  const { data: table, error } = useTable(tableId);
  if (error) return <NotThere error={error} />;
  return table ? (
    <>
      <JustStored key={`stored ${table.id}`} table={table} />
      <Outlet key={table.id} context={table} />
    </>
  ) : null;
}

/** What stands out in a table that was just stored, until it was read. */
function JustStored({ table }: { table: Table }) {
  const { state } = useLocation();
  const [open, setOpen] = useState(state?.stored === table.id);
  if (!open) return null;
  return (
    <section
      aria-label="What stands out here"
      className="rising mx-4.5 mt-3 flex-none! rounded-card border border-line bg-raised px-3.5 py-2.5"
    >
      <header className="mb-1 flex items-baseline justify-between">
        <h2 className="text-lead">What stands out here</h2>
        <Button look="link" className="text-small!" onClick={() => setOpen(false)}>
          close
        </Button>
      </header>
      <StandsOutList table={table} onLeave={() => setOpen(false)} />
    </section>
  );
}

function NotThere({ error }: { error: Error }) {
  const gone = error instanceof Problem && error.status === 404;
  return (
    <Notice
      problem={gone ? "There is no such table here: it was removed, or is not shared with you." : error.message}
      className="m-4.5"
    >
      <Link to="/" className="text-primary underline decoration-primary/40 underline-offset-3">
        To your first table
      </Link>
    </Notice>
  );
}

/** The table whose stage this is. */
export const useTableHere = () => useOutletContext<Table>();
