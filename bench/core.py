"""The core against bare library calls."""

import numpy as np
from heron import density, summary

from bench.timing import best

VALUES = np.random.default_rng(1).lognormal(0, 0.8, 1_000_000)


def summary_of_a_million(line) -> None:
    ours = best(lambda: summary.summarize(VALUES))
    bare = best(lambda: np.sort(VALUES))
    line("summary of 1,000,000 values / np.sort of them", ours, bare, most=6)


def density_of_a_million(line) -> None:
    found = density.estimate(VALUES)
    ours = best(lambda: density.estimate(VALUES))
    h, grid = found.bandwidth, found.x

    def direct(x):
        total = np.zeros(grid.size)
        for part in np.array_split(x, max(1, x.size // 5_000)):
            total += np.exp(-0.5 * ((grid[:, None] - part[None, :]) / h) ** 2).sum(axis=1)
        return total / (x.size * h * np.sqrt(2 * np.pi))

    bare = best(lambda: direct(VALUES[:20_000]), times=2) * VALUES.size / 20_000
    line("density of 1,000,000 values / direct sum, scaled up", ours, bare, least=200)
    sample = VALUES[:100_000]
    curve = density.estimate(sample, bandwidth=h)
    grid = curve.x
    error = np.abs(curve.density - direct(sample)).max() / curve.density.max()
    print(f"    its error on 100,000 of them: {100 * error:.4f} % of the peak (at most 0.1)")


def ladder_of_many(line) -> None:
    """The whole ladder of 100,000 values with the likeliest power, against sorting them on each of its eight scales."""
    from heron import rescale

    x = np.random.default_rng(6).lognormal(1, 0.6, 100_000)
    scales = [x**power if power > 0 else np.log(x) if power == 0 else -(x**power) for power in rescale.LADDER]
    ours = best(lambda: rescale.ladder(x))
    line(
        "ladder of 100,000 values / sorting them on its scales",
        ours,
        best(lambda: [np.sort(y) for y in scales]),
        most=60,
    )
    print(f"    {1000 * ours:.0f} ms (at most 300)")


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
