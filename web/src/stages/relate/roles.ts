import type { Table, Variable } from "../../api/studies";
import { isNumeric } from "../../words/kinds";
import { canOrder, canSplit } from "../spread/Sentence";
import type { RelateChoices } from "./useRelateChoices";

type RolesChosen = Pick<RelateChoices, "variable" | "x" | "also" | "by" | "size" | "view">;

/** What a picture of pairs is of. also: further variables on the y axis; by, size: what colours and sizes the points. */
export type Roles = {
  x: Variable;
  variable: Variable;
  also: Variable[];
  by: Variable | undefined;
  size: Variable | undefined;
};

/** What a table offers to be related. variable: the one that is meant, where there is a number; roles: all of them,
 *  where there is a pair. */
type Offered = {
  numeric: Variable[];
  usual: Variable[];
  orders: Variable[];
  others: Variable[];
  groupings: Variable[];
  variable: Variable | undefined;
  roles: Roles | undefined;
};

/** The pair that is related: as chosen, or a measured variable against a time or another one. */
export function rolesOf(table: Table, chosen: RolesChosen): Offered {
  const numeric = table.variables.filter(isNumeric);
  const usual = table.variables.filter(({ kind }) => kind === "continuous");
  const variable = numeric.find(({ symbol }) => symbol === chosen.variable) ?? usual[0] ?? numeric[0];
  // Two methods of measuring the same are both numbers.
  const canStand = chosen.view === "agreement" ? isNumeric : canOrder;
  const orders = table.variables.filter((other) => canStand(other) && other !== variable);
  const x =
    orders.find(({ symbol }) => symbol === chosen.x) ??
    orders.find(({ kind }) => kind === "date-time") ??
    orders.find(({ kind }) => kind === "continuous") ??
    orders[0];
  const others = numeric.filter((other) => other !== variable && other !== x);
  const groupings = table.variables.filter((other) => other !== variable && other !== x && canSplit(other));
  const also = others.filter(({ symbol }) => chosen.also.includes(symbol));
  const by = also.length > 0 ? undefined : groupings.find(({ symbol }) => symbol === chosen.by);
  const size = others.find(({ symbol }) => symbol === chosen.size);
  return {
    numeric,
    usual,
    orders,
    others,
    groupings,
    variable,
    roles: variable && x && { x, variable, also, by, size },
  };
}
