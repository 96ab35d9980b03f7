import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { type Split, splitOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Card } from "../../ui/Card";
import { LayerToggles } from "../../ui/LayerToggles";
import { Notice } from "../../ui/Notice";
import { useSize } from "../../ui/useSize";
import { Wave } from "../../ui/Wave";
import { missingWords, named, titled } from "../../words/kinds";
import { counted, whole } from "../../words/numbers";
import { GroupLanes, lanesHeight } from "./GroupLanes";
import { NumbersByGroup } from "./NumbersByGroup";
import { TakeAway } from "./TakeAway";
import { firstLook, type Layer, type useSpreadChoices } from "./useSpreadChoices";

type SplitSpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable; by: Variable };

const SHOWN = ["density", "box"] as const;
const isShown = (layer: Layer): layer is (typeof SHOWN)[number] => layer === "density" || layer === "box";

/** A variable within the levels of another: curves and boxes on one axis, one lane each, and their numbers beside. */
export function SplitSpread({ table, variable, by, choices, change }: SplitSpreadProps) {
  const { quantile_definition } = firstLook(choices);
  const asked = { quantile_definition };
  const found = useQuery({
    ...splitOf(table, variable.symbol, by.symbol, asked),
    placeholderData: keepPreviousData,
  });
  const [room, size] = useSize();
  const drawing = useRef<SVGSVGElement>(null);
  const split = found.data;
  const remedy = found.error && "remedy" in found.error ? String(found.error.remedy) : "";
  return (
    <>
      <Card
        title={`Within each ${by.label}, on one axis`}
        className="stack-card"
        aside={
          <LayerToggles
            label="Layers shown"
            layers={SHOWN}
            shown={choices.layers.filter(isShown)}
            onChange={(layers) =>
              change({ layers: [...choices.layers.filter((each) => !isShown(each)), ...layers].join(" ") }, true)
            }
          />
        }
        footer={
          split && (
            <>
              {split.without_level > 0 && (
                <span className="text-caution">
                  {counted(split.without_level, "row")} with a value but no {by.label}, not shown
                </span>
              )}
              <TakeAway
                drawing={drawing}
                caption={captionOf(split)}
                table={table}
                variable={variable}
                definition={choices.definition}
                classes={choices.classes}
              />
            </>
          )
        }
      >
        {found.error && <Notice problem={found.error.message} remedy={remedy} className="m-3.5" />}
        <div ref={room} className="relative min-h-[300px] flex-1 overflow-y-auto">
          {split && size && size.width > 80 && (
            <GroupLanes
              table={table}
              by={by.symbol}
              split={split}
              layers={choices.layers}
              width={size.width}
              height={Math.max(size.height, lanesHeight(split.groups.length))}
              drawing={drawing}
            />
          )}
          {found.isPending && <Wave moving className="absolute top-1/2 left-1/2 w-24 -translate-x-1/2 text-primary" />}
        </div>
      </Card>
      <div className="flex min-h-0 min-w-0 flex-col gap-3.5 overflow-y-auto">
        {split && <NumbersByGroup key={split.by} split={split} />}
      </div>
    </>
  );
}

function captionOf({ subject, used, by, groups, without_level: without }: Split): string {
  const missing = used.missing > 0 ? ` (${whole(used.missing)} missing: ${missingWords(used.missing_counts)})` : "";
  const aside = used.set_aside > 0 ? `, ${whole(used.set_aside)} set aside` : "";
  const levels = groups.map(({ label, n }) => `${label} ${whole(n)}`).join(", ");
  const lost = without > 0 ? ` ${counted(without, "row")} without ${by} not shown.` : "";
  return (
    `${titled(named(subject))} by ${by}, n = ${whole(used.n)}${missing}${aside}: ${levels}.${lost} ` +
    "Curves: kernel density within each level, Gaussian kernel, Silverman's rule, all of equal area. Boxes: quartiles " +
    "and median; whiskers to the outermost values within 1.5 IQR of the quartiles; rings: rows beyond."
  );
}
