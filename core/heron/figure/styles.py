"""How figures look in print: type, lines, marks and colours, in points. A style is data; two of them are built in."""

from typing import Any

from heron.figure.colours import SETS, ColourSet

LEAST_TYPE = 6.0  # points; what most journals ask for
LEAST_LINE = 0.5

ON_SCREEN: dict[str, Any] = {
    "name": "on screen", "font": "sans", "type_size": 8.0, "title_size": 8.5, "letter_size": 11.0, "axis_line": 0.8,
    "mark_line": 1.1, "point_size": 3.4, "opacity": 0.6, "colours": "notebook", "frame": "open", "ticks": "out",
    "gridlines": False, "bold_titles": True, "shapes": True, "dashes": False, "hatches": False, "ink": "#1F1A24",
    "paper": "#FFFFFF",
}  # fmt: skip
IN_PRINT: dict[str, Any] = {
    "name": "in print", "font": "sans", "type_size": 7.0, "title_size": 7.5, "letter_size": 10.0, "axis_line": 0.6,
    "mark_line": 0.8, "point_size": 2.6, "opacity": 0.7, "colours": "dusk to dawn", "frame": "open", "ticks": "out",
    "gridlines": False, "bold_titles": False, "shapes": True, "dashes": True, "hatches": False, "ink": "#000000",
    "paper": "#FFFFFF",
}  # fmt: skip
STYLES = (ON_SCREEN, IN_PRINT)
WIDTHS = {"single column": 85.0, "one and a half": 120.0, "double": 175.0, "slide": 254.0}


def colours_of(style: dict[str, Any]) -> ColourSet:
    return next((colours for colours in SETS if colours.name == style["colours"]), SETS[0])


def colour_of(style: dict[str, Any], series_index: int, chosen: str | None = None) -> str:
    """The colour of a series by its place, or its own."""
    result = colours_of(style).colours
    return chosen or result[series_index % len(result)]
