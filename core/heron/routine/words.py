"""What a decision does, in words."""

from collections.abc import Mapping, Sequence
from typing import Any

from heron.formatting import counted, grouped
from heron.numbering import Runs, first_rows, n_rows_of
from heron.recipes import recipe_words
from heron.routine.steps import Step

_SAID = {
    "lower": "not below", "upper": "not above", "missing_codes": "missing codes",
    "detection_limit": "detected from", "below_limit": "below the limit", "spec_lower": "specified from",
    "spec_upper": "specified to", "levels": "order of levels", "level_labels": "words for levels",
    "level_numbers": "numbers of levels",
}  # fmt: skip
_TAKEN_AWAY = {
    "lower": "no lower bound", "upper": "no upper bound", "detection_limit": "no limit of detection",
    "spec_lower": "no lower specification limit", "spec_upper": "no upper specification limit", "target": "no target",
    "unit": "no unit", "note": "no note", "missing_codes": "no missing codes", "decimals": "decimals as they come",
}  # fmt: skip
_NAMED = 3
_LISTED = 8


def _rows_named(runs: Runs) -> str:
    n, rows = n_rows_of(runs), first_rows(runs, 4)
    if n == 1:
        return f"row {grouped(rows[0])}"
    if n > 4 or n == 0:
        return counted(n, "row")
    return f"rows {', '.join(map(grouped, rows[:-1]))} and {grouped(rows[-1])}"


def _listed(items: Sequence[str]) -> str:
    return ", ".join(items[:_LISTED]) + (f" and {len(items) - _LISTED} more" if len(items) > _LISTED else "")


def _value(value: Any) -> str:
    match value:
        case None | "":
            return "none"
        case float():
            return f"{value:.15g}".replace("-", "\u2212")
        case int():
            return str(value).replace("-", "\u2212")
        case Mapping():
            return _listed([f"{level} → {_value(inner)}" for level, inner in value.items()]) or "none"
        case list() | tuple():
            return _listed([str(item) for item in value]) or "none"
    return str(value)


def _property(name: str, value: Any) -> str:
    if name == "true_zero":
        return "zero means none" if value else "zero does not mean none"
    if name in _TAKEN_AWAY and value in (None, "", []):
        return _TAKEN_AWAY[name]
    return f"{_SAID.get(name, name)} {_value(value)}"


def _of_variable(said: Mapping[str, Any]) -> str:
    return "; ".join(_property(name, value) for name, value in said.items())


def _of_table(said: Mapping[str, Any], labels: Mapping[str, str]) -> str:
    parts = []
    if "unit_variable" in said:
        unit = said["unit_variable"]
        parts.append(f"n counts each {labels.get(unit, unit)}" if unit else "n counts rows")
    if "weight_variable" in said:
        weight = said["weight_variable"]
        parts.append(
            f"each row counts as often as {labels.get(weight, weight)} says" if weight else "each row counts once"
        )
    return " and ".join(parts)


def description_words(changes: Mapping[str, Any], labels: Mapping[str, str], *, past: bool = False) -> str:
    """What is said of variables and of the table: "describes mass, width: unit g; says that n counts each tray".

    Variables of which the same is said share their words. Parameters: changes, as heron.ledger.Decision has them for
    the kind describe; labels, by symbol; past, "described" instead of "describes".
    """
    alike, of_table = _alike(changes), _of_table(changes.get("", {}), labels)
    verb = "described" if past else "describes"
    parts = [f"{verb} {_named(symbols, labels)}" + (f": {words}" if words else "") for words, symbols in alike.items()]
    return "; ".join([*parts, *([f"{'said' if past else 'says'} that {of_table}"] if of_table else [])])


def described_words(changes: Mapping[str, Any], labels: Mapping[str, str]) -> str:
    """The same for a paper: "mass, width were described: unit g; n counts each tray"."""
    alike, of_table = _alike(changes), _of_table(changes.get("", {}), labels)
    parts = [
        f"{_named(symbols, labels)} {'was' if len(symbols) == 1 else 'were'} described"
        + (f": {words}" if words else "")
        for words, symbols in alike.items()
    ]
    return "; ".join([*parts, *([of_table] if of_table else [])])


def _alike(changes: Mapping[str, Any]) -> dict[str, list[str]]:
    """The variables of which something is said, by what."""
    alike: dict[str, list[str]] = {}
    for symbol, said in changes.items():
        if symbol:
            alike.setdefault(_of_variable(said), []).append(symbol)
    return alike


def derivation_words(changes: Mapping[str, Any], labels: Mapping[str, str], *, past: bool = False) -> str:
    """What is made of others, or taken away: "makes size: 3 classes of mass: ...; likewise width in classes".

    Parameters: changes, as heron.ledger.Decision has them for the kind derive; labels, by symbol; past, "made".
    """
    made = [how for how in changes.values() if how]
    if not made:
        return f"{'took' if past else 'takes'} away {_named(list(changes), labels)}"
    first, *more = made
    also = f"; likewise {', '.join(how['label'] for how in more)}" if more else ""
    return f"{'made' if past else 'makes'} {first['label']}: {recipe_words(first, labels)}{also}"


def _named(symbols: Sequence[str], labels: Mapping[str, str]) -> str:
    listed = [labels.get(symbol, symbol) for symbol in symbols[:_NAMED]]
    return ", ".join(listed) + (f" and {len(symbols) - _NAMED} more" if len(symbols) > _NAMED else "")


def _cells(changes: Mapping[str, Any], labels: Mapping[str, str]) -> str:
    result = [
        f"row {grouped(int(row))}, {cell.get('old') or 'blank'} → {cell.get('new') or 'blank'}"
        for cells in changes.values() for row, cell in cells.items()
    ]  # fmt: skip
    named = f"{counted(len(result), 'cell')} of {_named(list(changes), labels)}"
    return named + (f" ({'; '.join(result)})" if len(result) <= _NAMED else "")


def words_of(step: Step, labels: Mapping[str, str]) -> str:
    """What a step does, in words: "sets aside rows 3 and 4", "makes log mass of shell mass".

    Parameters: labels, by symbol.
    """
    rows = _rows_named(step.rows)
    of = f"the {labels.get(step.variable, step.variable)} of " if step.variable else ""
    match step.kind:
        case "set-aside":
            return f"sets aside {of}{rows}"
        case "put-back":
            return f"puts back {of}{rows}"
        case "keep":
            return f"looks at {of}{rows} and keeps what is there"
        case "correct":
            return f"corrects {_cells(step.changes, labels)}"
        case "derive":
            return derivation_words(step.changes, labels)
    return description_words(step.changes, labels)
