import { Link } from "react-router";
import { useTable } from "../../api/studies";
import type { Shown, TablePlate, TablePlateDocument, useTablePlateDeeds } from "../../api/tablePlates";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { FindingsCard } from "../plates/ChecksCard";
import { EditingHead } from "../plates/EditingHead";
import { type Editing, useStepKeys } from "../plates/editing";
import { WordsCard } from "../plates/WordsCard";
import { LaidTable } from "./LaidTable";
import { PartsCard } from "./PartsCard";
import { SourceCard } from "./SourceCard";
import { TakeAwayTable } from "./TakeAwayTable";

type TableEditorProps = {
  plate: TablePlate;
  editing: Editing<TablePlateDocument>;
  deeds: ReturnType<typeof useTablePlateDeeds>;
  shown: Shown | undefined;
  trouble: { problem: string; remedy: string } | null;
};

/** A table of numbers with what it is of, its rows and columns, its checks and its words. */
export function TableEditor({ plate, editing, deeds, shown, trouble }: TableEditorProps) {
  const { document, edit, undo, redo } = editing;
  const { data: table } = useTable(document.source.table);
  useStepKeys(editing);
  const caption = document.caption?.text ?? shown?.caption ?? "";
  return (
    <div className="flex h-full min-h-0 flex-col overflow-y-auto px-4.5 pb-3.5">
      <EditingHead what="table" kept={plate} {...{ editing, deeds }} />
      <div className="screen-grid">
        <Card
          help="tables"
          title="Table"
          className="min-h-[420px] flex-1"
          aside={<TakeAwayTable {...{ plate, document, shown }} name={editing.name} />}
          footer={
            <>
              <span className="flex items-center gap-1">
                <Button className="text-small!" disabled={!editing.canUndo} onClick={undo}>
                  Undo
                </Button>
                <Button className="text-small!" disabled={!editing.canRedo} onClick={redo}>
                  Redo
                </Button>
              </span>
              <span className="flex items-center gap-3">
                {document.address && (
                  <Link
                    to={document.address}
                    className="text-primary underline decoration-primary/40 underline-offset-3"
                  >
                    back to its stage
                  </Link>
                )}
                <Button
                  look="link"
                  onClick={() => deeds.freeze.mutate({ id: plate.id, on: !plate.frozen })}
                  className="text-small!"
                >
                  {plate.frozen ? "follow the data again" : "freeze the numbers"}
                </Button>
              </span>
            </>
          }
        >
          <div className="min-h-0 flex-1 overflow-auto px-6 py-4">
            {trouble && <Notice {...trouble} className="mb-3" />}
            {shown && (
              <LaidTable
                laid={shown.laid}
                caption={<p className="mb-2 max-w-prose font-serif">{caption}</p>}
                onName={(key, words) =>
                  edit((now) => {
                    const { [key]: _, ...others } = now.labels ?? {};
                    return { ...now, labels: words === null ? others : { ...others, [key]: words } };
                  })
                }
              />
            )}
          </div>
        </Card>
        <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
          {table && <SourceCard {...{ table, document, edit }} frozen={plate.frozen} />}
          {shown && <PartsCard {...{ shown, document, edit }} />}
          {shown && <FindingsCard findings={shown.findings} />}
          <WordsCard {...{ document, edit }} words={shown} />
        </div>
      </div>
    </div>
  );
}
