"""Other scales for a variable: transformations, the ladder of powers, expressions, recoding."""

from heron.rescale.expression import FUNCTIONS, Expression, evaluate, parse
from heron.rescale.ladder import LADDER, BoxCox, Ladder, Rung, box_cox, ladder, yeo_johnson
from heron.rescale.ways import WAYS, Rescaled, back, rescale, title_of

__all__ = [
    "FUNCTIONS",
    "LADDER",
    "WAYS",
    "BoxCox",
    "Expression",
    "Ladder",
    "Rescaled",
    "Rung",
    "back",
    "box_cox",
    "evaluate",
    "ladder",
    "parse",
    "rescale",
    "title_of",
    "yeo_johnson",
]
