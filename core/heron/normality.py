"""How far, and how surely, a variable departs from a normal distribution."""

import math
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from threading import Lock
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy import special, stats

from heron.checks import Checked, Floats, Ints, as_values, choose, within
from heron.errors import InputError
from heron.quantiles import of_sorted

Singles = NDArray[np.float32]
Line = Literal["moments", "quartiles"]
SHAPIRO_UP_TO = 5_000
SIMULATED_UP_TO = 2_000
SIMULATIONS = 4_000
LARGE_SAMPLE_POSITIONS = 400
_SEED = 20_250_611


@dataclass(frozen=True)
class TestResult:
    """One test: its statistic and p value, or None with the reason why it was not done."""

    statistic: float | None
    p_value: float | None
    reason: str | None = None


@dataclass(frozen=True)
class Normality:
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


@dataclass(frozen=True)
class QQ:
    """A normal Q-Q plot: the i-th smallest value against the score expected of it.

    All arrays have one entry per row of the input (with frequencies, per unit of frequency), values ascending, rows
    without a value last with NaN. scores: standard normal; ordered and all limits: unit of x; rows: the row that each
    entry came from. simultaneous limits are NaN above 2,000 values, with the reason in `undefined`.
    """

    scores: Floats
    ordered: Floats
    rows: Ints
    slope: float
    intercept: float
    point_low: Floats
    point_high: Floats
    simultaneous_low: Floats
    simultaneous_high: Floats
    level: float
    line: Line
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def check(x: ArrayLike) -> Normality:
    """Return every check of normality that the number of values allows.

    Parameters: x (n_rows,) floats, NaN for missing. Raises: InputError.
    Notes: Shapiro-Wilk for 3 to 5,000 values; Anderson-Darling with both parameters estimated,
    A2* = A2 (1 + 0.75/n + 2.25/n^2), from 8; Lilliefors (p by table from 0.001 to 0.2) from 4; D'Agostino-Pearson K2
    from 20; Jarque-Bera from 2,000. Evidence: little from p = 0.05, some from 0.01, strong below; by Shapiro-Wilk to
    5,000 values, Anderson-Darling above.
    References: royston-1995; dagostino-stephens-1986; lilliefors-1967; dagostino-pearson-1973; jarque-bera-1987.
    """
    checked = as_values(x)
    n = checked.n
    z = _standardize(np.sort(checked.values))
    tests = {
        "shapiro_wilk": _shapiro(z, n),
        "anderson_darling": _tested(z, n, 8, _anderson_darling),
        "lilliefors": _tested(z, n, 4, _lilliefors),
        "dagostino_pearson": _tested(z, n, 20, _dagostino_pearson),
        "jarque_bera": _tested(z, n, 2_000, _jarque_bera),
    }
    why: dict[str, str] = {}
    skewness = kurtosis = correlation = None
    if z is None:
        reason = "All values are the same." if n > 1 else f"It needs at least 3 values; there {_are(n)}."
        why = dict.fromkeys(("skewness", "kurtosis", "qq_correlation"), reason)
    else:
        skewness = float(stats.skew(z, bias=False)) if n >= 3 else None
        kurtosis = float(stats.kurtosis(z, bias=False)) if n >= 4 else None
        correlation = float(np.corrcoef(z, blom_scores(n))[0, 1]) if n >= 3 else None
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


def qq(
    x: ArrayLike,
    *,
    level: float = 0.95,
    family: Literal["normal"] = "normal",
    line: Line = "moments",
    weights: ArrayLike | None = None,
) -> QQ:
    """Return the points, line and bands of a Q-Q plot.

    Parameters: x (n_rows,) floats, NaN for missing; level of both bands; family to compare with; line: "moments"
    (intercept mean, slope SD) or "quartiles"; weights (n_rows,) frequencies.
    Raises: InputError for fewer than 3 values or no spread; ChoiceError.
    Notes: Blom's positions (i - 3/8)/(n + 1/4). To 2,000 values the bands come from 4,000 seeded normal samples, each
    brought to its own line, so that they allow for the estimated mean and SD; simultaneous by equal local levels on the
    same samples. Above, pointwise z +/- c sqrt((p(1-p)/phi(z)^2 - 1 - z^2/2)/n).
    References: blom-1958; aldor-noiman-2013 for the idea of equal local levels.
    """
    checked = as_values(x, weights=weights)
    choose(family, ("normal",), where="family")
    choose(line, ("moments", "quartiles"), where="line")
    within(level, above=0, below=1, where="level")
    n = checked.n
    if n < 3:
        raise InputError("too-few-values", f"A Q-Q plot needs at least 3 values; there {_are(n)}.", where="x")
    order = np.argsort(checked.values, kind="stable")
    ordered = checked.values[order]
    if ordered[0] == ordered[-1]:
        raise InputError(
            "no-spread",
            f"A Q-Q plot needs at least 2 different values; all {n} are {ordered[0]:g}.",
            where="x",
        )
    scores = blom_scores(n)
    intercept, slope = _line(ordered, line)
    if slope == 0:
        raise InputError(
            "no-quartile-spread",
            "The quartiles are equal, so no line goes through them.",
            where="line",
            remedy="Use the line through mean and SD.",
        )
    undefined: dict[str, str] = {}
    if n <= SIMULATED_UP_TO:
        bands = _simulated_bands(n, level, line)
    else:
        bands = np.full((4, n), np.nan)
        half = _large_sample_half_width(scores, level)
        bands[0], bands[1] = scores - half, scores + half
        reason = f"The simultaneous band is simulated for up to {SIMULATED_UP_TO:,} values; there are {n:,}."
        undefined = {"simultaneous_low": reason, "simultaneous_high": reason}
    limits = intercept + slope * bands
    return QQ(
        scores=_padded(scores, checked),
        ordered=_padded(ordered, checked),
        rows=_all_rows(checked, order),
        slope=slope,
        intercept=intercept,
        point_low=_padded(limits[0], checked),
        point_high=_padded(limits[1], checked),
        simultaneous_low=_padded(limits[2], checked),
        simultaneous_high=_padded(limits[3], checked),
        level=level,
        line=line,
        n=n,
        n_missing=checked.n_missing,
        undefined=undefined,
    )


