import { useCallback, useState } from "react";
import { useNavigate } from "react-router";
import { type Distribution, isJob, type Simulation, useDistributions, useMadePreview, useMake } from "../../api/making";
import type { Study } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { Pick } from "../../ui/Pick";
import { MadeRows } from "./rearrange/MadeRows";
import { Storing, useStoring } from "./Storing";

type Simulated = Simulation["variable"];
type Group = Simulation["groups"][number];

const SEEDS = 1_000_000;
const START: Simulation = {
  how: "simulated",
  variable: { name: "value", distribution: "normal", parameters: {} },
  groups: [{ name: "", n: 100, parameters: {} }],
  second: null,
  correlation: 0.6,
  decimals: 2,
  seed: 1,
};

/** A table of simulated values: known distributions, groups, two correlated variables, from a seed. */
export function Simulate({ study }: { study: Study }) {
  const { data: distributions } = useDistributions();
  const [settings, setSettings] = useState<Simulation>(() => ({ ...START, seed: Math.floor(Math.random() * SEEDS) }));
  const [name, setName] = useState("Simulated");
  const recipe = { of: [], options: settings };
  const { data: shown, error } = useMadePreview(study.id, recipe);
  const make = useMake(study.id);
  const navigate = useNavigate();
  const open = useCallback((table: string) => navigate(`/tables/${table}/spread`), [navigate]);
  const { working, said } = useStoring(make.data && isJob(make.data) ? make.data : undefined, open);
  if (!distributions) return null;
  const change = (changes: Partial<Simulation>) => setSettings((now) => ({ ...now, ...changes }));
  const setGroup = (place: number, changes: Partial<Group>) =>
    change({ groups: settings.groups.map((group, i) => (i === place ? { ...group, ...changes } : group)) });
  const grouped = settings.groups.length > 1;
  return (
    <>
      <Card title="How it is simulated" className="self-start">
        <div className="flex min-h-0 flex-col gap-3 overflow-y-auto p-3.5">
          <Variable
            variable={settings.variable}
            distributions={distributions}
            onChange={(variable) => change({ variable })}
          />
          {settings.groups.map((group, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a group is its place in the list
            <div key={place} className="flex items-end gap-2">
              {grouped && (
                <Field
                  label={`Group ${place + 1}`}
                  value={group.name ?? ""}
                  onChange={(event) => setGroup(place, { name: event.target.value })}
                />
              )}
              <Field
                label="Rows"
                type="number"
                min={1}
                max={100_000_000}
                value={group.n}
                onChange={(event) => setGroup(place, { n: Math.max(1, Math.round(Number(event.target.value))) })}
              />
              {grouped && place > 0 && (
                <FirstParameter
                  group={group}
                  variable={settings.variable}
                  distributions={distributions}
                  onChange={(parameters) => setGroup(place, { parameters })}
                />
              )}
              {grouped && (
                <Button
                  look="link"
                  aria-label={`Drop group ${place + 1}`}
                  onClick={() => change({ groups: settings.groups.filter((_, i) => i !== place) })}
                >
                  drop
                </Button>
              )}
            </div>
          ))}
          <Button
            className="self-start"
            onClick={() =>
              change({
                groups: [
                  ...settings.groups.map((group, i) => ({ ...group, name: group.name || `group ${i + 1}` })),
                  { name: `group ${settings.groups.length + 1}`, n: settings.groups.at(-1)?.n ?? 100, parameters: {} },
                ],
              })
            }
          >
            Another group
          </Button>
          {settings.second ? (
            <fieldset className="flex flex-col gap-3 border-line border-t pt-3">
              <legend className="sr-only">The second variable</legend>
              <Variable
                variable={settings.second}
                distributions={distributions}
                onChange={(second) => change({ second })}
              />
              <div className="flex items-end gap-2">
                <Field
                  label="Correlation of normal scores"
                  type="number"
                  min={-1}
                  max={1}
                  step={0.05}
                  value={settings.correlation}
                  onChange={(event) => change({ correlation: Math.min(1, Math.max(-1, Number(event.target.value))) })}
                />
                <Button look="link" onClick={() => change({ second: null })}>
                  drop
                </Button>
              </div>
            </fieldset>
          ) : (
            <Button
              className="self-start"
              onClick={() => change({ second: { name: "second value", distribution: "normal", parameters: {} } })}
            >
              A second, correlated variable
            </Button>
          )}
          <div className="flex items-end gap-2 border-line border-t pt-3">
            <Field
              label="Decimals"
              type="number"
              min={0}
              max={12}
              value={settings.decimals}
              onChange={(event) => change({ decimals: Math.min(12, Math.max(0, Number(event.target.value))) })}
            />
            <Field
              label="Seed"
              type="number"
              min={0}
              value={settings.seed}
              onChange={(event) => change({ seed: Math.max(0, Math.round(Number(event.target.value))) })}
            />
            <Button onClick={() => change({ seed: Math.floor(Math.random() * SEEDS) })}>Another</Button>
          </div>
          <p className="text-muted-ink text-small">
            The same settings and seed make the same table, here and elsewhere.
          </p>
        </div>
      </Card>
      {error ? (
        <Notice className="self-start" problem={error.message} remedy={"remedy" in error ? String(error.remedy) : ""} />
      ) : (
        shown && (
          <MadeRows
            shown={shown}
            aside={
              working ? (
                <Storing job={working} />
              ) : (
                <form
                  className="flex items-center gap-2"
                  onSubmit={(event) => {
                    event.preventDefault();
                    make.mutate({ ...recipe, name }, { onSuccess: (made) => !isJob(made) && open(made.id) });
                  }}
                >
                  {(said || make.error) && <span className="text-caution">{said || make.error?.message}</span>}
                  <input
                    aria-label="Name of the table"
                    required
                    maxLength={200}
                    value={name}
                    onChange={(event) => setName(event.target.value)}
                    className="min-h-6 w-48 rounded-lg border border-line-strong/60 bg-surface px-2"
                  />
                  <Button type="submit" look="primary" disabled={make.isPending}>
                    Make the table
                  </Button>
                </form>
              )
            }
          />
        )
      )}
    </>
  );
}

