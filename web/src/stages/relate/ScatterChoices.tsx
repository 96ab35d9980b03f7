import type { Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import { ChoiceLine } from "../../ui/ChoiceLine";
import { Choices } from "../../ui/Choices";
import { Floating } from "../../ui/Floating";
import { NumberFields } from "../../ui/NumberFields";
import { Range } from "../../ui/Range";
import { Tick } from "../../ui/Tick";
import { isNumeric } from "../../words/kinds";
import { optionOf } from "../SentenceWords";
import { SeveralChoice } from "../SeveralChoice";
import type { ScatterViewProps } from "./ScatterView";
import { BANDS, DRAGS, JOINS, MARGINS, SHADES, WIDTH_RULES } from "./useRelateChoices";

const USUAL_OPACITY = 0.5;

/** How pairs, lines and axes are drawn. */
export function ScatterChoices({ table, choices, change, by, also, bars, x, variable }: ScatterViewProps) {
  const [xlog, ylog] = choices.logs;
  const yes = (on: boolean) => (on ? "yes" : null);
  return (
    <Floating
      label="Display"
      align="end"
      className="w-[26rem] px-3.5 py-2"
      trigger={
        <Button look="word" className="text-small!">
          display
        </Button>
      }
    >
      {(choices.form === "points" || choices.form === "counts" || choices.sparse > 0) && (
        <ChoiceLine name="Points">
          <Range
            label="how opaque"
            min={0.03}
            value={choices.opacity ?? USUAL_OPACITY}
            onSet={(value) => change({ opacity: value }, true)}
          />
          {choices.form === "points" && (
            <>
              <Range
                label={`scattered along ${x.label}`}
                value={choices.scatter[0]}
                onSet={(value) => change({ jx: value || null }, true)}
              />
              <Range
                label={`scattered along ${variable.label}`}
                value={choices.scatter[1]}
                onSet={(value) => change({ jy: value || null }, true)}
              />
            </>
          )}
        </ChoiceLine>
      )}
      {choices.form === "points" && also.length === 0 && (
        <ChoiceLine name="Bars">
          {(
            [["ybars", variable, bars.y], ...(isNumeric(x) ? [["xbars", x, bars.x]] : [])] as [
              string,
              Variable,
              Variable[],
            ][]
          ).map(([name, of, chosen]) => (
            <SeveralChoice
              key={name}
              className="min-h-6"
              label={`Bars of ${of.label}`}
              shown={chosen.length > 0 ? chosen.map(({ label }) => label).join(" to ") : `none along ${of.label}`}
              options={table.variables
                .filter((other) => isNumeric(other) && other !== x && other !== variable)
                .map(optionOf)}
              chosen={chosen.map(({ symbol }) => symbol)}
              onChoose={(next) => change({ [name]: next.slice(-2).join(" ") })}
            />
          ))}
        </ChoiceLine>
      )}
      {(choices.form === "hexagons" || choices.form === "cells") && (
        <ChoiceLine name={choices.form === "cells" ? "Cells" : "Hexagons"}>
          <Range
            label="across"
            min={8}
            max={200}
            value={choices.across}
            onSet={(value) => change({ across: value }, true)}
          />
        </ChoiceLine>
      )}
      {(choices.form === "density" || choices.form === "contours") && (
        <ChoiceLine name="Density">
          <Choices
            label="Bandwidths by"
            options={WIDTH_RULES}
            chosen={choices.rule}
            onChoose={(rule) => change({ wr: rule === "normal-reference" ? null : rule })}
          />
          <NumberFields
            empty="by rule"
            key={`${choices.widths} ${choices.sparse} ${choices.grid}`}
            fields={{
              [`Bandwidth, ${x.label}`]: choices.widths[0],
              [`Bandwidth, ${variable.label}`]: choices.widths[1],
              Grid: choices.grid,
              "Sparsest points on top": choices.sparse,
            }}
            onSet={([wx, wy, grid, sparse]) => change({ wx, wy, grid, sparse })}
          />
        </ChoiceLine>
      )}
      {choices.form !== "points" && choices.form !== "counts" && (
        <ChoiceLine name="Colours">
          <Choices
            label="Colours"
            options={SHADES}
            chosen={choices.shade}
            onChoose={(shade) => change({ shade: shade === "heron" ? null : shade })}
          />
        </ChoiceLine>
      )}
      <ChoiceLine name="Axes">
        {x.kind !== "date-time" && (
          <Tick
            label={`${x.label} logarithmic`}
            checked={xlog}
            onChange={(on) => change({ xlog: yes(on), window: null })}
          />
        )}
        <Tick
          label={`${variable.label} logarithmic`}
          checked={ylog}
          onChange={(on) => change({ ylog: yes(on), window: null })}
        />
        <NumberFields
          empty="by rule"
          key={choices.window?.join() ?? ""}
          fields={{
            "x from": choices.window?.[0] ?? null,
            "x to": choices.window?.[1] ?? null,
            "y from": choices.window?.[2] ?? null,
            "y to": choices.window?.[3] ?? null,
          }}
          onSet={(ends) => change({ window: ends.every((end) => end !== null) ? ends.join(" ") : null })}
        />
      </ChoiceLine>
      <ChoiceLine name="Margins">
        <Choices
          label="Margins"
          options={MARGINS}
          chosen={choices.margins}
          onChoose={(next) => change({ margins: next === "none" ? null : next })}
        />
      </ChoiceLine>
      {choices.joined && (
        <ChoiceLine name="Joined">
          <Choices
            label="Joined"
            options={JOINS}
            chosen={choices.joined}
            onChoose={(next) => change({ joined: next })}
          />
        </ChoiceLine>
      )}
      <ChoiceLine name="Dragging">
        <Choices
          label="Dragging"
          options={DRAGS}
          chosen={choices.drag}
          onChoose={(next) => change({ drag: next === "box" ? null : next })}
        />
      </ChoiceLine>
      {choices.lines.length > 0 && also.length === 0 && (
        <ChoiceLine name="Lines">
          {choices.lines.includes("smooth") && (
            <Range
              label="span of the lowess curve"
              min={0.05}
              value={choices.span}
              onSet={(value) => change({ span: value }, true)}
            />
          )}
          {by && (
            <Tick label={`for each ${by.label}`} checked={choices.each} onChange={(on) => change({ each: yes(on) })} />
          )}
          {choices.lines.includes("least-squares") && (
            <>
              <Choices
                label="Band"
                options={BANDS}
                chosen={choices.bands}
                onChoose={(next) => change({ bands: next === "none" ? null : next })}
              />
              <Tick
                label="residuals below"
                checked={choices.residuals}
                onChange={(on) => change({ residuals: yes(on) })}
              />
              <Tick
                label="equation on the picture"
                checked={choices.equation}
                onChange={(on) => change({ equation: yes(on) })}
              />
            </>
          )}
        </ChoiceLine>
      )}
    </Floating>
  );
}
