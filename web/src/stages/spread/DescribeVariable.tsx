import { useState } from "react";
import type { Table, Variable } from "../../api/studies";
import { Floating } from "../../ui/Floating";
import { VariableForm } from "../intake/variables/VariableForm";

type DescribeVariableProps = { table: Table; variable: Variable };

/** What a variable is, said where it is being looked at. */
export function DescribeVariable({ table, variable }: DescribeVariableProps) {
  const [open, setOpen] = useState(false);
  return (
    <Floating
      label={`Describe ${variable.label}`}
      open={open}
      onOpenChange={setOpen}
      align="end"
      className="w-96 p-3.5"
      trigger={
        <button
          type="button"
          className="text-primary underline decoration-primary/40 underline-offset-3 hover:decoration-primary"
        >
          describe
        </button>
      }
    >
      {open && <VariableForm table={table} variables={[variable]} onDone={() => setOpen(false)} />}
    </Floating>
  );
}