@dataclass(frozen=True)
class NormalCurve:
    """The density of a normal distribution: x and density (points,), in the unit of the mean and its inverse."""

    mean: float
    sd: float
    x: Floats
    density: Floats


def curve(mean: float, sd: float, *, points: int = 201) -> NormalCurve:
    """Return the normal curve of a mean and SD, from 4 SD below to 4 SD above.

    Parameters: mean; sd above 0, in the same unit; points of the curve.
    Raises: InputError for an SD that is not above 0, or too extreme to draw.
    """
    within(sd, above=1e-290, below=1e290, where="sd")
    score = np.linspace(-4, 4, points)
    return NormalCurve(mean, sd, mean + sd * score, np.exp(-(score**2) / 2) / (math.sqrt(2 * math.pi) * sd))


@lru_cache(maxsize=16)
def blom_scores(n: int) -> Floats:
    """Return the (n,) standard normal scores expected of ordered values, by Blom's positions."""
    scores = np.asarray(special.ndtri((np.arange(1, n + 1) - 0.375) / (n + 0.25)), dtype=np.float64)
    scores.setflags(write=False)
    return scores


def _are(n: int) -> str:
    return "is 1" if n == 1 else f"are {n}"


def _padded(values: Floats, checked: Checked) -> Floats:
    return np.concatenate((values, np.full(max(checked.length - values.size, 0), np.nan)))


def _all_rows(checked: Checked, order: Ints) -> Ints:
    used = checked.positions[order]
    rest = np.ones(checked.length, dtype=bool)
    rest[used] = False
    return np.concatenate((used, np.flatnonzero(rest)[: max(checked.length - used.size, 0)]))


def _standardize(ordered: Floats) -> Floats | None:
    """Ascending values with mean 0 and SD 1; None without spread."""
    if ordered.size < 2 or ordered[0] == ordered[-1]:
        return None
    half = ordered[-1] / 2 - ordered[0] / 2
    z = ordered / half - (ordered / half).mean()
    z -= z.mean()
    return np.asarray(z / z.std(ddof=1), dtype=np.float64)


def _line(ordered: Floats, line: Line) -> tuple[float, float]:
    """(intercept, slope)."""
    if line == "moments":
        half = ordered[-1] / 2 - ordered[0] / 2
        return float((ordered / half).mean() * half), float((ordered / half).std(ddof=1) * half)
    q1, q3 = of_sorted(ordered, np.array([0.25, 0.75]), 7).tolist()
    return 0.5 * q1 + 0.5 * q3, (q3 - q1) / (2 * float(special.ndtri(0.75)))


_bands: OrderedDict[tuple[int, float, str], Floats] = OrderedDict()
_bands_lock = Lock()
_KEPT_BANDS = 512


def _simulated_bands(n: int, level: float, line: Line) -> Floats:
    """(4, n) standardized limits: pointwise low and high, simultaneous low and high; kept for the next call."""
    key = (n, level, line)
    with _bands_lock:
        if key in _bands:
            _bands.move_to_end(key)
            return _bands[key]
    # Single precision is far finer than 4,000 samples can tell, and halves the time.
    samples = np.random.default_rng([_SEED, n]).standard_normal((SIMULATIONS, n), dtype=np.float32)
    samples.sort(axis=1)
    if line == "moments":
        samples -= samples.mean(axis=1, keepdims=True)
        samples /= samples.std(axis=1, ddof=1, keepdims=True)
    else:
        quartiles = np.quantile(samples, [0.25, 0.75], axis=1)
        samples -= quartiles.mean(axis=0)[:, None]
        samples /= ((quartiles[1] - quartiles[0]) / (2 * special.ndtri(0.75)))[:, None]
    by_position = np.ascontiguousarray(samples.T)
    ordered = np.sort(by_position, axis=1)
    k = _shallowest(by_position, ordered, level)
    tails = np.array([(1 - level) / 2, (1 + level) / 2]) * (SIMULATIONS - 1)
    whole = np.floor(tails).astype(int)
    part = tails - whole
    point = [
        ordered[:, i] * (1 - f) + ordered[:, min(i + 1, SIMULATIONS - 1)] * f for i, f in zip(whole, part, strict=True)
    ]
    found = np.stack([*point, ordered[:, k - 1], ordered[:, SIMULATIONS - k]]).astype(np.float64)
    with _bands_lock:
        _bands[key] = found
        while len(_bands) > _KEPT_BANDS:
            _bands.popitem(last=False)
    return found


