"""The interval of means of units that were measured in every group."""

import math

from scipy import special

from heron.groups.bars.records import LEVEL, BarChoice, Ends, Sample


def _ends(sample: Sample) -> Ends | None:
    k, shifted = sample.n_groups, sample.shifted
    if shifted is None or shifted.size < 2 or k < 2:
        return None
    n = shifted.size
    sd = float(shifted.std(ddof=1)) * math.sqrt(k / (k - 1))
    reach = float(special.stdtrit(n - 1, 0.5 + sample.level / 2)) * sd / math.sqrt(n)
    return sample.middle - reach, sample.middle + reach


WITHIN_UNIT_INTERVAL = BarChoice(
    id="within-unit-interval",
    label="interval within units",
    help="For units measured in every group: what differs between units is taken out.",
    definition="The t interval after each unit's mean is taken out and the grand mean put in, widened by √(k/(k − 1)) "
    "for k groups; units that lack a group are left out.",
    caption="the {percent} interval within units",
    methods="bars are {percent} intervals within units",
    sources=("morey-2008",),
    options=(LEVEL,),
    rank=90,
    fits=("mean",),
    ends=_ends,
    least=2,
)
