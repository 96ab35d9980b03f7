import { useParams } from "react-router";
import { type Preview, type Study, useStudies } from "../../api/studies";
import { useIntake } from "../../state/intake";
import { Notice } from "../../ui/Notice";
import { BringIn } from "./BringIn";
import { PreviewBench } from "./PreviewBench";
import { TablesCard } from "./TablesCard";

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
    <Empty study={study} onPreview={(found) => setPreview({ study: study.id, found })} />
  );
}

function Empty({ study, onPreview }: { study: Study; onPreview: (found: Preview) => void }) {
  return (
    <div className="flex h-full min-h-0 flex-col px-4.5 pb-3.5">
      <div className="flex min-h-[56px] items-center">
        <h1 className="text-head">
          Bring a table into <span className="text-accent">{study.title}</span>
        </h1>
      </div>
      <div className="stage-grid">
        <BringIn study={study} onPreview={onPreview} />
        <TablesCard study={study} />
      </div>
    </div>
  );
}
