import { useParams, useSearchParams } from "react-router";
import { type Preview, type Study, useStudies } from "../../api/studies";
import { useIntake } from "../../state/intake";
import { Notice } from "../../ui/Notice";
import { WordChoice } from "../../ui/WordChoice";
import { StudyWord } from "../StudyWord";
import { BringIn } from "./BringIn";
import { PreviewBench } from "./PreviewBench";
import { Simulate } from "./Simulate";
import { TablesCard } from "./TablesCard";
import { TypedTable } from "./TypedTable";

/** What came in? A file or pasted text is looked at before anything is stored. */
export function IntakeStage() {
  const { studyId } = useParams();
  const { data: studies } = useStudies();
  const study = studies?.find(({ id }) => id === studyId);
  const { preview, setPreview } = useIntake();
  if (!studies) return null;
  if (!study) return <Notice problem="There is no such study here." className="m-4.5" />;
  return preview?.study === study.id ? (
    <PreviewBench key={preview.found.upload_id} study={study} first={preview.found} onLeave={() => setPreview(null)} />
  ) : (
    <Bringing study={study} onPreview={(result) => setPreview({ study: study.id, found: result })} />
  );
}

const WAYS = [
  { value: "file", label: "from a file, or pasted" },
  { value: "typing", label: "by typing it" },
  { value: "simulating", label: "by simulating it" },
];

function Bringing({ study, onPreview }: { study: Study; onPreview: (result: Preview) => void }) {
  const [query, setQuery] = useSearchParams();
  const way = WAYS.find(({ value }) => value === query.get("way")) ?? {
    value: "file",
    label: "from a file, or pasted",
  };
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] items-center">
        <h1 className="text-head">
          Bring a table into <StudyWord study={study} to="intake" />{" "}
          <WordChoice
            label="How it comes"
            shown={way.label}
            value={way.value}
            options={WAYS}
            onChoose={(value) =>
              setQuery((now) => {
                const next = new URLSearchParams(now);
                next.set("way", value);
                return next;
              })
            }
          />
        </h1>
      </div>
      {way.value === "simulating" ? (
        <div className="grid min-h-0 flex-1 grid-cols-[318px_minmax(0,1fr)] gap-3.5">
          <Simulate study={study} />
        </div>
      ) : (
        <div className="stage-grid">
          {way.value === "typing" ? (
            <TypedTable study={study} onPreview={onPreview} />
          ) : (
            <BringIn study={study} onPreview={onPreview} />
          )}
          <TablesCard study={study} onPreview={onPreview} />
        </div>
      )}
    </div>
  );
}
