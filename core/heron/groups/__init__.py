"""Groups side by side: their boxes, centres with bars, shares, lines through them and pairs across them."""

from heron.groups.bars import BARS, CENTRES, BarChoice, Bars, Centre, CentreChoice, fitting, told_bars, wilson
from heron.groups.box import (
    WHISKERS,
    Beyond,
    Box,
    Boxes,
    BoxHow,
    Fences,
    Limits,
    Whiskers,
    box_of,
    box_of_ordered,
    boxes,
    with_rows,
)
from heron.groups.centres import Centred, Centres, OrderedGroup, centres_of_ordered, group_centres
from heron.groups.components import Components, components
from heron.groups.lines import Line, line
from heron.groups.pairs import Paired, paired_across
from heron.groups.shares import Share, Shares, balance, shares
from heron.groups.two_shares import TwoShares, two_shares
from heron.groups.words import fits_badly, words_on_groups

__all__ = [
    "BARS",
    "CENTRES",
    "WHISKERS",
    "BarChoice",
    "Bars",
    "Beyond",
    "Box",
    "BoxHow",
    "Boxes",
    "Centre",
    "CentreChoice",
    "Centred",
    "Centres",
    "Components",
    "Fences",
    "Limits",
    "Line",
    "OrderedGroup",
    "Paired",
    "Share",
    "Shares",
    "TwoShares",
    "Whiskers",
    "balance",
    "box_of",
    "box_of_ordered",
    "boxes",
    "centres_of_ordered",
    "components",
    "fits_badly",
    "fitting",
    "group_centres",
    "line",
    "paired_across",
    "shares",
    "told_bars",
    "two_shares",
    "wilson",
    "with_rows",
    "words_on_groups",
]
