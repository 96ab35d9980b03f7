import { WordChoice } from "../../ui/WordChoice";
import { MEASURES, type Measure } from "./useSpreadChoices";

const WORDS: Record<Measure, { label: string; note: string }> = {
  density: { label: "density", note: "area 1" },
  count: { label: "counts", note: "rows in each class" },
  percent: { label: "percent", note: "of the rows used" },
};

type MeasureChoiceProps = { measure: Measure; cumulative: boolean; onChange: (measure: Measure) => void };

export function MeasureChoice({ measure: asked, cumulative, onChange }: MeasureChoiceProps) {
  // What adds up is rows or percent.
  const measure = cumulative && asked === "density" ? "percent" : asked;
  return (
    <span>
      heights in{" "}
      <WordChoice
        label="Heights"
        value={measure}
        options={MEASURES.filter((value) => !cumulative || value !== "density").map((value) => ({
          value,
          ...WORDS[value],
        }))}
        onChoose={(value) => onChange(value as Measure)}
        className="min-h-6"
      />
    </span>
  );
}
