"""Tests of normality, each with its limits, and what a careful colleague would say of them."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron.checks import Floats, as_values
from heron.choices import Choice, by_id
from heron.formatting import fixed, grouped, p_with_sign, there_are
from heron.moments import Moments, moments_of, safe_unit
from heron.normality import simulated
from heron.normality.scores import blom_score, blom_scores
from heron.ordered import Ordered, ends
from heron.results import Result

SHAPIRO_UP_TO = 5_000


@dataclass(frozen=True, kw_only=True)
class TestChoice(Choice):
    """A test. letter: its statistic."""

    letter: str


def _test(identity: str, label: str, letter: str, help_text: str, definition: str, *sources: str) -> TestChoice:
    return TestChoice(
        id=identity,
        label=label,
        letter=letter,
        help=help_text,
        definition=definition,
        caption=f"{label} {letter}",
        methods=f"normality was tested by {label} {letter}",
        sources=sources,
    )


TESTS: dict[str, TestChoice] = by_id(
    (
        _test(
            "shapiro_wilk",
            "Shapiro-Wilk",
            "W",
            "Royston (1995), 3 to 5,000 values",
            "For 3 to 5,000 values.",
            "royston-1995",
        ),
        _test(
            "anderson_darling",
            "Anderson-Darling",
            "A²",
            "mean and SD estimated; D'Agostino and Stephens (1986), from 8 values",
            "Mean and SD estimated; its p value is that of A² (1 + 0.75/n + 2.25/n²); from 8 values.",
            "dagostino-stephens-1986",
        ),
        _test(
            "lilliefors",
            "Lilliefors",
            "D",
            "Kolmogorov-Smirnov for estimated mean and SD; the plain p value would be far too large",
            "Largest distance of the two distribution functions, for estimated mean and SD. The plain "
            "Kolmogorov-Smirnov p value holds only for a mean and SD known beforehand and would be far too large, so "
            "p comes from simulated normal samples of the same size.",
            "lilliefors-1967",
        ),
        _test(
            "dagostino_pearson",
            "D'Agostino-Pearson",
            "K²",
            "skewness and kurtosis together, from 20 values",
            "Skewness and kurtosis together; from 20 values.",
            "dagostino-1970",
            "anscombe-glynn-1983",
        ),
        _test(
            "jarque_bera",
            "Jarque-Bera",
            "JB",
            "skewness and kurtosis together, from 2,000 values",
            "n/6 (g1² + g2²/4); from 2,000 values.",
            "jarque-bera-1987",
        ),
    )
)


@dataclass(frozen=True)
class TestResult:
    """One test: its statistic and p value, or None with the reason why it was not done."""

    statistic: float | None
    p_value: float | None
    reason: str | None = None


@dataclass(frozen=True)
class Normality(Result, rows=("shapiro_wilk", "anderson_darling", "lilliefors", "dagostino_pearson", "jarque_bera")):
    """Every check of normality; words: sentences for the reading, the first is the verdict.

    evidence: how sure, from the test named in `judged_by`; qq_correlation, skewness (G1), kurtosis (excess, G2): how
    far, without unit.
    """

    n: int
    n_missing: int
    shapiro_wilk: TestResult
    anderson_darling: TestResult
    lilliefors: TestResult
    dagostino_pearson: TestResult
    jarque_bera: TestResult
    qq_correlation: float | None
    skewness: float | None
    kurtosis: float | None
    evidence: Literal["little", "some", "strong"] | None
    judged_by: str
    words: tuple[str, ...]
    undefined: dict[str, str] = field(default_factory=dict)


def check_normality(x: ArrayLike) -> Normality:
    """Return every check of normality that the number of values allows.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.

    Returns
    -------
    Normality
        Tests with their p values, skewness and kurtosis, the Q-Q correlation, and what may be said in words.

    Raises
    ------
    InputError
        For infinite values.

    Notes
    -----
    Shapiro and Wilk's W for 3 to 5,000 values; Anderson and Darling's A2 (1 + 0.75/n + 2.25/n^2), mean and SD
    estimated, from 8; Lilliefors' test (p by simulation) from 4; D'Agostino and Pearson's K2 from 20;
    Jarque and Bera's from 2,000. Evidence is little from p = 0.05, some from 0.01, strong below, by W to 5,000 values,
    by A2 above.

    References
    ----------
    royston-1995
    dagostino-stephens-1986
    lilliefors-1967
    dagostino-1970
    anscombe-glynn-1983
    filliben-1975, for the Q-Q correlation
    jarque-bera-1987

    Examples
    --------
    Weights of eleven men, of which Shapiro and Wilk (1965) give W = 0.79:

    >>> weights = [148, 154, 158, 160, 161, 162, 166, 170, 182, 195, 236]
    >>> round(check_normality(weights).shapiro_wilk.statistic, 2)
    0.79
    """
    checked = as_values(x)
    n = checked.n
    z = _standardize(np.sort(checked.values))
    g1 = g2 = 0.0
    shares = np.empty(0)
    if z is not None:
        g1, g2 = _moment_shape(moments_of(z, 1.0))
        shares = special.ndtr(z)
    lilliefors = _tested(z, n, 4, lambda z: _lilliefors(z, shares))
    tests = {
        "shapiro_wilk": _shapiro(z, n),
        "anderson_darling": _tested(z, n, 8, lambda z: _anderson_darling(z, shares)),
        "lilliefors": lilliefors,
        "dagostino_pearson": _tested(z, n, 20, lambda z: _dagostino_pearson_of(n, g1, g2)),
        "jarque_bera": _tested(z, n, 2_000, lambda z: _jarque_bera_of(n, g1, g2)),
    }
    why: dict[str, str] = {}
    skewness = kurtosis = correlation = None
    if z is None:
        reason = "All values are the same." if n > 1 else f"It needs at least 3 values; {there_are(n)}."
        why = dict.fromkeys(("skewness", "kurtosis", "qq_correlation"), reason)
    else:
        skewness = _unbiased_skewness(g1, n) if n >= 3 else None
        kurtosis = _unbiased_kurtosis(g2, n) if n >= 4 else None
        scores = blom_scores(n)
        correlation = float(z @ scores) / math.sqrt(float(z @ z) * float(scores @ scores)) if n >= 3 else None
        for name, value, least in (
            ("skewness", skewness, 3),
            ("kurtosis", kurtosis, 4),
            ("qq_correlation", correlation, 3),
        ):
            if value is None:
                why[name] = f"It needs at least {least} values; there are {n}."
    why.update({name: result.reason for name, result in tests.items() if result.reason})
    name = "shapiro_wilk" if n <= SHAPIRO_UP_TO else "anderson_darling"
    evidence = _evidence(tests[name].p_value)
    words = _words(n, evidence, name, tests[name], skewness, correlation)
    return Normality(
        n=n,
        n_missing=checked.n_missing,
        **tests,
        qq_correlation=correlation,
        skewness=skewness,
        kurtosis=kurtosis,
        evidence=evidence,
        judged_by=name,
        words=words,
        undefined=why,
    )


_POSITIONS = 400
_NOT_IN_PARTS = TestResult(None, None, "It needs all values at once, which a table this long does not allow.")


def check_of_ordered(values: Ordered, n_missing: int) -> Normality:
    """The checks of values that are known by their order, too many to be held: those of their moments, and the Q-Q
    correlation at 400 exact quantiles evenly between all."""
    n = values.size
    low, high = ends(values)
    moments = values.moments(safe_unit(max(abs(low), abs(high))))
    if n < SHAPIRO_UP_TO or low == high:
        return check_normality(values[np.arange(min(n, 2))])  # says in words why not
    g1, g2 = _moment_shape(moments)
    ranks = ((np.arange(_POSITIONS) + 0.5) / _POSITIONS * n).astype(np.int64)
    scaled = values[ranks] / (high / 2 - low / 2)
    correlation = float(np.corrcoef(scaled, blom_score(ranks, n))[0, 1])
    jarque_bera = TestResult(*_jarque_bera_of(n, g1, g2))
    evidence = _evidence(jarque_bera.p_value)
    skewness = _unbiased_skewness(g1, n)
    shapiro = _shapiro(None, n)
    return Normality(
        n=n,
        n_missing=n_missing,
        shapiro_wilk=shapiro,
        anderson_darling=_NOT_IN_PARTS,
        lilliefors=_NOT_IN_PARTS,
        dagostino_pearson=TestResult(*_dagostino_pearson_of(n, g1, g2)),
        jarque_bera=jarque_bera,
        qq_correlation=correlation,
        skewness=skewness,
        kurtosis=_unbiased_kurtosis(g2, n),
        evidence=evidence,
        judged_by="jarque_bera",
        words=_words(n, evidence, "jarque_bera", jarque_bera, skewness, correlation),
        undefined={
            "shapiro_wilk": shapiro.reason or "",
            **dict.fromkeys(("anderson_darling", "lilliefors"), _NOT_IN_PARTS.reason or ""),
        },
    )


def _moment_shape(moments: Moments) -> tuple[float, float]:
    """Skewness and excess kurtosis by moments, g1 and g2."""
    n = moments.n
    variance = moments.m2 / n
    return moments.m3 / n / variance**1.5, moments.m4 / n / variance**2 - 3


def _unbiased_skewness(g1: float, n: int) -> float:
    return g1 * math.sqrt(n * (n - 1)) / (n - 2)


def _unbiased_kurtosis(g2: float, n: int) -> float:
    return (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6)


def shapiro_wilk(x: ArrayLike) -> TestResult:
    """Return the Shapiro-Wilk test alone, as `check_normality` gives it. References: royston-1995."""
    return shapiro_of_ordered(np.sort(as_values(x).values))


def shapiro_of_ordered(ordered: Floats) -> TestResult:
    """The same of finite values in ascending order."""
    return _shapiro(_standardize(ordered) if ordered.size <= SHAPIRO_UP_TO else None, ordered.size)


def _standardize(ordered: Floats) -> Floats | None:
    """Ascending values with mean 0 and SD 1; None without spread."""
    if ordered.size < 2 or ordered[0] == ordered[-1]:
        return None
    half, middle = ordered[-1] / 2 - ordered[0] / 2, ordered[ordered.size // 2]
    z = ordered / 2
    z -= middle / 2  # from a value among them: what they share is lost before they are divided
    z /= half
    z -= z.mean()
    z /= math.sqrt(float(z @ z) / (z.size - 1))
    return z


def _shapiro(z: Floats | None, n: int) -> TestResult:
    if n > SHAPIRO_UP_TO:
        return TestResult(
            None,
            None,
            f"Its p value is valid to {grouped(SHAPIRO_UP_TO)} values; there are {grouped(n)}. See the other checks.",
        )
    if n < 3:
        return TestResult(None, None, f"It needs at least 3 values; {there_are(n)}.")
    if z is None:
        return TestResult(None, None, "All values are the same.")
    result = stats.shapiro(z)
    return TestResult(float(result.statistic), float(result.pvalue))


def _tested(z: Floats | None, n: int, least: int, test: Callable[[Floats], tuple[float, float]]) -> TestResult:
    if n < least:
        return TestResult(None, None, f"It needs at least {grouped(least)} values; {there_are(n)}.")
    if z is None:
        return TestResult(None, None, "All values are the same.")
    statistic, p_value = test(z)
    return TestResult(float(statistic), float(p_value))


_CENTRAL = 5.0  # SDs within which both shares have their digits; further out their logarithms are worked by themselves


def _anderson_darling(z: Floats, shares: Floats) -> tuple[float, float]:
    """shares: of a normal distribution below each ascending value; they are written over."""
    n = z.size
    with np.errstate(divide="ignore"):
        below = np.log(shares)
        above = np.negative(shares, out=shares)  # of which nothing more is asked
        np.log1p(above, out=above)
    # A z above about 8.3 has an upper tail of 0 in double precision.
    first, end = np.searchsorted(z, (-_CENTRAL, _CENTRAL))
    for far in (slice(0, first), slice(end, n)):
        below[far], above[far] = special.log_ndtr(z[far]), special.log_ndtr(-z[far])
    terms = below
    terms += above[::-1]
    # Each counts 2 i - 1 times, i being its rank from 1.
    squared = -n - 2 * float(simulated.shares_before(n) @ terms) - float(terms.sum()) / n
    a = squared * (1 + 0.75 / n + 2.25 / n**2)
    if a >= 153:  # the parabola below turns upward here
        return squared, 0.0
    if a >= 0.6:
        p = math.exp(1.2937 - 5.709 * a + 0.0186 * a * a)
    elif a > 0.34:
        p = math.exp(0.9177 - 4.279 * a - 1.38 * a * a)
    elif a > 0.2:
        p = 1 - math.exp(-8.318 + 42.796 * a - 59.938 * a * a)
    else:
        p = 1 - math.exp(-13.436 + 101.14 * a - 223.73 * a * a)
    return squared, p


def _lilliefors(z: Floats, shares: Floats) -> tuple[float, float]:
    statistic = float(simulated.gaps(shares))
    return statistic, simulated.lilliefors_p(statistic, z.size)


def _dagostino_pearson_of(n: int, g1: float, g2: float) -> tuple[float, float]:
    """K2 from skewness and excess kurtosis, by their scores as D'Agostino (1970) and Anscombe and Glynn (1983) have
    them."""
    y = g1 * math.sqrt((n + 1) * (n + 3) / (6 * (n - 2)))
    beta = 3 * (n * n + 27 * n - 70) * (n + 1) * (n + 3) / ((n - 2) * (n + 5) * (n + 7) * (n + 9))
    w = math.sqrt(2 * (beta - 1)) - 1
    of_skewness = math.asinh(y / math.sqrt(2 / (w - 1))) / math.sqrt(0.5 * math.log(w))
    expected = -6 / (n + 1)
    variance = 24 * n * (n - 2) * (n - 3) / ((n + 1) ** 2 * (n + 3) * (n + 5))
    x = (g2 - expected) / math.sqrt(variance)
    root = 6 * (n * n - 5 * n + 2) / ((n + 7) * (n + 9)) * math.sqrt(6 * (n + 3) * (n + 5) / (n * (n - 2) * (n - 3)))
    a = 6 + 8 / root * (2 / root + math.sqrt(1 + 4 / root**2))
    denominator = 1 + x * math.sqrt(2 / (a - 4))
    third = math.copysign(((1 - 2 / a) / abs(denominator)) ** (1 / 3), denominator)
    of_kurtosis = (1 - 2 / (9 * a) - third) / math.sqrt(2 / (9 * a))
    statistic = of_skewness**2 + of_kurtosis**2
    return statistic, math.exp(-statistic / 2)


def _jarque_bera_of(n: int, g1: float, g2: float) -> tuple[float, float]:
    statistic = n / 6 * (g1**2 + g2**2 / 4)
    return statistic, math.exp(-statistic / 2)


def _evidence(p_value: float | None) -> Literal["little", "some", "strong"] | None:
    if p_value is None:
        return None
    return "little" if p_value >= 0.05 else "some" if p_value >= 0.01 else "strong"


def _words(
    n: int,
    evidence: str | None,
    name: str,
    test: TestResult,
    skewness: float | None,
    correlation: float | None,
) -> tuple[str, ...]:
    if evidence is None or test.statistic is None or test.p_value is None:
        return (f"Normality cannot be judged: {(test.reason or '')[:1].lower()}{(test.reason or '')[1:]}",)
    p = f"p {p_with_sign(test.p_value)}"
    figures = f"{TESTS[name].told()} = {fixed(test.statistic, 3)}, {p}"
    words = [f"{evidence.capitalize()} evidence against a normal distribution ({figures})."]
    if correlation is not None and skewness is not None:
        shown = fixed(skewness, 2)
        words.append(f"{_size(correlation, n)}, skewness {shown}.")
    if n > 300:
        words.append(f"With {grouped(n)} values even small departures become significant: judge by their size.")
    elif n < 20:
        words.append(f"With {n} values even large departures can hide.")
    return tuple(words)


def _size(correlation: float, n: int) -> str:
    """How large a departure is: first whether normal samples of the same size show as much."""
    digits = 3 if n <= 300 else 4
    told = f"Q-Q correlation {fixed(correlation, digits)}"
    usual = simulated.usual_correlation(n) if n >= 4 else -1.0
    if correlation >= usual:
        reached = f" (19 of 20 reach {fixed(usual, digits)})" if n >= 4 else ""
        return f"Normal samples of {grouped(n)} values depart as much: {told}{reached}"
    size = "small" if correlation >= 0.99 else "moderate" if correlation >= 0.95 else "large"
    return (
        f"The departure is {size}: {told} (19 of 20 normal samples of {grouped(n)} values reach {fixed(usual, digits)})"
    )
