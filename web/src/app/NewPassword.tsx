import { type FormEvent, useState } from "react";
import { Link, useParams } from "react-router";
import { useAskAnew, useSetAnew } from "../api/account";
import { remedyOf } from "../stages/account/words";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Notice } from "../ui/Notice";

/** A link for a new password, sent to whoever has a name or an address. */
export function AskAnew({ onLeave }: { onLeave: () => void }) {
  const ask = useAskAnew();
  const [who, setWho] = useState("");
  return (
    <form
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        ask.mutate(who);
      }}
      className="flex flex-col gap-3 rounded-card border border-line bg-raised p-4"
    >
      <h2 className="text-lead">A new password</h2>
      {ask.isSuccess ? (
        <p role="status">
          If somebody here has that name or address, and an address for mail, a link is on its way. It holds for an
          hour.
        </p>
      ) : (
        <Field
          label="Name or mail address"
          autoComplete="username"
          required
          value={who}
          onChange={(event) => setWho(event.target.value)}
        />
      )}
      {ask.error && <Notice problem={ask.error.message} remedy={remedyOf(ask.error)} />}
      <div className="flex items-center justify-between">
        {ask.isSuccess ? (
          <span />
        ) : (
          <Button type="submit" disabled={ask.isPending}>
            Send a link
          </Button>
        )}
        <Button look="link" onClick={onLeave}>
          Back to signing in
        </Button>
      </div>
    </form>
  );
}

/** Where the link of a mail leads: a new password is set. */
export function SetAnew() {
  const { person = "", token = "" } = useParams();
  const set = useSetAnew();
  const [password, setPassword] = useState("");
  return (
    <main className="m-auto mt-24 w-88 rounded-card border border-line bg-raised p-4">
      <h1 className="mb-3 text-lead">A new password</h1>
      {set.isSuccess ? (
        <p role="status">
          It is set.{" "}
          <Link to="/" className="text-primary underline">
            Sign in with it
          </Link>
        </p>
      ) : (
        <form
          className="flex flex-col gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            set.mutate({ person, token, password });
          }}
        >
          <Field
            label="Password, 12 characters or more"
            type="password"
            autoComplete="new-password"
            required
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
          {set.error && <Notice problem={set.error.message} remedy={remedyOf(set.error)} />}
          <Button type="submit" look="primary" className="self-start" disabled={set.isPending}>
            Set it
          </Button>
        </form>
      )}
    </main>
  );
}
