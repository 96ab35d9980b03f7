import type { Table, Variable } from "../api/studies";
import { isNumeric } from "../words/kinds";

type Role = "number" | "number2" | "group" | "group2" | "level" | "time";

/** What a role needs, in words, where a table has nothing for it. */
const NEEDS: Record<Role, string> = {
  number: "a variable of numbers",
  number2: "two variables of numbers",
  group: "a variable that names groups",
  group2: "two variables that name groups",
  level: "a variable with levels",
  time: "a variable of dates or times",
};
const MOST_GROUPS = 60;

/** Where a lead of a help page goes on a table: its stage, set up with variables for each role; or what the table lacks. */
export function leadOn(
  lead: string,
  table: Table | undefined,
  variable: string | null,
): { to: string } | { lacks: string } {
  if (!table) return { lacks: "a table" };
  const found = rolesIn(table, variable, lead.includes("{level}"));
  const roles = [...lead.matchAll(/\{([a-z0-9]+)\}/g)].map(([, role]) => role as Role);
  const lacking = roles.find((role) => !found[role]);
  if (lacking) return { lacks: NEEDS[lacking] };
  const filled = lead.replace(/\{([a-z0-9]+)\}/g, (_, role) => encodeURIComponent(found[role as Role] ?? ""));
  return { to: `/tables/${table.id}/${filled.replace(/^go:/, "")}` };
}

const inOrder = (variables: readonly Variable[], rank: (one: Variable) => number) =>
  [...variables].sort((a, b) => rank(a) - rank(b));

/** besideLevel: groups are others than the variable with levels. */
function rolesIn(table: Table, at: string | null, besideLevel: boolean): Partial<Record<Role, string>> {
  // What is looked at now comes first.
  const variables = [...table.variables].sort((a, b) => Number(b.symbol === at) - Number(a.symbol === at));
  const numbers = variables.filter((one) => isNumeric(one) && one.kind !== "ordered");
  const groups = variables.filter(
    ({ kind, levels }) =>
      (kind === "category" || kind === "ordered") && levels.length > 1 && levels.length <= MOST_GROUPS,
  );
  // Words are levels before numbers are, and those in an order before others; groups are what has no order.
  const levels = inOrder(groups, (one) => 2 * Number(isNumeric(one)) + Number(one.kind !== "ordered"));
  const [number, number2] = numbers;
  const level = levels[0];
  const parting = inOrder(groups, (one) => Number(one.kind === "ordered"));
  const [group, group2] = besideLevel ? parting.filter((one) => one !== level) : parting;
  const time = variables.find(({ kind }) => kind === "date-time");
  const found = { number, number2, level, time, group, group2 };
  return Object.fromEntries(Object.entries(found).flatMap(([role, one]) => (one ? [[role, one.symbol]] : [])));
}
