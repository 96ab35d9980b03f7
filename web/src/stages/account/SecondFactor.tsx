import { type FormEvent, useState } from "react";
import { type Account, useSecondFactor } from "../../api/account";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { counted } from "../../words/numbers";
import { remedyOf } from "./words";

/** Codes of an app besides the password: turned on with a first code, and ten codes for when the app is lost. */
export function SecondFactor({ account }: { account: Account }) {
  const { begin, turnOn, turnOff, newCodes } = useSecondFactor();
  const [code, setCode] = useState("");
  const codes = newCodes.data?.codes ?? turnOn.data?.codes;
  const failed = begin.error ?? turnOn.error ?? turnOff.error ?? newCodes.error;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    turnOn.mutate(code, {
      onSuccess: () => {
        setCode("");
        begin.reset();
      },
    });
  };
  return (
    <Card title="Second factor" help="account">
      <div className="flex flex-col items-start gap-3 p-3.5">
        <p className="text-muted-ink">
          {account.second_factor
            ? `At each sign-in a code of your app is asked for. Of the ten codes for when it is lost ${account.codes_left} are left.`
            : "A code that an app on your phone makes, besides the password, whenever you sign in."}
        </p>
        {!account.second_factor && !begin.data && (
          <Button onClick={() => begin.mutate()} disabled={begin.isPending}>
            Set up
          </Button>
        )}
        {!account.second_factor && begin.data && (
          <form onSubmit={submit} className="flex flex-col items-start gap-3">
            <img
              alt="The secret as a picture, for the camera of your app"
              src={`data:image/svg+xml,${encodeURIComponent(begin.data.picture)}`}
              className="size-44 rounded-lg bg-white"
            />
            <p className="text-small">
              Or type it into the app: <code className="break-all">{spaced(begin.data.secret)}</code>
            </p>
            <Field
              label="The code that the app shows"
              autoComplete="one-time-code"
              inputMode="numeric"
              required
              value={code}
              onChange={(event) => setCode(event.target.value)}
            />
            <Button type="submit" look="primary" disabled={turnOn.isPending}>
              Turn on
            </Button>
          </form>
        )}
        {codes && (
          <div role="status" className="rounded-lg bg-good-tint px-2.5 py-1.5">
            <p className="text-small">
              Keep these {counted(codes.length, "code")} apart from the phone: each signs you in once. They are not
              shown again.
            </p>
            <code className="grid grid-cols-2 gap-x-6">
              {codes.map((one) => (
                <span key={one}>{one}</span>
              ))}
            </code>
          </div>
        )}
        {failed && <Notice problem={failed.message} remedy={remedyOf(failed)} />}
        {account.second_factor && (
          <span className="flex gap-2">
            <Button onClick={() => newCodes.mutate()} disabled={newCodes.isPending}>
              Make ten new codes
            </Button>
            <Button onClick={() => turnOff.mutate()} disabled={turnOff.isPending}>
              Turn off
            </Button>
          </span>
        )}
      </div>
    </Card>
  );
}

/** Letters in fours, as they are read while they are typed. */
const spaced = (secret: string) => secret.match(/.{1,4}/g)?.join(" ") ?? secret;
