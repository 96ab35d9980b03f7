"""A fitted relation as a table: its coefficients, and the rows that move it most."""

import math

import numpy as np

from heron.figure.build.context import Context, named, titled
from heron.formatting import counted, decimals_for, fixed, grouped, percent, significant, typeset
from heron.readings.influence import InfluenceFound, RelationSettings, measured
from heron.tables.record import Cell, Column, Footnote, NumberTable, Row, cell, count_of, p_of
from heron.tables.source import InfluenceTableSource, RegressionSource


def regression_table(context: Context, source: RegressionSource) -> NumberTable:
    """Coefficients with their limits, and how well the relation fits."""
    found = measured(
        context.table, RelationSettings(source.response, source.predictors, source.product), context.cancellation
    )
    fit = found.fit
    robust = source.robust
    ends = (fit.robust_se, fit.robust_low, fit.robust_high, fit.robust_p) if robust else (
        fit.se, fit.low, fit.high, fit.p_values
    )  # fmt: skip
    rows = []
    for i, name in enumerate(fit.names):
        value, se, low, high, p = (float(each[i]) for each in (fit.coefficients, *ends))
        decimals = _decimals_of_error(se)
        rows.append(
            Row(
                f"term:{name}", typeset(name),
                (
                    cell("{}", value, decimals=decimals, se=se), cell("{}", se, decimals=decimals, se=se),
                    cell("{} to {}", low, high, decimals=decimals, se=se), p_of(None if np.isnan(p) else p),
                ),
            )
        )  # fmt: skip
    empty = (Cell(), Cell(), Cell())
    unit = typeset(found.response.unit)
    rows += [
        Row("n", "n", (count_of(fit.n), *empty)),
        Row("r_squared", "R²", (cell("{}", fit.r_squared, decimals=3), *empty)),
        Row("adjusted", "R², adjusted", (cell("{}", fit.adjusted_r_squared, decimals=3), *empty)),
        Row(
            "sigma", named("residual SD", unit),
            (cell("{}", fit.sigma, decimals=decimals_for(found.response.decimals, fit.sigma)), *empty),
        ),
    ]  # fmt: skip
    level = percent(fit.level)
    columns = (
        Column("value", "coefficient"), Column("se", "standard error", None, ("se",) if robust else ()),
        Column("limits", f"{level} limits"), Column("p", "p"),
    )  # fmt: skip
    notes = [Footnote("se", "HC3, which holds where spreads differ.")] if robust else []
    notes += [
        Footnote("", f"Levels of {typeset(name)} are compared with {typeset(level)}.")
        for name, level in fit.baselines.items()
    ]
    notes += _of_fit(found)
    return NumberTable("regression", context.words(_fitted_words(found)), "", columns, tuple(rows), tuple(notes))


def _decimals_of_error(se: float) -> int:
    """The decimals with which a standard error has two digits."""
    return max(0, 1 - math.floor(math.log10(se))) if se > 0 and math.isfinite(se) else 3


def _fitted_words(found: InfluenceFound) -> str:
    response = named(typeset(found.response.label), typeset(found.response.unit))
    others = [named(typeset(each.label), typeset(each.unit)) for each in found.predictors]
    listed = " and ".join(filter(None, (", ".join(others[:-1]), others[-1])))
    return f"{titled(response)} fitted on {listed} by least squares"


def _of_fit(found: InfluenceFound) -> list[Footnote]:
    missing = found.fit.n_missing
    return (
        [Footnote("", f"{counted(missing, 'row')} left out since a value is missing or set aside.")] if missing else []
    )


def influence_table(context: Context, source: InfluenceTableSource) -> NumberTable:
    """The rows that move a relation most, with their measures."""
    found = measured(
        context.table, RelationSettings(source.response, source.predictors, source.product), context.cancellation
    )
    measures, decimals = found.measures, decimals_for(found.response.decimals, found.fit.sigma)
    rows = []
    for i in found.first[: source.rows].tolist():
        number = int(found.positions[i]) + 1
        rows.append(
            Row(
                f"row:{number}", f"row {grouped(number)}",
                (
                    cell("{}", float(found.y[i]), decimals=found.response.decimals or 0),
                    cell("{}", float(measures.fitted[i]), decimals=decimals),
                    cell("{}", float(measures.cooks[i]), decimals=3),
                    cell("{}", float(measures.external[i]), decimals=2),
                    cell("{}", float(measures.leverage[i]), decimals=3),
                    cell("{}", float(measures.dffits[i]), decimals=2),
                ),
            )
        )  # fmt: skip
    unit = typeset(found.response.unit)
    columns = (
        Column("response", named(typeset(found.response.label), unit)), Column("fitted", named("fitted", unit)),
        Column("cooks", "Cook's distance"), Column("external", "studentized residual"), Column("leverage", "leverage"),
        Column("dffits", "DFFITS"),
    )  # fmt: skip
    cut = found.fit.cutoffs
    limit = "" if cut.external_all is None else f", studentized residual {fixed(cut.external_all, 2)} (Bonferroni)"
    notes = [
        Footnote(
            "", f"Cut-offs: leverage {significant(cut.high_leverage, 2)}{limit}, Cook's distance "
            f"{significant(cut.cooks, 2)}, DFFITS {significant(cut.dffits, 2)}; "
            f"{counted(found.n_beyond, 'row')} of {grouped(found.fit.n)} "
            f"{'passes' if found.n_beyond == 1 else 'pass'} one.",
        ),
        *_of_fit(found),
    ]  # fmt: skip
    subject = context.words(f"Rows of most influence: {_fitted_words(found)}")
    return NumberTable("influential", subject, "", columns, tuple(rows), tuple(notes))
