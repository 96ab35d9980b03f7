import { type ReactNode, useState } from "react";
import { type Fit, type Ran, type Routine, useFit, useRun } from "../../api/records";
import type { Study } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { counted, whole } from "../../words/numbers";
import { Looking } from "../intake/Looking";

type FitBenchProps = { study: Study; routine: Routine; upload: string; onRan: (ran: Ran) => void };

/** A routine beside a file: which variable is which, what is in the way, which steps are taken; then it runs. */
export function FitBench({ study, routine, upload, onRan }: FitBenchProps) {
  const [names, setNames] = useState<Record<string, string> | null>(null);
  const [turned, setTurned] = useState<Record<number, boolean>>({});
  const [typed, setTyped] = useState<string | null>(null);
  const { data: fit, error, isPlaceholderData, job } = useFit(study.id, { routine, upload, names });
  const run = useRun(study.id);
  if (error)
    return (
      <Notice
        problem={error.message}
        remedy={"remedy" in error && error.remedy ? String(error.remedy) : "Choose another routine or file."}
        className="m-3.5"
      />
    );
  if (!fit) return <Looking job={job} className={`m-auto ${job ? "w-80" : "w-24"}`} />;
  const name = typed ?? fit.file.replace(/\.[^.]*$/, "").replaceAll("_", " ");
  const match = (symbol: string, own: string) => {
    const now = Object.fromEntries(fit.matches.map(({ symbol: mine, matched }) => [mine, matched ?? ""]));
    // A variable of the file is one of the routine's only.
    for (const other of Object.keys(now)) if (own && now[other] === own) now[other] = "";
    setNames({ ...now, [symbol]: own });
  };
  const taken = (step: Fit["steps"][number]) => turned[step.number] ?? !step.at_rest;
  const out = fit.steps.filter((step) => !taken(step)).map(({ number }) => number);
  return (
    <>
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-5 overflow-y-auto px-3.5 py-3">
        <div>
          <h3 className="mb-1.5 text-lead">Which variable is which</h3>
          <Matches fit={fit} onMatch={match} />
          {fit.plates.length > 0 && <Plates fit={fit} />}
        </div>
        <div>
          <h3 className="mb-1.5 text-lead">To resolve first</h3>
          <InTheWay fit={fit} />
          <h3 className="mt-4 mb-1.5 text-lead">What is done</h3>
          <ol aria-label="Steps">
            {fit.steps.map((step) => (
              <li key={step.number} className="border-line border-b py-1 last:border-b-0">
                <label className="flex items-baseline gap-2">
                  <input
                    type="checkbox"
                    className="translate-y-0.5 accent-[var(--accent)]"
                    checked={taken(step)}
                    onChange={(event) => setTurned((now) => ({ ...now, [step.number]: event.target.checked }))}
                  />
                  <span className="figures text-muted-ink">{step.number}</span>
                  <span className={taken(step) ? "" : "text-muted-ink line-through"}>
                    {step.words}
                    {step.reason && <span className="font-serif"> “{step.reason}”</span>}
                  </span>
                </label>
              </li>
            ))}
            {fit.steps.length === 0 && <li className="text-muted-ink">Nothing was decided on the table itself.</li>}
          </ol>
        </div>
      </div>
      <form
        className="mt-auto flex items-end gap-3 border-line border-t px-3.5 py-3"
        onSubmit={(event) => {
          event.preventDefault();
          run.mutate({ routine, upload, names, name, leave_out: out }, { onSuccess: onRan });
        }}
      >
        <Field
          label="Name of the new table"
          required
          className="w-64!"
          value={name}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit" look="primary" disabled={run.isPending || isPlaceholderData}>
          Run it
        </Button>
        {(run.isPending || job) && <Looking job={run.job ?? job} className={run.job || job ? "w-80" : "w-20"} />}
        <span className="pb-1 text-muted-ink text-small">
          {counted(fit.steps.length - out.length, "step")} on {counted(fit.n_rows, "row")}, all or nothing
        </span>
      </form>
      {run.error && <Notice problem={run.error.message} className="mx-3.5 mb-3" />}
    </>
  );
}

