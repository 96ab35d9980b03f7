import type { Place } from "./usePlace";

/** The stages in their order, with the address of each where the reader is. */
export function stageAddresses({ study, line, table, at, variable }: Place) {
  const here = table?.variables.some(({ symbol }) => symbol === variable);
  const shown = here && variable ? `?variable=${encodeURIComponent(variable)}` : "";
  const intake = study ? `/studies/${study.id}/intake${line ? `?table=${line.id}` : ""}` : "/";
  // A study without a table is given one first.
  const of = (stage: string) => (at ? `/tables/${at}/${stage}${shown}` : intake);
  return [
    { name: "Intake", to: intake },
    { name: "Spread", to: of("spread") },
    { name: "Rescale", to: of("rescale") },
    { name: "Screen", to: of("screen") },
    { name: "Compare", to: of("compare") },
    { name: "Relate", to: of("relate") },
    { name: "Plates", to: study ? `/studies/${study.id}/plates` : "/" },
  ];
}
