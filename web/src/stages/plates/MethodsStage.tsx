import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { readMethods, usePlates } from "../../api/plates";
import { useStudies } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { counted } from "../../words/numbers";
import { Tick } from "./fields";
import { fileName } from "./files";

/** What was read, decided and computed for the plates chosen, in words for a paper. */
export function MethodsStage() {
  const { studyId = "" } = useParams();
  const { data: plates = [] } = usePlates(studyId);
  const { data: studies } = useStudies();
  const [off, setOff] = useState<string[]>([]);
  const [said, setSaid] = useState("");
  const title = studies?.find(({ id }) => id === studyId)?.title ?? "";
  const chosen = plates.filter(({ id }) => !off.includes(id)).map(({ id }) => id);
  const { data, error } = useQuery({
    queryKey: [
      "methods",
      studyId,
      chosen.join(" "),
      plates.map(({ version, stale }) => `${version}${stale}`).join(" "),
    ],
    queryFn: () => readMethods(studyId, chosen),
    enabled: plates.length > 0,
    placeholderData: keepPreviousData,
  });
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <div className="flex min-h-[56px] items-center justify-between gap-x-6 py-2">
        <h1 className="text-head leading-tight">
          Methods of {title}, for {counted(chosen.length, "plate")}
        </h1>
        <span role="status" className="text-muted-ink text-small">
          {said}
        </span>
      </div>
      <div className="screen-grid">
        <Card
          title="In words"
          className="min-h-[340px] flex-1"
          aside={
            data && (
              <span className="flex gap-2">
                <Button
                  onClick={() =>
                    navigator.clipboard.writeText(data.markdown).then(() => setSaid("It is on the clipboard."))
                  }
                >
                  Copy
                </Button>
                <Button
                  look="primary"
                  onClick={() =>
                    handOver(new Blob([data.markdown], { type: "text/markdown" }), `${fileName(title)}-methods.md`)
                  }
                >
                  Save as .md
                </Button>
              </span>
            )
          }
        >
          {error && <Notice problem={error.message} className="m-3.5" />}
          {plates.length === 0 && (
            <p className="m-auto max-w-96 p-8 text-center font-serif text-lead text-muted-ink">
              There is no plate yet. Keep a picture with P: what it stands on is told here.
            </p>
          )}
          {data && (
            <div className="overflow-y-auto px-5 py-4 font-serif text-lead leading-relaxed">
              {data.paragraphs.map((each) => (
                <p key={each} className="mb-3 max-w-3xl">
                  {each}
                </p>
              ))}
              {data.citations.length > 0 && <h3 className="mt-4 mb-1.5">References</h3>}
              <ul>
                {data.citations.map((each) => (
                  <li key={each} className="mb-1 max-w-3xl pl-5 -indent-5 text-body">
                    {each}
                  </li>
                ))}
              </ul>
            </div>
          )}
        </Card>
        <Card title="Plates covered" className="shrink-0 self-start">
          <div className="max-h-96 overflow-y-auto px-3.5 py-2">
            {plates.map(({ id, name }) => (
              <Tick
                key={id}
                label={name}
                checked={!off.includes(id)}
                onChange={(on) => setOff((now) => (on ? now.filter((each) => each !== id) : [...now, id]))}
              />
            ))}
          </div>
        </Card>
      </div>
    </div>
  );
}
