"""Kernels of densities: one record for each."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from heron.checks import Floats
from heron.choices import Choice, by_id

Kernel = Literal["gaussian", "epanechnikov", "triangular", "uniform", "biweight"]


@dataclass(frozen=True, kw_only=True)
class KernelChoice(Choice):
    """A kernel scaled to SD 1: it is 0 beyond `reach`; `bins` is how many bins a bandwidth is cut into."""

    reach: float
    bins: int
    height: Callable[[Floats], Floats]


def _kernel(
    identity: Kernel, rank: int, reach: float, bins: int, height: Callable[[Floats], Floats], help_text: str
) -> KernelChoice:
    return KernelChoice(
        id=identity,
        label=identity,
        help=help_text,
        caption=f"{identity} kernel",
        methods=f"densities have a {identity} kernel",
        rank=rank,
        reach=reach,
        bins=bins,
        height=height,
    )


def _gaussian(z: Floats) -> Floats:
    result = z * z
    result *= -0.5
    np.exp(result, out=result)
    result /= math.sqrt(2 * math.pi)
    return result


def _epanechnikov(z: Floats) -> Floats:
    return 0.75 / math.sqrt(5) * np.maximum(1 - z * z / 5, 0)


def _triangular(z: Floats) -> Floats:
    return np.maximum(1 - np.abs(z) / math.sqrt(6), 0) / math.sqrt(6)


def _uniform(z: Floats) -> Floats:
    return (np.abs(z) <= math.sqrt(3)) / (2 * math.sqrt(3))


def _biweight(z: Floats) -> Floats:
    return np.asarray(15 / 16 / math.sqrt(7) * np.maximum(1 - z * z / 7, 0) ** 2)


# The more abruptly a kernel ends, the finer the bins must be to keep the error under 0.1 % of the peak.
KERNELS: dict[str, KernelChoice] = by_id(
    (
        _kernel("gaussian", 1, 8.5, 16, _gaussian, "A normal curve at each value: smooth everywhere."),
        _kernel("epanechnikov", 2, math.sqrt(5), 64, _epanechnikov, "A parabola at each value; ends at √5 bandwidths."),
        _kernel("triangular", 3, math.sqrt(6), 64, _triangular, "A triangle at each value; ends at √6 bandwidths."),
        _kernel("uniform", 4, math.sqrt(3), 4096, _uniform, "A block at each value: a moving count."),
        _kernel("biweight", 5, math.sqrt(7), 32, _biweight, "A smooth hump at each value; ends at √7 bandwidths."),
    )
)
