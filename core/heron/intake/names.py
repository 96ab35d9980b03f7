"""Names of variables: label, unit and symbol from what stands in a header."""

import keyword
import re

_UNITS = frozenset(
    (
        *("mm", "cm", "m", "km", "um", "nm", "g", "kg", "mg", "ug", "t", "s", "ms", "min", "h", "d", "ml", "l", "ul"),
        *("c", "k", "pa", "kpa", "mpa", "bar", "n", "kn", "j", "kj", "w", "kw", "v", "mv", "a", "ma", "hz", "khz"),
        *("mol", "mmol", "umol", "psu", "ppm", "ppb", "pct", "percent", "deg", "rad", "bp"),
    )
)
_IN_BRACKETS = re.compile(r"^(.*\S)\s*[(\[]\s*([^()\[\]]{1,24})\s*[)\]]$")


def label_and_unit(header: str) -> tuple[str, str]:
    """Part "mass (g)", "mass [g]", "mass, g" or "len_mm" into label and unit; no unit where none is seen."""
    header = " ".join(header.split())
    bracketed = _IN_BRACKETS.match(header)
    if bracketed:
        return bracketed[1], bracketed[2].strip()
    parts = re.match(r"^(.*\w)\s*,\s*(\S{1,8})$", header) or re.match(r"^(.*[A-Za-z0-9])_([A-Za-z]{1,7})$", header)
    if parts and parts[2].lower() in _UNITS:
        return parts[1], parts[2]
    return header, ""


def symbols(labels: list[str]) -> list[str]:
    """A safe, short, unlike name for each label: lower-case words joined by underscores."""
    taken: set[str] = set()
    found = []
    for position, label in enumerate(labels, 1):
        symbol = re.sub(r"\W+", "_", label.lower()).strip("_")[:40].strip("_")
        if not symbol:
            symbol = f"column_{position}"
        if symbol[0].isdigit() or keyword.iskeyword(symbol):
            symbol = f"v_{symbol}"
        candidate, number = symbol, 1
        while candidate in taken:
            number += 1
            candidate = f"{symbol}_{number}"
        taken.add(candidate)
        found.append(candidate)
    return found
