import { useEffect, useRef } from "react";
import type { NewTableSource } from "../../api/tablePlates";
import { usePreferences } from "../../state/preferences";
import { Button } from "../../ui/Button";
import { useKeepTable } from "./useKeepTable";

type KeepTableProps = { name: string; source: NewTableSource };

/** The numbers beside this word, as a table plate; P does it while the focus is in their card. */
export function KeepTable({ name, source }: KeepTableProps) {
  const keep = useKeepTable();
  const word = useRef<HTMLButtonElement>(null);
  const singleKeys = usePreferences((state) => state.singleKeys);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const target = event.target;
      if (!singleKeys || event.key.toLowerCase() !== "p" || event.ctrlKey || event.metaKey || event.altKey) return;
      if (!(target instanceof HTMLElement) || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) return;
      const card = word.current?.closest("section");
      if (!card?.contains(target)) return;
      event.preventDefault();
      keep(name, source);
    };
    // Before the shortcut that keeps the picture of the stage.
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, [keep, name, source, singleKeys]);
  return (
    <Button ref={word} look="word" className="text-small!" onClick={() => keep(name, source)}>
      keep as table
    </Button>
  );
}
