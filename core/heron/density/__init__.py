"""Kernel density estimates of one variable."""

from heron.density.bandwidths import BANDWIDTH_RULES, BandwidthChoice, BandwidthRule
from heron.density.curve import (
    DIRECT_SUM_UP_TO,
    MOST_BUMPS,
    Bumps,
    Density,
    bumps,
    check_bounds,
    density_of_ordered,
    kernel_density,
)
from heron.density.kernels import KERNELS, Kernel, KernelChoice

__all__ = [
    "BANDWIDTH_RULES",
    "DIRECT_SUM_UP_TO",
    "KERNELS",
    "MOST_BUMPS",
    "BandwidthChoice",
    "BandwidthRule",
    "Bumps",
    "Density",
    "Kernel",
    "KernelChoice",
    "bumps",
    "check_bounds",
    "density_of_ordered",
    "kernel_density",
]
