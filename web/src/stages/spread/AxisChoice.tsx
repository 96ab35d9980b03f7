import { WordChoice } from "../../ui/WordChoice";
import type { Change } from "../useAddress";
import type { SpreadChoices } from "./useSpreadChoices";

const WORDS = {
  straight: { label: "straight", note: "equal steps are equal differences" },
  log: { label: "logarithmic", note: "equal steps are equal ratios" },
};

/** Whether the variable's axis is straight or logarithmic; classes and curves are then those of the logs. */
export function AxisChoice({ axis, onChange }: { axis: SpreadChoices["axis"]; onChange: (changes: Change) => void }) {
  return (
    <span>
      axis{" "}
      <WordChoice
        label="Axis"
        value={axis}
        options={(["straight", "log"] as const).map((value) => ({ value, ...WORDS[value] }))}
        onChoose={(value) =>
          onChange({
            axis: value === "log" ? "log" : null,
            width: null,
            start: null,
            boundaries: null,
            count: null,
            bandwidth: null,
          })
        }
        className="min-h-6"
      />
    </span>
  );
}
