import { useState } from "react";
import { useNavigate } from "react-router";
import { useAccountDeeds, useOwned } from "../../api/account";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { Pick } from "../../ui/Pick";
import { remedyOf } from "./words";

/** All of one's own data as a file, and the end of the account. */
export function Leaving({ name, password }: { name: string; password: boolean }) {
  const { takeAway } = useAccountDeeds();
  const [ending, setEnding] = useState(false);
  return (
    <Card title="Your data" help="account">
      <div className="flex flex-col gap-3 p-3.5">
        <p className="text-muted-ink">
          One file with a package of each study, which opens here and elsewhere, and what is kept of the account.
        </p>
        <Button
          className="self-start"
          disabled={takeAway.isPending}
          onClick={() =>
            takeAway.mutate(undefined, { onSuccess: (made) => handOver(made, `velvet-heron-${name}.zip`) })
          }
        >
          Download everything
        </Button>
        {takeAway.error && <Notice problem={takeAway.error.message} remedy={remedyOf(takeAway.error)} />}
        {ending ? (
          <Ending withPassword={password} onLeave={() => setEnding(false)} />
        ) : (
          <Button look="link" className="self-start text-danger!" onClick={() => setEnding(true)}>
            Remove the account…
          </Button>
        )}
      </div>
    </Card>
  );
}

const NOBODY = ":"; // no name has it

function Ending({ withPassword, onLeave }: { withPassword: boolean; onLeave: () => void }) {
  const { remove } = useAccountDeeds();
  const { data: owned = [] } = useOwned();
  const navigate = useNavigate();
  const [handed, setHanded] = useState<Record<string, string>>({});
  const [password, setPassword] = useState("");
  const gone = owned.filter(({ id }) => (handed[id] ?? NOBODY) === NOBODY);
  return (
    <form
      className="flex flex-col gap-3 border-line border-t pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        const named = Object.fromEntries(Object.entries(handed).filter(([, heir]) => heir !== NOBODY));
        remove.mutate({ password, handed: named }, { onSuccess: () => navigate("/") });
      }}
    >
      <p>What you decided in studies of others stays there, without your name. There is no way back. Your studies:</p>
      <ul aria-label="Studies that you own">
        {owned.map(({ id, title, others }) => (
          <li key={id} className="flex items-baseline gap-3 py-1">
            <span className="min-w-0 flex-1 truncate">{title}</span>
            {others.length > 0 ? (
              <Pick
                label={`What happens to ${title}`}
                value={handed[id] ?? NOBODY}
                options={[
                  { value: NOBODY, label: "is deleted" },
                  ...others.map((other) => ({ value: other, label: `goes to ${other}` })),
                ]}
                onChoose={(heir) => setHanded({ ...handed, [id]: heir })}
              />
            ) : (
              <span className="text-muted-ink">is deleted</span>
            )}
          </li>
        ))}
      </ul>
      {withPassword && (
        <Field
          label="Your password"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
      )}
      {remove.error && <Notice problem={remove.error.message} remedy={remedyOf(remove.error)} />}
      <span className="flex gap-2">
        <Button onClick={onLeave}>Cancel</Button>
        <Button type="submit" className="text-danger!" disabled={remove.isPending}>
          {gone.length > 0
            ? `Remove the account and ${gone.length === 1 ? "1 study" : `${gone.length} studies`}`
            : "Remove the account"}
        </Button>
      </span>
    </form>
  );
}
