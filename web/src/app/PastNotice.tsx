import type { Table } from "../api/studies";
import { useLookingBack } from "../state/lookingBack";
import { Button } from "../ui/Button";

/** Says that what is seen is an earlier point of the ledger, and leads back. */
export function PastNotice({ table }: { table: Table }) {
  const { past, setPast } = useLookingBack();
  if (past?.table !== table.id) return null;
  return (
    <div role="status" className="flex items-center gap-3 border-accent/40 border-b bg-accent-tint px-4.5 py-1.5">
      <span>
        {table.name} as it stood {past.entry === 0 ? "when it came" : `after entry ${past.entry}`}. You are looking
        back; nothing can be decided here.
      </span>
      <Button onClick={() => setPast(null)}>Return to now</Button>
    </div>
  );
}
