"""Names of variables: label, unit and symbol from what stands in a header."""

import keyword
import re

_UNITS = frozenset(
    (
        *(
            "mm",
            "cm",
            "m",
            "km",
            "um",
            "nm",
            "g",
            "kg",
            "mg",
            "ug",
            "t",
            "ha",
            "s",
            "ms",
            "min",
            "h",
            "d",
            "ml",
            "l",
            "ul",
        ),
        *("c", "k", "pa", "kpa", "mpa", "bar", "n", "kn", "j", "kj", "w", "kw", "v", "mv", "a", "ma", "hz", "khz"),
        *("mol", "mmol", "umol", "psu", "ppm", "ppb", "pct", "percent", "deg", "rad", "bp"),
    )
)
_POWER = re.compile(r"(?<=m)[23]$")  # of a length, as in km2
# Of these a word of a name cannot be taken for a unit.
_UNLIKE_WORDS = frozenset(
    (
        *(
            "mm",
            "cm",
            "km",
            "um",
            "nm",
            "kg",
            "mg",
            "ug",
            "ml",
            "ul",
            "kpa",
            "mpa",
            "kn",
            "kj",
            "kw",
            "mv",
            "hz",
            "khz",
        ),
        *("mmol", "umol", "psu", "ppm", "ppb", "%", "µm", "µg", "µl", "°c"),
    )
)
# And of these it can be, unless it is the size itself that stands before.
_OF_SIZES = frozenset(("g", "t", "m", "s", "min", "h", "d", "l"))
_SIZES = frozenset(
    (
        "mass",
        "weight",
        "length",
        "width",
        "height",
        "depth",
        "distance",
        "diameter",
        "time",
        "duration",
        "age",
        "volume",
    )
)
_IN_BRACKETS = re.compile(r"^(.*\S)\s*[(\[]\s*([^()\[\]]{1,24})\s*[)\]]$")


def label_and_unit(header: str) -> tuple[str, str]:
    """Part "mass (g)", "mass [g]", "mass, g", "len_mm" or "len mm" into label and unit; no unit where none is seen."""
    header = " ".join(header.split())
    label, unit = _parted(header)
    # A unit behind a bare number, as in "5 °C", is that of the number and not of the values below.
    return (header, "") if re.fullmatch(r"[-+]?\d+(?:[.,]\d+)?", label) else (label, unit)


def _parted(header: str) -> tuple[str, str]:
    bracketed = _IN_BRACKETS.match(header)
    if bracketed:
        return bracketed[1], bracketed[2].strip()
    parts = re.match(r"^(.*\w)\s*,\s*(\S{1,8})$", header) or re.match(r"^(.*[A-Za-z0-9])_([A-Za-z]{1,7}[23]?)$", header)
    if parts and _POWER.sub("", parts[2].lower()) in _UNITS:
        return parts[1], _POWER.sub(r"^\g<0>", parts[2])
    words = header.rsplit(" ", 1)
    if len(words) == 2 and (
        words[1].lower() in _UNLIKE_WORDS or (words[1] in _OF_SIZES and words[0].split()[-1].lower() in _SIZES)
    ):
        return words[0], words[1]
    return header, ""


def bare_unit(text: str) -> str:
    """A unit from a row of units, without the brackets around all of it."""
    within = re.fullmatch(r"\s*[(\[]([^()\[\]]*)[)\]]\s*", text)
    return (within[1] if within else text).strip()


def is_unit(word: str, *, spaced: bool) -> bool:
    """Whether a word behind a number is its unit; a single letter that stands close to it may be part of a name."""
    return not word.isalpha() or word in _UNLIKE_WORDS or (word.lower() in _UNITS and (spaced or len(word) > 1))


def symbols(labels: list[str]) -> list[str]:
    """A safe, short, unlike name for each label: lower-case words joined by underscores."""
    taken: dict[str, int] = {}  # and the number that was looked at last behind each
    result = []
    for position, label in enumerate(labels, 1):
        symbol = re.sub(r"\W+", "_", label.lower()).strip("_")[:40].strip("_")
        if not symbol:
            symbol = f"column_{position}"
        if symbol[0].isdigit() or keyword.iskeyword(symbol):
            symbol = f"v_{symbol}"
        candidate = symbol
        while candidate in taken:
            taken[symbol] += 1
            candidate = f"{symbol}_{taken[symbol]}"
        taken[candidate] = 1
        result.append(candidate)
    return result
