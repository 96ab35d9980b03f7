import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { type People as PeopleHere, usePeople, useSharing } from "../../api/sharing";
import type { Study } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { Pick } from "../../ui/Pick";

const MAY = { owner: "owns it", editor: "may edit", viewer: "may look" };
const DAYS = [
  { value: "7", label: "a week" },
  { value: "30", label: "30 days" },
  { value: "90", label: "90 days" },
  { value: "366", label: "a year" },
];
const DAY = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium" });
const day = (moment: string) => DAY.format(new Date(moment));

/** Who may see the study, and links that let others look. */
export function People({ study }: { study: Study }) {
  const { data: people, error } = usePeople(study.id);
  if (error) return <Notice problem={error.message} />;
  if (!people) return null;
  const owns = people.role === "owner";
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-start gap-3.5">
      <Members study={study} people={people} />
      {owns ? (
        <Links study={study} people={people} />
      ) : (
        <p className="px-2 py-3 font-serif text-lead text-muted-ink">
          You {MAY[people.role].replace("owns", "own")}. Whoever owns the study shares it further.
        </p>
      )}
    </div>
  );
}

type PartProps = { study: Study; people: PeopleHere };

const troubleOf = (error: Error | null) =>
  error && (
    <Notice problem={error.message} remedy={"remedy" in error ? String(error.remedy) : ""} className="mx-3.5 mb-3" />
  );

function Members({ study, people }: PartProps) {
  const { invite, dismiss } = useSharing(study.id);
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [role, setRole] = useState<"editor" | "viewer">("editor");
  const owns = people.role === "owner";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    invite.mutate({ name, role }, { onSuccess: () => setName("") });
  };
  return (
    <Card
      title="People"
      footer={<span>What each decides stands in the Ledger under their name, and shows to the others at once.</span>}
    >
      <ul aria-label="Members" className="divide-y divide-line">
        {people.members.map((member) => (
          <li key={member.name} className="flex min-h-9 items-center gap-3 px-3.5 py-1">
            <span className="min-w-0 flex-1 truncate">
              {member.name}
              {member.you && <span className="text-muted-ink"> (you)</span>}
            </span>
            {owns && member.role !== "owner" ? (
              <>
                <select
                  aria-label={`What ${member.name} may do`}
                  value={member.role}
                  onChange={(event) =>
                    invite.mutate({ name: member.name, role: event.target.value as "editor" | "viewer" })
                  }
                  className="min-h-6 rounded-md border border-line-strong/60 bg-surface px-1.5"
                >
                  <option value="editor">{MAY.editor}</option>
                  <option value="viewer">{MAY.viewer}</option>
                </select>
                <Button look="link" className="text-small!" onClick={() => dismiss.mutate(member.name)}>
                  end it
                </Button>
              </>
            ) : (
              <span className="text-muted-ink">{MAY[member.role]}</span>
            )}
            {member.you && member.role !== "owner" && (
              <Button
                look="link"
                className="text-small!"
                // Once it has ended there is no such study here any more, nor this card.
                onClick={() =>
                  dismiss.mutateAsync(member.name).then(
                    () => navigate("/", { replace: true }),
                    () => {},
                  )
                }
              >
                leave the study
              </Button>
            )}
          </li>
        ))}
      </ul>
      {owns && (
        <form onSubmit={submit} className="flex items-end gap-2.5 border-line border-t px-3.5 py-3">
          <Field
            label="Name they sign in with"
            required
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Pick
            label="They may"
            value={role}
            options={[
              { value: "editor", label: "edit" },
              { value: "viewer", label: "look" },
            ]}
            onChoose={setRole}
            className="w-24"
          />
          <Button type="submit" look="primary">
            Let them in
          </Button>
        </form>
      )}
      {troubleOf(invite.error ?? dismiss.error)}
    </Card>
  );
}

function Links({ study, people }: PartProps) {
  const { link, revoke } = useSharing(study.id);
  const [name, setName] = useState("");
  const [days, setDays] = useState("30");
  const [copied, setCopied] = useState(false);
  const made = link.data && people.links.some(({ id }) => id === link.data.id) ? link.data : null;
  const address = made && `${window.location.origin}${made.path}`;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setCopied(false);
    link.mutate({ name, days: Number(days) }, { onSuccess: () => setName("") });
  };
  return (
    <Card
      title="Links for looking"
      footer={<span>Whoever has a link sees the study without an account and changes nothing, until it ends.</span>}
    >
      {people.links.length === 0 && (
        <p className="px-3.5 py-3 text-muted-ink">No link leads here yet. Make one for a reviewer, or a co-author.</p>
      )}
      <ul aria-label="Links" className="divide-y divide-line">
        {people.links.map((link) => (
          <li key={link.id} className="flex min-h-9 items-center gap-3 px-3.5 py-1">
            <span className="min-w-0 flex-1">
              <span className="block truncate">{link.name}</span>
              <span className="block text-muted-ink text-small">
                {link.ended ? "ended" : "until"} {day(link.expires)},{" "}
                {link.opened ? `last followed ${day(link.opened)}` : "not followed yet"}
              </span>
            </span>
            <Button look="link" className="text-small!" onClick={() => revoke.mutate(link.id)}>
              revoke
            </Button>
          </li>
        ))}
      </ul>
      {address && (
        <div role="status" className="mx-3.5 mb-3 rounded-lg bg-good-tint px-2.5 py-2">
          <p className="flex items-center justify-between gap-2 text-small">
            Copy it now: it is not shown again.
            <Button
              className="text-small!"
              onClick={() => navigator.clipboard.writeText(address).then(() => setCopied(true))}
            >
              {copied ? "Copied" : "Copy"}
            </Button>
          </p>
          <code className="mt-1 block break-all text-small">{address}</code>
        </div>
      )}
      <form onSubmit={submit} className="flex items-end gap-2.5 border-line border-t px-3.5 py-3">
        <Field label="For whom" required value={name} onChange={(event) => setName(event.target.value)} />
        <Pick label="For" value={days} options={DAYS} onChoose={setDays} className="w-24" />
        <Button type="submit" look="primary">
          Make a link
        </Button>
      </form>
      {troubleOf(link.error ?? revoke.error)}
    </Card>
  );
}
