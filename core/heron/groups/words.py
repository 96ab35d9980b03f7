"""What a careful colleague would say of groups and their bars."""

from heron.formatting import counted, significant
from heron.groups.bars import BARS, told_bars
from heron.groups.centres import Centres

_FEW = 10


def fits_badly(centres: Centres) -> tuple[str, ...]:
    """Groups of few values and strong skew, of which a mean with bars says little."""
    if centres.centre != "mean":
        return ()
    return tuple(
        group.label
        for group in centres.groups
        if group.n <= _FEW and group.summary.skewness is not None and abs(group.summary.skewness) > 1
    )


def words_on_groups(centres: Centres, *, unit: str) -> tuple[str, ...]:
    """Sentences on the groups: what the bars are, the widest, and where centre or bars fit the data badly."""
    drawn = [group for group in centres.groups if group.low is not None and group.high is not None]
    units = f" {unit}" if unit else ""
    if not centres.groups:
        return ("There is no group with a row.",)
    bars = told_bars(centres.bars, level=centres.level, percents=centres.percents)
    said = [f"{counted(len(centres.groups), 'group')}; bars are {bars}."]
    if drawn:
        widest = max(drawn, key=lambda group: (group.high or 0) - (group.low or 0))
        width = (widest.high or 0) - (widest.low or 0)
        said.append(f"The widest is that of {widest.label or 'all rows'}, {significant(width, 3)}{units}.")
    skewed = fits_badly(centres)
    if skewed:
        said.append(
            f"With {counted(_FEW, 'value')} or fewer and strong skew ({', '.join(skewed[:4])}) a mean with bars says "
            "little: the median and the points say more."
        )
    if centres.left_out:
        said.append(f"{counted(centres.left_out, 'unit')} without a value in each group take no part in the intervals.")
    alone = [group.label for group in centres.groups if group.low is None and group.n > 0]
    if alone:
        why = next(group.undefined.get("low", "") for group in centres.groups if group.low is None and group.n > 0)
        said.append(f"No bar can be drawn for {', '.join(alone[:6])}. {why or 'There are too few values.'}")
    if BARS[centres.bars].estimates:
        said.append("Whether bars overlap is no test of a difference.")
    return tuple(said)
