import type { Place } from "./usePlace";

/** The stages in their order, with the address of each where the reader is. */
export function stageAddresses({ study, line }: Place) {
  return [
    { name: "Intake", to: study ? `/studies/${study.id}/intake${line ? `?table=${line.id}` : ""}` : "/" },
    { name: "Spread", to: line ? `/tables/${line.id}/spread` : "/" },
  ];
}
