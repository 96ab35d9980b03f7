"""The pairs of a panel, and where they stand along its axes."""

from dataclasses import dataclass

import numpy as np

from heron.checks import Floats
from heron.chunked import Of2, PairSums
from heron.figure.build.context import Context
from heron.figure.source import PairSource
from heron.readings import pairs
from heron.relation import Scale


@dataclass(frozen=True)
class Way:
    """How values stand on an axis. factor: what they are multiplied by, to days for times in seconds."""

    log: bool
    factor: float = 1.0

    def forth(self, values: Floats) -> Floats:
        """Values as they stand along the axis; NaN for those that cannot."""
        scaled = values * self.factor if self.factor != 1 else values
        if not self.log:
            return scaled
        with np.errstate(all="ignore"):
            return np.log10(np.where(scaled > 0, scaled, np.nan))

    def back(self, along: Floats) -> Floats:
        """Places along the axis in its own unit."""
        return np.asarray(10.0**along) if self.log else along


@dataclass(frozen=True)
class Pairs:
    """The pairs of a panel, with where they stand. u, v: (n,) of all rows along the axes; v of each variable."""

    context: Context
    source: PairSource
    drawn: pairs.PairsDrawn
    x_way: Way
    y_way: Way
    u: Floats
    vs: tuple[Floats, ...]

    @property
    def sums(self) -> PairSums | None:
        """Of a long table the sums of all pairs as they stand along the axes; None of another, or of several y."""
        if self.context.table.chunks is None or self.source.also:
            return None
        x, y = (self.context.table.variable(symbol) for symbol in (self.source.x, self.source.y))
        return pairs.sums_of(x, y, scales=self.of_all.scales, factor=self.x_way.factor)

    @property
    def of_all(self) -> Of2:
        """Which pairs of a long table these are."""
        x_scale: Scale = "log10" if self.x_way.log else "as-is"
        return Of2(
            self.source.x, self.source.y, (), (x_scale, "log10" if self.y_way.log else "as-is"), self.x_way.factor
        )

    @property
    def told(self) -> pairs.PairsReading:
        return self.drawn.told