type VariableProps = {
  variable: Simulated;
  distributions: Distribution[];
  onChange: (variable: Simulated) => void;
};

function Variable({ variable, distributions, onChange }: VariableProps) {
  const distribution = distributions.find(({ name }) => name === variable.distribution);
  return (
    <>
      <div className="flex items-end gap-2 [&>*]:min-w-0 [&>*]:flex-1">
        <Field
          label="Variable"
          value={variable.name ?? ""}
          onChange={(event) => onChange({ ...variable, name: event.target.value })}
        />
        <Pick
          label="Distribution"
          value={variable.distribution}
          options={distributions.map(({ name }) => ({ value: name, label: name }))}
          onChoose={(chosen) => onChange({ ...variable, distribution: chosen, parameters: {} })}
        />
      </div>
      <div className="grid grid-cols-2 gap-2">
        {distribution?.parameters.map((parameter) => (
          <Field
            key={parameter.name}
            label={parameter.name}
            type="number"
            step="any"
            value={variable.parameters?.[parameter.name] ?? parameter.default}
            onChange={(event) =>
              onChange({
                ...variable,
                parameters: { ...variable.parameters, [parameter.name]: Number(event.target.value) },
              })
            }
          />
        ))}
      </div>
    </>
  );
}

type FirstParameterProps = {
  group: Group;
  variable: Simulated;
  distributions: Distribution[];
  onChange: (parameters: Record<string, number>) => void;
};

/** The parameter in which groups usually differ: the first one of the distribution. */
function FirstParameter({ group, variable, distributions, onChange }: FirstParameterProps) {
  const parameter = distributions.find(({ name }) => name === variable.distribution)?.parameters[0];
  if (!parameter) return null;
  const usual = variable.parameters?.[parameter.name] ?? parameter.default;
  return (
    <Field
      label={parameter.name}
      type="number"
      step="any"
      value={group.parameters?.[parameter.name] ?? usual}
      onChange={(event) => onChange({ [parameter.name]: Number(event.target.value) })}
    />
  );
}
