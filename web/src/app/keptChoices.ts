/** What was chosen in a stage, for another variable of it; a recipe being changed is of one variable only. */
export function keptChoices(pathname: string, search: string, stage: string, variable: string): string {
  const query = new URLSearchParams(stage !== "spread" && pathname.endsWith(`/${stage}`) ? search : "");
  query.delete("instead");
  query.set("variable", variable);
  return query.toString();
}
