import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { useSignOut } from "../api/session";
import { openLink } from "../api/sharing";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";
import { Wave } from "../ui/Wave";

/** The door of a link for looking: it leads to the study, or says why not. */
export function Look() {
  const { secret = "" } = useParams();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [trouble, setTrouble] = useState<Error | null>(null);
  const requested = useRef(false);
  useEffect(() => {
    if (requested.current) return;
    requested.current = true;
    openLink(secret).then(
      ({ study, table }) => {
        queries.clear();
        // The secret does not stay in the address.
        navigate(table ? `/tables/${table}/spread` : `/studies/${study}/plates`, { replace: true });
      },
      (error) => setTrouble(error),
    );
  }, [secret, navigate, queries]);
  if (!trouble) return <Wave moving className="m-auto mt-24 w-24 text-primary" />;
  return (
    <Notice problem={trouble.message} remedy={"remedy" in trouble ? String(trouble.remedy) : ""} className="m-8">
      <Link to="/" className="text-primary underline">
        To the start page
      </Link>
    </Notice>
  );
}

/** What a guest sees whose link is over. */
export function Ended() {
  const signOut = useSignOut();
  return (
    <Notice
      problem="The link by which you came is over."
      remedy="Ask for a new one, or sign in with an account."
      className="m-6"
    >
      <Button className="mt-2" onClick={() => signOut.mutate()}>
        To the start page
      </Button>
    </Notice>
  );
}
