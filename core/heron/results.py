"""What results have in common: they can be read as they are, and laid out as a table."""

from dataclasses import fields, is_dataclass
from typing import TYPE_CHECKING, Any, ClassVar

import numpy as np

if TYPE_CHECKING:
    import pandas as pd

_MOST_SHOWN = 40


class Result:
    """A result whose fields hold numbers, arrays and parts.

    rows: the field that holds its parts, or those that hold one each; columns: the fields that hold arrays of one
    length. Whichever is named is the table of the result; with neither, its numbers are, one below the other.
    """

    _rows: ClassVar[tuple[str, ...]] = ()
    _columns: ClassVar[tuple[str, ...]] = ()

    def __init_subclass__(cls, rows: str | tuple[str, ...] = (), columns: tuple[str, ...] = ()) -> None:
        cls._rows, cls._columns = (rows,) if isinstance(rows, str) else rows, columns
        if "__repr__" not in vars(cls):  # a dataclass would write one of its own
            cls.__repr__ = Result.__repr__  # type: ignore[method-assign]

    def to_frame(self) -> "pd.DataFrame":
        """Return the result as a pandas table: a row for each of its parts, for each place of its arrays, or for each
        of its numbers."""
        import pandas as pd

        if self._columns:
            return pd.DataFrame({name: getattr(self, name) for name in self._columns})
        if len(self._rows) == 1:
            return pd.DataFrame([_numbers(part) for part in getattr(self, self._rows[0])])
        if self._rows:
            parts = {name: getattr(self, name) for name in self._rows}
            told = {name: _numbers(part) for name, part in parts.items() if part is not None}
            return pd.DataFrame.from_dict(told, orient="index")
        return pd.DataFrame({"value": pd.Series(_numbers(self), dtype=object)})

    def __repr__(self) -> str:
        lines, frame, numbers = [type(self).__name__], self.to_frame(), _numbers(self)
        if list(frame.index) != list(numbers):
            lines += [", ".join(f"{name} {_short(value)}" for name, value in numbers.items())]
        shown = frame if len(frame) <= _MOST_SHOWN else frame.head(_MOST_SHOWN)
        lines += [] if frame.empty else [shown.to_string(float_format="{:.6g}".format, na_rep="")]
        lines += [f"and {len(frame) - len(shown)} more"] if len(shown) < len(frame) else []
        lines += [f"{name}: {why}" for name, why in getattr(self, "undefined", {}).items()]
        return "\n".join(filter(None, lines))


def _numbers(part: Any) -> dict[str, Any]:
    """What of a part is a number, a truth or a word."""
    assert is_dataclass(part)
    given = {field.name: getattr(part, field.name) for field in fields(part)}
    return {name: value for name, value in given.items() if value is None or isinstance(value, _PLAIN)}


def _short(value: Any) -> str:
    return f"{value:.6g}" if isinstance(value, float) else str(value)


_PLAIN = (str, bool, int, float, np.generic)
