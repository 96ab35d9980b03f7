"""What a careful colleague would say of groups and their bars."""

from heron.formatting import counted
from heron.groups.bars import BARS, told_bars
from heron.groups.centres import Centres

_FEW = 10


def fits_badly(found: Centres) -> tuple[str, ...]:
    """Groups of few values and strong skew, of which a mean with bars says little."""
    if found.centre != "mean":
        return ()
    return tuple(
        each.label
        for each in found.groups
        if each.n <= _FEW and each.summary.skewness is not None and abs(each.summary.skewness) > 1
    )


def describe(found: Centres, *, unit: str) -> tuple[str, ...]:
    """Sentences on the groups: what the bars are, the widest, and where centre or bars fit the data badly."""
    drawn = [each for each in found.groups if each.low is not None and each.high is not None]
    units = f" {unit}" if unit else ""
    if not found.groups:
        return ("There is no group with a row.",)
    bars = told_bars(found.bars, level=found.level, percents=found.percents)
    said = [f"{counted(len(found.groups), 'group')}; bars are {bars}."]
    if drawn:
        widest = max(drawn, key=lambda each: (each.high or 0) - (each.low or 0))
        width = (widest.high or 0) - (widest.low or 0)
        said.append(f"The widest is that of {widest.label or 'all rows'}, {width:.3g}{units}.")
    skewed = fits_badly(found)
    if skewed:
        said.append(
            f"With {counted(_FEW, 'value')} or fewer and strong skew ({', '.join(skewed[:4])}) a mean with bars says "
            "little: the median and the points say more."
        )
    if found.left_out:
        said.append(f"{counted(found.left_out, 'unit')} without a value in each group take no part in the intervals.")
    alone = [each.label for each in found.groups if each.low is None and each.n > 0]
    if alone:
        why = next(each.undefined.get("low", "") for each in found.groups if each.low is None and each.n > 0)
        said.append(f"No bar can be drawn for {', '.join(alone[:6])}. {why or 'There are too few values.'}")
    if BARS[found.bars].estimates:
        said.append("Whether bars overlap is no test of a difference.")
    return tuple(said)
