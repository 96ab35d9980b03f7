"""Many pairs: their density, counts in hexagons and windows, and the rows inside an outline."""

from heron.bivariate.density import (
    GRID,
    SHARES,
    DensityGrid,
    PairDensity,
    WidthRule,
    density_grid,
    normal_reference,
    pair_density,
    plug_in,
)
from heron.bivariate.windows import HexagonGrid, Hexagons, Stacks, hexagon_grid, hexagons, inside, stacks, window

__all__ = [
    "GRID",
    "SHARES",
    "DensityGrid",
    "HexagonGrid",
    "Hexagons",
    "PairDensity",
    "Stacks",
    "WidthRule",
    "density_grid",
    "hexagon_grid",
    "hexagons",
    "inside",
    "normal_reference",
    "pair_density",
    "plug_in",
    "stacks",
    "window",
]
