import { type FormEvent, useState } from "react";
import { readNumber, typed as written } from "../words/numbers";
import { Button } from "./Button";
import { Field } from "./Field";

type NumberFieldsProps = {
  fields: Record<string, number | null>;
  /** What stands where nothing is typed. */
  empty: string;
  onSet: (numbers: (number | null)[]) => void;
};

/** Numbers that are typed and set together; one that is none is left to the rule. */
export function NumberFields({ fields, empty, onSet }: NumberFieldsProps) {
  const [typed, setTyped] = useState(() =>
    Object.fromEntries(Object.entries(fields).map(([name, value]) => [name, value === null ? "" : written(value, 6)])),
  );
  const set = (event: FormEvent) => {
    event.preventDefault();
    onSet(Object.values(typed).map(readNumber));
  };
  return (
    <form onSubmit={set} className="flex flex-wrap items-end gap-2">
      {Object.entries(typed).map(([name, value]) => (
        <Field
          key={name}
          label={name}
          inputMode="decimal"
          placeholder={empty}
          className="w-20!"
          value={value}
          onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
        />
      ))}
      <Button type="submit">Set</Button>
    </form>
  );
}
