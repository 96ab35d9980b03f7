import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Session, useSignOut } from "../api/session";
import { usePreferences } from "../state/preferences";
import { Button } from "../ui/Button";
import { Floating } from "../ui/Floating";
import { NumbersChoice } from "../ui/NumbersChoice";
import { Tick } from "../ui/Tick";
import { SHORTCUTS } from "./useShortcuts";

const THEMES = [
  ["light", "light"],
  ["dark", "dark"],
  ["system", "as the system"],
] as const;

export function Account({ session }: { session: Session }) {
  const { theme, setTheme, numbers, setNumbers, singleKeys, setSingleKeys } = usePreferences();
  const [open, setOpen] = useState(false);
  const signOut = useSignOut();
  const navigate = useNavigate();
  return (
    <Floating
      label="Account"
      open={open}
      onOpenChange={setOpen}
      align="end"
      className="w-80 p-3.5"
      trigger={<Button look="band">{session.is_demo || session.guest ? "Demo" : session.name}</Button>}
    >
      <p className="font-serif text-lead">
        {session.is_demo
          ? "This is the demo study."
          : session.guest
            ? "You came by a link, and may look."
            : `Signed in as ${session.name}.`}
      </p>
      <fieldset className="mt-3">
        <legend className="mb-1 text-muted-ink text-small">Theme</legend>
        <div className="flex gap-1.5">
          {THEMES.map(([value, words]) => (
            <Button
              key={value}
              aria-pressed={theme === value}
              onClick={() => setTheme(value)}
              className="aria-pressed:border-accent aria-pressed:text-accent"
            >
              {words}
            </Button>
          ))}
        </div>
      </fieldset>
      <p className="mt-3 flex items-center gap-2">
        <span className="text-muted-ink text-small">Numbers</span>
        <NumbersChoice value={numbers} onChoose={setNumbers} />
      </p>
      <Tick
        className="mt-3"
        checked={singleKeys}
        onChange={() => setSingleKeys(!singleKeys)}
        label="Single keys are shortcuts"
      />
      <dl className="mt-2 grid grid-cols-[5.500rem_1fr] gap-y-0.5 border-line border-t pt-2 text-small">
        {SHORTCUTS.map(([keys, words]) => (
          <div key={keys} className="contents">
            <dt className="font-semibold">{keys}</dt>
            <dd className="text-muted-ink">{words}</dd>
          </div>
        ))}
      </dl>
      {!session.is_demo && !session.guest && (
        <Link
          to="/account"
          onClick={() => setOpen(false)}
          className="mt-3 block text-primary underline decoration-primary/40 underline-offset-3"
        >
          Password, browsers, tokens and your data
        </Link>
      )}
      {session.operator && (
        <Link
          to="/people"
          onClick={() => setOpen(false)}
          className="mt-1.5 block text-primary underline decoration-primary/40 underline-offset-3"
        >
          People of this server
        </Link>
      )}
      <div className="mt-3 flex justify-end">
        <Button onClick={() => signOut.mutate(undefined, { onSuccess: () => navigate("/") })}>
          {session.is_demo || session.guest ? "Sign in or create an account" : "Sign out"}
        </Button>
      </div>
    </Floating>
  );
}
