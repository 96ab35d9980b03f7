import { type FormEvent, useState } from "react";
import { BANDWIDTH_RULES, KERNELS } from "../../api/choices.gen";
import type { Density } from "../../api/readings";
import { Button } from "../../ui/Button";
import { Choices } from "../../ui/Choices";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { keysOf, labelsOf } from "../../values";
import { typed as numberTyped, readNumber } from "../../words/numbers";
import type { Change } from "../useAddress";
import { bandwidthRuleWords, densityWords } from "./classWords";

type BandwidthChoiceProps = {
  density: Density;
  unit: string;
  axis?: "linear" | "log";
  onChange: (changes: Change) => void;
};

/** Bandwidth by a named rule or typed, and the shape of the kernel. */
export function BandwidthChoice({ density, unit, axis = "linear", onChange }: BandwidthChoiceProps) {
  const shown = densityWords(density, unit, axis);
  const [typed, setTyped] = useState(numberTyped(density.bandwidth, 4));
  const set = (event: FormEvent) => {
    event.preventDefault();
    const width = readNumber(typed) ?? 0;
    if (width > 0) onChange({ bandwidth: width });
  };
  return (
    <Floating
      label="Bandwidth"
      side="top"
      className="w-80 p-3.5"
      trigger={
        <Button look="word" aria-label={`Density: ${shown}`} className="text-small!">
          {shown}
        </Button>
      }
    >
      <p className="mb-2 text-muted-ink text-small">
        Now: {bandwidthRuleWords(density.rule)}. The bandwidth is the kernel's SD.
      </p>
      <div className="mb-3 flex flex-col gap-1.5">
        {keysOf(BANDWIDTH_RULES).map((rule) => (
          <Button
            key={rule}
            aria-pressed={density.rule.startsWith(rule)}
            className="justify-between aria-pressed:border-accent aria-pressed:text-accent"
            onClick={() => onChange({ bandwidth: rule })}
          >
            {BANDWIDTH_RULES[rule].label}
            <span className="text-muted-ink text-small">{BANDWIDTH_RULES[rule].help}</span>
          </Button>
        ))}
      </div>
      <form onSubmit={set} className="mb-3 flex items-end gap-2">
        <Field
          label={axis === "log" ? "By hand, in log₁₀" : unit ? `By hand (${unit})` : "By hand"}
          inputMode="decimal"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit">Set</Button>
      </form>
      <fieldset>
        <legend className="mb-1 font-serif text-lead">Kernel</legend>
        <div className="flex flex-wrap gap-1.5">
          <Choices
            label="Kernel"
            options={labelsOf(KERNELS)}
            chosen={density.kernel}
            onChoose={(kernel) => onChange({ kernel })}
          />
        </div>
      </fieldset>
    </Floating>
  );
}
