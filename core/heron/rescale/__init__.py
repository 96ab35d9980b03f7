"""Other scales for a variable: transformations, the ladder of powers, expressions, recoding."""

from heron.rescale.expression import FUNCTIONS, Expression, evaluate, parse
from heron.rescale.front import SCALES, Applied, apply, invert, setting_of
from heron.rescale.ladder import LADDER, BoxCox, Ladder, Rung, box_cox, power_ladder, yeo_johnson
from heron.rescale.offsets import Offsets, offsets
from heron.rescale.relative import TAKES, Along, along, of_baseline
from heron.rescale.units import UnitDoubt, unit_of
from heron.rescale.ways import LOG_BASES, POWERS, SHIFT, WAYS, PowerName, Rescaled, WayChoice, back, title_of, transform

__all__ = [
    "FUNCTIONS",
    "LADDER",
    "LOG_BASES",
    "POWERS",
    "SCALES",
    "SHIFT",
    "TAKES",
    "WAYS",
    "Along",
    "Applied",
    "BoxCox",
    "Expression",
    "Ladder",
    "Offsets",
    "PowerName",
    "Rescaled",
    "Rung",
    "UnitDoubt",
    "WayChoice",
    "along",
    "apply",
    "back",
    "box_cox",
    "evaluate",
    "invert",
    "of_baseline",
    "offsets",
    "parse",
    "power_ladder",
    "setting_of",
    "title_of",
    "transform",
    "unit_of",
    "yeo_johnson",
]
