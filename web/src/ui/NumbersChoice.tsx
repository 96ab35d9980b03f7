import { fixed, type NumberStyle, STYLE_NAMES } from "../words/numbers";
import { WordChoice } from "./WordChoice";

const SAMPLE = 12_345.6;
const OPTIONS = STYLE_NAMES.map((value) => ({ value, label: fixed(SAMPLE, 1, value) }));

type NumbersChoiceProps = { value: NumberStyle; onChoose: (style: NumberStyle) => void };

/** How numbers are written, chosen by how one looks. */
export function NumbersChoice({ value, onChoose }: NumbersChoiceProps) {
  return <WordChoice label="Numbers" className="figures min-h-6" value={value} options={OPTIONS} onChoose={onChoose} />;
}
