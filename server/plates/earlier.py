"""Specifications of earlier versions, read as what they are now.

Version 1 kept each panel's question beside its kind; version 2 knew fewer choices of pairs; version 3 said "center",
"straight" and "brought back".
"""

import re
from collections.abc import Callable
from typing import Any

from heron.figure.scene import Scene

from server.fields import OWN_ADDRESS
from server.readings.answers import completed, reread

Read = Callable[[dict[str, Any]], dict[str, Any]]
_QUESTIONS = {"cumulative": "shape"}
_BESIDE = {
    "shape": ("layers", "measure"), "counts": ("measure",), "shares": ("stacked",), "estimates": ("combined", "none"),
    "pair": ("also", "size", "shown", "across", "bands", "joined"), "influence": ("view", "row_measure", "coefficient"),
}  # fmt: skip
_ROLES = {"groups": ("by",), "shares": ("by",), "differences": ("by",), "pair": ("x", "y"), "influence": ("response",)}
_SEVERAL = {"estimates": ("of",), "distances": ("variables",), "influence": ("predictors",)}
_WITHOUT_VARIABLE = ("estimates", "pair", "distances", "influence")
# Of a shape's question, what each kind draws.
_TAKEN = {
    "shape": (
        "by", "axis", "rule", "count", "width", "start", "boundaries", "closed", "bandwidth", "kernel",
        "quantile_definition", "reach", "whiskers", "share", "level",
    ),
    "cumulative": ("by",),
}  # fmt: skip


def as_now(document: Any) -> Any:
    """A specification as it is kept now; one of this version, or what is none, as it is."""
    for version, read in (
        (1, lambda panel: _with_own_address({**panel, "source": _source(panel["source"])})),
        (2, _of_source(_with_pairs)),
        (3, _in_plain_words),
    ):
        if isinstance(document, dict) and document.get("version") == version:
            document = _raised(document, version + 1, read)
    return document


def scenes_as_now(frozen: bytes) -> bytes:
    """The scenes with which a plate was frozen, with whatever scenes did not hold then as it usually is."""
    return reread(frozen, lambda said: {**said, "scenes": [completed(scene, Scene) for scene in said["scenes"]]})


def _raised(document: dict[str, Any], version: int, read: Read) -> dict[str, Any]:
    if not isinstance(document.get("panels"), list):
        return document
    panels = [
        read(panel) if isinstance(panel, dict) and isinstance(panel.get("source"), dict) else panel
        for panel in document["panels"]
    ]
    return {**document, "version": version, "panels": panels}


def _with_own_address(panel: dict[str, Any]) -> dict[str, Any]:
    """Version 1 took any words for the address of the stage that shows the same."""
    known = re.fullmatch(OWN_ADDRESS, str(panel.get("address", "")))
    return panel if known else {**panel, "address": ""}


def _of_source(read: Read) -> Read:
    return lambda panel: {**panel, "source": read(panel["source"])}


# What numbers were called; a level may stand behind, and the letter of a panel before.
_NUMBERS = {
    "mean, brought back": "back-transformed mean",
    "lower limit, brought back": "lower limit of the back-transformed mean",
    "upper limit, brought back": "upper limit of the back-transformed mean",
}


def _number(name: Any) -> Any:
    for before, now in _NUMBERS.items():
        name = name.replace(before, now) if isinstance(name, str) else name
    return name


def reviewed_as_now(numbers_then: dict[str, Any]) -> dict[str, Any]:
    """What a plate showed when somebody last looked, with its numbers as they are called now."""
    if not isinstance(numbers_then.get("numbers"), list):
        return numbers_then
    return {**numbers_then, "numbers": [[_number(name), *rest] for name, *rest in numbers_then["numbers"]]}


def _in_plain_words(panel: dict[str, Any]) -> dict[str, Any]:
    source = {"centre" if name == "center" else name: value for name, value in panel["source"].items()}
    for name in ("axis", "x_axis", "y_axis"):
        if source.get(name) == "straight":
            source[name] = "linear"
    result = {**panel, "source": source}
    if isinstance(panel.get("address"), str):
        result["address"] = re.sub(r"(?<=[?&])center=", "centre=", panel["address"])
    if isinstance(panel.get("furniture"), list):
        result["furniture"] = [
            {**piece, "names": list(map(_number, piece["names"]))}
            if isinstance(piece, dict) and isinstance(piece.get("names"), list)
            else piece
            for piece in panel["furniture"]
        ]
    return result


def _with_pairs(written: dict[str, Any]) -> dict[str, Any]:
    """Pairs of version 2: bands and joined lines were there or not, logarithmic lines brought logarithmic axes, cells
    and the grid of a density were of one fineness, hexagons regular where the picture is square."""
    if written.get("kind") != "pair":
        return written
    result = dict(written)
    if "bands" in result:
        result["bands"] = "line" if result["bands"] else "none"
    if "joined" in result:
        result["joined"] = "x" if result["joined"] else "no"
    for side in ("x", "y"):
        if result.get("lines", True) and result.get(f"{side}_scale") == "log10":
            result[f"{side}_axis"] = "log"
    fixed: dict[str, dict[str, Any]] = {"density": {"grid": 90}, "cells": {"across": 40}, "hexagons": {"aspect": 1.0}}
    return result | fixed.get(str(result.get("shown")), {})


def _source(written: dict[str, Any]) -> dict[str, Any]:
    kind = str(written.get("kind"))
    question = written.get(_QUESTIONS.get(kind, kind)) or {}
    result = {"table": written.get("table"), "kind": kind, "only": written.get("only")}
    if kind not in _WITHOUT_VARIABLE:
        result |= {"variable": written.get("variable", ""), "as_if": written.get("as_if")}
    if kind == "quantiles":
        normal = written.get("normal") or {}
        level = normal.get("level", question.get("level", 0.95))
        return {**result, "family": question.get("family", "normal"), "level": level, "by": normal.get("by", "")}
    taken = _TAKEN.get(kind, tuple(question))
    result |= {name: question[name] for name in taken if name in question}
    result |= {name: written[name] for name in _BESIDE.get(kind, ()) if name in written}
    if kind == "groups":
        result |= written.get("drawn") or {}
    # One that an earlier version took without its question shows nothing, and says so.
    return {**dict.fromkeys(_ROLES.get(kind, ()), ""), **{name: [] for name in _SEVERAL.get(kind, ())}, **result}
