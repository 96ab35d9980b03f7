import { Button } from "../../ui/Button";
import type { Beside } from "./keeping";
import { useKeep } from "./useKeep";

/** The picture beside this word, as a plate. */
export function KeepPlate({ beside }: { beside?: Beside }) {
  const keep = useKeep();
  return (
    <Button look="word" className="text-small!" title={beside ? undefined : "P"} onClick={() => keep(beside)}>
      keep as plate
    </Button>
  );
}
