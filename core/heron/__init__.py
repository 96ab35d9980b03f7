"""The statistics of Velvet Heron for notebooks and programs: arrays in, results out that can be read and laid out.

Every function takes plain arrays, pandas columns or the columns of a Table. Groups have one form: values, and a label
for each of their rows. Results hold what they were computed from and with; `to_frame` lays them out as a pandas table.
What cannot be computed is None, with the reason in `undefined`; what cannot be used raises a HeronError that says what
to do.

`read` and `write` need the packages of velvet-heron[files]; `picture` and `smooth_line` those of velvet-heron[script].
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

from heron.agreement import agree
from heron.association import associate
from heron.bivariate import pair_density
from heron.columns import Column, Table
from heron.control import capability, control_chart
from heron.density import kernel_density
from heron.detection import below_detection
from heron.differences import (
    cliffs_delta,
    compare_groups,
    compare_repeated,
    compare_spreads,
    hedges_g,
    mean_difference,
    median_difference,
    ratio_of_geometric_means,
    shift,
    trimmed_mean_difference,
)
from heron.errors import ChoiceError, HeronError, InputError, NotInstalled, ReadError
from heron.frequency import classify, count_values
from heron.grouping import Grouping, groups_of
from heron.groups import boxes, components, group_centres, shares
from heron.influence import diagnose_fit
from heron.intervals import percent_point_interval, resampled_interval
from heron.limits import reference_limits, tolerance_limits
from heron.normality import check_normality, fit_family, quantile_plot
from heron.outliers import flag_outliers, robust_distances
from heron.quantiles import quantile
from heron.relation import compare_slopes, correlate, fit_line, predict, smooth_line, theil_sen
from heron.rescale import box_cox, power_ladder, transform, yeo_johnson
from heron.sensitivity import leave_one_out
from heron.summary import summarize

if TYPE_CHECKING:
    from heron.figure.picture import picture
    from heron.intake import read
    from heron.writing import write

__version__ = "0.1.0"

__all__ = [
    "ChoiceError",
    "Column",
    "Grouping",
    "HeronError",
    "InputError",
    "NotInstalled",
    "ReadError",
    "Table",
    "agree",
    "associate",
    "below_detection",
    "box_cox",
    "boxes",
    "capability",
    "check_normality",
    "classify",
    "cliffs_delta",
    "compare_groups",
    "compare_repeated",
    "compare_slopes",
    "compare_spreads",
    "components",
    "control_chart",
    "correlate",
    "count_values",
    "diagnose_fit",
    "fit_family",
    "fit_line",
    "flag_outliers",
    "group_centres",
    "groups_of",
    "hedges_g",
    "kernel_density",
    "leave_one_out",
    "mean_difference",
    "median_difference",
    "pair_density",
    "percent_point_interval",
    "picture",
    "power_ladder",
    "predict",
    "quantile",
    "quantile_plot",
    "ratio_of_geometric_means",
    "read",
    "reference_limits",
    "resampled_interval",
    "robust_distances",
    "shares",
    "shift",
    "smooth_line",
    "summarize",
    "theil_sen",
    "tolerance_limits",
    "transform",
    "trimmed_mean_difference",
    "write",
    "yeo_johnson",
]

# What stands on packages that the plain installation does not bring: where it is, and with which extra they come.
_LATER = {
    "picture": ("heron.figure.picture", "script"), "read": ("heron.intake", "files"),
    "write": ("heron.writing", "files"),
}  # fmt: skip


def __getattr__(name: str) -> Any:
    if name not in _LATER:
        raise AttributeError(f"module 'heron' has no attribute {name!r}")
    module, extra = _LATER[name]
    try:
        return getattr(import_module(module), name)
    except ModuleNotFoundError as error:
        raise NotInstalled(error.name or name, extra) from error


def __dir__() -> list[str]:
    return sorted({*globals(), *__all__})
