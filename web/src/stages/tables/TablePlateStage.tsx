import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { useParams } from "react-router";
import { changeTablePlate, shownOf, type TablePlate, useTablePlate, useTablePlateDeeds } from "../../api/tablePlates";
import { Notice } from "../../ui/Notice";
import { Wave } from "../../ui/Wave";
import { useEditing } from "../plates/editing";
import { TableEditor } from "./TableEditor";

/** One table of numbers: as it will leave, everything on it edited where it stands. */
export function TablePlateStage() {
  const { tablePlateId } = useParams();
  const { data: plate, error } = useTablePlate(tablePlateId);
  if (error) return <Notice problem={error.message} remedy="Choose another at the left." className="m-4.5" />;
  if (!plate) return null;
  return <Editing key={plate.id} plate={plate} />;
}

function Editing({ plate }: { plate: TablePlate }) {
  const deeds = useTablePlateDeeds(plate.study);
  const editing = useEditing(plate, { change: changeTablePlate, known: deeds.known, fetchAgain: deeds.fetchAgain });
  const settled = useDeferredValue(editing.document);
  const shown = useQuery({
    ...shownOf(plate, settled),
    // What is written stays until what is asked for is there.
    placeholderData: (before) => before,
  });
  const remedy = shown.error && "remedy" in shown.error ? String(shown.error.remedy) : "";
  if (!shown.data && !shown.error) return <Wave moving className="m-auto w-24 text-primary" />;
  return (
    <TableEditor
      {...{ plate, editing, deeds }}
      shown={shown.error ? undefined : shown.data}
      trouble={shown.error ? { problem: shown.error.message, remedy } : null}
    />
  );
}
