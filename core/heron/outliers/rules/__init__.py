"""Rules that flag values of one variable for a second look; none of them says that a value is wrong."""

from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import as_values, choose
from heron.choices import Option, ids_of, records_in
from heron.grouping import By, groups_of
from heron.outliers.rules.flags import EsdStep, Flags, OutlierRule, Verdict

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

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; rows of no group take no part. By default all rows
        are one group.
    rule : str, optional
        One of `heron.outliers.RULES`, whose records hold the definitions, sources and settings.
    **options : float
        Settings of the rule by name, such as reach, level or suspects.

    Returns
    -------
    Flags
        Positions of the flagged rows, scores of all, limits in the unit of the data where the rule has them; none of
        either within groups.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For infinite values, or an option outside its range.

    Notes
    -----
    None of the rules says that a value is wrong: they ask for a second look.

    References
    ----------
    tukey-1977
    grubbs-1969
    rosner-1983

    Examples
    --------
    One of eight masses stands apart by Grubbs' test:

    >>> masses = [199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57]
    >>> flag_outliers(masses, rule="grubbs").flagged.tolist()
    [7]
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
        cutoff = result.cutoff if record.judge else None
        n += result.n
    rows = np.sort(np.concatenate(flagged))
    missing = x.size - n
    return Flags(rule, rows, scores, None, None, cutoff, None, (), tuple(cautions), n, missing, undefined)


__all__ = ["OPTIONS", "RULES", "USUAL", "EsdStep", "Flags", "OutlierRule", "Rule", "Verdict", "flag_outliers"]
