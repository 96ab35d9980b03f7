"""A picture by itself: one panel of a table, as it would be kept as a plate, for notebooks and programs."""

import io
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal, get_args, get_origin, get_type_hints
from uuid import UUID

from heron.checks import choose
from heron.columns import Table
from heron.errors import NotInstalled
from heron.figure import styles
from heron.figure.build import build
from heron.figure.scene import Scene
from heron.figure.source import KINDS, from_json
from heron.figure.table import data
from heron.figure.words import alternative, caption
from heron.formatting import USUAL_NUMBERS
from heron.ledger import TablesAsImports, TableView, replay_decisions

_NO_TABLE = str(UUID(int=0))
_AXIS: dict[str, Any] = {
    "title": None, "low": None, "high": None, "scale": None, "every": None, "at": None, "minor": 0, "format": "plain",
    "decimals": None, "rotation": 0, "crosses": None, "grid": None, "gap_from": None, "gap_to": None, "counts": True,
    "names": {},
}  # fmt: skip


@dataclass(frozen=True)
class Picture:
    """One panel with the words that go with it. scene: what it shows, in data units; document: how it is drawn, as a
    plate's specification."""

    scene: Scene
    document: Mapping[str, Any]

    @property
    def caption(self) -> str:
        """What is shown, of how many values, by which marks."""
        return caption(self.document, [self.scene])

    @property
    def alternative(self) -> str:
        """The picture's alternative text."""
        return alternative(self.document, [self.scene])

    @property
    def data(self) -> str:
        """Every mark as a line of CSV."""
        return data([self.scene], [""])

    def save(self, path: str | Path) -> None:
        """Draw the picture into a file: PDF, SVG or PNG, by its ending."""
        self._draw(Path(path))

    def _draw(self, into: Path | io.BytesIO) -> None:
        try:
            from heron.figure.draw import draw  # imported on first use: all of it takes a second
        except ModuleNotFoundError as error:
            raise NotInstalled("matplotlib", "script") from error
        draw(self.document, [self.scene], into, caption=self.caption)

    def _repr_png_(self) -> bytes:
        sink = io.BytesIO()
        self._draw(sink)
        return sink.getvalue()

    def __repr__(self) -> str:
        return f"Picture: {self.caption}"


def picture(
    table: Table, kind: str, *, width: float = 85, height: float = 70, title: str = "", **choices: Any
) -> Picture:
    """Return a picture of a table.

    Parameters
    ----------
    table : Table
        As `read` gives it.
    kind : str
        "shape" for one variable as histogram, density, box or violin; "cumulative", "counts", "times", "quantiles" and
        "ordered" for others of one variable; "groups", "shares", "differences" and "estimates" for groups; "pair" for
        two variables; "rules", "left-out", "distances" and "influence" for outliers.
    width, height : float
        Of the sheet, in mm.
    title : str
        Of the panel; none by default.
    **choices
        What the kind is of and how it is shown: the fields of its record in `heron.figure.source`.

    Returns
    -------
    Picture
        With its caption, its alternative text and its data; `save` draws it, and a notebook shows it.

    Raises
    ------
    InputError
        For a choice that the kind does not know, or data that cannot be shown so.

    Examples
    --------
    >>> import pandas as pd
    >>> from heron import Table
    >>> shells = Table.from_frame(pd.DataFrame({"mass": [3.1, 4.2, 4.4, 5.0]}), units={"mass": "g"})
    >>> picture(shells, "shape", variable="mass", layers=("points",)).scene.across.unit
    'g'
    """
    source = from_json({"kind": kind, "table": _NO_TABLE, **_known(kind, choices)})
    state = replay_decisions((), TablesAsImports(table)).with_sources()
    panel = {
        "source": source.to_json(), "address": "", "title": title, "across": _AXIS, "up": _AXIS, "series": {},
        "marks": {}, "legend": {"shown": "auto", "x": None, "y": None, "title": None}, "furniture": [],
    }  # fmt: skip
    sheet = {
        "width": width, "height": height, "columns": 1, "heights": [], "letters": "A", "share_across": False,
        "share_up": False, "title": "",
    }  # fmt: skip
    document = {
        "format": "velvet-heron-plate", "version": 4, "sheet": sheet, "style": styles.IN_PRINT, "panels": [panel],
        "numbers": USUAL_NUMBERS,
        "caption": {"text": None, "written": ""}, "alternative": {"text": None, "written": ""},
    }  # fmt: skip
    return Picture(build(source, TableView(table.name, state)), document)


def _known(kind: str, choices: Mapping[str, Any]) -> Mapping[str, Any]:
    """The choices, once each is one that the kind knows, with values that it knows."""
    hints = get_type_hints(KINDS[choose(kind, KINDS, where="kind")])
    for name, value in choices.items():
        allowed = _literals(hints[choose(name, set(hints) - {"kind", "table"}, where=f"a choice of {kind}")])
        for word in value if isinstance(value, list | tuple) else (value,):
            if allowed and isinstance(word, str):
                choose(word, allowed, where=name)
    return choices


def _literals(hint: Any) -> set[Any]:
    """The words of a Literal that stands anywhere in a type; none where any text will do."""
    if hint is str:
        return set()
    if get_origin(hint) is Literal:
        return set(get_args(hint))
    return set().union(*map(_literals, get_args(hint)))
