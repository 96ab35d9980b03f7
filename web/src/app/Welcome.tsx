import { type FormEvent, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { Problem } from "../api/client";
import { type Session, useDemo, useSignIn, useSignUp } from "../api/session";
import { remedyOf } from "../stages/account/words";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { Notice } from "../ui/Notice";
import { Wave } from "../ui/Wave";
import { Glyph } from "./Glyph";
import { AskAnew } from "./NewPassword";
import { StillLife } from "./StillLife";
import { CameBack, ThroughInstitution } from "./ThroughInstitution";

/** The page for those who are not signed in: what this is, and three ways in. */
export function Welcome({ session }: { session: Session }) {
  const { invitation = "" } = useParams();
  const [newHere, setNewHere] = useState(invitation !== "");
  const [forgotten, setForgotten] = useState(false);
  const navigate = useNavigate();
  const demo = useDemo();
  return (
    <div className="grid h-full grid-rows-[52px_minmax(0,1fr)]">
      <header className="flex items-center gap-2.5 bg-band px-3 text-band-ink">
        <Glyph className="size-8" />
        <span className="font-serif text-[19px]">Velvet Heron</span>
      </header>
      <main className="m-auto grid w-full max-w-[1080px] grid-cols-[minmax(0,1fr)_340px] items-center gap-14 px-8">
        <div>
          <h1 className="max-w-[17em] text-[34px] leading-[1.18]">
            Get to know a table <em>before</em> any model.
          </h1>
          <p className="mt-4 max-w-[36em] font-serif text-lead text-muted-ink leading-relaxed">
            Bring a table; see how each variable is spread, whether a normal model is defensible, and which rows deserve
            a second look. Every number says how many rows it used. Every mark can be asked.
          </p>
          <StillLife />
        </div>
        <div className="flex flex-col gap-4">
          <CameBack />
          {session.demo !== "off" && (
            <div className="rounded-card border border-line bg-raised p-4">
              <h2 className="text-lead">Without an account</h2>
              <p className="mt-1 mb-3 text-muted-ink">
                Ellery Sound: five made-up tables with real shapes
                {session.demo === "each" ? ", in a copy that is yours for a day." : "."}
              </p>
              <Button
                look="primary"
                disabled={demo.isPending}
                onClick={() => demo.mutate(undefined, { onSuccess: () => navigate("/") })}
              >
                Open the demo study
              </Button>
              {demo.isPending && <Wave moving className="mt-3 w-full text-primary" />}
              {demo.error && <Notice problem={demo.error.message} className="mt-3" />}
            </div>
          )}
          {session.institution && (
            <div className="rounded-card border border-line bg-raised p-4">
              <h2 className="mb-3 text-lead">Through your institution</h2>
              <ThroughInstitution
                purpose="sign-in"
                look={session.demo === "off" ? "primary" : "plain"}
                invitation={invitation}
              >
                {session.institution}
              </ThroughInstitution>
            </div>
          )}
          {forgotten ? (
            <AskAnew onLeave={() => setForgotten(false)} />
          ) : (
            <Credentials
              key={String(newHere)}
              {...{ newHere, invitation }}
              mayJoin={session.sign_up === "open" || invitation !== ""}
              onSwitch={() => setNewHere(!newHere)}
              onForgotten={() => setForgotten(true)}
            />
          )}
        </div>
      </main>
    </div>
  );
}

/** What an answer says of a code, where it takes one: "second-factor", "wrong-code". */
const codeOf = (error: Error | null) => (error instanceof Problem && error.where === "code" ? error.code : undefined);

type CredentialsProps = {
  newHere: boolean;
  /** The secret of the invitation by which somebody came, "" for none. */
  invitation: string;
  mayJoin: boolean;
  onSwitch: () => void;
  onForgotten: () => void;
};

function Credentials({ newHere, invitation, mayJoin, onSwitch, onForgotten }: CredentialsProps) {
  const signIn = useSignIn();
  const signUp = useSignUp();
  const navigate = useNavigate();
  const enter = newHere ? signUp : signIn;
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (newHere) signUp.mutate({ name, password, invitation }, { onSuccess: () => navigate("/") });
    else signIn.mutate({ name, password, code });
  };
  // A code is asked for once the password was right, and stays where the code was not.
  const codeAsked = codeOf(signIn.error) || code !== "";
  return (
    <form onSubmit={submit} className="flex flex-col gap-3 rounded-card border border-line bg-raised p-4">
      <h2 className="text-lead">{newHere ? "A new account" : "With an account"}</h2>
      <Field
        label="Name"
        autoComplete="username"
        required
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <Field
        label={newHere ? "Password, 12 characters or more" : "Password"}
        type="password"
        autoComplete={newHere ? "new-password" : "current-password"}
        required
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      {codeAsked && (
        <Field
          label="Code of your app, or one of your ten"
          autoComplete="one-time-code"
          inputMode="numeric"
          autoFocus
          required
          value={code}
          onChange={(event) => setCode(event.target.value)}
        />
      )}
      {enter.error && !(codeOf(enter.error) === "second-factor") && (
        <Notice problem={enter.error.message} remedy={remedyOf(enter.error)} />
      )}
      <div className="flex items-center justify-between">
        <Button type="submit" disabled={enter.isPending}>
          {newHere ? "Create account" : "Sign in"}
        </Button>
        {(newHere || mayJoin) && (
          <Button look="link" onClick={onSwitch}>
            {newHere ? "Sign in instead" : "Create an account"}
          </Button>
        )}
      </div>
      {!newHere && (
        <Button look="link" className="self-start text-small!" onClick={onForgotten}>
          Password forgotten
        </Button>
      )}
    </form>
  );
}
