import { type FormEvent, useState } from "react";
import { type Overview, type Person, useOperating, useOverview } from "../../api/operating";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { Notice } from "../../ui/Notice";
import { SCROLLS } from "../../ui/scrolls";
import { Tick } from "../../ui/Tick";
import { keysOf } from "../../values";
import { counted, readNumber, sizeWords, whole } from "../../words/numbers";
import { day, moment, remedyOf } from "../account/words";

/** For whoever runs the server: who is here, how much each may keep, invitations, letters, what happened. */
export function PeopleStage() {
  const { data: overview, error } = useOverview();
  if (error) return <Notice problem={error.message} remedy={remedyOf(error)} className="m-4.5" />;
  if (!overview) return null;
  return (
    <div className="px-4.5 pb-3.5">
      <div className="flex min-h-[56px] items-center">
        <h1 className="text-head">People of this server</h1>
      </div>
      <div className="flex flex-col gap-3.5">
        <People overview={overview} />
        <div className="grid grid-cols-[repeat(auto-fit,minmax(min(100%,24rem),1fr))] items-start gap-3.5">
          <Invitations overview={overview} />
          <Letters overview={overview} />
          <Events overview={overview} />
        </div>
      </div>
    </div>
  );
}

const CELL = "whitespace-nowrap border-line border-t px-2 py-1.5 first:pl-3.5 last:pr-3.5";

