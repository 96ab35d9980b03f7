import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { readScript, readScriptZip } from "../../api/records";
import type { Study } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { Wave } from "../../ui/Wave";
import { counted } from "../../words/numbers";
import { fileName } from "../plates/files";
import { usePlatesChosen } from "./usePlatesChosen";

/** A script in Python that gives the same numbers and plates from the file as it came. */
export function Script({ study: { id, title } }: { study: Study }) {
  const { plates, none, chosen, card, standing } = usePlatesChosen(id);
  const [said, setSaid] = useState("");
  const { data, error, isFetching } = useQuery({
    queryKey: ["script", id, ...standing],
    queryFn: () => readScript(id, chosen),
    enabled: plates.length > 0,
    placeholderData: keepPreviousData,
  });
  const zip = useMutation({
    mutationFn: () => readScriptZip(id, chosen),
    onSuccess: (packed) => handOver(packed, `${fileName(title)}-script.zip`),
  });
  const trouble = error ?? zip.error;
  return (
    <div className="screen-grid">
      <Card
        title="study.py"
        className="min-h-[340px] flex-1"
        aside={
          data && (
            <span className="flex items-center gap-2">
              <span role="status" className="text-muted-ink text-small">
                {said}
              </span>
              {(isFetching || zip.isPending) && <Wave moving className="w-14 text-primary" />}
              <Button
                onClick={() => navigator.clipboard.writeText(data.text).then(() => setSaid("It is on the clipboard."))}
              >
                Copy
              </Button>
              <Button look="primary" disabled={zip.isPending} onClick={() => zip.mutate()}>
                Save with its files as .zip
              </Button>
            </span>
          )
        }
        footer={
          data && (
            <span>
              {counted(data.text.split("\n").length, "line")}; with it go {data.files.length > 0 && "its "}
              {counted(data.files.length, "file")}, the computing core as a wheel, and what to install.
            </span>
          )
        }
      >
        {trouble && <Notice problem={trouble.message} className="m-3.5" />}
        {none && (
          <p className="m-auto max-w-96 p-8 text-center font-serif text-lead text-muted-ink">
            There is no plate yet. Keep a picture with P: the script recomputes its numbers and draws it again.
          </p>
        )}
        {data && (
          <>
            {data.notes.length > 0 && (
              <ul aria-label="What it cannot carry" className="mx-3.5 mt-3 rounded-lg bg-caution-tint px-3 py-2">
                {data.notes.map((note) => (
                  <li key={note}>{note}</li>
                ))}
              </ul>
            )}
            <pre className="min-h-0 flex-1 overflow-auto px-4 py-3 text-[12.5px] leading-[1.45]">{data.text}</pre>
          </>
        )}
      </Card>
      {card}
    </div>
  );
}
