import type { ReactNode } from "react";
import type { Furnishings, PlateDocument, Scene } from "../../api/plates";
import { Card } from "../../ui/Card";
import { WordChoice } from "../../ui/WordChoice";
import { AxisPart } from "./AxisPart";
import type { Edit } from "./editing";
import { FurniturePart } from "./FurniturePart";
import { LegendPart } from "./LegendPart";
import { kindOf, type Part, partsOf } from "./parts";
import { SeriesPart } from "./SeriesPart";
import { PanelPart, SheetPart } from "./SheetPart";
import { StylePart } from "./StylePart";

export type PartProps = {
  document: PlateDocument;
  scenes: Scene[];
  furnishings: Furnishings;
  edit: Edit;
  part: Part;
  onPart: (part: Part) => void;
  study: string;
};

/** Everything that can be set of the part at hand, typed: what the hand does on the sheet, and more. */
export function PartCard(props: PartProps) {
  const { document, scenes, part, onPart } = props;
  const parts = partsOf(document, scenes);
  const chosen = parts.find(({ value }) => value === part) ?? parts[0];
  const Form = FORMS[kindOf(chosen?.value ?? "sheet")] ?? SheetPart;
  return (
    <Card
      help="plates"
      title="Part"
      className="shrink-0"
      aside={
        <WordChoice
          label="Part"
          className="min-h-6"
          shown={chosen?.label ?? ""}
          value={chosen?.value ?? ""}
          options={parts}
          onChoose={onPart}
        />
      }
    >
      <div key={chosen?.value} className="max-h-[330px] overflow-y-auto px-3.5 py-2">
        <Form {...props} part={chosen?.value ?? "sheet"} />
      </div>
    </Card>
  );
}

const FORMS: Record<string, (props: PartProps) => ReactNode> = {
  sheet: SheetPart,
  style: StylePart,
  panel: PanelPart,
  across: AxisPart,
  up: AxisPart,
  series: SeriesPart,
  marks: SeriesPart,
  legend: LegendPart,
  furniture: FurniturePart,
};
