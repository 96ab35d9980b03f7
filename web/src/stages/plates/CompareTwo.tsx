import { useQuery } from "@tanstack/react-query";
import { type Furnishings, type PlateLine, type Scene, scenesOf } from "../../api/plates";
import { Card } from "../../ui/Card";
import { NumbersTable } from "../../ui/NumbersTable";
import { significant } from "../../words/numbers";
import { Thumb } from "./Thumb";

type CompareTwoProps = { one: PlateLine; two: PlateLine; furnishings: Furnishings };

const useScenes = (plate: PlateLine) =>
  useQuery(scenesOf(plate, plate.document, JSON.stringify([plate.revisions, plate.stale]))).data?.scenes;

const numbersOf = (scenes: Scene[] | undefined) =>
  new Map(
    (scenes ?? []).flatMap(({ numbers }) => numbers.map(({ name, value, unit }) => [name, { value, unit }] as const)),
  );

/** Two plates side by side, and the numbers in which they differ. */
export function CompareTwo({ one, two, furnishings }: CompareTwoProps) {
  const [a, b] = [numbersOf(useScenes(one)), numbersOf(useScenes(two))];
  const names = [...new Set([...a.keys(), ...b.keys()])];
  const written = (number: { value: number; unit: string } | undefined) =>
    number ? `${significant(number.value, 4)}${number.unit ? ` ${number.unit}` : ""}` : "";
  const differ = names.filter((name) => a.get(name)?.value !== b.get(name)?.value);
  return (
    <div className="flex flex-col gap-3.5">
      <div className="grid grid-cols-2 gap-3.5">
        {[one, two].map((plate) => (
          <Card
            key={plate.id}
            title={plate.name}
            aside={
              <span className="text-muted-ink text-small">{plate.frozen ? "frozen" : plate.stages.join(", ")}</span>
            }
          >
            <div className="bg-surface p-3">
              <Thumb plate={plate} furnishings={furnishings} width={460} height={340} />
            </div>
          </Card>
        ))}
      </div>
      <Card
        title="Numbers"
        aside={
          <span className="text-muted-ink text-small">
            {differ.length === 0 ? "none differs" : `${differ.length} of ${names.length} differ`}
          </span>
        }
      >
        <NumbersTable
          head={["number", one.name, two.name === one.name ? `${two.name} ` : two.name]}
          body={(differ.length > 0 ? differ : names).map((name) => [name, written(a.get(name)), written(b.get(name))])}
        />
      </Card>
    </div>
  );
}
