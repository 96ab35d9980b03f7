"""Variables that follow from others of their table: recomputed when what they stand on changes."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from heron import frequency
from heron.checks import choose
from heron.columns import NUMBER_KINDS, Column
from heron.errors import InputError

Recipe = Mapping[str, Any]
OUTSIDE = "outside the classes"


def follow(symbol: str, recipe: Recipe, source: Column) -> Column:
    """Return the column that a recipe makes of its source.

    Parameters: symbol of the new column; recipe: "how", the name of a way below; "of", the source's symbol; "label",
    "unit"; and what the way needs. classes: "boundaries", ascending, and "closed", "left" or "right"; gives an ordered
    column of the classes in interval notation.
    Returns: Column; where the source is missing so is it, for the same reason.
    Raises: ChoiceError for an unknown way; InputError for a source that the way cannot take.
    """
    how = choose(str(recipe.get("how")), _WAYS, where="how")
    found = _WAYS[how](recipe, source)
    return replace(found, symbol=symbol, label=recipe.get("label") or symbol, unit=recipe.get("unit", ""))


def _classes(recipe: Recipe, source: Column) -> Column:
    if source.numbers is None or source.kind not in NUMBER_KINDS:
        raise InputError("not-numeric", f"{source.label} has no numbers to be put in classes.", where="of")
    edges, closed = recipe["boundaries"], recipe.get("closed", "left")
    place = frequency.places(source.numbers, edges, closed=closed)
    levels = frequency.interval_labels(edges, closed=closed)
    codes, reasons = source.missing_codes, source.reasons
    outside = (place < 0) & (reasons == 0)
    if outside.any():
        codes = (*codes, OUTSIDE)
        reasons = reasons.copy()
        reasons[outside] = len(codes)
    return Column("", "", "", "ordered", None, place.astype(np.int32), levels, reasons, codes)


_WAYS: dict[str, Callable[[Recipe, Column], Column]] = {"classes": _classes}
