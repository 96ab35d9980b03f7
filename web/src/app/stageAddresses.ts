import { keptChoices } from "./keptChoices";
import type { Place } from "./usePlace";

/** The stages in their order, with the address of each where the reader is. */
export function stageAddresses({ study, table, at, variable, searches }: Place) {
  // A table names its study before the list of studies is there.
  const home = study?.id ?? table?.study_id;
  const here = table?.variables.some(({ symbol }) => symbol === variable);
  const intake = home ? `/studies/${home}/intake${at ? `?table=${at}` : ""}` : "/";
  // A study without a table is given one first.
  const of = (stage: string) => {
    const chosen = here && variable ? keptChoices(searches[stage] ?? "", stage, variable) : "";
    return at ? `/tables/${at}/${stage}${chosen && `?${chosen}`}` : intake;
  };
  return [
    { name: "Intake", to: intake },
    { name: "Spread", to: of("spread") },
    { name: "Rescale", to: of("rescale") },
    { name: "Screen", to: of("screen") },
    { name: "Compare", to: of("compare") },
    { name: "Relate", to: of("relate") },
    { name: "Plates", to: home ? `/studies/${home}/plates` : "/" },
  ];
}
