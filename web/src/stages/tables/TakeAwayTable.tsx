import { useState } from "react";
import { TABLE_FORMS } from "../../api/choices.gen";
import {
  readTableFile,
  type Shown,
  type TableForm,
  type TablePlate,
  type TablePlateDocument,
} from "../../api/tablePlates";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { keysOf } from "../../values";
import { fileName } from "../plates/files";

type TakeAwayTableProps = {
  plate: TablePlate;
  document: TablePlateDocument;
  shown: Shown | undefined;
  name: string;
};

const ENDINGS: Record<TableForm, string> = {
  docx: "docx",
  html: "html",
  latex: "tex",
  markdown: "md",
  xlsx: "xlsx",
  csv: "csv",
};

/** A table as a file, or on the clipboard as a real table. */
export function TakeAwayTable({ plate, document, shown, name }: TakeAwayTableProps) {
  const [said, setSaid] = useState("");
  const [trouble, setTrouble] = useState("");
  const take = async (deed: () => Promise<string>) => {
    setTrouble("");
    try {
      setSaid(await deed());
    } catch (error) {
      setSaid("");
      setTrouble(error instanceof Error ? error.message : "It could not be written.");
    }
  };
  const download = (form: TableForm) =>
    take(async () => {
      handOver(await readTableFile(plate.id, document, form), `${fileName(name)}.${ENDINGS[form]}`);
      return `${TABLE_FORMS[form].label}: written.`;
    });
  const copy = () =>
    take(async () => {
      const [html, markdown] = await Promise.all([
        readTableFile(plate.id, document, "html"),
        readTableFile(plate.id, document, "markdown"),
      ]);
      await navigator.clipboard.write([
        new ClipboardItem({
          "text/html": new Blob([await html.text()], { type: "text/html" }),
          "text/plain": new Blob([await markdown.text()], { type: "text/plain" }),
        }),
      ]);
      return "The table is on the clipboard.";
    });
  return (
    <span className="flex items-center gap-2">
      <Button className="text-small!" disabled={!shown} onClick={copy}>
        Copy
      </Button>
      <Floating
        label="Download"
        align="end"
        className="w-72 p-3.5"
        trigger={
          <Button look="primary" disabled={!shown}>
            Download…
          </Button>
        }
      >
        <div className="flex flex-wrap gap-1.5">
          {keysOf(TABLE_FORMS).map((form) => (
            <Button key={form} title={TABLE_FORMS[form].help} onClick={() => download(form)}>
              {TABLE_FORMS[form].label}
            </Button>
          ))}
        </div>
        <p role="status" className="mt-2 min-h-5 text-muted-ink text-small">
          {said}
        </p>
        {trouble && <Notice problem={trouble} />}
      </Floating>
    </span>
  );
}
