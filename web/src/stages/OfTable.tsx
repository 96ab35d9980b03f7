import { Outlet, useOutletContext, useParams } from "react-router";
import { type Table, useTable } from "../api/studies";
import { Notice } from "../ui/Notice";

/** The stages of a table, once it is there. */
export function OfTable() {
  const { tableId } = useParams();
  const { data: table, error } = useTable(tableId);
  if (error) return <Notice problem={error.message} remedy="Choose another table at the left." className="m-4.5" />;
  return table ? <Outlet key={table.id} context={table} /> : null;
}

/** The table whose stage this is. */
export const useTableHere = () => useOutletContext<Table>();
