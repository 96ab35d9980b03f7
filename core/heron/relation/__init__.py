"""Two variables: how closely they move together, the lines through them, the scales that straighten them."""

from heron.relation.correlations import Coefficient, Correlations, correlate, pairs
from heron.relation.fit import (
    CURVE_POINTS,
    SCALES,
    Fit,
    Predicted,
    Scale,
    carried_back,
    equation,
    fit_line,
    forth,
    predict,
    scaled,
    without_rows,
)
from heron.relation.lines import Median, SlopePair, Slopes, Smooth, compare_slopes, smooth, theil_sen, thinned
from heron.relation.straighten import Board, Cell, board

__all__ = [
    "CURVE_POINTS",
    "SCALES",
    "Board",
    "Cell",
    "Coefficient",
    "Correlations",
    "Fit",
    "Median",
    "Predicted",
    "Scale",
    "SlopePair",
    "Slopes",
    "Smooth",
    "board",
    "carried_back",
    "compare_slopes",
    "correlate",
    "equation",
    "fit_line",
    "forth",
    "pairs",
    "predict",
    "scaled",
    "smooth",
    "theil_sen",
    "thinned",
    "without_rows",
]
