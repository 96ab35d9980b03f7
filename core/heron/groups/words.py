"""What a careful colleague would say of groups and their bars."""

from heron.groups.centres import Bars, Centres
from heron.wording import counted

_FEW = 10


def bar_words(bars: Bars, level: float, percents: tuple[float, float] = (5, 95)) -> str:
    """What a bar is, for a caption."""
    percent = f"{100 * level:g} %"
    return {
        "sd": "one SD to each side",
        "se": "one standard error to each side",
        "mean-interval": f"the {percent} t interval",
        "bootstrap-interval": f"the {percent} bootstrap interval",
        "quartile-span": "from the first to the third quartile",
        "range": "from the smallest to the largest value",
        "percentiles": f"from the {percents[0]:g} to the {percents[1]:g} percent point",
        "median-interval": f"the {percent} interval of the median",
        "within-unit-interval": f"the {percent} interval within units",
        "wilson-interval": f"the {percent} Wilson interval",
    }[bars]


def fits_badly(found: Centres) -> tuple[str, ...]:
    """Groups of few values and strong skew, of which a mean with bars says little."""
    if found.center != "mean":
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
    said = [f"{counted(len(found.groups), 'group')}; bars are {bar_words(found.bars, found.level, found.percents)}."]
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
    if found.bars in ("se", "mean-interval", "bootstrap-interval"):
        said.append("Whether bars overlap is no test of a difference.")
    return tuple(said)
