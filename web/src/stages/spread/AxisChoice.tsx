import { AXIS_SCALES } from "../../api/choices.gen";
import { WordChoice } from "../../ui/WordChoice";
import { optionsOf } from "../../values";
import type { Change } from "../useAddress";
import type { SpreadChoices } from "./useSpreadChoices";

/** Whether the variable's axis is linear or logarithmic; classes and curves are then those of the logs. */
export function AxisChoice({ axis, onChange }: { axis: SpreadChoices["axis"]; onChange: (changes: Change) => void }) {
  return (
    <span>
      axis{" "}
      <WordChoice
        label="Axis"
        value={axis}
        options={optionsOf(AXIS_SCALES)}
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
