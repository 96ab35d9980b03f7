import { useMutation } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";
import { confirmPassword } from "../api/account";
import { useSession } from "../api/session";
import { useConfirming } from "../state/confirming";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Notice } from "../ui/Notice";
import { ThroughInstitution } from "./ThroughInstitution";

/** The password, or another sign-in, asked for again before what it protects. */
export function PasswordAgain() {
  const { tell, way, answer } = useConfirming();
  const { data: session } = useSession();
  return (
    <Dialog.Root open={tell !== null} onOpenChange={(open) => !open && answer(false)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-band/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className="rising fixed top-[30%] left-1/2 z-50 w-88 max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded-card border border-line bg-raised p-4 shadow-float outline-none"
        >
          <Dialog.Title className="mb-2 text-lead">
            {way === "password" ? "Your password again" : "Sign in again"}
          </Dialog.Title>
          {tell && way === "password" && <Asking onAnswer={answer} />}
          {tell && way === "institution" && (
            <div className="flex flex-col gap-3">
              <p className="text-muted-ink">You come back here; then ask once more. It holds for ten minutes.</p>
              <ThroughInstitution purpose="confirm" look="primary">
                {session?.institution}
              </ThroughInstitution>
            </div>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Asking({ onAnswer }: { onAnswer: (confirmed: boolean) => void }) {
  const [password, setPassword] = useState("");
  const confirm = useMutation({ mutationFn: confirmPassword, onSuccess: () => onAnswer(true) });
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        confirm.mutate(password);
      }}
    >
      <p className="text-muted-ink">It holds for ten minutes.</p>
      <Field
        label="Password"
        type="password"
        autoComplete="current-password"
        required
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      {confirm.error && <Notice problem={confirm.error.message} />}
      <span className="flex justify-end gap-2">
        <Button onClick={() => onAnswer(false)}>Cancel</Button>
        <Button type="submit" look="primary" disabled={confirm.isPending}>
          Go on
        </Button>
      </span>
    </form>
  );
}
