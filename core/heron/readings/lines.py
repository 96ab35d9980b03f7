"""Lines through the pairs of two variables, on the scales on which they are straight."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from heron import relation, thinning
from heron.checks import Floats, Ints
from heron.chunked import Of2, line_in
from heron.errors import InputError
from heron.formatting import counted, significant, typeset
from heron.grouping import Grouping
from heron.ledger import Levels, Series, VariableView, in_rounds
from heron.readings.cancellation import Cancellation
from heron.readings.pairs import levels_of, pairs_of, sums_of
from heron.readings.subject import sample_words


@dataclass(frozen=True)
class FittedGroup:
    """The lines through one group, or through all pairs ("" then). equation: on the scales; carried_back: in the
    variables' units, "" where it is the same; powers as in TeX."""

    label: str
    place: int
    fit: relation.Fit | None
    equation: str
    carried_back: str
    median: relation.Median | None
    smooth: relation.Smooth | None
    why: str


@dataclass(frozen=True)
class FitsReading:
    """The lines in numbers, without their curves."""

    groups: tuple[FittedGroup, ...]
    slopes: relation.Slopes | None
    words: tuple[str, ...]


@dataclass(frozen=True)
class LinesDrawn:
    """The lines with their curves. residual_x, residuals, residual_rows: (n_drawn,) of the lines, on their scales;
    residual_group: the place of the group of each."""

    groups: tuple[FittedGroup, ...]
    slopes: relation.Slopes | None
    residual_x: Floats
    residuals: Floats
    residual_rows: Ints
    residual_group: Ints
    words: tuple[str, ...]


@dataclass(frozen=True)
class FitSettings:
    """lines: which are drawn; each: a line for each level of `by` instead of one through all."""

    lines: Sequence[relation.LineKind]
    by: VariableView | None
    x_scale: relation.Scale
    y_scale: relation.Scale
    level: float
    span: float


def fits(x: VariableView, y: VariableView, settings: FitSettings, cancellation: Cancellation) -> FitsReading:
    result = drawn(x, y, settings, cancellation)
    return FitsReading(tuple(map(_in_numbers, result.groups)), result.slopes, result.words)


_NONE = np.empty(0)
_CURVES = ("curve_x", "curve_y", "low", "high", "one_low", "one_high")


def _in_numbers(group: FittedGroup) -> FittedGroup:
    fit, smooth = group.fit, group.smooth
    bare = None if fit is None else replace(fit, **dict.fromkeys(_CURVES, _NONE))  # type: ignore[arg-type]
    return replace(group, fit=bare, smooth=None if smooth is None else replace(smooth, x=_NONE, y=_NONE))


def drawn(x: VariableView, y: VariableView, settings: FitSettings, cancellation: Cancellation) -> LinesDrawn:
    """The lines through pairs, worked once for their picture and their numbers."""
    by = "" if settings.by is None else settings.by.symbol
    how = settings.x_scale, settings.y_scale, settings.level, settings.span
    question = "lines", x.symbol, y.symbol, by, tuple(settings.lines), *how
    lines_drawn: LinesDrawn = x.table.remembered(question, lambda: _drawn(x, y, settings, cancellation))
    return lines_drawn


def _drawn(x: VariableView, y: VariableView, settings: FitSettings, cancellation: Cancellation) -> LinesDrawn:
    loaded, a, b = pairs_of(x, y, settings.by)
    levels, index = levels_of(loaded, settings.by)
    parts = [("", 0, np.ones(a.size, dtype=bool))] if not levels else [
        (label, code, index == code) for code, label in enumerate(levels)
    ]  # fmt: skip
    names = typeset(x.label), typeset(y.label)
    groups, left = [], []
    by = settings.by
    raw = loaded.levels(by.symbol)[0] if by is not None else []
    whole: list[_Whole | None] = [None for _ in parts]
    if x.table.chunks is not None and "least-squares" in settings.lines:
        whose: list[Levels] = [((by.symbol, label),) for label in raw] if by is not None else [()]
        whole = [partial(_through_all, x, y, at, settings) for at in whose]
        in_rounds(x.table.chunks, *filter(None, whole))
    for (label, code, in_group), of_all in zip(parts, whole, strict=True):
        cancellation.check()
        result, fit = _fitted(label, code, a[in_group], b[in_group], names, settings, of_all)
        groups.append(result)
        if fit is not None:
            left.append((np.flatnonzero(in_group)[fit.rows], fit.line.residuals, np.full(fit.rows.size, code)))
    slopes = None
    if levels and "least-squares" in settings.lines:
        u, v = (relation.forth(scale, values) for scale, values in ((settings.x_scale, a), (settings.y_scale, b)))
        slopes = relation.compare_slopes(u, v, Grouping(tuple(levels), index), level=settings.level)
    at, residuals, group = (
        (np.concatenate(part) for part in zip(*left, strict=True)) if left else (_NONE.astype(np.int64), _NONE, _NONE)
    )
    order = np.argsort(at)
    sent = order[np.isin(at[order], thinning.points(at[order], residuals[order]), assume_unique=True)]
    return LinesDrawn(
        tuple(groups), slopes, a[at[sent]], residuals[sent], loaded.positions(at[sent]) + 1,
        group[sent].astype(np.int64), (*_fit_words(groups, slopes, names), *_from_sample(loaded, settings)),
    )  # fmt: skip


