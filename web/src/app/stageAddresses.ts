import type { Place } from "./usePlace";

/** The stages in their order, with the address of each where the reader is. */
export function stageAddresses({ study, line, table, variable }: Place) {
  const here = table?.variables.some(({ symbol }) => symbol === variable);
  const shown = here && variable ? `?variable=${encodeURIComponent(variable)}` : "";
  return [
    { name: "Intake", to: study ? `/studies/${study.id}/intake${line ? `?table=${line.id}` : ""}` : "/" },
    { name: "Spread", to: line ? `/tables/${line.id}/spread${shown}` : "/" },
    { name: "Rescale", to: line ? `/tables/${line.id}/rescale${shown}` : "/" },
  ];
}
