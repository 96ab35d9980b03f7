import { Problem } from "../../api/client";
import { type Classes, classesOf, spreadOf } from "../../api/readings";
import type { Table, Variable } from "../../api/studies";
import { Card } from "../../ui/Card";
import { Notice } from "../../ui/Notice";
import { RowLinks } from "../RowLinks";
import { useMarkSelection } from "../useMarkSelection";
import { Beside } from "./Beside";
import { ClassesChoice } from "./ClassesChoice";
import { classesWords, interval } from "./classWords";
import { FrequencyTable } from "./FrequencyTable";
import { TakeAway } from "./TakeAway";
import { useSteady } from "./useFollowing";
import { firstLook, type useSpreadChoices } from "./useSpreadChoices";

type FrequencySpreadProps = ReturnType<typeof useSpreadChoices> & { table: Table; variable: Variable };

/** A number in classes, as a table. */
export function FrequencySpread({ table, variable, choices, change }: FrequencySpreadProps) {
  const { data: classes, error } = useSteady(classesOf(table, variable.symbol, choices.classes));
  const { data: spread } = useSteady(spreadOf(table, variable.symbol, firstLook(choices)));
  const onSelect = useMarkSelection(table, variable.symbol);
  const { unit } = variable;
  const select = (result: Classes, place: number, add: boolean) => {
    const [low, high] = [result.boundaries[place], result.boundaries[place + 1]];
    const ends = result.closed === "left" ? place === result.counts.length - 1 : place === 0;
    const closed = ends ? "both" : result.closed;
    onSelect({ words: [`class ${interval(result, place)}`], within: { low, high, closed } }, add);
  };
  const words = classes ? `${classesWords(classes, unit, choices.axis)}, ${interval(classes, 0)} …` : "";
  return (
    <>
      <Card
        help="frequencies"
        title="Frequencies"
        className="stack-card"
        footer={
          classes && (
            <>
              <ClassesChoice {...{ table, variable, classes, choices }} onChange={change} />
              <TakeAway
                {...{ table, variable }}
                drawing={null}
                caption={`Rows in ${words}`}
                definition={choices.definition}
                classes={choices.classes}
              />
            </>
          )
        }
      >
        {error && (
          <Notice problem={error.message} remedy={error instanceof Problem ? error.remedy : ""} className="m-3.5">
            <RowLinks table={table} rows={Float64Array.from(error instanceof Problem ? error.rows : [])} />
          </Notice>
        )}
        {classes && (
          <FrequencyTable
            of={unit ? `class (${unit})` : "class"}
            lines={Array.from(classes.counts, (count, i) => ({ label: interval(classes, i), count }))}
            outside={classes}
            missing={spread?.used.missing_counts ?? {}}
            onSelect={(place, add) => select(classes, place, add)}
            onMissing={() => onSelect({ words: [`missing in ${variable.label}`], within: { missing: true } }, false)}
          />
        )}
      </Card>
      <Beside {...{ table, variable, choices, change }} />
    </>
  );
}
