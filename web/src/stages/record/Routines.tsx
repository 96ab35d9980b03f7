import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Ran, type Routine, routineOf } from "../../api/records";
import { type Study, useBringIn, useTable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { FileButton } from "../../ui/FileButton";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { Pick } from "../../ui/Pick";
import { counted } from "../../words/numbers";
import { Looking } from "../intake/Looking";
import { fileName } from "../plates/files";
import { FitBench } from "./FitBench";
import { RanCard } from "./RanCard";

type Chosen = { routine: Routine; from: string };

/** What was done with one file, done again with the next. */
export function Routines({ study }: { study: Study }) {
  const [table, setTable] = useState(study.tables[0]?.id ?? "");
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [trouble, setTrouble] = useState("");
  const [ran, setRan] = useState<Ran | null>(null);
  const file = useBringIn(study.id);
  const { data: now } = useTable(table || undefined);
  const { data: own } = useQuery(routineOf(table, now?.revision));
  const begin = (next: Chosen | null) => {
    setChosen(next);
    setTrouble("");
    setRan(null);
    file.reset();
  };
  const readRoutine = async (given: File) => {
    try {
      begin({ routine: JSON.parse(await given.text()), from: given.name });
    } catch {
      setTrouble(`${given.name} is no JSON text, so no routine.`);
    }
  };
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[318px_minmax(0,1fr)] items-start gap-3.5">
      <div className="flex flex-col gap-3.5">
        {study.tables.length > 0 && (
          <Card title="What was done here">
            <div className="flex flex-col gap-2.5 px-3.5 py-3">
              <Pick
                label="With the table"
                value={table}
                options={study.tables.map(({ id, name }) => ({ value: id, label: name }))}
                onChoose={setTable}
              />
              {own && <Held routine={own} />}
              <span className="flex gap-2">
                <Button
                  look="primary"
                  disabled={!own}
                  onClick={() =>
                    own &&
                    handOver(
                      new Blob([JSON.stringify(own, null, 1)], { type: "application/json" }),
                      `${fileName(own.name)}-routine.json`,
                    )
                  }
                >
                  Save it as .json
                </Button>
                <Button disabled={!own} onClick={() => own && begin({ routine: own, from: own.name })}>
                  Run it on a file
                </Button>
              </span>
            </div>
          </Card>
        )}
        <Card title="A routine from elsewhere">
          <div className="px-3.5 py-3">
            <FileButton
              words="Choose its .json"
              label="Choose a routine from this machine"
              accept=".json,application/json"
              onChoose={readRoutine}
            />
            {trouble && <Notice problem={trouble} className="mt-2.5" />}
          </div>
        </Card>
      </div>
      {ran ? (
        <RanCard ran={ran} onMore={() => begin(chosen)} />
      ) : (
        <Card
          title={chosen ? `${chosen.routine.name ?? chosen.from}, on another file` : "Run again"}
          className="max-h-full min-h-[300px]"
        >
          {!chosen && (
            <p className="m-auto max-w-[30rem] p-8 text-center font-serif text-lead text-muted-ink">
              Decisions, variables made of others, tables made of this one, and plates with their readings: a routine
              holds them all. Run it on the next file, and the same is done with that. What is to be resolved is listed
              first.
            </p>
          )}
          {chosen && !file.data && (
            <div className="m-auto flex flex-col items-center gap-2.5 p-8">
              <p className="font-serif text-lead">On which file?</p>
              <FileButton
                words="Choose a file"
                label="Choose the file to run it on"
                look="primary"
                disabled={file.isPending}
                onChoose={(given) => file.mutate(given)}
              />
              {file.isPending && <Looking job={file.job} />}
              {file.error && <Notice problem={file.error.message} />}
            </div>
          )}
          {chosen && file.data && (
            <FitBench
              key={file.data.upload_id}
              study={study}
              routine={chosen.routine}
              upload={file.data.upload_id}
              onRan={setRan}
            />
          )}
        </Card>
      )}
    </div>
  );
}

/** What a routine holds, in words. */
function Held({ routine: { tables, plates } }: { routine: Routine }) {
  const steps = tables.reduce((sum, table) => sum + (table.steps?.length ?? 0), 0);
  const made = tables.length - 1;
  return (
    <p className="text-muted-ink">
      {counted(steps, "decision")}
      {made > 0 && `, ${counted(made, "table")} made of it`}, {counted(plates?.length ?? 0, "plate")}.
    </p>
  );
}
