import { useState } from "react";
import { usePlates } from "../../api/plates";
import { useTablePlates } from "../../api/tablePlates";
import { Card } from "../../ui/Card";
import { Tick } from "../../ui/Tick";
import { withOrWithout } from "../../values";
import { whole } from "../../words/numbers";

/** Which plates and tables of a study something covers, with the card that chooses them. */
export function usePlatesChosen(study: string) {
  const { data, isPending } = usePlates(study);
  const { data: tables = [] } = useTablePlates(study);
  const plates = [...(data ?? []), ...tables];
  const [off, setOff] = useState<string[]>([]);
  const chosen = plates.filter(({ id }) => !off.includes(id)).map(({ id }) => id);
  const card = (
    <Card
      title="Plates and tables covered"
      className="shrink-0 self-start"
      aside={<span className="text-muted-ink text-small">{whole(chosen.length)} chosen</span>}
    >
      <div className="max-h-96 overflow-y-auto px-3.5 py-2">
        {plates.map(({ id, name }) => (
          <Tick
            key={id}
            label={name}
            checked={!off.includes(id)}
            onChange={(on) => setOff((now) => withOrWithout(now, id, !on))}
          />
        ))}
      </div>
    </Card>
  );
  /** What changes when the plates, or their data, do. */
  const standing = [chosen.join(" "), plates.map(({ version, stale }) => `${version}${stale}`).join(" ")];
  return { plates, none: !isPending && plates.length === 0, chosen, card, standing };
}
