"""A process in its order: its control chart, and what it is capable of."""

from heron.control.capability import Capability, capability
from heron.control.chart import (
    CHARTS,
    RUNS_RULES,
    Chart,
    ControlChart,
    Signal,
    control_chart,
    range_constants,
    sd_constant,
    words_on_control,
)

__all__ = [
    "CHARTS",
    "RUNS_RULES",
    "Capability",
    "Chart",
    "ControlChart",
    "Signal",
    "capability",
    "control_chart",
    "range_constants",
    "sd_constant",
    "words_on_control",
]
