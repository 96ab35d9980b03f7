import { WordChoice } from "../../ui/WordChoice";
import type { Change } from "../useAddress";

const WORDS = {
  no: { label: "horizontal", note: "from left to right" },
  yes: { label: "vertical", note: "from below" },
};

/** Whether values run from left to right or from below. */
export function DirectionChoice({ upright, onChange }: { upright: boolean; onChange: (changes: Change) => void }) {
  return (
    <span>
      values{" "}
      <WordChoice
        label="Direction"
        value={upright ? "yes" : "no"}
        options={(["no", "yes"] as const).map((value) => ({ value, ...WORDS[value] }))}
        onChoose={(value) => onChange({ upright: value === "yes" ? value : null })}
        className="min-h-6"
      />
    </span>
  );
}
