import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { keepDocument, type Plate, type PlateDocument } from "../../api/plates";
import { queryKeys } from "../../api/queryKeys";
import { useTable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { titled } from "../../words/kinds";
import { counted } from "../../words/numbers";
import { canSplit } from "../spread/Sentence";
import { OneOf } from "./fields";
import { Progress } from "./Progress";
import { likeOf, ownVariable, repeatedAt, repeatedOf } from "./repeating";

type Item = { key: string; label: string; make: () => PlateDocument };

/** The same plate for a list of variables, or for each level of a group, as a set. */
export function RepeatChoice({ plate, document }: { plate: Plate; document: PlateDocument }) {
  const source = document.panels[0]?.source;
  const { data: table } = useTable(source?.table);
  const queries = useQueryClient();
  const [how, setHow] = useState("variables");
  const [off, setOff] = useState<string[]>([]);
  const [done, setDone] = useState<{ n: number; of: number; said: string } | null>(null);
  const stopped = useRef(false);
  if (!source || !table) return null;
  const variables = likeOf(source, table.variables);
  const groups = table.variables.filter(
    (variable) => canSplit(variable) && variable.levels.length > 0 && variable.symbol !== ownVariable(source),
  );
  const by = groups.find(({ symbol }) => symbol === how);
  const items: Item[] = by
    ? by.levels.map((level) => ({ key: level, label: level, make: () => repeatedAt(document, by.symbol, level) }))
    : variables.map(({ symbol, label }) => ({ key: symbol, label, make: () => repeatedOf(document, symbol) }));
  const chosen = items.filter(({ key }) => !off.includes(key));
  const busy = done !== null && done.said === "";
  const run = async () => {
    stopped.current = false;
    const group = by ? `${plate.name}, by ${by.label}` : `${plate.name}, repeated`;
    const troubles: string[] = [];
    for (const [n, item] of chosen.entries()) {
      if (stopped.current) break;
      setDone({ n, of: chosen.length, said: "" });
      try {
        await keepDocument(plate.study, by ? `${plate.name}, ${item.label}` : titled(item.label), group, item.make());
      } catch (error) {
        troubles.push(`${item.label}: ${error instanceof Error ? error.message : "it could not be made"}`);
      }
    }
    await queries.invalidateQueries({ queryKey: queryKeys.plates(plate.study) });
    const made = stopped.current ? "Stopped; those made so far stay." : "They stand in the gallery as one set.";
    setDone((now) => ({ n: now?.of ?? 0, of: now?.of ?? 0, said: [made, ...troubles].join(" ") }));
  };
  return (
    <Floating
      label="Repeat"
      side="top"
      className="w-80 p-3.5"
      trigger={
        <Button look="word" className="text-small!">
          repeat for others
        </Button>
      }
    >
      <p className="mb-2 font-serif text-lead">The same plate again</p>
      <OneOf
        label="For each"
        value={how}
        options={[
          ...(variables.length > 0 ? [{ value: "variables", label: "for other variables" }] : []),
          ...groups.map(({ symbol, label }) => ({ value: symbol, label: `for each level of ${label}` })),
        ]}
        onChange={(next) => {
          setHow(next);
          setOff([]);
        }}
      />
      <div className="my-2 max-h-52 overflow-y-auto">
        {items.map(({ key, label }) => (
          <Tick
            key={key}
            label={label}
            checked={!off.includes(key)}
            onChange={(on) => setOff((now) => withOrWithout(now, key, !on))}
          />
        ))}
      </div>
      {busy && done ? (
        <Progress
          share={done.n / Math.max(done.of, 1)}
          words={`${done.n} of ${done.of}`}
          onStop={() => {
            stopped.current = true;
          }}
        />
      ) : (
        <Button look="primary" disabled={chosen.length === 0} onClick={run}>
          Make {counted(chosen.length, "plate")}
        </Button>
      )}
      {done?.said && (
        <p role="status" className="mt-2 text-small">
          {done.said}{" "}
          <Link
            to={`/studies/${plate.study}/plates`}
            className="text-primary underline decoration-primary/40 underline-offset-3"
          >
            to the gallery
          </Link>
        </p>
      )}
    </Floating>
  );
}
