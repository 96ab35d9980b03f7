import { useNavigate } from "react-router";
import { useDerive, type Way } from "../../api/ledger";
import type { FitScale } from "../../api/relate";
import type { Table, Variable } from "../../api/studies";
import { Button } from "../../ui/Button";
import type { RelateChoices } from "./useRelateChoices";

type ScreenLinkProps = { table: Table; pair: { x: string; y: string }; choices: RelateChoices };

const LABELS: Record<FitScale, (label: string) => string> = {
  "as-is": (label) => label,
  "square-root": (label) => `root of ${label}`,
  log10: (label) => `log10 of ${label}`,
  reciprocal: (label) => `1/${label}`,
};

function wayOf(scale: FitScale, symbol: string): Way {
  if (scale === "log10") return { how: "scale", setting: { way: "log", base: "10", offset: 0 } };
  if (scale === "square-root") return { how: "scale", setting: { way: "power", power: 0.5 } };
  return { how: "expression", text: `1/${symbol}` };
}

/** A variable that stands on the scale already. */
function standing(table: Table, symbol: string, scale: FitScale): Variable | undefined {
  const wanted = wayOf(scale, symbol);
  return table.variables.find(({ recipe }) => {
    if (!recipe || recipe.of !== symbol || recipe.how !== wanted.how) return false;
    if (wanted.how === "expression") return recipe.text === wanted.text;
    const { way, base, power, offset } = (recipe.setting ?? {}) as Record<string, unknown>;
    return scale === "log10" ? way === "log" && base === "10" && !offset : way === "power" && power === 0.5;
  });
}

/** To Screen with the same fit: variables that stand on its scales are made first, where there are none. */
export function ScreenLink({ table, pair, choices }: ScreenLinkProps) {
  const navigate = useNavigate();
  const derive = useDerive(table);
  const go = async () => {
    const result: string[] = [];
    let earlier = 0;
    for (const [symbol, scale] of [
      [pair.x, choices.scales[0]],
      [pair.y, choices.scales[1]],
    ] as const) {
      const there = scale === "as-is" ? symbol : standing(table, symbol, scale)?.symbol;
      if (there) {
        result.push(there);
        continue;
      }
      const label = table.variables.find((variable) => variable.symbol === symbol)?.label ?? symbol;
      const made = await derive.mutateAsync({
        of: symbol,
        label: LABELS[scale](label),
        way: wayOf(scale, symbol),
        earlier,
      });
      earlier++;
      result.push(made.symbol);
    }
    navigate(`/tables/${table.id}/screen?mode=relation&variable=${result[1]}&from=${result[0]}`);
  };
  return (
    <>
      <Button look="link" className="text-small!" onClick={() => go().catch(() => undefined)}>
        this fit in Screen
      </Button>
      {derive.error && <span role="alert"> {derive.error.message}</span>}
    </>
  );
}
