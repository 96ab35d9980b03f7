import { useEffect } from "react";
import { Link, useLocation } from "react-router";
import { useKept } from "../state/kept";
import { Button } from "../ui/Button";

const STAYS = 12_000;

/** What was kept as a plate, or why nothing was; it goes by itself. */
export function KeptNotice() {
  const { plate, trouble, close } = useKept();
  const { pathname } = useLocation();
  useEffect(() => {
    if (!plate && !trouble) return;
    const going = setTimeout(close, STAYS);
    return () => clearTimeout(going);
  }, [plate, trouble, close]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another screen has other things to say
  useEffect(close, [pathname, close]);
  return (
    <div className="pointer-events-none fixed right-5 bottom-5 z-40">
      {(plate || trouble) && (
        <div
          role="status"
          className="rising pointer-events-auto flex max-w-96 items-baseline gap-3 rounded-card border border-line bg-raised px-3.5 py-2.5 shadow-float"
        >
          {plate && (
            <p>
              Kept as plate:{" "}
              <Link
                to={`/plates/${plate.id}`}
                className="text-primary underline decoration-primary/40 underline-offset-3"
              >
                {plate.name}
              </Link>
            </p>
          )}
          {trouble && <p>{trouble}</p>}
          <Button look="link" className="text-small!" onClick={close}>
            close
          </Button>
        </div>
      )}
    </div>
  );
}
