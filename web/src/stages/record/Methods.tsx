import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { readMethods } from "../../api/plates";
import type { Study } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { SCROLLS } from "../../ui/scrolls";
import { fileName } from "../plates/files";
import { usePlatesChosen } from "./usePlatesChosen";

/** What was read, decided and computed for the plates chosen, in words for a paper. */
export function Methods({ study: { id: studyId, title } }: { study: Study }) {
  const { plates, none, chosen, card, standing } = usePlatesChosen(studyId);
  const [said, setSaid] = useState("");
  const { data, error } = useQuery({
    queryKey: ["methods", studyId, ...standing],
    queryFn: () => readMethods(studyId, chosen),
    enabled: plates.length > 0,
    placeholderData: keepPreviousData,
  });
  return (
    <div className="screen-grid">
      <Card
        title="In words"
        className="min-h-[340px] flex-1"
        aside={
          data && (
            <span className="flex items-center gap-2">
              <span role="status" className="text-muted-ink text-small">
                {said}
              </span>
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
        {none && (
          <p className="m-auto max-w-96 p-8 text-center font-serif text-lead text-muted-ink">
            There is no plate yet. Keep a picture with P: what it stands on is told here.
          </p>
        )}
        {data && (
          <div className="overflow-y-auto px-5 py-4 font-serif text-lead leading-relaxed" {...SCROLLS}>
            {data.paragraphs.map((paragraph) => (
              <p key={paragraph} className="mb-3 max-w-3xl">
                {paragraph}
              </p>
            ))}
            {data.citations.length > 0 && <h3 className="mt-4 mb-1.5">References</h3>}
            <ul>
              {data.citations.map((citation) => (
                <li key={citation} className="mb-1 max-w-3xl pl-5 -indent-5 text-body">
                  {citation}
                </li>
              ))}
            </ul>
          </div>
        )}
      </Card>
      {card}
    </div>
  );
}
