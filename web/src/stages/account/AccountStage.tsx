import { type FormEvent, useState } from "react";
import { type Account, useAccount, useAccountDeeds } from "../../api/account";
import { type Session, useSession } from "../../api/session";
import { CameBack, ThroughInstitution } from "../../app/ThroughInstitution";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { Leaving } from "./Leaving";
import { SecondFactor } from "./SecondFactor";
import { Tokens } from "./Tokens";
import { browserWords, moment, remedyOf } from "./words";

/** One's own account: how one signs in, where, what acts for one, and the way out. */
export function AccountStage() {
  const { data: account, error } = useAccount();
  const { data: session } = useSession();
  if (error) return <Notice problem={error.message} remedy={remedyOf(error)} className="m-4.5" />;
  if (!account || !session) return null;
  return (
    <div className="px-4.5 pb-3.5">
      <div className="flex min-h-[56px] items-center">
        <h1 className="text-head">Account of {account.name}</h1>
      </div>
      <CameBack className="mb-3.5" />
      <div className="grid grid-cols-[repeat(auto-fit,minmax(min(100%,26rem),1fr))] items-start gap-3.5">
        {session.password && <Password />}
        {session.password && <SecondFactor {...{ account }} />}
        {session.institution && <Institution {...{ account, session }} />}
        {session.password && <Address key={account.address} address={account.address} />}
        <Browsers account={account} />
        <Tokens />
        <Leaving name={account.name} password={session.password} />
        <Happened account={account} />
      </div>
    </div>
  );
}

function Institution({ account, session }: { account: Account; session: Session }) {
  const { unlink } = useAccountDeeds();
  return (
    <Card title={session.institution} help="account">
      <div className="flex flex-col items-start gap-3 p-3.5">
        <p className="text-muted-ink">
          {account.institution
            ? "You sign in to this account through your institution."
            : "With it you sign in here without a password."}
        </p>
        {!account.institution && <ThroughInstitution purpose="link">Sign in through it too</ThroughInstitution>}
        {account.institution && session.password && (
          <Button onClick={() => unlink.mutate()} disabled={unlink.isPending}>
            Sign in with the password alone
          </Button>
        )}
        {unlink.error && <Notice problem={unlink.error.message} remedy={remedyOf(unlink.error)} />}
      </div>
    </Card>
  );
}

function Password() {
  const { changePassword } = useAccountDeeds();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    changePassword.mutate(
      { old, new: fresh },
      {
        onSuccess: () => {
          setOld("");
          setFresh("");
        },
      },
    );
  };
  return (
    <Card title="Password" help="account">
      <form onSubmit={submit} className="flex flex-col gap-3 p-3.5">
        <Field
          label="Password now"
          type="password"
          autoComplete="current-password"
          required
          value={old}
          onChange={(event) => setOld(event.target.value)}
        />
        <Field
          label="New password, 12 characters or more"
          type="password"
          autoComplete="new-password"
          required
          value={fresh}
          onChange={(event) => setFresh(event.target.value)}
        />
        {changePassword.error && (
          <Notice problem={changePassword.error.message} remedy={remedyOf(changePassword.error)} />
        )}
        <span className="flex items-center gap-3">
          <Button type="submit" disabled={changePassword.isPending}>
            Change password
          </Button>
          <span role="status" className="text-muted-ink text-small">
            {changePassword.isSuccess ? "changed; other browsers are signed out" : ""}
          </span>
        </span>
      </form>
    </Card>
  );
}

function Address({ address }: { address: string }) {
  const { keepAddress } = useAccountDeeds();
  const [typed, setTyped] = useState(address);
  return (
    <Card title="Mail address" help="account">
      <form
        className="flex flex-col gap-3 p-3.5"
        onSubmit={(event) => {
          event.preventDefault();
          keepAddress.mutate(typed.trim());
        }}
      >
        <p className="text-muted-ink">
          A link for a new password goes there. Without one, only who runs the server can help.
        </p>
        <Field
          label="Address"
          type="email"
          autoComplete="email"
          placeholder="none"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        {keepAddress.error && <Notice problem={keepAddress.error.message} remedy={remedyOf(keepAddress.error)} />}
        <Button type="submit" className="self-start" disabled={typed.trim() === address || keepAddress.isPending}>
          Save
        </Button>
      </form>
    </Card>
  );
}

function Browsers({ account }: { account: Account }) {
  const { endSession } = useAccountDeeds();
  return (
    <Card
      title="Signed in"
      help="account"
      footer={<span>A browser that is not used for {account.idle_hours} hours is signed out.</span>}
    >
      <ul aria-label="Browsers" className="px-3.5 py-2">
        {account.sessions.map((one) => (
          <li key={one.id} className="flex items-baseline gap-3 border-line border-b py-1.5 last:border-0">
            <span className="min-w-0 flex-1">
              <span className="block truncate" title={one.browser}>
                {browserWords(one.browser)}
              </span>
              <span className="text-muted-ink text-small">
                {one.address} · since {moment(one.began)} · last used {moment(one.seen)}
              </span>
            </span>
            {one.here ? (
              <span className="text-muted-ink text-small">here</span>
            ) : (
              <Button look="link" onClick={() => endSession.mutate(one.id)}>
                sign out
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Card>
  );
}

function Happened({ account }: { account: Account }) {
  return (
    <Card title="What happened" help="account">
      <ul aria-label="Events" className="max-h-80 overflow-y-auto px-3.5 py-2">
        {account.events.map((event, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: events have no name
          <li key={i} className="flex items-baseline gap-3 border-line border-b py-1 last:border-0">
            <span className="min-w-0 flex-1">
              {event.what}
              {event.detail && <span className="text-muted-ink">: {event.detail}</span>}
            </span>
            <span className="text-muted-ink text-small">
              {event.address} · {moment(event.at)}
            </span>
          </li>
        ))}
      </ul>
    </Card>
  );
}
