import { WordChoice } from "../../ui/WordChoice";
import { MEASURES, type Measure } from "./useSpreadChoices";

const WORDS: Record<Measure, { label: string; note: string }> = {
  density: { label: "density", note: "area 1" },
  count: { label: "counts", note: "rows in each class" },
  percent: { label: "percent", note: "of the rows used" },
};

export function MeasureChoice({ measure, onChange }: { measure: Measure; onChange: (measure: Measure) => void }) {
  return (
    <span>
      heights in{" "}
      <WordChoice
        label="Heights"
        shown={WORDS[measure].label}
        value={measure}
        options={MEASURES.map((value) => ({ value, ...WORDS[value] }))}
        onChoose={(value) => onChange(value as Measure)}
        className="min-h-6"
      />
    </span>
  );
}