const LINE = "border-line border-b py-1 align-baseline";

function Matches({ fit, onMatch }: { fit: Fit; onMatch: (symbol: string, own: string) => void }) {
  const before = [...fit.matches].sort((a, b) => Number(b.used) - Number(a.used));
  return (
    <table className="w-full">
      <thead className="text-left text-muted-ink text-small">
        <tr>
          <th className="font-normal">the routine’s</th>
          <th className="font-normal">in {fit.file}</th>
        </tr>
      </thead>
      <tbody>
        {before.map(({ symbol, label, unit, kind, used, matched }) => (
          <tr key={symbol}>
            <td className={LINE}>
              <span className={used ? "font-semibold" : ""}>{label}</span>{" "}
              <span className="text-muted-ink text-small">{used ? unit || kind : "not used"}</span>
            </td>
            <td className={LINE}>
              <select
                aria-label={`${label} is`}
                value={matched ?? ""}
                onChange={(event) => onMatch(symbol, event.target.value)}
                className={`min-h-6 w-full rounded-md border bg-surface px-1 ${used && !matched ? "border-caution" : "border-line-strong/60"}`}
              >
                <option value="">none of them</option>
                {fit.variables.map((own) => (
                  <option key={own.symbol} value={own.symbol}>
                    {own.label}
                    {own.unit ? ` (${own.unit})` : ""}
                  </option>
                ))}
              </select>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function InTheWay({ fit }: { fit: Fit }) {
  const said = [...fit.conflicts].sort((a, b) => Number(b.hinders) - Number(a.hinders));
  if (said.length === 0 && !fit.layout)
    return (
      <p className="rounded-lg bg-good-tint px-2.5 py-1.5">
        Nothing{fit.same_file ? ": it is the very file that the routine was made on" : ""}.
      </p>
    );
  return (
    <ul aria-label="To resolve first" className="flex flex-col gap-1.5">
      {fit.layout && <Said>{fit.layout}</Said>}
      {said.map((sentence) => (
        <Said key={sentence.words} strong={sentence.hinders}>
          {sentence.words}
          {sentence.n_rows > 0 && sentence.code !== "no-such-row" && sentence.code !== "other-rows" && (
            <span className="text-muted-ink">
              {" "}
              {sentence.n_rows === 1 ? "Row" : "Rows"}{" "}
              {sentence.rows
                .slice(0, 6)
                .map((n) => whole(n))
                .join(", ")}
              {sentence.n_rows > 6 && " …"}
            </span>
          )}
          {(sentence.hinders || sentence.code === "other-rows") && sentence.steps.length > 0 && (
            <span className="block text-muted-ink text-small">
              {sentence.steps.length === 1 ? "Step" : "Steps"} {sentence.steps.join(", ")}
              {sentence.hinders && ": not taken, or not wholly"}.
            </span>
          )}
        </Said>
      ))}
    </ul>
  );
}

function Said({ strong = false, children }: { strong?: boolean; children: ReactNode }) {
  return (
    <li className={`rounded-lg px-2.5 py-1.5 ${strong ? "bg-caution-tint" : "border border-line bg-surface"}`}>
      {children}
    </li>
  );
}

function Plates({ fit }: { fit: Fit }) {
  return (
    <>
      <h3 className="mt-4 mb-1.5 text-lead">Plates that are made again</h3>
      <ul aria-label="Plates made again">
        {fit.plates.map(({ name, missing }) => (
          <li key={`${name} ${missing.join(" ")}`} className="border-line border-b py-1 last:border-b-0">
            {name}
            {missing.length > 0 && <span className="text-caution"> lacks {missing.join(", ")}</span>}
          </li>
        ))}
      </ul>
    </>
  );
}
