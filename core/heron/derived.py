"""Variables that follow from others of their table: recomputed when what they stand on changes."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from heron import frequency, rescale
from heron.checks import Floats, choose
from heron.columns import NUMBER_KINDS, Column
from heron.errors import InputError
from heron.grouping import Grouping
from heron.variables import labels_of

Recipe = Mapping[str, Any]
Recipes = Mapping[str, Recipe]
Sources = Mapping[str, Column]
OUTSIDE = "outside the classes"
NOT_ON_SCALE = "not on this scale"
NO_RESULT = "no result"
NO_LABEL = "no new label"
NO_BASELINE = "no baseline"
NONE_BEFORE = "none before it"
_MOST_LEVELS = 1_000


def sources_of(recipe: Recipe) -> tuple[str, ...]:
    """The symbols of the variables that a recipe is made of, each once."""
    of = recipe["of"]
    return (of,) if isinstance(of, str) else tuple(dict.fromkeys(of))


def recipe_of(of: str, way: Mapping[str, Any]) -> dict[str, Any]:
    """A way of making a variable with those that it is made of: those that an expression names, else the one at hand
    and those that the way names besides."""
    named: str | list[str] = of
    if way["how"] == "expression":
        named = list(rescale.parse(way["text"]).symbols)
    elif way["how"] in ("percent", "along"):
        by = way.get("by") if way.get("row") is None else None
        besides = (by, way.get("within"), way.get("order"))
        named = list(dict.fromkeys([of, *(beside for beside in besides if beside)]))
    return {"of": named, "label": "", "unit": "", **way}


def by_row(recipe: Recipe) -> bool:
    """Whether what a recipe makes of a row does not hang on other rows."""
    match recipe["how"]:
        case "scale":
            return rescale.WAYS[recipe["setting"]["way"]].by_row(recipe["setting"])
        case "expression":
            return not rescale.parse(recipe["text"]).over_rows
    return recipe["how"] not in ("percent", "along")


def circle(recipes: Recipes, symbol: str) -> tuple[str, ...]:
    """The way from a variable through those it follows from back to itself; empty where there is none."""
    ways: list[tuple[str, ...]] = [(symbol,)]
    seen: set[str] = set()
    while ways:
        way = ways.pop()
        for of in sources_of(recipes[way[-1]]) if way[-1] in recipes else ():
            if of == symbol:
                return (*way, of)
            if of not in seen:
                seen.add(of)
                ways.append((*way, of))
    return ()


def in_order(recipes: Recipes) -> dict[str, Recipe]:
    """The recipes, each behind those that it stands on, else as they come; those that go in a circle are left out."""
    result: dict[str, Recipe] = {}
    waiting = dict(recipes)
    while waiting:
        ready = next((s for s, how in waiting.items() if not set(sources_of(how)) & set(waiting)), None)
        if ready is None:
            break
        result[ready] = waiting.pop(ready)
    return result


def compute_derived(symbol: str, recipe: Recipe, sources: Sources) -> Column:
    """Return the column that a recipe makes of its sources.

    Parameters: symbol of the new column; recipe: "how", the name of a way below; "of", the symbol of its source, or a
    list of them; "label", "unit"; and what the way needs. classes: "boundaries", ascending, and "closed", "left" or
    "right"; gives an ordered column of the classes in interval notation, or by their "names", of which equal ones are
    one level, and "others", a label for what lies outside. scale: "setting", as heron.transform takes it.
    expression: "text". recode: "labels", new label by old, and "others", a label for all the rest, None to leave them
    without one. percent: of the "centre" of the rows at the "level" of "by", or of the value in "row", from 1; "within"
    each level of another variable. along: "take" and "steps", as heron.rescale.along has them, along "order" (the rows'
    own where None), "within" each level of another. pulled-in: values below "low" or above "high" are set to that
    limit, in the "rows" named (from 1), or all.
    Returns: Column; where a source is missing so is it, for the same reason of the first that is; what a scale or an
    expression cannot give is missing by a code that says so.
    Raises: ChoiceError for an unknown way; InputError for sources that the way cannot take.
    """
    how = choose(str(recipe.get("how")), _WAYS, where="how")
    result = _WAYS[how](recipe, sources)
    return replace(result, symbol=symbol, label=recipe.get("label") or symbol, unit=recipe.get("unit", ""))


def _only(recipe: Recipe, sources: Sources, words: str) -> Column:
    source = sources[sources_of(recipe)[0]]
    if source.numbers is None or source.kind not in NUMBER_KINDS:
        raise InputError("not-numeric", f"{source.label} has no numbers {words}.", where="of")
    return source


def _classes(recipe: Recipe, sources: Sources) -> Column:
    source = _only(recipe, sources, "to be put in classes")
    assert source.numbers is not None
    edges, closed = recipe["boundaries"], recipe.get("closed", "left")
    class_index = frequency.places(source.numbers, edges, closed=closed)
    levels = frequency.interval_labels(edges, closed=closed)
    names, others = recipe.get("names"), recipe.get("others")
    if names or others:
        named = names or levels
        if len(named) != len(levels):
            raise InputError(
                "wrong-names", f"{len(levels)} classes need {len(levels)} names; there are {len(named)}.", where="names"
            )
        levels = tuple(dict.fromkeys([*named, others] if others else named))
        index = np.array([*(levels.index(name) for name in named), levels.index(others) if others else -1])
        class_index = np.where((class_index < 0) & (source.reasons > 0), -1, index[class_index])
    reasons, codes = _missing_too(source, class_index < 0, OUTSIDE)
    return Column("", "", "", "ordered", None, class_index.astype(np.int32), levels, reasons, codes)


def _scale(recipe: Recipe, sources: Sources) -> Column:
    source = _only(recipe, sources, "to be put on another scale")
    assert source.numbers is not None
    result = rescale.transform(source.numbers, recipe["setting"])
    reasons, codes = _missing_too(source, np.isnan(result.values), NOT_ON_SCALE)
    return _numbers(result.values, reasons, codes)


def _expression(recipe: Recipe, sources: Sources) -> Column:
    parsed = rescale.parse(recipe["text"])
    first = next(iter(sources.values()), None)
    if first is None:
        rescale.evaluate(parsed, sources, 0)  # says which name it cannot place
        raise InputError("expression", "An expression needs at least one variable.", where="expression:0")
    result = rescale.evaluate(parsed, sources, first.n_rows)
    # A row is missing for the reason of the first source that is, as far as the expression does not see past it.
    reasons = np.zeros(first.n_rows, dtype=np.uint8)
    codes: tuple[str, ...] = ("blank",)
    for source in sources.values():
        for reason in range(1, len(source.missing_codes) + 1):
            coded = (source.reasons == reason) & (reasons == 0)
            if coded.any():
                code = source.missing_codes[reason - 1]
                codes = codes if code in codes else (*codes, code)
                reasons[coded] = codes.index(code) + 1
    if result.dtype.kind == "f":
        numbers = np.asarray(result, dtype=np.float64)
        reasons[~np.isnan(numbers)] = 0
        beyond = np.isnan(numbers) & (reasons == 0)
        if beyond.any():
            codes = (*codes, NO_RESULT)
            reasons[beyond] = len(codes)
        return _numbers(numbers, reasons, codes)
    if result.dtype.kind == "b":
        result = np.where(result, "yes", "no").astype(object)
    return _labels([None if label is None else str(label) for label in result.tolist()], reasons, codes, NO_RESULT)


def _percent(recipe: Recipe, sources: Sources) -> Column:
    source = _only(recipe, sources, "to be a percent of")
    assert source.numbers is not None
    row, level = recipe.get("row"), recipe.get("level")
    if row is not None:
        if not 1 <= row <= source.n_rows:
            raise InputError("no-such-row", f"There is no row {row}; rows go to {source.n_rows}.", where="row")
        at = np.arange(source.n_rows) == row - 1
    else:
        levels, index = labels_of(sources[recipe["by"]])
        if level not in levels:
            label = sources[recipe["by"]].label
            raise InputError("no-level", f"{label} has no level {level!r}.", where="level", remedy="Choose another.")
        at = index == levels.index(level)
    result = rescale.of_baseline(
        source.numbers, _group(recipe, sources), baseline=at, centre=recipe.get("centre", "mean")
    )
    return _numbers(result, *_missing_too(source, np.isnan(result), NO_BASELINE))


def _along(recipe: Recipe, sources: Sources) -> Column:
    source = _only(recipe, sources, "to be followed along an order")
    result = along_of(recipe, sources)
    reasons, codes = source.reasons, source.missing_codes
    if recipe["take"] == "earlier":  # known or not by the row before, whatever this one is
        reasons = np.zeros_like(reasons)
    gone = np.isnan(result.values) & (reasons == 0)
    if gone.any():
        codes = (*codes, NONE_BEFORE)
        reasons = np.where(gone, len(codes), reasons).astype(np.uint8)
    return _numbers(result.values, reasons, codes)


def along_of(recipe: Recipe, sources: Sources) -> rescale.Along:
    """What a recipe along an order gives, with the rows that share their place in it."""
    source, order = sources[sources_of(recipe)[0]], recipe.get("order")
    places = None
    if order:
        by = sources[order]
        places = by.numbers if by.numbers is not None else np.where(by.reasons == 0, labels_of(by)[1], np.nan)
    x = source.numbers if source.numbers is not None else np.full(source.n_rows, np.nan)
    return rescale.along(x, _group(recipe, sources), at=places, take=recipe["take"], steps=recipe.get("steps", 1))


def _group(recipe: Recipe, sources: Sources) -> Grouping | None:
    within = recipe.get("within")
    if not within:
        return None
    labels, places = labels_of(sources[within])
    return Grouping(tuple(labels), places)


def title_of(recipe: Recipe, sources: Sources) -> tuple[str, str]:
    """Return the label and unit that a variable made so is proposed; an expression stands for itself."""
    if recipe["how"] == "expression":
        units = {symbol: column.unit for symbol, column in sources.items()}
        return recipe["text"][:60], rescale.unit_of(rescale.parse(recipe["text"]), units).unit or ""
    source = sources[sources_of(recipe)[0]]
    label, unit = source.label, source.unit
    match recipe["how"]:
        case "scale":
            return rescale.title_of(label, unit, recipe["setting"])
        case "percent":
            row = recipe.get("row")
            of = f"row {row}" if row is not None else f"{sources[recipe['by']].label} {recipe['level']}"
            return f"{label}, % of {of}", "%"
        case "along":
            steps = recipe.get("steps", 1)
            words = {
                "earlier": f"{label}, {steps} earlier",
                "difference": f"change in {label}",
                "ratio": f"ratio of {label} to the one before",
                "percent-change": f"change in {label}, %",
            }[recipe["take"]]
            return words, {"ratio": "", "percent-change": "%"}.get(recipe["take"], unit)
        case "pulled-in":
            return f"{label}, pulled in", unit
    return f"{label}, in classes" if recipe["how"] == "classes" else f"{label}, renamed", ""


def _pulled_in(recipe: Recipe, sources: Sources) -> Column:
    source = _only(recipe, sources, "to be pulled in")
    assert source.numbers is not None
    low, high = recipe.get("low"), recipe.get("high")
    if low is None and high is None:
        raise InputError("no-limit", "A limit is needed to pull values in to.", where="low")
    result = np.clip(source.numbers, low, high)
    rows = np.array(recipe.get("rows") or np.arange(1, source.n_rows + 1), dtype=np.int64) - 1
    pulled = np.zeros(source.n_rows, dtype=bool)
    pulled[rows[(rows >= 0) & (rows < source.n_rows)]] = True
    kept = _numbers(np.where(pulled, result, source.numbers), source.reasons, source.missing_codes)
    return replace(kept, decimals=source.decimals)


def _recode(recipe: Recipe, sources: Sources) -> Column:
    source = sources[sources_of(recipe)[0]]
    if source.codes is None:
        raise InputError(
            "no-levels", f"{source.label} has no levels to recode.", where="of", remedy="Put its numbers in classes."
        )
    labels, others = recipe["labels"], recipe.get("others")
    new = [labels.get(level, others) for level in source.levels]
    order = list(dict.fromkeys(label for label in [*labels.values(), others] if label is not None))
    new_codes = [order.index(label) if label is not None else -1 for label in new]
    placed = np.array([*new_codes, -1], dtype=np.int32)[source.codes]
    reasons, codes = _missing_too(source, placed < 0, NO_LABEL)
    return Column("", "", "", source.kind, None, placed, tuple(order), reasons, codes)


def _missing_too(source: Column, gone: Any, code: str) -> tuple[Any, tuple[str, ...]]:
    """Why each row is missing: as in the source, or by a new code where only the result is gone."""
    new = np.asarray(gone) & (source.reasons == 0)
    if not new.any():
        return source.reasons, source.missing_codes
    codes = (*source.missing_codes, code)
    reasons = source.reasons.copy()
    reasons[new] = len(codes)
    return reasons, codes


def _numbers(values: Floats, reasons: Any, codes: tuple[str, ...]) -> Column:
    known = values[~np.isnan(values)]
    whole = bool(known.size) and bool(np.all(known == np.rint(known))) and float(np.abs(known).max()) < 1e15
    return Column("", "", "", "continuous", values, None, (), reasons, codes, 0 if whole else _decimals(known))


def _decimals(known: Floats) -> int:
    """Decimals that show four figures of the spread."""
    spread = float(np.std(known / 2) * 2) if known.size > 1 else 0.0
    return int(min(max(3 - np.floor(np.log10(spread)), 0), 10)) if spread > 0 and np.isfinite(spread) else 3


def _labels(labels: list[str | None], reasons: Any, codes: tuple[str, ...], code: str) -> Column:
    levels = sorted({label for label in labels if label is not None})
    if len(levels) > _MOST_LEVELS:
        raise InputError(
            "too-many-levels", f"It would have {len(levels)} levels; at most {_MOST_LEVELS} are made.", where="of"
        )
    index = {label: i for i, label in enumerate(levels)}
    placed = np.array([-1 if label is None else index[label] for label in labels], dtype=np.int32)
    reasons = np.where(placed >= 0, 0, reasons).astype(np.uint8)
    gone = (placed < 0) & (reasons == 0)
    if gone.any():
        codes = (*codes, code)
        reasons[gone] = len(codes)
    return Column("", "", "", "category", None, placed, tuple(levels), reasons, codes)


_WAYS: dict[str, Callable[[Recipe, Sources], Column]] = {
    "classes": _classes,
    "scale": _scale,
    "expression": _expression,
    "recode": _recode,
    "percent": _percent,
    "along": _along,
    "pulled-in": _pulled_in,
}
