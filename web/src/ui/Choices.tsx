import { keysOf } from "../values";
import { Button } from "./Button";

type ChoicesProps<Choice extends string> = {
  label: string;
  options: Record<Choice, string>;
  chosen: Choice | undefined;
  onChoose: (choice: Choice) => void;
};

/** A few ways side by side, one of them taken. */
export function Choices<Choice extends string>({ label, options, chosen, onChoose }: ChoicesProps<Choice>) {
  return (
    <fieldset aria-label={label} className="flex flex-wrap gap-1">
      {keysOf(options).map((choice) => (
        <Button
          key={choice}
          aria-pressed={chosen === choice}
          className="text-small! aria-pressed:border-accent aria-pressed:text-accent"
          onClick={() => onChoose(choice)}
        >
          {options[choice]}
        </Button>
      ))}
    </fieldset>
  );
}
