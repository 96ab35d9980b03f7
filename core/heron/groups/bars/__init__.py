"""Centres and the bars that belong to them: one record for each, in the module that works it out."""

from typing import TYPE_CHECKING

from heron.choices import ids_of, records_in
from heron.groups.bars.records import BarChoice, CentreChoice, Sample
from heron.groups.bars.shares import wilson

CENTRES = records_in(__path__, __name__, CentreChoice)
BARS = records_in(__path__, __name__, BarChoice)
if TYPE_CHECKING:
    Centre = str
    Bars = str
else:
    Centre = ids_of(CENTRES)
    Bars = ids_of(BARS)


def fitting(centre: str) -> tuple[str, ...]:
    """The bars that belong to a centre, in their order."""
    return tuple(bar.id for bar in BARS.values() if centre in bar.fits)


def told_bars(bars: str, *, level: float, percents: tuple[float, float]) -> str:
    """What bars are, for a caption."""
    return BARS[bars].told(level=level, low_percent=percents[0], high_percent=percents[1])


__all__ = ["BARS", "CENTRES", "BarChoice", "Bars", "Centre", "CentreChoice", "Sample", "fitting", "told_bars", "wilson"]
