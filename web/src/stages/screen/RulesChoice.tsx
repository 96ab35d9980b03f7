import { type FormEvent, useState } from "react";
import type { Rule, ScreenAsked } from "../../api/screen";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Tick } from "../../ui/Tick";
import { choicesOf } from "../../values";
import { RULES } from "./useScreenChoices";

type RulesChoiceProps = { asked: ScreenAsked; change: (changes: Record<string, string | number | null>) => void };

/** The settings of the rules chosen: reach of the fences, their quartiles, suspects of the ESD test. */
export function RuleSettings({ asked, change }: RulesChoiceProps) {
  const [reach, setReach] = useState(String(asked.reach ?? 1.5));
  const [suspects, setSuspects] = useState(String(asked.suspects ?? 10));
  const has = (rule: Rule) => asked.rules?.includes(rule);
  const keep = (event: FormEvent) => {
    event.preventDefault();
    change({
      reach: Number(reach) >= 0 && reach !== "1.5" && reach.trim() ? reach : null,
      suspects: Number(suspects) >= 1 && suspects !== "10" ? Math.trunc(Number(suspects)) : null,
    });
  };
  if (!has("fences") && !has("esd")) return null;
  return (
    <form onSubmit={keep} className="mt-2 flex flex-wrap items-end gap-2 border-line border-t pt-2">
      {has("fences") && (
        <>
          <Field
            label="Reach in IQRs"
            inputMode="decimal"
            className="w-16!"
            value={reach}
            onChange={(event) => setReach(event.target.value)}
          />
          <Tick
            checked={asked.quantile_definition === "hinges"}
            onChange={(on) => change({ definition: on ? "hinges" : null })}
            label="quartiles as hinges"
          />
        </>
      )}
      {has("esd") && (
        <Field
          label="Suspects"
          type="number"
          min={1}
          max={1_000}
          className="w-16!"
          value={suspects}
          onChange={(event) => setSuspects(event.target.value)}
        />
      )}
      <Button type="submit">Set</Button>
    </form>
  );
}

export const RULE_OPTIONS = choicesOf(RULES);
