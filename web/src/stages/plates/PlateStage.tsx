import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import {
  changePlate,
  type Furnishings,
  type Plate,
  scenesOf,
  useFurnishings,
  usePlate,
  usePlateDeeds,
} from "../../api/plates";
import { Notice } from "../../ui/Notice";
import { Wave } from "../../ui/Wave";
import { Editor } from "./Editor";
import { useEditing } from "./editing";

/** One plate: the sheet as it will leave, everything on it edited where it stands. */
export function PlateStage() {
  const { plateId } = useParams();
  const { data: plate, error } = usePlate(plateId);
  const { data: furnishings } = useFurnishings();
  if (error) return <Notice problem={error.message} remedy="Choose another plate at the left." className="m-4.5" />;
  if (!plate || !furnishings) return null;
  return <Editing key={plate.id} plate={plate} furnishings={furnishings} />;
}

/** What tells that the data of a plate are others than before. */
export const standing = (plate: Plate) => JSON.stringify([plate.revisions, plate.stale, plate.moved]);

function Editing({ plate, furnishings }: { plate: Plate; furnishings: Furnishings }) {
  const { known, fetchAgain } = usePlateDeeds(plate.study);
  const editing = useEditing(plate, { change: changePlate, known, fetchAgain });
  const { data, error, isPending } = useQuery({
    ...scenesOf(plate, editing.document, standing(plate)),
    // What is drawn stays until what is asked for is there.
    placeholderData: (before) => (before?.scenes.length === editing.document.panels.length ? before : undefined),
  });
  if (error && !data)
    return (
      <Notice
        problem={error.message}
        remedy={
          "remedy" in error
            ? String(error.remedy)
            : "The plate stays; fix what it stands on, or remove it in the gallery."
        }
        className="m-4.5"
      />
    );
  if (isPending || !data) return <Wave moving className="m-auto w-24 text-primary" />;
  return <Editor {...{ plate, furnishings, editing }} scenes={data.scenes} />;
}
