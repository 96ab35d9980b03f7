import type { SharesReading } from "../api/compare";
import { Card } from "../ui/Card";
import { NumbersTable } from "../ui/NumbersTable";
import { TakeTable } from "../ui/TakeTable";
import { pNumber, significant, whole } from "../words/numbers";

type AssociationCardProps = {
  result: Pick<SharesReading, "association">;
  two?: SharesReading["two"];
  name: string;
  words?: readonly string[];
  className?: string;
};

const HEAD = ["number", "value", "from", "to"];

/** How closely two categories go together, in numbers and words. */
export function AssociationCard({ result: { association }, two = null, name, words, className }: AssociationCardProps) {
  const written = (value: number | null) => (value === null ? "none" : significant(value, 3));
  const exact = association.drawn > 0 ? "Exact p, tables drawn" : "Exact p (Fisher)";
  const body = [
    ["Chi-square", written(association.chi_square), "", ""],
    ["Degrees of freedom", whole(association.df), "", ""],
    ["p of chi-square", pNumber(association.p_value), "", ""],
    [exact, pNumber(association.exact_p), "", ""],
    ["Cells expecting under 5 rows", whole(association.n_small), "", ""],
    ["Cramér’s V", written(association.v), "", ""],
    ["V without its bias", written(association.v_corrected), written(association.v_low), written(association.v_high)],
  ];
  if (two) {
    body.push(
      ["Difference of shares", written(two.difference), written(two.difference_low), written(two.difference_high)],
      ["Ratio of shares", written(two.ratio), written(two.ratio_low), written(two.ratio_high)],
      ["Odds ratio", written(two.odds_ratio), written(two.odds_low), written(two.odds_high)],
    );
  }
  if (association.chi_square === null) return null;
  const shown = body.map(([label = "", value = "", from, to]) => [
    label,
    from && to ? `${value} (${from} to ${to})` : value,
  ]);
  return (
    <Card
      help="association"
      title="Association"
      className={`shrink-0 ${className ?? ""}`}
      aside={<TakeTable name={`${name} association`} table={() => ({ head: HEAD, body })} />}
    >
      {words && <p className="px-3.5 py-2 font-serif text-lead">{words.join(" ")}</p>}
      <NumbersTable head={["number", "value, limits"]} body={shown} />
    </Card>
  );
}
