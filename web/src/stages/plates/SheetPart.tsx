import { useState } from "react";
import { type Panel, type PlateDocument, usePlates } from "../../api/plates";
import { useTable } from "../../api/studies";
import { lettersOf } from "../../figure/layout";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";
import { WordChoice } from "../../ui/WordChoice";
import { nth } from "../../values";
import { counted } from "../../words/numbers";
import { canSplit } from "../spread/Sentence";
import { changed, without } from "./editing";
import { NumberBox, OneOf, PartLine, TextBox } from "./fields";
import type { PartProps } from "./PartCard";
import { panelOf } from "./parts";
import { ownVariable, rolesOf } from "./repeating";

const LETTERS = [
  { value: "A", label: "A, B, C" },
  { value: "a", label: "a, b, c" },
  { value: "none", label: "none" },
] as const;
const MOST_PANELS = 48;

/** Its size in millimetres, its panels, what they share. */
export function SheetPart({ document, edit, study, onPart }: PartProps) {
  const { sheet, panels } = document;
  const set = (changes: Partial<typeof sheet>, hand = "") =>
    edit((now) => ({ ...now, sheet: { ...now.sheet, ...changes } }), hand);
  const several = panels.length > 1;
  const named = lettersOf(panels.length, sheet.letters === "none" ? "A" : sheet.letters);
  return (
    <>
      <PartLine name="size">
        <NumberBox
          label="Width"
          value={sheet.width}
          min={20}
          max={600}
          className="w-14"
          onChange={(width) => width && set({ width }, "width")}
          unit="×"
        />
        <NumberBox
          label="Height"
          value={sheet.height}
          min={20}
          max={600}
          className="w-14"
          onChange={(height) => height && set({ height }, "height")}
          unit="mm"
        />
      </PartLine>
      <PartLine name="title">
        <TextBox label="Title" value={sheet.title} onChange={(title) => set({ title }, "sheet title")} />
      </PartLine>
      <PartLine name="panels">
        <AddPanel {...{ document, edit, study }} />
        <SmallMultiples {...{ document, edit }} />
      </PartLine>
      {several && (
        <>
          <PartLine name="">
            {panels.map((_, i) => (
              <Button key={named[i]} className="px-2! text-small!" onClick={() => onPart(`${i}:panel`)}>
                {named[i]}
              </Button>
            ))}
          </PartLine>
          <PartLine name="side by side">
            <NumberBox
              label="Columns"
              value={sheet.columns}
              min={1}
              max={12}
              className="w-12"
              onChange={(columns) => columns && set({ columns: Math.round(columns) })}
            />
            <OneOf label="Letters" value={sheet.letters} options={LETTERS} onChange={(letters) => set({ letters })} />
          </PartLine>
          <PartLine name="shared">
            <Tick label="axis across" checked={sheet.share_across} onChange={(share_across) => set({ share_across })} />
            <Tick label="axis up" checked={sheet.share_up} onChange={(share_up) => set({ share_up })} />
          </PartLine>
        </>
      )}
    </>
  );
}

/** One panel among several: its title, its place, or off the sheet. */
export function PanelPart({ document, edit, part, onPart }: PartProps) {
  const i = panelOf(part);
  const panel = document.panels[i];
  if (!panel) return null;
  const move = (to: number) => {
    edit((now) => {
      const panels = [...now.panels];
      const [taken] = panels.splice(i, 1);
      if (taken) panels.splice(to, 0, taken);
      return { ...now, panels };
    });
    onPart(`${to}:panel`);
  };
  return (
    <>
      <PartLine name="title">
        <TextBox
          label="Title"
          value={panel.title}
          onChange={(title) => edit((now) => changed(now, ["panels", i, "title"], title), `${part} title`)}
        />
      </PartLine>
      <PartLine name="place">
        {i > 0 && (
          <Button className="text-small!" onClick={() => move(i - 1)}>
            Move back
          </Button>
        )}
        {i < document.panels.length - 1 && (
          <Button className="text-small!" onClick={() => move(i + 1)}>
            Move forward
          </Button>
        )}
        {document.panels.length > 1 && (
          <Button
            className="text-small!"
            onClick={() => {
              edit((now) => without(now, ["panels"], i));
              onPart("sheet");
            }}
          >
            Remove
          </Button>
        )}
      </PartLine>
    </>
  );
}

/** A sheet that grows with its panels, each as high as the first was. */
export function withPanels(now: PlateDocument, panels: Panel[], columns: number): PlateDocument {
  const rowsBefore = Math.ceil(now.panels.length / Math.min(now.sheet.columns, now.panels.length));
  const height = now.sheet.height / rowsBefore;
  const rows = Math.ceil(panels.length / columns);
  const wide = columns > 1 && now.sheet.width < 120 ? 175 : now.sheet.width;
  return {
    ...now,
    panels,
    sheet: { ...now.sheet, columns, width: wide, height: Math.min(Math.max(height * rows, 30), 600) },
  };
}

type AddProps = Pick<PartProps, "document" | "edit" | "study">;

/** The panels of another plate, beside those that are there. */
function AddPanel({ document, edit, study }: AddProps) {
  const { data: plates = [] } = usePlates(study);
  const options = plates.map(({ id, name, stages }) => ({ value: id, label: name, note: stages.join(", ") }));
  return (
    <WordChoice
      label="Add the panels of"
      shown="add another plate’s"
      value=""
      options={options}
      onChoose={(id) => {
        const other = plates.find((plate) => plate.id === id);
        if (!other) return;
        const panels = [...document.panels, ...other.document.panels].slice(0, MOST_PANELS);
        edit((now) => withPanels(now, panels, Math.min(panels.length, now.panels.length > 1 ? now.sheet.columns : 2)));
      }}
      className="min-h-6 text-small"
    />
  );
}

/** The first panel again for each level of a variable, on the same axes. */
function SmallMultiples({ document, edit }: Pick<PartProps, "document" | "edit">) {
  const source = document.panels[0]?.source;
  const { data: table } = useTable(source?.table);
  const [trouble, setTrouble] = useState("");
  const taken = source ? [ownVariable(source), ...rolesOf(source)] : [];
  const options = (table?.variables ?? [])
    .filter((variable) => canSplit(variable) && variable.levels.length > 0 && !taken.includes(variable.symbol))
    .map(({ symbol, label, levels }) => ({ value: symbol, label, note: counted(levels.length, "level") }));
  const repeated = document.panels.every(({ source: { only } }) => only);
  if (!source || options.length === 0) return null;
  return (
    <>
      <WordChoice
        label="One for each level of"
        shown={repeated ? "for each level of another" : "one for each level"}
        value={source.only?.by ?? ""}
        options={options}
        onChoose={(symbol) => {
          const levels = table?.variables.find((variable) => variable.symbol === symbol)?.levels ?? [];
          if (levels.length > MOST_PANELS)
            return setTrouble(`${levels.length} levels are more than the ${MOST_PANELS} panels of a sheet.`);
          setTrouble("");
          const columns = Math.min(levels.length, levels.length === 4 ? 2 : 3);
          edit((now) => {
            const first = nth(now.panels, 0);
            const panels = levels.map((level) => ({
              ...first,
              title: level,
              source: { ...first.source, only: { by: symbol, level } },
            }));
            const made = withPanels({ ...now, panels: [first] }, panels, columns);
            return { ...made, sheet: { ...made.sheet, letters: "none", share_across: true, share_up: true } };
          });
        }}
        className="min-h-6 text-small"
      />
      {trouble && <p className="text-caution text-small">{trouble}</p>}
    </>
  );
}