def _large_sample_half_width(scores: Floats, level: float) -> Floats:
    """(n,) c sqrt((p(1-p)/phi(z)^2 - 1 - z^2/2)/n), worked at 400 scores and joined by straight lines."""
    z = np.linspace(scores[0], scores[-1], LARGE_SAMPLE_POSITIONS)
    variance = np.exp(special.log_ndtr(z) + special.log_ndtr(-z) + z**2) * 2 * np.pi - 1 - z**2 / 2
    half = special.ndtri((1 + level) / 2) * np.sqrt(np.maximum(variance, 0) / scores.size)
    return np.asarray(np.interp(scores, z, half), dtype=np.float64)


def _shallowest(samples: Singles, ordered: Singles, level: float) -> int:
    """The largest k for which at least `level` of the samples stay between the k-th smallest and k-th largest value
    at every position; samples and ordered (n, SIMULATIONS), the latter ascending. Coverage falls with k."""
    inside, outside = 1, SIMULATIONS // 2
    while outside - inside > 1:
        k = (inside + outside) // 2
        within_band = (samples >= ordered[:, k - 1, None]) & (samples <= ordered[:, SIMULATIONS - k, None])
        if np.count_nonzero(within_band.all(axis=0)) >= level * SIMULATIONS:
            inside = k
        else:
            outside = k
    return inside


def _shapiro(z: Floats | None, n: int) -> TestResult:
    if n > SHAPIRO_UP_TO:
        return TestResult(
            None,
            None,
            f"Its p value is valid to {SHAPIRO_UP_TO:,} values; there are {n:,}. See the other checks.",
        )
    if n < 3:
        return TestResult(None, None, f"It needs at least 3 values; there {_are(n)}.")
    if z is None:
        return TestResult(None, None, "All values are the same.")
    found = stats.shapiro(z)
    return TestResult(float(found.statistic), float(found.pvalue))


def _tested(z: Floats | None, n: int, least: int, test: Callable[[Floats], tuple[float, float]]) -> TestResult:
    if n < least:
        return TestResult(None, None, f"It needs at least {least:,} values; there {_are(n)}.")
    if z is None:
        return TestResult(None, None, "All values are the same.")
    statistic, p_value = test(z)
    return TestResult(float(statistic), float(p_value))


def _anderson_darling(z: Floats) -> tuple[float, float]:
    n = z.size
    # Log tails: a z above about 8.3 has an upper tail of 0 in double precision.
    terms = (2 * np.arange(1, n + 1) - 1) * (special.log_ndtr(z) + special.log_ndtr(-z[::-1]))
    squared = -n - float(terms.mean())
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


def _lilliefors(z: Floats) -> tuple[float, float]:
    from statsmodels.stats.diagnostic import lilliefors  # slow to import, and seldom the first call

    statistic, p_value = lilliefors(z, dist="norm", pvalmethod="table")
    return statistic, p_value


def _dagostino_pearson(z: Floats) -> tuple[float, float]:
    found = stats.normaltest(z)
    return float(found.statistic), float(found.pvalue)


def _jarque_bera(z: Floats) -> tuple[float, float]:
    found = stats.jarque_bera(z)
    return float(found.statistic), float(found.pvalue)


def _evidence(p_value: float | None) -> Literal["little", "some", "strong"] | None:
    if p_value is None:
        return None
    return "little" if p_value >= 0.05 else "some" if p_value >= 0.01 else "strong"


_TEST_NAMES = {"shapiro_wilk": ("Shapiro-Wilk", "W"), "anderson_darling": ("Anderson-Darling", "A²")}


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
    title, letter = _TEST_NAMES[name]
    p = "p < 0.001" if test.p_value < 0.001 else f"p = {test.p_value:.3f}"
    figures = f"{title} {letter} = {test.statistic:.3f}, {p}"
    words = [f"{evidence.capitalize()} evidence against a normal distribution ({figures})."]
    if correlation is not None and skewness is not None:
        shown = f"{skewness:.2f}".replace("-", "\u2212")
        words.append(f"{_size(correlation)}: Q-Q correlation {correlation:.3f}, skewness {shown}.")
    if n > 300:
        grouped = f"{n:,}".replace(",", "\u2009")
        words.append(f"With {grouped} values even small departures become significant: judge by their size.")
    elif n < 20:
        words.append(f"With {n} values even large departures can hide.")
    return tuple(words)


def _size(correlation: float) -> str:
    if correlation >= 0.99:
        return "The departure is small"
    return "The departure is moderate" if correlation >= 0.95 else "The departure is large"
