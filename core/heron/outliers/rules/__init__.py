"""Rules that flag values of one variable for a second look; none of them says that a value is wrong."""

from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import as_values, choose
from heron.choices import Option, ids_of, records_in
from heron.grouping import By, groups_of
from heron.outliers.rules.flags import EsdStep, Flags, OutlierRule

RULES = records_in(__path__, __name__, OutlierRule)
if TYPE_CHECKING:
    Rule = str
else:
    Rule = ids_of(RULES)

# The settings of all rules by their names; one that several rules share is the same in each.
OPTIONS: dict[str, Option] = {option.name: option for rule in RULES.values() for option in rule.options}
USUAL: tuple[Rule, ...] = ("fences", "robust-z")


def flag_outliers(values: ArrayLike, by: By | None = None, *, rule: str = "fences", **options: Any) -> Flags:
    """Return which values of a variable a rule flags, over all of them or within each group.

    Parameters: values (n_rows,) floats, NaN for missing. by: groups, as `groups_of` takes them; limits and steps of the
    one result are then None and empty, and rows of no group take no part. rule: an id in RULES, whose records hold the
    definitions, the settings that `options` may name, and the sources.
    Raises: ChoiceError; InputError.
    """
    choose(rule, RULES, where="rule")
    record = RULES[rule]
    for option in options:
        choose(option, [known.name for known in record.options], where=f"options of {rule}")
    if by is None:
        return record.compute(as_values(values, where="values"), **options)
    x = np.asarray(values, dtype=np.float64)
    scores, flagged, cautions = np.full(x.size, np.nan), [np.empty(0, dtype=np.int64)], {}
    undefined: dict[str, str] = {}
    n, cutoff = 0, None
    for part in groups_of(by, x.size).rows():
        if not part.size:
            continue
        result = record.compute(as_values(x[part], where="values"), **options)
        scores[part] = result.scores
        flagged.append(part[result.flagged])
        cautions.update(dict.fromkeys(result.cautions))
        undefined |= {"scores": "Some groups are too small or have no spread."} if result.undefined else {}
        cutoff = result.cutoff if record.settled else None
        n += result.n
    rows = np.sort(np.concatenate(flagged))
    missing = x.size - n
    return Flags(rule, rows, scores, None, None, cutoff, None, (), tuple(cautions), n, missing, undefined)


__all__ = ["OPTIONS", "RULES", "USUAL", "EsdStep", "Flags", "OutlierRule", "Rule", "flag_outliers"]