function People({ overview }: { overview: Overview }) {
  return (
    <Card title={counted(overview.people.length, "person", "people")} help="people">
      <div className="overflow-x-auto" {...SCROLLS}>
        <table className="figures w-full">
          <thead className="text-left text-muted-ink text-small">
            <tr>
              {["name", "mail", "since", "last seen", "studies", "tables", "files", "may keep", ""].map((name) => (
                <th key={name} className={`${CELL} border-t-0 font-normal`}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {overview.people.map((person) => (
              <tr key={person.id} className={person.active ? "" : "text-muted-ink"}>
                <th scope="row" className={`${CELL} text-left font-semibold`}>
                  {person.name}
                  {person.operator && <span className="font-normal text-muted-ink text-small"> runs the server</span>}
                </th>
                <td className={CELL}>{person.address}</td>
                <td className={CELL}>{day(person.joined)}</td>
                <td className={CELL}>{person.last_seen ? moment(person.last_seen) : "never"}</td>
                <td className={CELL}>{whole(person.n_studies)}</td>
                <td className={CELL}>{whole(person.n_tables)}</td>
                <td className={CELL}>{sizeWords(person.bytes)}</td>
                <td className={CELL}>{quotaWords(person, overview)}</td>
                <td className={CELL}>
                  <Limits person={person} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  );
}

/** How much somebody may keep: what is said of them, else what holds for everybody. */
function quotaWords(person: Person, all: Overview): string {
  const of = (own: number | null, usual: number) => own ?? (usual || null);
  const [mb, tables, jobs] = [
    of(person.quota_mb, all.quota_mb),
    of(person.quota_tables, all.quota_tables),
    of(person.quota_jobs, all.quota_jobs),
  ];
  const said = [
    mb === null ? "" : `${whole(mb)} MB`,
    tables === null ? "" : counted(tables, "table"),
    jobs === null ? "" : `${counted(jobs, "job")} at once`,
  ].filter(Boolean);
  return said.length > 0 ? said.join(", ") : "any number";
}

const QUOTAS = { quota_mb: "Files (MB)", quota_tables: "Tables", quota_jobs: "Jobs at once" };
const QUOTA_NAMES = keysOf(QUOTAS);

function Limits({ person }: { person: Person }) {
  const { change } = useOperating();
  const [open, setOpen] = useState(false);
  const [active, setActive] = useState(person.active);
  const [factor, setFactor] = useState(true);
  const [typed, setTyped] = useState(() =>
    Object.fromEntries(QUOTA_NAMES.map((name) => [name, person[name] === null ? "" : String(person[name])])),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const read = (name: keyof typeof QUOTAS) => readNumber(typed[name] ?? "");
    change.mutate(
      {
        id: person.id,
        active,
        second_factor: factor,
        quota_mb: read("quota_mb"),
        quota_tables: read("quota_tables"),
        quota_jobs: read("quota_jobs"),
      },
      { onSuccess: () => setOpen(false) },
    );
  };
  return (
    <Floating
      label={`What ${person.name} may`}
      align="end"
      open={open}
      onOpenChange={setOpen}
      className="w-72 p-3.5"
      trigger={<Button look="link">change</Button>}
    >
      <form onSubmit={submit} className="flex flex-col gap-2.5">
        {QUOTA_NAMES.map((name) => (
          <Field
            key={name}
            label={QUOTAS[name]}
            inputMode="numeric"
            placeholder="as everybody"
            value={typed[name]}
            onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
          />
        ))}
        <Tick checked={active} onChange={setActive} label="May sign in" />
        {person.second_factor && <Tick checked={factor} onChange={setFactor} label="Second factor" />}
        {change.error && <Notice problem={change.error.message} remedy={remedyOf(change.error)} />}
        <Button type="submit" look="primary" className="self-start" disabled={change.isPending}>
          Save
        </Button>
      </form>
    </Floating>
  );
}

const MAY_JOIN = {
  open: "Anybody who reaches this server may make an account.",
  invited: "An account here takes an invitation.",
  institution: "An account here takes an invitation, or the institution.",
};

function Invitations({ overview }: { overview: Overview }) {
  const { invite, revoke } = useOperating();
  const [name, setName] = useState("");
  return (
    <Card title="Invitations" help="people" footer={<span>{MAY_JOIN[overview.sign_up]}</span>}>
      <div className="flex flex-col gap-3 p-3.5">
        <ul aria-label="Invitations">
          {overview.invitations.map((one) => (
            <li key={one.id} className="flex items-baseline gap-3 border-line border-b py-1 last:border-0">
              <span className="min-w-0 flex-1 truncate">{one.name}</span>
              <span className="text-muted-ink text-small">
                {one.used_by ? `used by ${one.used_by}` : `until ${day(one.expires)}`}
              </span>
              {!one.used_by && (
                <Button look="link" className="text-small!" onClick={() => revoke.mutate(one.id)}>
                  revoke
                </Button>
              )}
            </li>
          ))}
        </ul>
        {invite.data && (
          <div role="status" className="rounded-lg bg-good-tint px-2.5 py-1.5">
            <p className="text-small">Send this address; it is not shown again.</p>
            <code className="block break-all text-small">{`${location.origin}${invite.data.path}`}</code>
          </div>
        )}
        {invite.error && <Notice problem={invite.error.message} remedy={remedyOf(invite.error)} />}
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            invite.mutate({ name, days: 14 }, { onSuccess: () => setName("") });
          }}
        >
          <Field label="For whom" required value={name} onChange={(event) => setName(event.target.value)} />
          <Button type="submit" disabled={invite.isPending}>
            Invite
          </Button>
        </form>
      </div>
    </Card>
  );
}

function Letters({ overview }: { overview: Overview }) {
  const { handedOver } = useOperating();
  return (
    <Card
      title="Letters"
      help="people"
      footer={
        <span>
          {overview.mail ? "Mail is sent by a service." : "No mail service is named: hand these over yourself."}
        </span>
      }
    >
      <ul aria-label="Letters" className="max-h-96 overflow-y-auto px-3.5 py-2">
        {overview.letters.length === 0 && <li className="py-2 text-muted-ink">No letter waits.</li>}
        {overview.letters.map((letter) => (
          <li key={letter.id} className="border-line border-b py-1.5 last:border-0">
            <span className="flex items-baseline gap-3">
              <strong className="min-w-0 flex-1 truncate font-semibold">{letter.to}</strong>
              <span className="text-muted-ink text-small">{moment(letter.at)}</span>
              <Button look="link" className="text-small!" onClick={() => handedOver.mutate(letter.id)}>
                handed over
              </Button>
            </span>
            <p className="whitespace-pre-wrap break-all text-small">{letter.text}</p>
          </li>
        ))}
      </ul>
    </Card>
  );
}

function Events({ overview }: { overview: Overview }) {
  return (
    <Card title="What happened" help="people">
      <ul aria-label="Events" className="max-h-96 overflow-y-auto px-3.5 py-2">
        {overview.events.map((event, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: events have no name
          <li key={i} className="border-line border-b py-1 last:border-0">
            <strong className="font-semibold">{event.name || "somebody"}</strong> {event.what}
            {event.detail && <span className="text-muted-ink">: {event.detail}</span>}
            <span className="block text-muted-ink text-small">
              {event.address} · {moment(event.at)}
            </span>
          </li>
        ))}
      </ul>
    </Card>
  );
}
