import type { Place } from "./usePlace";

/** The stages in their order, with the address of each where the reader is. */
export function stageAddresses({ study, line, table, at, variable }: Place) {
  const here = table?.variables.some(({ symbol }) => symbol === variable);
  const shown = here && variable ? `?variable=${encodeURIComponent(variable)}` : "";
  return [
    { name: "Intake", to: study ? `/studies/${study.id}/intake${line ? `?table=${line.id}` : ""}` : "/" },
    { name: "Spread", to: at ? `/tables/${at}/spread${shown}` : "/" },
    { name: "Rescale", to: at ? `/tables/${at}/rescale${shown}` : "/" },
    { name: "Screen", to: at ? `/tables/${at}/screen${shown}` : "/" },
    { name: "Compare", to: at ? `/tables/${at}/compare${shown}` : "/" },
    { name: "Relate", to: at ? `/tables/${at}/relate${shown}` : "/" },
    { name: "Plates", to: study ? `/studies/${study.id}/plates` : "/" },
  ];
}
