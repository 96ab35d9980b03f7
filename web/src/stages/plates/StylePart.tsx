import { useState } from "react";
import { type PlateStyle, useStyleDeeds } from "../../api/plates";
import { usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { NumbersChoice } from "../../ui/NumbersChoice";
import { Tick } from "../../ui/Tick";
import { NumberBox, OneOf, PartLine } from "./fields";
import type { PartProps } from "./PartCard";
import { stylesOf } from "./usualStyle";

const FONTS = [
  { value: "sans", label: "sans-serif" },
  { value: "serif", label: "serif" },
] as const;
const FRAMES = [
  { value: "open", label: "open" },
  { value: "closed", label: "closed" },
] as const;
const TICKS = [
  { value: "out", label: "ticks outward" },
  { value: "in", label: "ticks inward" },
] as const;
const SIZES: [keyof PlateStyle & string, string][] = [
  ["type_size", "type"],
  ["title_size", "axis titles"],
  ["letter_size", "letters"],
  ["axis_line", "axis lines"],
  ["mark_line", "marks’ lines"],
  ["point_size", "points"],
];

/** Type, lines, marks and colours of all of a plate; kept under a name, put on other plates. */
export function StylePart({ document, furnishings, edit, study }: PartProps) {
  const { style } = document;
  const deeds = useStyleDeeds(study);
  const setPlateStyle = usePreferences((state) => state.setPlateStyle);
  const [said, setSaid] = useState("");
  const set = (changes: Partial<PlateStyle>, hand = "") =>
    edit((now) => ({ ...now, style: { ...now.style, ...changes } }), hand);
  const all = stylesOf(furnishings);
  const builtIn = furnishings.built_in.some(({ name }) => name === style.name);
  const known = all.find(({ name }) => name === style.name);
  const same = known !== undefined && JSON.stringify(known) === JSON.stringify(style);
  return (
    <>
      <PartLine name="style">
        <OneOf
          label="Style"
          value={known ? style.name : ""}
          options={[
            ...(known ? [] : [{ value: "", label: style.name }]),
            ...all.map(({ name }) => ({ value: name, label: name })),
          ]}
          onChange={(name) => {
            const result = all.find((style) => style.name === name);
            if (!result) return;
            set(result);
            setPlateStyle(name);
          }}
        />
        {!same && <span className="text-muted-ink text-small">changed here</span>}
      </PartLine>
      <PartLine name="colours">
        <OneOf
          label="Colours"
          value={style.colours}
          options={furnishings.sets.map(({ name, words }) => ({ value: name, label: `${name}: ${words}` }))}
          onChange={(colours) => set({ colours })}
        />
      </PartLine>
      <PartLine name="face">
        <OneOf label="Font" value={style.font} options={FONTS} onChange={(font) => set({ font })} />
        <Tick label="bold titles" checked={style.bold_titles} onChange={(bold_titles) => set({ bold_titles })} />
      </PartLine>
      <PartLine name="numbers">
        <NumbersChoice value={document.numbers} onChoose={(numbers) => edit((now) => ({ ...now, numbers }))} />
      </PartLine>
      {SIZES.map(([name, label]) => (
        <PartLine key={name} name={label}>
          <NumberBox
            label={label}
            value={style[name] as number}
            min={0.1}
            max={200}
            step={0.1}
            className="w-14"
            onChange={(value) => value && set({ [name]: value }, `style ${name}`)}
            unit="pt"
          />
        </PartLine>
      ))}
      <PartLine name="frame">
        <OneOf label="Frame" value={style.frame} options={FRAMES} onChange={(frame) => set({ frame })} />
        <OneOf label="Ticks" value={style.ticks} options={TICKS} onChange={(ticks) => set({ ticks })} />
      </PartLine>
      <PartLine name="told apart">
        <Tick label="by shape" checked={style.shapes} onChange={(shapes) => set({ shapes })} />
        <Tick label="by dash" checked={style.dashes} onChange={(dashes) => set({ dashes })} />
        <Tick label="by hatch" checked={style.hatches} onChange={(hatches) => set({ hatches })} />
        <Tick label="gridlines" checked={style.gridlines} onChange={(gridlines) => set({ gridlines })} />
      </PartLine>
      <form
        className="mt-1 flex flex-wrap items-center gap-1.5 border-line border-t pt-2"
        onSubmit={(event) => {
          event.preventDefault();
          const name = String(new FormData(event.currentTarget).get("name") ?? "").trim();
          if (!name) return;
          if (furnishings.built_in.some((style) => style.name === name))
            return setSaid("That name is taken by a style of ours.");
          deeds.keep.mutate(
            { ...style, name },
            { onSuccess: () => setSaid(`Saved as ${name}.`), onError: (error) => setSaid(error.message) },
          );
          set({ name });
          setPlateStyle(name);
        }}
      >
        <input
          name="name"
          aria-label="Name of the style"
          defaultValue={builtIn ? "" : style.name}
          placeholder="name"
          className="min-h-6 w-28 rounded-md border border-line-strong/60 bg-surface px-1.5"
        />
        <Button type="submit" className="text-small!">
          Save the style
        </Button>
        <Button
          className="text-small!"
          onClick={() =>
            deeds.all.mutate(style, {
              onSuccess: (plates) => setSaid(`Put on ${plates.length} plates.`),
              onError: (error) => setSaid(error.message),
            })
          }
        >
          Put it on all plates
        </Button>
        {!builtIn && known && (
          <Button
            look="link"
            className="text-small!"
            onClick={() =>
              deeds.forget.mutate(style.name, { onSuccess: () => setSaid("Forgotten; this plate keeps its looks.") })
            }
          >
            delete the style
          </Button>
        )}
        {said && (
          <p role="status" className="w-full text-muted-ink text-small">
            {said}
          </p>
        )}
      </form>
    </>
  );
}
