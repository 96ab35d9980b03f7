"""Figures for publication: what they show (scene), the words that go with them, and what is checked before they leave.

A specification is plain data (the JSON that a plate is kept as): a sheet in millimetres, a style in points, and panels,
each with the settings of its axes, series, legend and furniture. A scene is what a panel shows, in data units.
"""

from heron.figure.build import build
from heron.figure.checking import Change, Finding, check
from heron.figure.methods import uses_of
from heron.figure.scene import Axis, Facts, Layer, Number, Scene, SceneSeries, aired, turned
from heron.figure.source import Source, from_json
from heron.figure.table import data
from heron.figure.words import alternative, axis_title, caption, letters

__all__ = [
    "Axis",
    "Change",
    "Facts",
    "Finding",
    "Layer",
    "Number",
    "Scene",
    "SceneSeries",
    "Source",
    "aired",
    "alternative",
    "axis_title",
    "build",
    "caption",
    "check",
    "data",
    "from_json",
    "letters",
    "turned",
    "uses_of",
]
