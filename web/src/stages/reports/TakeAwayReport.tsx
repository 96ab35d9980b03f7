import { useState } from "react";
import { REPORT_FORMS } from "../../api/choices.gen";
import { type Composed, type Report, type ReportForm, readReportFile } from "../../api/reports";
import { Button } from "../../ui/Button";
import { Floating } from "../../ui/Floating";
import { handOver } from "../../ui/handOver";
import { Notice } from "../../ui/Notice";
import { keysOf } from "../../values";
import { fileName } from "../plates/files";
import { Progress } from "../plates/Progress";
import { isLetGo, useMaking, wordsOfError } from "./usePages";

type TakeAwayReportProps = {
  report: Report;
  composed: Composed | undefined;
  name: string;
  waiting: boolean;
};

/** A report as a file. */
export function TakeAwayReport({ report, composed, name, waiting }: TakeAwayReportProps) {
  const [said, setSaid] = useState("");
  const [trouble, setTrouble] = useState("");
  const { share, make, stop } = useMaking(report);
  const download = async (form: ReportForm) => {
    if (!composed) return;
    setTrouble("");
    setSaid("");
    try {
      await make(form, composed);
      handOver(await readReportFile(report.id, form), `${fileName(name)}.${form}`);
      setSaid(`${REPORT_FORMS[form].label}: written.`);
    } catch (error) {
      if (!isLetGo(error)) setTrouble(wordsOfError(error));
    }
  };
  return (
    <Floating
      label="Download"
      align="end"
      className="w-80 p-3.5"
      trigger={
        <Button look="primary" disabled={!composed || waiting}>
          Download…
        </Button>
      }
    >
      <div className="flex flex-col gap-1.5">
        {keysOf(REPORT_FORMS).map((form) => (
          <Button
            key={form}
            disabled={share !== null}
            className="flex-col items-start! gap-0!"
            onClick={() => download(form)}
          >
            {REPORT_FORMS[form].label}
            <span className="text-left text-muted-ink text-small">{REPORT_FORMS[form].help}</span>
          </Button>
        ))}
      </div>
      {share !== null && (
        <div className="mt-2">
          <Progress share={share} words={`${Math.round(share * 100)} %`} onStop={stop} />
        </div>
      )}
      <p role="status" className="mt-2 min-h-5 text-muted-ink text-small">
        {said}
      </p>
      {trouble && <Notice problem={trouble} />}
    </Floating>
  );
}
