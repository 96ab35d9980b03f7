"""What a careful colleague would say of a fit."""

from collections.abc import Sequence

from heron.formatting import counted, fixed, grouped, significant, typeset
from heron.influence.fit import LinearFit
from heron.outliers import Decided, decided_words

_MUCH = 5  # times that the variance of a coefficient is inflated, from where it is said


def words_on_fit(diagnosis: LinearFit, n_beyond: int, most: tuple[int, float] | None) -> tuple[str, ...]:
    """Sentences on a fit and on the rows that say most in it. n_beyond: how many rows pass a cut-off; most: the number
    of the row that moves it most, and its Cook's distance, None where no row has one."""
    if "external" in diagnosis.undefined:
        return (diagnosis.undefined["external"],)
    share = (
        "" if diagnosis.r_squared is None else f" and explain {fixed(100 * diagnosis.r_squared, 1)} % of its variance"
    )
    said = [f"{counted(diagnosis.n, 'row')} give the fit{share}; the residual SD is {significant(diagnosis.sigma, 3)}."]
    said += [
        f"No complete row has {' or '.join(map(typeset, levels))} in {typeset(name)}: left out."
        for name, levels in diagnosis.without_rows.items()
    ]
    if diagnosis.curvature_p is not None and diagnosis.curvature_p < 0.01:
        said.append("The residuals bend: a straight relation on these scales leaves something out.")
    if diagnosis.fanning_p is not None and diagnosis.fanning_p < 0.01:
        said.append(
            "Their spread changes along the fit, so that intervals are too narrow on one side: try a log or root, or "
            "take the robust limits."
        )
    shared = [typeset(name) for name, times in diagnosis.inflation.items() if times > _MUCH]
    if shared:
        largest = max(diagnosis.inflation.values())
        said.append(
            f"{_listed(shared)[:1].upper()}{_listed(shared)[1:]} {'follows' if len(shared) == 1 else 'follow'} much "
            f"from the other predictors: the variance of {'its' if len(shared) == 1 else 'their'} coefficients is up "
            f"to {significant(largest, 3)} times what it would be alone."
        )
    if n_beyond == 0:
        said.append("No row passes a cut-off of influence.")
        return tuple(said)
    large = "" if most is None else f"; row {grouped(most[0])} moves it most, Cook's distance {significant(most[1], 3)}"
    said.append(f"{counted(n_beyond, 'row')} {'passes' if n_beyond == 1 else 'pass'} a cut-off{large}.")
    if most is not None and most[1] <= diagnosis.cutoffs.cooks_large:
        said.append("None has a distance above 1: cut-offs such as 4/n name rows to look at, not rows to leave out.")
    said.append("Pull rows out to see what would change, and look for a cause before deciding.")
    return tuple(said)


def report(
    response: str,
    unit: str,
    predictors: Sequence[str],
    diagnosis: LinearFit,
    n_named: int,
    n_undecided: int,
    decided: Sequence[Decided],
    before: LinearFit | None,
) -> tuple[str, ...]:
    """What was fitted, which rows were looked at by which measures, what was decided and what moved: sentences for a
    methods section. before: the fit of the values as they were read, where anything was decided that changes them."""
    left = counted(diagnosis.n_missing, "row")
    left = f", {left} left out since a value is missing or set aside" if diagnosis.n_missing else ""
    cut = diagnosis.cutoffs
    limit = "" if cut.external_all is None else f" beyond {fixed(cut.external_all, 2)} (Bonferroni)"
    said = [
        f"{response[:1].upper()}{response[1:]} was fitted on {_listed(predictors)} by least squares "
        f"(n = {diagnosis.n}{left}).",
        f"Rows were looked at by leverage above {significant(cut.high_leverage, 2)}, studentized residuals{limit}, "
        f"Cook's distance above {significant(cut.cooks, 2)} and DFFITS beyond {significant(cut.dffits, 2)}; "
        f"{n_named or 'no'} {'row passed' if n_named == 1 else 'rows passed'} a cut-off.",
    ]
    said += [decided_words(decision, unit) for decision in decided]
    if n_undecided and decided:
        said.append(f"{n_undecided} {'is' if n_undecided == 1 else 'are'} still to be decided on.")
    if before is not None:
        said.append(_moved(before, diagnosis))
    return tuple(said)


def _listed(words: Sequence[str]) -> str:
    return " and ".join(filter(None, (", ".join(words[:-1]), words[-1])))


def _moved(before: LinearFit, after: LinearFit) -> str:
    """By how much coefficients, R squared and the residual SD moved."""
    values = dict(zip(before.names, before.coefficients.tolist(), strict=True))
    said = [
        f"the coefficient of {name} from {significant(values[name], 4)} to {significant(value, 4)}"
        for name, value in zip(after.names[1:], after.coefficients[1:].tolist(), strict=True)
        if name in values and significant(values[name], 4) != significant(value, 4)
    ]
    if before.r_squared is not None and after.r_squared is not None:
        said.append(f"R squared from {fixed(before.r_squared, 3)} to {fixed(after.r_squared, 3)}")
    said.append(f"the residual SD from {significant(before.sigma, 4)} to {significant(after.sigma, 4)}")
    return f"This moves {_listed(said)} (n {before.n} to {after.n})."