_Whole = Callable[[], relation.Fit]  # the fit through all pairs of a long table


def _through_all(x: VariableView, y: VariableView, at: Levels, settings: FitSettings) -> relation.Fit:
    chunks = x.table.chunks
    assert chunks is not None
    of = Of2(x.symbol, y.symbol, at, (settings.x_scale, settings.y_scale))
    fit: relation.Fit = x.table.remembered(
        ("line through all", of, settings.level),
        lambda: line_in(chunks, of, sums_of(x, y, at=at).n, settings.level),
    )
    return fit


def _from_sample(loaded: Series, settings: FitSettings) -> tuple[str, ...]:
    """What is told from a sample of a long table besides lines of least squares."""
    others = ["other lines"] if set(settings.lines) - {"least-squares"} else []
    others += ["how slopes differ"] if settings.by is not None else []
    of = " and ".join(others)
    return tuple(f"{of[:1].upper()}{of[1:]}: {words[:1].lower()}{words[1:]}" for words in sample_words(loaded) if of)


def _drawn_rows(fit: relation.Fit, a: Floats, b: Floats) -> relation.Fit:
    """A fit through all pairs with what it leaves of those of a sample."""
    u, v = relation.forth(fit.x_scale, a), relation.forth(fit.y_scale, b)
    rows = np.flatnonzero(np.isfinite(u) & np.isfinite(v))
    residuals = v[rows] - (fit.intercept + fit.slope * u[rows])
    return replace(fit, line=replace(fit.line, residuals=residuals), rows=rows)


def _fitted(
    label: str,
    code: int,
    a: Floats,
    b: Floats,
    names: tuple[str, str],
    settings: FitSettings,
    of_all: _Whole | None,
) -> tuple[FittedGroup, relation.Fit | None]:
    """The lines of a group as they are sent, and its fit with all its rows, of a long table those of a sample."""
    fit = median = smooth = None
    why = ""
    try:
        if of_all is not None:
            fit = _drawn_rows(of_all(), a, b)
        elif "least-squares" in settings.lines:
            fit = relation.fit_line(a, b, x_scale=settings.x_scale, y_scale=settings.y_scale, level=settings.level)
        if "median" in settings.lines:
            median = relation.theil_sen(a, b, level=settings.level)
        if "smooth" in settings.lines:
            smooth = relation.smooth_line(a, b, span=settings.span)
    except InputError as error:
        why = error.problem
    fitted_group = FittedGroup(
        label,
        code,
        None if fit is None else relation.without_rows(fit),
        "" if fit is None else relation.equation(fit, *names),
        "" if fit is None else relation.carried_back(fit, *names),
        median,
        None if smooth is None else relation.thinned(smooth),
        why,
    )
    return fitted_group, fit


def _fit_words(groups: list[FittedGroup], slopes: relation.Slopes | None, names: tuple[str, str]) -> tuple[str, ...]:
    said = []
    for group in groups:
        fit = group.fit
        if fit is None:
            if group.why:
                said.append(f"{group.label + ': ' if group.label else ''}{group.why}")
            continue
        of = f" of {group.label}" if group.label else ""
        if fit.curvature_p is not None and fit.curvature_p < 0.01:
            said.append(
                f"The residuals{of} bend along {names[0]}: a straight line on these scales leaves something out."
            )
        if fit.fanning_p is not None and fit.fanning_p < 0.01:
            said.append(f"Their spread{of} changes along {names[0]}: limits are too narrow on one side.")
        if fit.n_off_scale:
            said.append(f"{counted(fit.n_off_scale, 'pair')}{of} cannot stand on these scales.")
        if fit.y_scale == "log10" and fit.smearing is not None:
            said.append(
                f"The curve{of} follows the median of {names[1]}; its mean lies {significant(fit.smearing, 3)} times "
                "as high (smearing factor)."
            )
        if group.median is not None and group.median.sampled:
            said.append(f"The line of median slopes{of} looks at a seeded sample of {group.median.n_slopes} slopes.")
    if slopes is not None and slopes.statistic is not None and slopes.p_value is not None:
        sure = "strong" if slopes.p_value < 0.01 else "some" if slopes.p_value < 0.05 else "little"
        said.append(
            f"There is {sure} evidence that slopes differ between groups (F {significant(slopes.statistic, 3)} on "
            f"{slopes.df1} and {slopes.df2} degrees of freedom)."
        )
    if groups and groups[0].fit is not None and not said:
        said.append("The residuals neither bend nor fan more than chance allows.")
    return tuple(said)


def predicted(
    x: VariableView, y: VariableView, x_scale: relation.Scale, y_scale: relation.Scale, level: float, at: float
) -> relation.Predicted:
    if x.table.chunks is not None:
        settings = FitSettings(("least-squares",), None, x_scale, y_scale, level, 1.0)
        return relation.predict(_through_all(x, y, (), settings), at)
    fit = relation.fit_line(*pairs_of(x, y)[1:], x_scale=x_scale, y_scale=y_scale, level=level)
    return relation.predict(fit, at)
