import { Link } from "react-router";
import type { Ran } from "../../api/records";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { counted } from "../../words/numbers";

/** What running a routine made, and what it could not. */
export function RanCard({ ran, onMore }: { ran: Ran; onMore: () => void }) {
  return (
    <Card title="It has run" className="min-h-[300px]">
      <div role="status" className="flex flex-col gap-3 px-5 py-4 font-serif text-lead">
        <p>
          {counted(ran.n_steps, "decision")} taken, {counted(ran.n_plates, "plate")} kept.
        </p>
        {ran.left_out.length > 0 && (
          <ul className="list-disc pl-5 text-body" aria-label="Left out">
            {ran.left_out.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        )}
        <p className="text-muted-ink text-small">
          Digest of its Ledger <code title={ran.digest}>{ran.digest.slice(0, 12)}</code>: the same routine on the same
          file gives the same.
        </p>
        <p className="flex items-center gap-4 text-body">
          <Link
            to={`/tables/${ran.table}/spread`}
            className="text-primary underline decoration-primary/40 underline-offset-3"
          >
            look at the table
          </Link>
          <Button onClick={onMore}>Run it on one more file</Button>
        </p>
      </div>
    </Card>
  );
}
