"""What somebody made of Ellery Sound: decisions, figures, tables of numbers and a report, through the services."""

from typing import Any

from heron.figure import styles

from server.accounts.models import User
from server.ledger import services as ledger
from server.plates import services as plates
from server.plates.documents import PlateDocument, TablePlateDocument
from server.reports import services as reports
from server.reports.documents import ReportDocument
from server.studies.models import Study, Table

_LENGTH_ROW, _MASS_ROW = 207, 302
_STRENGTHS = [f"strength_{i}" for i in range(1, 6)]

# Names, tables, what their panels are of, and the stage that shows the same.
_PLATES: list[tuple[str, str, str, dict[str, Any], tuple[float, float]]] = [
    (
        "Shell mass by week and tray", "Oyster nursery", "compare",
        {
            "kind": "groups", "variable": "shell_mass", "by": "week", "second": "tray_type", "on_numbers": True,
            "marks": ["centre"], "caps": True, "line": "centres",
        },
        (120, 75),
    ),
    (
        "Shell mass against length", "Oyster nursery", "relate",
        {
            "kind": "pair", "x": "shell_length", "y": "shell_mass", "by": "week", "x_scale": "log10",
            "y_scale": "log10", "x_axis": "log", "y_axis": "log", "each": False,
        },
        (85, 80),
    ),
    (
        "Condition index", "Oyster nursery", "spread",
        {"kind": "shape", "variable": "condition_index", "layers": ["classes", "density", "box"]}, (85, 70),
    ),
    (
        "Waiting times by district", "Night bus", "compare",
        {
            "kind": "groups", "variable": "wait", "by": "district", "marks": ["violin", "box"],
            "upright": False, "order": "centre", "centre": "median", "bars": "quartile-span",
        },
        (120, 90),
    ),
    (
        "Satisfaction by age", "Night bus", "compare",
        {"kind": "shares", "variable": "satisfaction", "by": "age_band", "stacked": True, "upright": False}, (120, 70),
    ),
    (
        "Trials of cleaning", "Cleaning trials", "compare",
        {
            "kind": "estimates", "of": ["ratio"], "limits": ["lower", "upper"], "label": "label", "log": True,
            "none": 1.0, "none_words": "no difference", "combined": [14], "upright": False,
        },
        (120, 85),
    ),
    (
        "Two gauges compared", "Tide pair", "relate",
        {"kind": "agreement", "x": "north_gauge", "y": "south_gauge"}, (85, 75),
    ),
    (
        "Tile strength by kiln and shift", "Tile kiln", "compare",
        {
            "kind": "groups", "variable": "strength", "by": "kiln", "second": "shift", "marks": ["points", "centre"],
            "caps": True,
        },
        (85, 75),
    ),
]  # fmt: skip
_TABLES: list[tuple[str, str, dict[str, Any]]] = [
    (
        "Oysters by tray", "Oyster nursery",
        {
            "kind": "summary", "by": "tray_type", "test": True,
            "variables": ["shell_length", "shell_width", "shell_mass", "condition_index", "vigour"],
        },
    ),
    (
        "Mass on length, by robust errors", "Oyster nursery",
        {"kind": "regression", "response": "shell_mass", "predictors": ["shell_length", "shell_width"], "robust": True},
    ),
]  # fmt: skip
_FOUND = """Oysters in slotted trays, in baskets and on mesh were measured at four visits over eighteen weeks. \
{masses} shows how their mass grew, and {trays} what they were like by tray over all visits.

Mass follows length closely on logarithmic scales ({allometry}), so that a shell twice as long weighs several times \
as much. On the scales as they are, length and width together say what {regression} holds.

- One length had its decimal point a place too far left, and was corrected.
- One oyster was weighed wet; its mass was set aside.
- The condition index ({condition}) has a single peak and no value that stands alone."""
_TILES = """Tiles differ by *kiln* more than by *shift*: see {strength}. Two gauges of one tide \
agree within the limits of {gauges}, which are **wider** than either one's precision."""


def work_through(owner: User, study: Study) -> None:
    """Decide, keep and write what a careful colleague would have, in a study as it was brought in."""
    tables = {table.name: table for table in study.tables.all()}
    _decide(owner, tables)
    kept = {
        name: str(plates.keep(owner, study, name, "", _plate(tables[table], stage, source, size)).pk)
        for name, table, stage, source, size in _PLATES
    }
    kept |= {
        name: str(plates.keep_table(owner, study, name, _table(tables[table], source)).pk)
        for name, table, source in _TABLES
    }
    reports.keep(owner, study, "Oysters and tiles of Ellery Sound", _report(kept))


def _decide(owner: User, tables: dict[str, Table]) -> None:
    oysters = tables["Oyster nursery"]
    ledger.correct(
        owner, oysters, [ledger.Cell("shell_length", _LENGTH_ROW, "44.0")],
        "the decimal point slipped: the field sheet says so", 1,
    )  # fmt: skip
    weighed = ledger.RowDecision("set-aside", [_MASS_ROW], "shell_mass", "weighed wet", 2)
    ledger.decide(owner, oysters, weighed)
    mean = f"({' + '.join(_STRENGTHS)}) / {len(_STRENGTHS)}"
    strength = {"of": _STRENGTHS, "label": "strength", "unit": "MPa", "how": "expression", "text": mean}
    ledger.derive(owner, tables["Tile kiln"], [strength], 1, reason="five tiles of a batch are broken")


def _plate(table: Table, stage: str, source: dict[str, Any], size: tuple[float, float]) -> PlateDocument:
    asked = "&".join(f"{name}={source[name]}" for name in ("variable", "by", "second", "x", "y") if name in source)
    panel = {"source": {"table": str(table.pk), **source}, "address": f"/tables/{table.pk}/{stage}?{asked}"}
    sheet = {"width": size[0], "height": size[1]}
    return PlateDocument.model_validate({"sheet": sheet, "style": styles.IN_PRINT, "panels": [panel]})


def _table(table: Table, source: dict[str, Any]) -> TablePlateDocument:
    return TablePlateDocument.model_validate({"source": {"table": str(table.pk), **source}})


def _report(kept: dict[str, str]) -> ReportDocument:
    def shown(kind: str, key: str, name: str) -> dict[str, Any]:
        return {"kind": kind, "key": key, "plate": kept[name]}

    parts = [
        {"kind": "heading", "text": "Oysters", "level": 1},
        {"kind": "text", "text": _FOUND},
        shown("figure", "masses", "Shell mass by week and tray"),
        shown("table", "trays", "Oysters by tray"),
        shown("figure", "allometry", "Shell mass against length"),
        shown("table", "regression", "Mass on length, by robust errors"),
        shown("figure", "condition", "Condition index"),
        {"kind": "heading", "text": "Tiles and tides", "level": 1},
        {"kind": "text", "text": _TILES},
        shown("figure", "strength", "Tile strength by kiln and shift"),
        shown("figure", "gauges", "Two gauges compared"),
        *({"kind": kind} for kind in ("methods", "aside", "references", "versions")),
    ]
    said = {"title": "Oysters and tiles of Ellery Sound", "authors": "The Ellery Sound field station", "parts": parts}
    return ReportDocument.model_validate(said)
