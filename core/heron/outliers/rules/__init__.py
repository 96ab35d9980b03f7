"""Rules that flag values of one variable for a second look; none of them says that a value is wrong."""

from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import as_values, choose, same_length
from heron.choices import Option, ids_of, records_in
from heron.outliers.rules.flags import EsdStep, Flags, OutlierRule

RULES = records_in(__path__, __name__, OutlierRule)
if TYPE_CHECKING:
    Rule = str
else:
    Rule = ids_of(RULES)

# The settings of all rules by their names; one that several rules share is the same in each.
OPTIONS: dict[str, Option] = {option.name: option for rule in RULES.values() for option in rule.options}
USUAL: tuple[Rule, ...] = ("fences", "robust-z")


def flag(x: ArrayLike, rule: str, **options: Any) -> Flags:
    """Return which values of a variable a rule flags.

    Parameters: x (n_rows,) floats, NaN for missing. rule: an id in RULES, whose records hold the definitions, the
    settings that `options` may name, and the sources.
    Raises: ChoiceError; InputError.
    """
    choose(rule, RULES, where="rule")
    record = RULES[rule]
    for option in options:
        choose(option, [known.name for known in record.options], where=f"options of {rule}")
    return record.compute(as_values(x), **options)


def flag_within(x: ArrayLike, group: ArrayLike, rule: str, **options: Any) -> Flags:
    """Return which values a rule flags within each group, as one result; limits and steps are then None and empty.

    Parameters: as for `flag`; group (n_rows,) whole numbers, -1 for none (such rows take no part).
    """
    values, index = np.asarray(x, dtype=np.float64), np.asarray(group, dtype=np.int64)
    same_length(values.size, index.size, where="group")
    scores, flagged, cautions = np.full(values.size, np.nan), [np.empty(0, dtype=np.int64)], {}
    order = np.argsort(index, kind="stable")
    order = order[index[order] >= 0]
    parts = np.split(order, np.flatnonzero(np.diff(index[order])) + 1) if order.size else []
    undefined: dict[str, str] = {}
    n, cutoff = 0, None
    for part in parts:
        result = flag(values[part], rule, **options)
        scores[part] = result.scores
        flagged.append(part[result.flagged])
        cautions.update(dict.fromkeys(result.cautions))
        undefined |= {"scores": "Some groups are too small or have no spread."} if result.undefined else {}
        cutoff = result.cutoff if RULES[rule].settled else None
        n += result.n
    rows = np.sort(np.concatenate(flagged))
    missing = values.size - n
    return Flags(rule, rows, scores, None, None, cutoff, None, (), tuple(cautions), n, missing, undefined)


__all__ = ["OPTIONS", "RULES", "USUAL", "EsdStep", "Flags", "OutlierRule", "Rule", "flag", "flag_within"]
