"""Groups side by side: their boxes, centres with bars, shares, lines through them and pairs across them."""

from heron.groups.box import WHISKERS, Box, Boxes, Fences, Whiskers, box, with_rows
from heron.groups.centres import BARS, CENTRES, FITTING, Bars, Centre, Centred, Centres, summarize, wilson
from heron.groups.lines import Line, line
from heron.groups.pairs import Paired, paired
from heron.groups.shares import Share, Shares, balance, shares
from heron.groups.words import bar_words, describe, fits_badly

__all__ = [
    "BARS",
    "CENTRES",
    "FITTING",
    "WHISKERS",
    "Bars",
    "Box",
    "Boxes",
    "Centre",
    "Centred",
    "Centres",
    "Fences",
    "Line",
    "Paired",
    "Share",
    "Shares",
    "Whiskers",
    "balance",
    "bar_words",
    "box",
    "describe",
    "fits_badly",
    "line",
    "paired",
    "shares",
    "summarize",
    "wilson",
    "with_rows",
]
