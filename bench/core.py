"""The core against bare library calls."""

from functools import partial
from itertools import combinations

import numpy as np
from heron import density, summary

from bench.timing import best

VALUES = np.random.default_rng(1).lognormal(0, 0.8, 1_000_000)


def summary_of_a_million(line) -> None:
    ours = best(lambda: summary.summarize(VALUES))
    bare = best(lambda: np.sort(VALUES))
    line("summary of 1,000,000 values / np.sort of them", ours, bare, most=2.5)


def spread_of_many(line) -> None:
    """What the Spread stage first shows of 100,000 values, each by itself."""
    from heron import frequency, groups, normality

    values = np.round(VALUES[:100_000], 3)
    work = (
        lambda: summary.summarize(values),
        lambda: groups.boxes(values),
        lambda: frequency.classify(values, rule="freedman-diaconis"),
        lambda: density.kernel_density(values),
        lambda: normality.check_normality(values),
    )
    ours = sum(best(part, times=9) for part in work)
    bare = best(lambda: np.sort(values), times=9)
    line("numbers, box, classes, curve, normality of 100,000 / sort", ours, bare, most=20)


def density_of_a_million(line) -> None:
    result = density.kernel_density(VALUES)
    ours = best(lambda: density.kernel_density(VALUES))
    h, grid = result.bandwidth, result.x

    def direct(x):
        total = np.zeros(grid.size)
        for part in np.array_split(x, max(1, x.size // 5_000)):
            total += np.exp(-0.5 * ((grid[:, None] - part[None, :]) / h) ** 2).sum(axis=1)
        return total / (x.size * h * np.sqrt(2 * np.pi))

    bare = best(lambda: direct(VALUES[:20_000]), times=2) * VALUES.size / 20_000
    line("density of 1,000,000 values / direct sum, scaled up", ours, bare, least=200)
    sample = VALUES[:100_000]
    curve = density.kernel_density(sample, bandwidth=h)
    grid = curve.x
    error = np.abs(curve.density - direct(sample)).max() / curve.density.max()
    print(f"    its error on 100,000 of them: {100 * error:.4f} % of the peak (at most 0.1)")


def ladder_of_many(line) -> None:
    """The whole ladder of 100,000 values with the likeliest power, against sorting them on each of its eight scales."""
    from heron import rescale

    x = np.random.default_rng(6).lognormal(1, 0.6, 100_000)
    scales = [x**power if power > 0 else np.log(x) if power == 0 else -(x**power) for power in rescale.LADDER]
    ours = best(lambda: rescale.power_ladder(x))
    line(
        "ladder of 100,000 values / sorting them on its scales",
        ours,
        best(lambda: [np.sort(y) for y in scales]),
        most=10,
    )


def expression_of_a_million(line) -> None:
    from heron import rescale
    from heron.columns import Column

    rng = np.random.default_rng(8)
    x, y = rng.lognormal(1, 0.6, (2, 1_000_000))
    reasons = np.zeros(x.size, dtype=np.uint8)
    columns = {
        name: Column(name, name, "", "continuous", values, None, (), reasons) for name, values in (("x", x), ("y", y))
    }
    parsed = rescale.parse("ln(x) * 2 + y / (x + 1) if y > 1 else sqrt(x)")
    ours = best(lambda: rescale.evaluate(parsed, columns, x.size))
    bare = best(lambda: np.where(y > 1, np.log(x) * 2 + y / (x + 1), np.sqrt(x)))
    line("an expression on 1,000,000 rows / the same in bare numpy", ours, bare, most=3)


def influence_of_a_million(line) -> None:
    """Least squares with every measure of influence, 3 predictors, against numpy's QR of the same columns."""
    from heron import influence

    rng = np.random.default_rng(9)
    x = rng.normal(size=(1_000_000, 3))
    y = x @ [1.0, 2.0, 3.0] + rng.normal(size=1_000_000)
    predictors = dict(zip("abc", x.T.copy(), strict=True))
    ours = best(lambda: influence.diagnose_fit(y, predictors))
    line("influence of 1,000,000 rows, 3 predictors / QR", ours, best(lambda: np.linalg.qr(x)), most=2)
    full = np.column_stack((np.ones(len(x)), x))
    line("    the same / lstsq", ours, best(lambda: np.linalg.lstsq(full, y, rcond=None)), most=8)
    made = influence.design_of(y[:100_000], {name: values[:100_000] for name, values in predictors.items()})
    rows = np.arange(0, 100_000, 97)
    took = 1000 * best(lambda: influence.refit_without(made, rows))
    print(f"    without 1,031 of 100,000 rows: {took:.1f} ms (at most 50)")


def distances_of_many(line) -> None:
    from heron import outliers

    x = np.random.default_rng(10).normal(size=(100_000, 5))
    columns = dict(zip("abcde", x.T.copy(), strict=True))
    outliers.robust_distances(columns)  # imports
    ours = best(lambda: outliers.robust_distances(columns), times=2)
    print(f"robust distances of 100,000 rows, 5 variables: {ours:.2f} s (at most 3)")


def groups_of_a_million(line) -> None:
    """Centres with t intervals, boxes and curves of 12 groups, against sorting the values of each."""
    from heron import groups
    from heron.grouping import Grouping

    rng = np.random.default_rng(11)
    index = rng.integers(0, 12, VALUES.size)
    names = [str(i) for i in range(12)]

    def whole():
        groups.group_centres(VALUES, Grouping(tuple(names), index), bars="mean-interval")
        order = np.argsort(index, kind="stable")
        for part in np.split(VALUES[order], np.searchsorted(index[order], np.arange(1, 12))):
            groups.boxes(part)
            density.kernel_density(part, points=120)

    ours = best(whole)
    bare = best(lambda: [np.sort(VALUES[index == i]) for i in range(12)])
    line("12 groups of 1,000,000 values, all marks / sorting each group", ours, bare, most=8)
    print(f"    {1000 * ours:.0f} ms (at most 500 with the server's part)")


def pairs_of_a_million(line) -> None:
    """Density, hexagons and an outline of 1,000,000 pairs, and the board of 10,000."""
    from heron import bivariate, relation

    rng = np.random.default_rng(12)
    x, y = rng.normal(size=(2, 1_000_000))
    turn = np.linspace(0, 2 * np.pi, 150)
    reach = 1.5 + 0.5 * np.sin(5 * turn)
    bare = best(lambda: np.histogram2d(x, y, bins=200))
    for name, ours, most in (
        ("density of 1,000,000 pairs on 200 x 200", best(lambda: bivariate.pair_density(x, y)), 300),
        ("hexagons of 1,000,000 pairs", best(lambda: bivariate.hexagons(x, y)), 300),
        ("outline of 150 corners on 1,000,000 pairs",
         best(lambda: bivariate.inside(x, y, reach * np.cos(turn), reach * np.sin(turn))), 100),
    ):  # fmt: skip
        line(f"{name} / numpy's own counts on a grid", ours, bare, most=4)
        print(f"    {1000 * ours:.0f} ms (at most {most})")
    few = np.exp(x[:10_000]), np.exp(y[:10_000])
    print(f"board of 10,000 pairs: {1000 * best(lambda: relation.board(*few)):.0f} ms (at most 300)")


def differences_of_many() -> None:
    """All pairs of 20 groups of 200 rows, by each effect size that is not resampled."""
    from heron import differences

    rng = np.random.default_rng(9)
    labels = [f"group {i}" for i in range(20)]
    values, by = np.concatenate([rng.lognormal(i / 10, 0.5, 200) for i in range(20)]), np.repeat(labels, 200)

    def compare(effect) -> None:
        for first, second in combinations(labels, 2):
            two = (by == first) | (by == second)
            effect(values[two], by[two])

    measures = {
        name: partial(compare, record.measure) for name, record in differences.EFFECTS.items() if not record.resampled
    }
    measures["mean, all together"] = lambda: differences.compare_groups(values, by)
    measures["mean, with a reference"] = lambda: differences.compare_groups(values, by, reference=labels[0])
    for name, work in measures.items():
        print(f"all pairs of 20 groups of 200 rows, {name}: {1000 * best(work):.0f} ms (at most 500)")
