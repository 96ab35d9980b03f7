import type { Table, Variable } from "../../api/studies";

/** The variable a fresh eye should see first: the continuous one with the longest tail to the right by its small shape, else the first. */
export function firstToLookAt(table: Table): Variable | undefined {
  const tail = ({ shape }: Variable) => {
    const total = shape.reduce((sum, height) => sum + height, 0) || 1;
    const middle = shape.reduce((sum, height, i) => sum + height * i, 0) / total;
    return (shape.length - 1) / 2 - middle;
  };
  const continuous = table.variables.filter(({ kind }) => kind === "continuous");
  return continuous.sort((a, b) => tail(b) - tail(a))[0] ?? table.variables[0];
}
