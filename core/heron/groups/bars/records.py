"""What a centre and a bar are: a record of each, and the sample that a bar is drawn for."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from heron import resampling, summary
from heron.checks import Floats
from heron.choices import Choice, Option
from heron.ordered import Ordered
from heron.quantiles import Definition

Ends = tuple[float, float]
LEVEL = Option("level", "Level", 0.95, 0.5, 0.999)
# Centres of values about which a spread can be shown.
OF_VALUES = ("mean", "median", "geometric-mean", "trimmed-mean")


@dataclass(frozen=True, kw_only=True)
class CentreChoice(Choice):
    """What stands in the middle of a group. middle: of its summary, None where it cannot be had;
    lacking: why not, where there are values; resampled: the same of resamples, (n_resamples, n) to (n_resamples,),
    from the share to be trimmed, and without_each: without each value, (n,) to (n,); on_logs: whether bars are worked
    on logs; bars: those that are usual; effect: by what such centres are usually compared; among_values: whether it
    lies among the values, so that these can be drawn beside it; code: an expression of a script that gives it of
    `known`, "" for none."""

    middle: Callable[[summary.Summary], float | None]
    bars: str
    effect: str = "mean"
    among_values: bool = True
    lacking: str = ""
    resampled: Callable[[Floats, float], Floats] | None = None
    without_each: Callable[[Floats, float], Floats] = lambda values, trim: resampling.mean_without_each(values)
    on_logs: bool = False
    code: str = ""


@dataclass(frozen=True)
class Sample:
    """A group as a bar is drawn for it. ordered: its values by their order, of units where these are averaged first;
    values: the same, or of a long table a sample of them, for what draws from them; shifted: (n,) with what units have
    in common taken out; n_groups: groups with a value."""

    ordered: Ordered
    values: Floats
    summary: summary.Summary
    middle: float
    centre: CentreChoice
    level: float
    percents: tuple[float, float]
    trim: float
    definition: Definition
    seed: int
    progress: resampling.Progress
    shifted: Floats | None
    n_groups: int


@dataclass(frozen=True, kw_only=True)
class BarChoice(Choice):
    """What reaches to both sides of a centre. fits: the centres that it belongs to. ends: of a sample, None where they
    cannot be had; least: from how many values; estimates: whether it tells how sure the centre is, so that overlap
    tempts to a test; seeded: whether it rests on resampling; code: by centre ("" for any), an expression of a script
    that gives both ends of `known`."""

    fits: tuple[str, ...]
    ends: Callable[[Sample], Ends | None]
    least: int = 1
    estimates: bool = False
    seeded: bool = False
    code: Mapping[str, str] | None = None
