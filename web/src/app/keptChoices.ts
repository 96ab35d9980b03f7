import type { Place } from "./usePlace";

/** What was chosen in a stage, for a variable of it: another one has a spread of its own, and a recipe being changed is
 *  of one variable only. */
export function keptChoices(search: string, stage: string, variable: string): string {
  const chosen = new URLSearchParams(search);
  const query = stage === "spread" && chosen.get("variable") !== variable ? new URLSearchParams() : chosen;
  query.delete("instead");
  query.set("variable", variable);
  return query.toString();
}

/** The choices of the stage that is open, or else those last made in the stage that would be. */
export const searchOf = ({ stage, searches }: Pick<Place, "stage" | "searches">, pathname: string, search: string) =>
  pathname.endsWith(`/${stage}`) ? search : (searches[stage] ?? "");
