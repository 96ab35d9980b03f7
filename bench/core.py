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
