import { Link } from "react-router";
import { useKept } from "../state/kept";
import { Button } from "../ui/Button";

/** What was kept as a plate, or why nothing was; it stays until it is read, or there is something newer to say. */
export function KeptNotice() {
  const { plate, trouble, close } = useKept();
  return (
    <div className="pointer-events-none fixed right-5 bottom-5 z-40">
      {(plate || trouble) && (
        <div
          role="status"
          className="rising pointer-events-auto flex max-w-96 items-baseline gap-3 rounded-card border border-line bg-raised px-3.5 py-2.5 shadow-float"
        >
          {plate && (
            <p>
              Kept as {plate.what}:{" "}
              <Link
                to={plate.to}
                onClick={close}
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
