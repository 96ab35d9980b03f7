import { type FormEvent, type ReactNode, useState } from "react";
import type { Choices, Preview } from "../../api/studies";
import { Button } from "../../ui/Button";
import { Card } from "../../ui/Card";
import { Field } from "../../ui/Field";
import { Floating } from "../../ui/Floating";
import { Hint } from "../../ui/Hint";
import { WordChoice, type WordOption } from "../../ui/WordChoice";
import { listIn } from "../../values";
import { counted } from "../../words/numbers";

type UnderstoodProps = { found: Preview; choices: Choices; onChange: (changes: Choices) => void };

type Setting = "parts" | "totals" | "delimiter" | "decimal" | "encoding" | "header";
const LINES: { setting: Setting; label: string; options: WordOption[] }[] = [
  {
    setting: "parts",
    label: "Tables on the sheet",
    options: [
      { value: "one", label: "one table" },
      { value: "joined", label: "joined", note: "side by side, by what they share" },
      { value: "stacked", label: "one below the other", note: "rows of the same columns" },
      { value: "apart", label: "a table each" },
    ],
  },
  {
    setting: "totals",
    label: "Totals and means",
    options: [{ value: "left-out", label: "left out" }],
  },
  {
    setting: "delimiter",
    label: "Separator",
    options: [
      { value: ",", label: "comma" },
      { value: ";", label: "semicolon" },
      { value: "\t", label: "tab" },
      { value: "|", label: "vertical bar" },
      { value: " ", label: "spaces" },
      { value: "", label: "nothing", note: "one column" },
    ],
  },
  {
    setting: "decimal",
    label: "Decimal mark",
    options: [
      { value: ".", label: "point" },
      { value: ",", label: "comma" },
    ],
  },
  {
    setting: "encoding",
    label: "Text encoding",
    options: [
      { value: "utf-8", label: "UTF-8" },
      { value: "utf-16", label: "UTF-16" },
      { value: "latin-1", label: "Latin-1" },
      { value: "windows-1252", label: "Windows-1252" },
    ],
  },
  {
    setting: "header",
    label: "Header row",
    options: [
      { value: "names", label: "names" },
      { value: "names-and-units", label: "names, then units" },
      { value: "groups-and-names", label: "groups, then names" },
      { value: "none", label: "values already" },
    ],
  },
];

/** What was understood from the file, each guess with its reason on hover and changeable in place. */
export function Understood({ found, choices, onChange }: UnderstoodProps) {
  const changed = Object.values(choices).some((choice) => choice !== null);
  const { format, sheet, block, above, comments, blank_columns: blank, missing_codes: codes } = found.found;
  const sheets = listIn(found.found.sheets?.value).map(String);
  return (
    <Card
      title="How the file was read"
      aside={
        changed && (
          <Button
            look="link"
            className="text-small!"
            onClick={() =>
              onChange({
                delimiter: null,
                decimal: null,
                encoding: null,
                above: null,
                header: null,
                parts: null,
                totals: null,
                missing_codes: null,
                kinds: null,
                below_limits: null,
                date_orders: null,
                one_spelling: null,
              })
            }
          >
            as found
          </Button>
        )
      }
    >
      <dl className="min-h-0 overflow-y-auto py-1.5">
        {format && (
          <Line label="Format" why={format.why}>
            {String(format.value)}
          </Line>
        )}
        {sheet && sheets.length > 1 && (
          <Line label="Table of" why={sheet.why}>
            <WordChoice
              label="Sheet"
              shown={String(sheet.value)}
              value={String(sheet.value)}
              options={sheets.map((name) => ({ value: name, label: name }))}
              onChoose={(chosen) => onChange({ sheet: chosen, block: null })}
            />
          </Line>
        )}
        {block && (
          <Line label="Cells of" why={block.why}>
            <BlockChoice key={String(block.value)} block={listIn(block.value).map(Number)} onChange={onChange} />
          </Line>
        )}
        {above && (
          <Line label="Lines before the header" why={above.why}>
            <AboveChoice key={String(above.value)} lines={Number(above.value)} onChange={onChange} />
          </Line>
        )}
        {LINES.map(({ setting, label, options }) => {
          const guess = found.found[setting];
          if (!guess) return null;
          const value = String(guess.value);
          return (
            <Line key={setting} label={label} why={guess.why}>
              <WordChoice
                label={label}
                shown={options.find((option) => option.value === value)?.label ?? value}
                value={value}
                options={options}
                onChoose={(chosen) => onChange({ [setting]: chosen } as Choices)}
              />
            </Line>
          );
        })}
        {codes && (
          <Line label="Missing-value codes" why={codes.why}>
            <MissingCodes key={String(codes.value)} codes={listIn(codes.value).map(String)} onChange={onChange} />
          </Line>
        )}
        {comments && Number(comments.value) > 0 && (
          <Line label="Not used" why={comments.why}>
            {counted(Number(comments.value), "comment line")}
          </Line>
        )}
        {blank && (
          <Line label="Not used" why={blank.why}>
            {counted(listIn(blank.value).length, "blank column")}
          </Line>
        )}
      </dl>
    </Card>
  );
}

