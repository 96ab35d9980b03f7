"""Numbers, labels and units in sentences."""

import math
import re

_RAISED = dict(zip("0123456789+-\u2212=()ni.", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻⁼⁽⁾ⁿⁱ·", strict=True))
_LOWERED = dict(zip("0123456789+-\u2212=()aeoxhklmnpst", "₀₁₂₃₄₅₆₇₈₉₊₋₋₌₍₎ₐₑₒₓₕₖₗₘₙₚₛₜ", strict=True))


def grouped(n: int) -> str:
    """A whole number with narrow spaces that do not break between thousands, from 10,000 up: 10 400."""
    return f"{n:,}".replace(",", "\u202f") if abs(n) >= 10_000 else str(n)


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
    """A number with so many decimals and a true minus; from 1e9 up, where these mean nothing, as a power of ten.

    >>> fixed(-0.5, 2), fixed(1e300, 1)
    ('−0.50', '1.000 × 10³⁰⁰')
    """
    text = f"{value:.{decimals}f}"
    if abs(value) >= 1e9:
        mantissa, power = f"{value:.3e}".split("e")
        text = f"{mantissa} × {typeset(f'10^{{{int(power)}}}')}"
    return text.replace("-", "−")


def p_words(p: float) -> str:
    """A p value in a sentence."""
    return "< 0.001" if p < 0.001 else f"{p:.2g}"


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
