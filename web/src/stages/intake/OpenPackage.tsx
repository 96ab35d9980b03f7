import { useNavigate } from "react-router";
import { useOpenPackage } from "../../api/records";
import type { Preview } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { counted } from "../../words/numbers";
import { Looking } from "./Looking";

/** What a package holds, and the way to open all of it. */
export function OpenPackage({ found, onOpened }: { found: Preview; onOpened?: () => void }) {
  const open = useOpenPackage();
  const navigate = useNavigate();
  if (!found.package) return null;
  const { study, n_tables } = found.package;
  const begin = () =>
    open.mutate(found.upload_id, {
      onSuccess: ({ study: id, tables }) => {
        onOpened?.();
        navigate(tables[0] ? `/tables/${tables[0]}/spread` : `/studies/${id}/intake`);
      },
    });
  return (
    <div className="flex flex-wrap items-center gap-3 rounded-lg bg-good-tint px-3 py-2">
      <p className="min-w-0 flex-1">
        {study ? (
          <>
            It holds the whole study <b>{study}</b>: {counted(n_tables, "table")} with their Ledger and plates.
          </>
        ) : (
          `It holds ${counted(n_tables, "table")}.`
        )}
      </p>
      <Button look="primary" disabled={open.isPending} onClick={begin}>
        {study ? "Open the study" : n_tables === 1 ? "Open it" : `Open all ${n_tables}`}
      </Button>
      {open.isPending && <Looking job={open.job} className={open.job ? "w-80" : "w-24"} />}
      {open.error && (
        <Notice problem={open.error.message} remedy={"remedy" in open.error ? String(open.error.remedy) : ""} />
      )}
    </div>
  );
}
