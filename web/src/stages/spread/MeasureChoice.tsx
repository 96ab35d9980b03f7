import { MEASURES as RECORDS } from "../../api/choices.gen";
import { WordChoice } from "../../ui/WordChoice";
import { MEASURE_OF, MEASURES, type Measure } from "./useSpreadChoices";

type MeasureChoiceProps = { measure: Measure; cumulative: boolean; onChange: (measure: Measure) => void };

export function MeasureChoice({ measure: chosen, cumulative, onChange }: MeasureChoiceProps) {
  // What adds up is rows or percent.
  const measure = cumulative && chosen === "density" ? "percent" : chosen;
  return (
    <span>
      heights in{" "}
      <WordChoice
        label="Heights"
        value={measure}
        options={MEASURES.filter((value) => !cumulative || value !== "density").map((value) => ({
          value,
          label: RECORDS[MEASURE_OF[value]].label,
          note: RECORDS[MEASURE_OF[value]].help,
        }))}
        onChoose={(value) => onChange(value as Measure)}
        className="min-h-6"
      />
    </span>
  );
}
