import { OUTLIER_RULES } from "../../api/choices.gen";
import type { ScreenSettings } from "../../api/screen";
import { NumberFields } from "../../ui/NumberFields";
import { Tick } from "../../ui/Tick";
import { keysOf, optionsOf } from "../../values";
import { OPTIONS, optionsOfRule } from "./useScreenChoices";

type RuleSettingsProps = {
  settings: ScreenSettings;
  change: (changes: Record<string, string | number | null>) => void;
};

/** The settings of the rules chosen. A number beyond its range is set to the end of that. */
export function RuleSettings({ settings, change }: RuleSettingsProps) {
  const rules = settings.rules ?? [];
  const names = keysOf(OPTIONS).filter((name) => rules.some((rule) => name in optionsOfRule(rule)));
  const now = names.map((name) => settings[name] ?? OPTIONS[name].usual);
  const keep = (typed: (number | null)[]) =>
    change(
      Object.fromEntries(
        names.map((name, i) => {
          const { usual, low, high, whole } = OPTIONS[name];
          const number = Math.min(Math.max(typed[i] ?? usual, low), high);
          const set = whole ? Math.trunc(number) : number;
          return [name, set === usual ? null : set];
        }),
      ),
    );
  if (names.length === 0) return null;
  return (
    <div className="mt-2 flex flex-wrap items-end gap-2 border-line border-t pt-2">
      {rules.includes("fences") && (
        <Tick
          checked={settings.quantile_definition === "hinges"}
          onChange={(on) => change({ definition: on ? "hinges" : null })}
          label="quartiles as hinges"
        />
      )}
      <NumberFields
        key={`${names} ${now}`}
        fields={Object.fromEntries(names.map((name, i) => [OPTIONS[name].label, now[i] ?? null]))}
        empty="usual"
        onSet={keep}
      />
    </div>
  );
}

export const RULE_OPTIONS = optionsOf(OUTLIER_RULES);
