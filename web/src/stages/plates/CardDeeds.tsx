import { useState } from "react";
import { Button } from "../../ui/Button";

type Kept = { id: string; name: string };
type CardDeedsProps = {
  kept: Kept;
  /** All of its kind, in their order. */
  all: readonly Kept[];
  deeds: {
    duplicate: { mutate: (id: string) => void };
    place: { mutate: (asked: { id: string; before: string | null }) => void };
    takeAway: { mutate: (id: string) => void };
  };
};

/** What can be done with something in the gallery: a second one, another place, taking it away. */
export function CardDeeds({ kept, all, deeds }: CardDeedsProps) {
  const [asking, setAsking] = useState(false);
  const at = all.findIndex(({ id }) => id === kept.id);
  const place = (before: Kept | undefined) => deeds.place.mutate({ id: kept.id, before: before?.id ?? null });
  return (
    <div className="mt-auto flex flex-wrap items-center gap-x-2.5">
      <Button look="link" className="text-small!" onClick={() => deeds.duplicate.mutate(kept.id)}>
        duplicate
      </Button>
      {at > 0 && (
        <Button
          look="link"
          className="text-small!"
          aria-label={`Move back: ${kept.name}`}
          onClick={() => place(all[at - 1])}
        >
          move back
        </Button>
      )}
      {at < all.length - 1 && (
        <Button
          look="link"
          className="text-small!"
          aria-label={`Move forward: ${kept.name}`}
          onClick={() => place(all[at + 2])}
        >
          move forward
        </Button>
      )}
      {asking ? (
        <Button
          className="border-danger/50! text-danger! text-small!"
          onClick={() => deeds.takeAway.mutate(kept.id)}
          onBlur={() => setAsking(false)}
          autoFocus
        >
          Delete for good
        </Button>
      ) : (
        <Button look="link" className="text-small!" onClick={() => setAsking(true)}>
          delete
        </Button>
      )}
    </div>
  );
}
