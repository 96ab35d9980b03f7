"""Simulate what normal samples look like: heron/normality/simulated.json, to standard output.

For each size samples are drawn (some minutes in all), and what Lilliefors' statistic (scaled) and 1 less the
Q-Q correlation exceed with each probability is written down.
"""

import json
import sys
from collections.abc import Callable

import numpy as np
from heron.normality.scores import blom_scores
from heron.normality.simulated import farthest, scaled

SIZES = {4: 2e6, 5: 2e6, 6: 2e6, 8: 2e6, 10: 2e6, 14: 2e6, 20: 2e6, 30: 2e6, 50: 1e6, 100: 6e5, 200: 3e5, 500: 2e5,
         1000: 2e5, 2000: 1e5}  # fmt: skip
PROBABILITIES = [0.999, 0.99, 0.95, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.25, 0.2, 0.15, 0.12, 0.1, 0.08, 0.06, 0.05,
                 0.04, 0.03, 0.025, 0.02, 0.015, 0.01, 0.0075, 0.005, 0.003, 0.002, 0.001]  # fmt: skip


def exceeded(n: int, samples: int, statistics: Callable[[np.ndarray], np.ndarray]) -> list[float]:
    rng = np.random.default_rng(n)
    block = max(1, 2_000_000 // n)
    drawn = [statistics(rng.normal(size=(min(block, samples - start), n))) for start in range(0, samples, block)]
    return np.quantile(np.concatenate(drawn), 1 - np.array(PROBABILITIES)).tolist()


def uncorrelated(x: np.ndarray) -> np.ndarray:
    """1 less the correlation of each sample's ordered values with their scores."""
    scores = blom_scores(x.shape[1])
    ordered = np.sort(x, axis=1)
    ordered -= ordered.mean(axis=1, keepdims=True)
    return 1 - ordered @ scores / np.sqrt((ordered**2).sum(axis=1) * (scores @ scores))


def written() -> dict[str, object]:
    lilliefors, correlation = {}, {}
    for n, samples in SIZES.items():
        lilliefors[n] = [round(scaled(d, n), 5) for d in exceeded(n, int(samples), farthest)]
        correlation[n] = [float(f"{one_less:.4g}") for one_less in exceeded(n, int(samples / 5), uncorrelated)]
    return {"probabilities": PROBABILITIES, "lilliefors": lilliefors, "correlation": correlation}


if __name__ == "__main__":
    json.dump(written(), sys.stdout)
