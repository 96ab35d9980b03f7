import type { ComponentType } from "react";
import { useParams, useSearchParams } from "react-router";
import { type Study, useStudies } from "../../api/studies";
import { Notice } from "../../ui/Notice";
import { WordChoice } from "../../ui/WordChoice";
import { choicesOf } from "../../values";
import { StudyWord } from "../StudyWord";
import { HANDED_ON, type HandedOn } from "./handedOn";
import { Methods } from "./Methods";
import { Package } from "./Package";
import { People } from "./People";
import { Routines } from "./Routines";
import { Script } from "./Script";

const PARTS: Record<HandedOn, ComponentType<{ study: Study }>> = {
  methods: Methods,
  script: Script,
  routine: Routines,
  package: Package,
  people: People,
};

const formOf = (wanted: string | null): HandedOn =>
  wanted !== null && wanted in PARTS ? (wanted as HandedOn) : "methods";

/** What was done, to be repeated, handed on and written up. */
export function RecordStage() {
  const { studyId } = useParams();
  const { data: studies } = useStudies();
  const [query, setQuery] = useSearchParams();
  const study = studies?.find(({ id }) => id === studyId);
  if (!studies) return null;
  if (!study) return <Notice problem="There is no such study here." className="m-4.5" />;
  const as = formOf(query.get("as"));
  const Part = PARTS[as];
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <h1 className="flex min-h-[56px] items-center text-head leading-tight">
        <span>
          Share <StudyWord study={study} to={`record?as=${as}`} /> as{" "}
          <WordChoice
            label="Form"
            value={as}
            options={choicesOf(HANDED_ON)}
            onChoose={(value) => setQuery({ as: value })}
          />
        </span>
      </h1>
      <Part key={study.id} study={study} />
    </div>
  );
}
