"""All numeric variables of a table at once: their numbers, and how far each departs from a normal distribution."""

from dataclasses import dataclass, replace

from heron import normality, quantiles, summary
from heron.columns import NUMBER_KINDS
from heron.ledger import Used
from heron.readings import Cancellation, Subject, numbers_of
from heron.readings.spread import Back, back_on_source

from server.studies.snapshots import TableSnapshot


@dataclass(frozen=True)
class VariableNumbers:
    """One variable. test: what it was judged by, with its statistic and p value; holm: the p value adjusted for all
    variables judged, None where it was not."""

    subject: Subject
    used: Used
    summary: summary.Summary
    qq_correlation: float | None
    test: str
    statistic: float | None
    p_value: float | None
    holm: float | None
    back: Back | None


@dataclass(frozen=True)
class Overview:
    """Every numeric variable, in the order of the table; n_judged: how many p values the adjustment is for."""

    variables: tuple[VariableNumbers, ...]
    n_judged: int


def overview(table: TableSnapshot, definition: quantiles.Definition, cancellation: Cancellation) -> Overview:
    result = []
    for variable in table.variables:
        if variable.kind not in NUMBER_KINDS or variable.decimals is None:
            continue
        cancellation.check()
        taken = numbers_of(variable)
        numbers = summary.summarize(taken.values, quantile_definition=definition, true_zero=variable.zero_means_none)
        cancellation.check()
        check = normality.check_normality(taken.values)
        # The test that the verdict rests on: Shapiro-Wilk as far as it goes, Anderson-Darling above.
        test = check.shapiro_wilk if check.shapiro_wilk.p_value is not None else check.anderson_darling
        name = "Shapiro-Wilk" if test is check.shapiro_wilk else "Anderson-Darling"
        numbers = replace(numbers, modes=numbers.modes[:3])
        result.append(
            VariableNumbers(
                taken.subject,
                taken.used,
                numbers,
                check.qq_correlation,
                name,
                test.statistic,
                test.p_value,
                None,
                back_on_source(variable, numbers),
            )
        )
    judged = [i for i, judgement in enumerate(result) if judgement.p_value is not None]
    adjusted = normality.holm([result[i].p_value or 0.0 for i in judged])
    for i, p_value in zip(judged, adjusted, strict=True):
        result[i] = replace(result[i], holm=p_value)
    return Overview(tuple(result), len(judged))
