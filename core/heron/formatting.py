"""Numbers, labels and units in sentences.

Numbers are written with the marks of who reads them: `with numbers_as("space-comma"):` holds for what is said within.
"""

import math
import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

_MINUS, _THIN = "\u2212", "\u202f"


@dataclass(frozen=True)
class NumberStyle:
    """How numbers are written. thousands: the sign between groups of three digits, "" for none; decimal: the one before
    decimals; least: how many digits before that are grouped."""

    thousands: str
    decimal: str
    least: int = 4


NUMBER_STYLES = {
    "space-point": NumberStyle(_THIN, ".", 5),
    "space-comma": NumberStyle(_THIN, ",", 5),
    "comma-point": NumberStyle(",", "."),
    "point-comma": NumberStyle(".", ","),
    "apostrophe-point": NumberStyle("\u2019", "."),
    "none-point": NumberStyle("", "."),
    "none-comma": NumberStyle("", ","),
}
USUAL_NUMBERS = "space-point"
_style: ContextVar[str] = ContextVar("numbers", default=USUAL_NUMBERS)


@contextmanager
def numbers_as(style: str) -> Iterator[None]:
    """What is said within writes its numbers in a style, by its name.

    >>> with numbers_as("point-comma"):
    ...     fixed(-1234.5, 1)
    '−1.234,5'
    """
    token = _style.set(style)
    try:
        yield
    finally:
        _style.reset(token)


def numbers_now() -> str:
    """The name of the style in which numbers are written at the moment."""
    return _style.get()


def with_marks(plain: str) -> str:
    """A number as Python writes it, with a true minus, and the marks of the style that holds: −12 345.6, 1.2 × 10⁷."""
    digits, _, power = plain.partition("e")
    whole, _, part = digits.partition(".")
    sign, whole = (_MINUS, whole[1:]) if whole.startswith("-") else ("", whole)
    style = NUMBER_STYLES[_style.get()]
    if whole.isdigit() and len(whole) >= style.least:
        whole = f"{int(whole):,}".replace(",", style.thousands)
    text = f"{sign}{whole}{style.decimal}{part}" if part else f"{sign}{whole}"
    return f"{text} × {typeset(f'10^{{{int(power)}}}')}" if power else text


_RAISED = dict(zip("0123456789+-\u2212=()ni.", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻⁼⁽⁾ⁿⁱ·", strict=True))
_LOWERED = dict(zip("0123456789+-\u2212=()aeoxhklmnpst", "₀₁₂₃₄₅₆₇₈₉₊₋₋₌₍₎ₐₑₒₓₕₖₗₘₙₚₛₜ", strict=True))


def grouped(n: int) -> str:
    """A whole number in groups of three digits: 10 400, with narrow spaces that do not break, from 10,000 up."""
    return with_marks(str(n))


def counted(n: int, noun: str, plural: str | None = None) -> str:
    """A number with its noun: 1 row, 5 rows."""
    return f"{grouped(n)} {noun if n == 1 else plural or noun + 's'}"


def there_are(n: int) -> str:
    """There is 1, there are 5."""
    return "there is 1" if n == 1 else f"there are {grouped(n)}"


def typeset(text: str) -> str:
    """A label or unit with TeX-style powers and indices as characters: m^{-3} and m^-3 are m⁻³, CO_{2} is CO₂.

    What has no such character, and an underscore without braces, stays as it was typed.
    """

    def form(result: re.Match[str]) -> str:
        forms = _LOWERED if result[1] == "_" else _RAISED
        inner = result[2] or result[3]
        return "".join(forms[c] for c in inner) if all(c in forms for c in inner) else result[0]

    return re.sub(r"([\^_])\{([^{}]+)\}|\^([-+\u2212]?\d+)", form, text)


def visible(text: str) -> str:
    """A text without the control characters that no document holds."""
    return _CONTROL.sub("", text)


_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")


def fixed(value: float, decimals: int) -> str:
    """A number with so many decimals; from 1e9 up, where these mean nothing, as a power of ten.

    >>> fixed(-0.5, 2), fixed(1e300, 1)
    ('−0.50', '1.000 × 10³⁰⁰')
    """
    return with_marks(f"{value:.3e}" if abs(value) >= 1e9 else f"{value:.{decimals}f}")


def significant(value: float, digits: int = 6) -> str:
    """A number with so many significant digits, and all those before its decimal mark, without a tail of zeros.

    >>> significant(-0.00020000001), significant(1_234.56, 3), significant(1.5e10, 3)
    ('−0.0002', '1235', '1.5 × 10¹⁰')
    """
    power = math.floor(math.log10(abs(value))) if value and math.isfinite(value) else 0
    if not -5 <= power < 9:
        return with_marks(f"{value:.{digits}g}")
    text = f"{float(f'{value:.{max(digits, power + 1)}g}'):.{max(digits - 1 - power, 0)}f}"
    return with_marks(text.rstrip("0").rstrip(".") if "." in text else text)


def percent(share: float) -> str:
    """A share in percent: 95 %.

    >>> percent(0.999)
    '99.9 %'
    """
    return f"{significant(100 * share)} %"


def p_words(p: float) -> str:
    """A p value in a sentence, to two digits."""
    return significant(p, 2) if p >= 0.001 else f"< {fixed(0.001, 3)}"


def p_with_sign(p: float) -> str:
    """A p value behind its letter, to three decimals: = 0.043, < 0.001."""
    return f"= {fixed(p, 3)}" if p >= 0.001 else p_words(p)


def sureness(p: float) -> str:
    """How surely a test tells of something, in words before its name."""
    if p >= 0.05:
        return "there is little evidence for"
    return "there is some evidence for" if p >= 0.01 else "there is strong evidence for"


def decimals_for(recorded: int | None, spread: float | None) -> int:
    """The decimals that suit statistics of values recorded with so many: one more, and no more than four digits of
    their spread need."""
    from_spread = 3
    if spread is not None and math.isfinite(spread) and spread > 0:
        from_spread = max(0, 3 - math.floor(math.log10(spread)))
    return min(from_spread if recorded is None else min(recorded + 1, from_spread), 10)
