import { useState } from "react";
import { type NewToken, useAccountDeeds, useTokens } from "../../api/account";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { WordChoice } from "../../ui/WordChoice";
import { day, remedyOf } from "./words";

const ENDS = [
  { value: "7", label: "a week" },
  { value: "30", label: "30 days" },
  { value: "90", label: "90 days" },
  { value: "366", label: "a year" },
];
const SCOPES = [
  { value: "read", label: "read", note: "changes nothing" },
  { value: "write", label: "read and write", note: "may do what you may" },
] as const;

/** Keys with which programs act for a person: made, shown once, revoked. */
export function Tokens() {
  const { data: tokens = [] } = useTokens();
  const { makeToken, revokeToken } = useAccountDeeds();
  const [name, setName] = useState("");
  const [days, setDays] = useState("90");
  const [scope, setScope] = useState<NewToken["scope"]>("read");
  return (
    <Card
      title="Personal tokens"
      help="account"
      footer={
        <span>
          For programs of yours.{" "}
          <a href="/reference" className="text-primary underline decoration-primary/40 underline-offset-3">
            What they can ask
          </a>
        </span>
      }
    >
      <div className="flex flex-col gap-3 p-3.5">
        <ul aria-label="Tokens">
          {tokens.map((token) => (
            <li key={token.id} className="flex items-baseline gap-2 border-line border-b py-1 last:border-0">
              <span className="min-w-0 flex-1 truncate" title={`made ${day(token.created)}`}>
                {token.name} <span className="text-muted-ink text-small">…{token.ending}</span>
              </span>
              <span className="text-muted-ink text-small">
                {token.scope === "read" ? "reads" : "reads and writes"} · until {day(token.ends)} ·{" "}
                {token.used ? `used ${day(token.used)}` : "not used yet"}
              </span>
              <Button look="link" className="text-small!" onClick={() => revokeToken.mutate(token.id)}>
                revoke
              </Button>
            </li>
          ))}
        </ul>
        {makeToken.data && (
          <div role="status" className="rounded-lg bg-good-tint px-2.5 py-1.5">
            <p className="text-small">Copy it now: it is not shown again.</p>
            <code className="block break-all text-small">{makeToken.data.text}</code>
          </div>
        )}
        {makeToken.error && <Notice problem={makeToken.error.message} remedy={remedyOf(makeToken.error)} />}
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            makeToken.mutate({ name, days: Number(days), scope }, { onSuccess: () => setName("") });
          }}
        >
          <Field
            label="Name of the token"
            placeholder="what it is for"
            required
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <WordChoice label="It may" value={scope} options={SCOPES} onChoose={setScope} />
          <WordChoice label="It lasts" value={days} options={ENDS} onChoose={setDays} />
          <Button type="submit" disabled={makeToken.isPending}>
            Make a token
          </Button>
        </form>
      </div>
    </Card>
  );
}
