import { Link, Outlet, useOutletContext, useParams } from "react-router";
import { Problem } from "../api/client";
import { type Table, useTable } from "../api/studies";
import { Notice } from "../ui/Notice";

/** The stages of a table, once it is there. */
export function TableRoute() {
  const { tableId } = useParams();
  const { data: table, error } = useTable(tableId);
  if (error) return <NotThere error={error} />;
  return table ? <Outlet key={table.id} context={table} /> : null;
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
