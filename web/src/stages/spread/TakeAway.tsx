import type { RefObject } from "react";
import { type ClassSettings, type Definition, numbersAddress } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import type { Shown } from "../../figure/screen";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { Notice } from "../../ui/Notice";
import { titled } from "../../words/kinds";
import { KeepPlate } from "../plates/KeepPlate";
import { DPI, useTakePicture } from "../useTakePicture";

type TakeAwayProps = {
  /** What can be taken as a file; null for a table. */
  drawing: RefObject<Shown | null> | null;
  caption: string;
  table: Table;
  variable: Variable;
  definition: Definition;
  classes: ClassSettings;
};

/** The plot as SVG or PNG with its caption, and the numbers as CSV. */
export function TakeAway({ drawing, caption, table, variable, definition, classes }: TakeAwayProps) {
  const { take, trouble } = useTakePicture(drawing, `${table.name} ${variable.symbol} spread`, caption);
  return (
    <span className="ml-auto flex items-center gap-3">
      <KeepPlate />
      <Floating
        label="Download"
        side="top"
        align="end"
        className="w-80 p-3.5"
        trigger={
          <Button look="primary" className="text-small!">
            Download
          </Button>
        }
      >
        <p className="mb-3 font-serif text-muted-ink">{caption}</p>
        <div className="flex flex-wrap gap-1.5">
          {drawing && (
            <>
              <Button onClick={() => take("svg")}>Plot as SVG</Button>
              <Button onClick={() => take("png")}>Plot as PNG, {DPI} dpi</Button>
            </>
          )}
          <a
            href={numbersAddress(table, variable.symbol, { quantile_definition: definition }, classes)}
            download
            className="inline-flex min-h-6 items-center rounded-lg border border-line px-2.5 py-[3px] hover:border-line-strong"
          >
            Numbers as CSV
          </a>
        </div>
        {trouble && <Notice problem={`${titled(trouble)}`} className="mt-3" />}
      </Floating>
    </span>
  );
}
