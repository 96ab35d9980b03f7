import { useMutation } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useSearchParams } from "react-router";
import { leaveForInstitution } from "../api/session";
import { remedyOf } from "../stages/account/words";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";

type ThroughInstitutionProps = {
  purpose: "sign-in" | "confirm" | "link";
  look?: "plain" | "primary";
  /** The secret of the invitation by which somebody came. */
  invitation?: string;
  children: ReactNode;
};

/** Leaves for the institution and comes back to this page. */
export function ThroughInstitution({ purpose, look = "plain", invitation = "", children }: ThroughInstitutionProps) {
  const leave = useMutation({ mutationFn: leaveForInstitution });
  const here = invitation ? "/" : window.location.pathname + window.location.search;
  return (
    <>
      <Button
        look={look}
        className="self-start"
        disabled={leave.isPending || leave.isSuccess}
        onClick={() => leave.mutate({ purpose, back: here, invitation })}
      >
        {children}
      </Button>
      {leave.error && <Notice problem={leave.error.message} remedy={remedyOf(leave.error)} className="mt-3" />}
    </>
  );
}

const CAME: Record<string, [problem: string, remedy: string]> = {
  refused: ["Your institution did not say who you are.", "Try again, or sign in with a name and a password."],
  "shut-out": ["This account may not sign in.", "Ask who runs this server."],
  "no-invitation": ["An account here takes an invitation.", "Ask who runs this server for one, and come by it."],
  another: ["That was another person of your institution.", "Sign in there as yourself."],
  "not-again": ["Your institution did not ask who you are again.", "Sign out there, then try again."],
  taken: ["That person of your institution has another account here.", "Sign in through it, or remove it first."],
  confirm: ["That took too long.", "Try again."],
};

/** What became of a way to the institution and back, where it led nowhere. */
export function CameBack({ className = "" }: { className?: string }) {
  const [search] = useSearchParams();
  const said = CAME[search.get("institution") ?? ""];
  return said ? <Notice problem={said[0]} remedy={said[1]} className={className} /> : null;
}
