import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { furnishingsOf, platesOf, usePlates } from "../../api/plates";
import { readPackage } from "../../api/records";
import { type Study, useBringIn } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { FileButton } from "../../ui/FileButton";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { titled } from "../../words/kinds";
import { counted } from "../../words/numbers";
import { Looking } from "../intake/Looking";
import { OpenPackage } from "../intake/OpenPackage";
import { fileName, svgOf } from "../plates/files";
import { Progress } from "../plates/Progress";
import { leavingOf } from "../plates/setFiles";

const HOLDS = [
  ["data/", "every table as it stands, as CSV; its fields with kind, unit, levels and missing codes (Table Schema)"],
  ["files/", "the files as they came, byte for byte"],
  ["ledger.json", "every decision: what, why, who, when; those undone too"],
  ["routines/", "what was done with each table, to be run on another file"],
  ["plates/", "each plate as SVG, with its caption"],
  ["methods.md", "the methods paragraph with its references"],
  ["study.json", "what else it takes to open the study again as it was"],
  ["SHA256SUMS", "the digest of every file in it, compared as it opens"],
] as const;

/** The whole study as one file, and such a file opened. */
export function Package({ study }: { study: Study }) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-start gap-3.5">
      <Whole study={study} />
      <Opening study={study} />
    </div>
  );
}

function Whole({ study }: { study: Study }) {
  const { data: plates } = usePlates(study.id);
  const queries = useQueryClient();
  // The plate being drawn, counted from 0, of how many.
  const [going, setGoing] = useState<{ at: number; of: number } | null>(null);
  const [said, setSaid] = useState("");
  const [trouble, setTrouble] = useState("");
  const stopped = useRef(false);
  const save = async () => {
    stopped.current = false;
    setSaid("");
    setTrouble("");
    setGoing({ at: 0, of: 0 });
    try {
      const [plates, furnishings] = await Promise.all([
        queries.fetchQuery(platesOf(study.id)),
        queries.fetchQuery(furnishingsOf()),
      ]);
      const pictures: Record<string, string> = {};
      const missed: string[] = [];
      for (const [at, plate] of plates.entries()) {
        if (stopped.current) return;
        setGoing({ at, of: plates.length });
        try {
          pictures[plate.id] = await svgOf(await leavingOf(plate, furnishings), "embedded");
        } catch {
          // A plate whose data can no longer be had goes with its words alone.
          missed.push(plate.name);
        }
      }
      const packed = await readPackage(study.id, pictures);
      if (stopped.current) return;
      handOver(packed, `${fileName(study.title)}.zip`);
      setSaid(missed.length > 0 ? `Saved; without a picture of ${missed.join(", ")}.` : "Saved.");
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    } finally {
      setGoing(null);
    }
  };
  return (
    <Card
      title="All of it, as one zip"
      aside={
        <span className="text-muted-ink text-small">
          {counted(study.tables.length, "table")}
          {plates && `, ${counted(plates.length, "plate")}`}
        </span>
      }
      footer={<span>An open standard: Data Package. Other programs read its tables.</span>}
    >
      <dl className="grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1.5 px-3.5 py-3">
        {HOLDS.map(([name, words]) => (
          <div key={name} className="contents">
            <dt>
              <code className="text-small">{name}</code>
            </dt>
            <dd className="text-muted-ink">{words}</dd>
          </div>
        ))}
      </dl>
      <div className="flex min-h-12 items-center gap-3 border-line border-t px-3.5 py-2.5">
        {going === null ? (
          <Button look="primary" onClick={save}>
            Save the package
          </Button>
        ) : (
          <div className="w-full">
            <Progress
              share={going.of > 0 ? going.at / going.of : 0.5}
              words={going.of > 0 ? `${going.at + 1} of ${going.of}` : "packing"}
              onStop={() => {
                stopped.current = true;
              }}
            />
          </div>
        )}
        <span role="status" className="text-muted-ink text-small">
          {said}
        </span>
      </div>
      {trouble && <Notice problem={titled(trouble)} className="mx-3.5 mb-3" />}
    </Card>
  );
}

function Opening({ study }: { study: Study }) {
  const file = useBringIn(study.id);
  const result = file.data;
  return (
    <Card title="Open a package">
      <div className="flex flex-col gap-3 px-3.5 py-3">
        <p className="text-muted-ink">
          One that was saved here opens as the study that it was: the same data, bit for bit, and the same Ledger, entry
          for entry. One from elsewhere opens as tables of {study.title}.
        </p>
        <FileButton
          words="Choose a .zip"
          label="Choose a package from this machine"
          accept=".zip,application/zip"
          className="self-start"
          disabled={file.isPending}
          onChoose={(given) => file.mutate(given)}
        />
        {file.isPending && <Looking job={file.job} />}
        {file.error && <Notice problem={titled(file.error.message)} />}
        {result && !result.package && (
          <Notice problem={`${result.file_name} is no Data Package.`} remedy="Bring it in as a table under Intake." />
        )}
        {result?.package && <OpenPackage key={result.upload_id} found={result} />}
      </div>
    </Card>
  );
}
