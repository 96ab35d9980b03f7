"""Two variables: how closely they move together, the lines through them, the scales that straighten them."""

from heron.relation.correlations import Coefficient, Correlations, correlate, pairs
from heron.relation.fit import (
    SCALES,
    Fit,
    Predicted,
    Scale,
    carried_back,
    equation,
    fit_line,
    forth,
    predict,
    without_rows,
)
from heron.relation.lines import Median, SlopePair, Slopes, Smooth, compare_slopes, smooth, theil_sen, thinned
from heron.relation.straighten import Board, Cell, board

__all__ = [
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
    "smooth",
    "theil_sen",
    "thinned",
    "without_rows",
]
