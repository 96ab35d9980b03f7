import type { Furniture } from "../../api/plates";
import { coloursOf } from "../../figure/look";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { changed, without } from "./editing";
import { ColourBox, Numbers, type NumbersOf, OneOf, PartLine, TextBox } from "./fields";
import { newFurniture } from "./furniture";
import type { PartProps } from "./PartCard";
import { panelOf, restOf } from "./parts";

/** What was put on a panel: a line, a band, a note, a bracket or a number slip. */
export function FurniturePart({ document, scenes, furnishings, edit, part, onPart }: PartProps) {
  const i = panelOf(part);
  const k = Number(restOf(part));
  const piece = document.panels[i]?.furniture[k];
  const scene = scenes[i];
  if (!piece || !scene) return null;
  const set = (changes: Partial<Furniture>, hand = "") =>
    edit(
      (now) =>
        changed(now, ["panels", i, "furniture", k], { ...(now.panels[i]?.furniture[k] as Furniture), ...changes }),
      hand,
    );
  const stepOf = (side: "across" | "up") => {
    const axis = scene[side];
    return Number(((axis.high - axis.low) / 50).toPrecision(1));
  };
  const [own, across, up] = [stepOf(piece.axis), stepOf("across"), stepOf("up")];
  const numbers = (line: string, boxes: NumbersOf<Furniture>) => (
    <Numbers own={piece} {...{ line, part, boxes, set }} />
  );
  return (
    <>
      {piece.kind !== "slip" && (
        <PartLine name="text">
          <TextBox label="Text" value={piece.text} onChange={(text) => set({ text }, `${part} text`)} />
        </PartLine>
      )}
      {(piece.kind === "line" || piece.kind === "band") && (
        <>
          <PartLine name="on">
            <OneOf label="Axis" value={piece.axis} options={AXES} onChange={(axis) => set({ axis })} />
          </PartLine>
          {piece.kind === "line"
            ? numbers("at", [{ name: "at", label: "At", step: own }])
            : numbers("from, to", [
                { name: "at", label: "From", step: own },
                { name: "to", label: "To", step: own },
              ])}
        </>
      )}
      {piece.kind === "note" && (
        <>
          {numbers("stands at", [
            { name: "x", label: "Across", step: across },
            { name: "y", label: "Up", step: up },
          ])}
          {numbers("points to", [
            { name: "arrow_x", label: "Arrow across", step: across },
            { name: "arrow_y", label: "Arrow up", step: up },
          ])}
        </>
      )}
      {piece.kind === "bracket" &&
        numbers("from, to, at", [
          { name: "at", label: "From group" },
          { name: "to", label: "To group" },
          { name: "y", label: "Height", step: up },
        ])}
      {piece.kind === "slip" && (
        <>
          {numbers("place", [
            { name: "x", label: "From the left", step: 0.02 },
            { name: "y", label: "From the top", step: 0.02 },
          ])}
          <PartLine name="numbers">
            <span className="flex max-h-36 w-full flex-col overflow-y-auto">
              {scene.numbers.map(({ name }) => (
                <Tick
                  key={name}
                  label={name}
                  checked={piece.names.includes(name)}
                  onChange={(on) => set({ names: withOrWithout(piece.names, name, on) })}
                />
              ))}
            </span>
          </PartLine>
        </>
      )}
      {piece.kind !== "slip" && piece.kind !== "bracket" && (
        <PartLine name="colour">
          <ColourBox
            label="Colour"
            value={piece.colour}
            usual={document.style.ink}
            swatches={coloursOf(document.style, furnishings).colours.slice(0, 5)}
            onChange={(colour) => set({ colour }, `${part} colour`)}
          />
        </PartLine>
      )}
      <PartLine name="">
        <Button
          className="text-small!"
          onClick={() => {
            edit((now) => without(now, ["panels", i, "furniture"], k));
            onPart(`${i}:${document.panels.length > 1 ? "panel" : "across"}`);
          }}
        >
          Remove
        </Button>
        <Button
          className="text-small!"
          onClick={() => {
            edit((now) =>
              changed(
                now,
                ["panels", i, "furniture"],
                [...(now.panels[i]?.furniture ?? []), newFurniture(piece.kind, scene, piece)],
              ),
            );
            onPart(`${i}:furniture:${document.panels[i]?.furniture.length ?? 0}`);
          }}
        >
          One more
        </Button>
      </PartLine>
    </>
  );
}

const AXES = [
  { value: "up", label: "the axis up" },
  { value: "across", label: "the axis across" },
] as const;
