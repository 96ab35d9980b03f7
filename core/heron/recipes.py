"""How a variable follows from others, in words."""

from collections.abc import Mapping

from heron import frequency, rescale
from heron.derived import Recipe, sources_of
from heron.formatting import counted

_LISTED = 8
_LOGS = {"log10 ": "log₁₀ of ", "log2 ": "log₂ of ", "ln ": "ln of "}


def recipe_words(recipe: Recipe, labels: Mapping[str, str]) -> str:
    """What a recipe makes, with what it was told: "shell mass, Box-Cox 0.31", "2 classes of mass: small [0, 5), ...".

    Parameters: recipe, as heron.derived has it; labels, by symbol.
    """

    def named(symbol: str) -> str:
        return labels.get(symbol, symbol)

    within = f", within each {named(recipe['within'])}" if recipe.get("within") else ""
    of = named(next(iter(sources_of(recipe)), ""))
    match recipe["how"]:
        case "expression":
            return f"the expression {recipe['text']}"
        case "scale":
            words = rescale.title_of(of, "", recipe["setting"])[0]
            return next(
                (said + words[len(beginning) :] for beginning, said in _LOGS.items() if words.startswith(beginning)),
                words,
            )
        case "classes":
            return _classes(recipe, of)
        case "recode":
            renamed = [f"{old} → {new}" for old, new in recipe["labels"].items()]
            others = recipe.get("others")
            return f"{of}, levels renamed: {_listed([*renamed, *([f'others → {others}'] if others else [])])}"
        case "pulled-in":
            rows = recipe.get("rows")
            ends = " and ".join(f"{end:.15g}" for end in (recipe.get("low"), recipe.get("high")) if end is not None)
            return f"{of}, {counted(len(rows), 'value') if rows else 'values'} pulled in to {ends}"
        case "percent":
            centre = recipe.get("centre", "mean")
            base = (
                f"row {recipe['row']}" if recipe.get("row") is not None
                else f"the {centre} of {named(recipe['by'])} {recipe['level']}"
            )  # fmt: skip
            return f"{of} in percent of {base}{within}"
    steps = recipe.get("steps", 1)
    before = "the row before" if steps == 1 else f"{steps} rows before"
    order = f" along {named(recipe['order'])}" if recipe.get("order") else ""
    return f"{rescale.TAKES[recipe['take']].label} {before}, {of}{order}{within}"


def _classes(recipe: Recipe, of: str) -> str:
    ends = frequency.interval_labels(recipe["boundaries"], closed=recipe.get("closed", "left"))
    names, others = recipe.get("names"), recipe.get("others")
    named = [f"{name} {end}" for name, end in zip(names, ends, strict=True)] if names else list(ends)
    beyond = [f"{others} beyond"] if others else []
    n = len(set(names)) if names else len(ends)
    return f"{counted(n, 'class', 'classes')} of {of}: {_listed([*named, *beyond], '; ')}"


def _listed(items: list[str], between: str = ", ") -> str:
    return between.join(items[:_LISTED]) + (f" and {len(items) - _LISTED} more" if len(items) > _LISTED else "")
