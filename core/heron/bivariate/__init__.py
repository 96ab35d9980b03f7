"""Many pairs: their density, counts in hexagons and windows, and the rows inside an outline."""

from heron.bivariate.density import GRID, SHARES, PairDensity, WidthRule, pair_density
from heron.bivariate.windows import HexagonGrid, Hexagons, Stacks, hexagon_grid, hexagons, inside, stacks, window

__all__ = [
    "GRID",
    "SHARES",
    "HexagonGrid",
    "Hexagons",
    "PairDensity",
    "Stacks",
    "WidthRule",
    "hexagon_grid",
    "hexagons",
    "inside",
    "pair_density",
    "stacks",
    "window",
]
