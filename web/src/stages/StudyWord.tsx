import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { usePlates } from "../api/plates";
import { useSession } from "../api/session";
import { type Study, useStudies, useStudyDeeds } from "../api/studies";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Notice } from "../ui/Notice";
import { WordChoice } from "../ui/WordChoice";
import { counted } from "../words/numbers";

type StudyWordProps = {
  study: Study;
  /** What stands behind the study in the address: where one goes in another study. */
  to: string;
};

/** The word of a sentence that names its study: others are gone to, one is begun, this one renamed or removed. */
export function StudyWord({ study, to }: StudyWordProps) {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const { data: studies = [study] } = useStudies();
  const { data: session } = useSession();
  return (
    <WordChoice
      label="Study"
      shown={study.title}
      value={study.id}
      open={open}
      onOpenChange={setOpen}
      options={studies.map(({ id, title, tables, role }) => ({
        value: id,
        label: title,
        note: `${counted(tables.length, "table")}${role === "viewer" ? ", to look at" : role === "editor" ? ", shared" : ""}`,
      }))}
      onChoose={(id) => navigate(`/studies/${id}/${to}`)}
    >
      {session && !session.guest && (
        <Deeds study={study} own={study.role === "owner" && !session.is_demo} onDone={() => setOpen(false)} />
      )}
    </WordChoice>
  );
}

type DeedsProps = { study: Study; own: boolean; onDone: () => void };
const DEEDS = { begin: "Begin a study", rename: "Call it something else", remove: "Remove it" } as const;
type Deed = keyof typeof DEEDS;

function Deeds({ study, own, onDone }: DeedsProps) {
  const [deed, setDeed] = useState<Deed | null>(null);
  const offered: Deed[] = own ? ["begin", "rename", "remove"] : ["begin"];
  return (
    <div className="flex flex-col gap-2.5 border-line border-t px-3 py-2">
      <span className="flex flex-wrap gap-x-4">
        {offered.map((study_) => (
          <Button
            key={study_}
            look="link"
            aria-expanded={deed === study_}
            className="p-0! text-small! aria-expanded:text-accent"
            onClick={() => setDeed(deed === study_ ? null : study_)}
          >
            {DEEDS[study_]}
          </Button>
        ))}
      </span>
      {deed === "begin" && <BeginStudy onDone={onDone} />}
      {deed === "rename" && <Rename study={study} onDone={onDone} />}
      {deed === "remove" && <Remove study={study} onDone={onDone} />}
    </div>
  );
}

/** A title, and the study is begun: the next thing is its first table. Only what was clicked for takes the focus. */
export function BeginStudy({ onDone }: { onDone?: () => void }) {
  const { begin } = useStudyDeeds();
  const navigate = useNavigate();
  const start = (title: string) =>
    begin.mutate(title, {
      onSuccess: ({ id }) => {
        onDone?.();
        navigate(`/studies/${id}/intake`);
      },
    });
  return <TitleForm title="" deed="Begin it" focused={Boolean(onDone)} onTitle={start} error={begin.error} />;
}

function Rename({ study, onDone }: Omit<DeedsProps, "own">) {
  const { rename } = useStudyDeeds();
  const call = (title: string) => rename.mutate({ id: study.id, title }, { onSuccess: onDone });
  return <TitleForm title={study.title} deed="Rename it" focused onTitle={call} error={rename.error} />;
}

type TitleFormProps = {
  title: string;
  deed: string;
  focused: boolean;
  onTitle: (title: string) => void;
  error: Error | null;
};

function TitleForm({ title, deed, focused, onTitle, error }: TitleFormProps) {
  const [typed, setTyped] = useState(title);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (typed.trim()) onTitle(typed.trim());
  };
  return (
    <form onSubmit={submit} className="flex flex-col gap-2">
      <Field
        label="Title of the study"
        required
        maxLength={200}
        autoFocus={focused}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <Button type="submit" look="primary" className="self-start">
        {deed}
      </Button>
      {error && <Notice problem={error.message} />}
    </form>
  );
}

function Remove({ study, onDone }: Omit<DeedsProps, "own">) {
  const { remove } = useStudyDeeds();
  const { data: plates = [] } = usePlates(study.id);
  const navigate = useNavigate();
  return (
    <div className="flex flex-col gap-2">
      <p>
        It goes for everybody who may see it, with its {counted(study.tables.length, "table")}
        {plates.length > 0 && ` and ${counted(plates.length, "plate")}`}, their files and Ledgers. There is no way back:
        save it as a package first if you may want it again.
      </p>
      <Button
        className="self-start border-danger! text-danger!"
        disabled={remove.isPending}
        onClick={() =>
          remove.mutate(study.id, {
            onSuccess: () => {
              onDone();
              navigate("/", { replace: true });
            },
          })
        }
      >
        Remove {study.title} for good
      </Button>
      {remove.error && (
        <Notice problem={remove.error.message} remedy={"remedy" in remove.error ? String(remove.error.remedy) : ""} />
      )}
    </div>
  );
}