function Line({ label, why, children }: { label: string; why: string; children: ReactNode }) {
  return (
    <div className="grid min-h-[25px] grid-cols-[10.000rem_1fr] items-baseline px-3.5">
      <Hint text={why}>
        <dt className="text-muted-ink">{label}</dt>
      </Hint>
      <dd>
        {children}
        <span className="sr-only">, because {why}</span>
      </dd>
    </div>
  );
}

type TypedChoiceProps = { label: string; setting: string; shown: string; onSet: () => void; children: ReactNode };

/** A word of the list that is set by typing. */
function TypedChoice({ label, setting, shown, onSet, children }: TypedChoiceProps) {
  const [open, setOpen] = useState(false);
  const set = (event: FormEvent) => {
    event.preventDefault();
    setOpen(false);
    onSet();
  };
  return (
    <Floating
      label={label}
      open={open}
      onOpenChange={setOpen}
      className="w-72 p-3"
      trigger={
        <button type="button" className="dotted-word px-0.5 text-left" aria-label={`${setting}: ${shown}`}>
          {shown}
        </button>
      }
    >
      <form onSubmit={set} className="flex items-end gap-2">
        {children}
        <Button type="submit">Set</Button>
      </form>
    </Floating>
  );
}

function MissingCodes({ codes, onChange }: { codes: string[]; onChange: (changes: Choices) => void }) {
  const [typed, setTyped] = useState(codes.join(", "));
  const named = typed
    .split(",")
    .map((code) => code.trim())
    .filter(Boolean);
  const shown = ["blank", ...codes.map((code) => code.replace(/^-(?=\d)/, "\u2212"))].join(", ");
  return (
    <TypedChoice
      label="Missing-value codes"
      setting="Missing-value codes"
      shown={shown}
      onSet={() => onChange({ missing_codes: named })}
    >
      <Field
        label="Besides blank, separated by commas"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
    </TypedChoice>
  );
}

/** How many lines over the table are no part of it. */
function AboveChoice({ lines, onChange }: { lines: number; onChange: (changes: Choices) => void }) {
  const [typed, setTyped] = useState(String(lines));
  return (
    <TypedChoice
      label="Lines before the header"
      setting="Lines before the header"
      shown={lines === 0 ? "nothing" : `${counted(lines, "line")}, not read`}
      onSet={() => onChange({ above: Number(typed) })}
    >
      <Field
        label="Lines that are no part of the table"
        type="number"
        min={0}
        max={100}
        required
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
    </TypedChoice>
  );
}

const EDGES = ["first row", "last row", "first column", "last column"] as const;

/** Which block of a sheet's cells is the table. */
function BlockChoice({ block, onChange }: { block: number[]; onChange: (changes: Choices) => void }) {
  const [typed, setTyped] = useState(block.map(String));
  const set = () => {
    const [top, bottom, left, right] = typed.map(Number);
    if (top && bottom && left && right) onChange({ block: [top, bottom, left, right] });
  };
  return (
    <TypedChoice
      label="Cells of the sheet"
      setting="Cells"
      shown={`rows ${block[0]} to ${block[1]}, columns ${block[2]} to ${block[3]}`}
      onSet={set}
    >
      <span className="grid grid-cols-2 gap-2">
        {EDGES.map((edge, i) => (
          <Field
            key={edge}
            label={edge}
            type="number"
            min={1}
            required
            value={typed[i] ?? ""}
            onChange={(event) => setTyped(typed.map((text, place) => (place === i ? event.target.value : text)))}
          />
        ))}
      </span>
    </TypedChoice>
  );
}
