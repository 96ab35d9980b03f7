from typing import Any, Literal
from uuid import UUID

from heron.choices import ids_of
from heron.report import FORMS, ReportFinding, check
from heron.report.composing import labels_of
from heron.report.record import Figure, Missing, Table
from ninja import Schema
from pydantic import Field

from server.plates.documents import Name
from server.readings.answers import plain, schema_of
from server.reports.documents import ReportDocument
from server.reports.models import Report
from server.reports.selectors import Composed

Form = ids_of(FORMS)
ReportFindingOut = schema_of(ReportFinding)


class ReportIn(Schema):
    name: Name = Field(min_length=1)
    document: ReportDocument


class ReportChange(Schema):
    """version: that which was changed; a report changed by somebody else since is refused."""

    version: int
    name: Name = Field(min_length=1)
    document: ReportDocument


class ReportLine(Schema):
    """A report in the gallery."""

    id: UUID
    name: str
    version: int
    document: ReportDocument


class ReportOut(ReportLine):
    study: UUID


class ComposedIn(Schema):
    document: ReportDocument


class KeptOut(Schema):
    """A figure or table of a report. label: as "Figure 2"; words: its caption, or why it cannot be made."""

    key: str
    kind: Literal["figure", "table"]
    plate: UUID
    label: str
    name: str
    words: str
    fails: bool
    moved: bool


class ComposedOut(Schema):
    """What a document comes to: its figures and tables with their numbers, and what deserves a look. to_draw: plates
    of which no page drew a picture as they are now; key: a digest of all that it is made of."""

    kept: list[KeptOut]
    findings: list[ReportFindingOut]  # type: ignore[valid-type]
    to_draw: list[UUID]
    key: str


class PagesOut(Schema):
    """How many pages a report had as it was last made as PDF; key: of all that it was made of then. 0, "": not made
    yet."""

    n: int
    key: str


def line_of(report: Report) -> dict[str, Any]:
    return {"id": report.pk, "name": report.name, "version": report.version, "document": report.document}


def report_out(report: Report) -> dict[str, Any]:
    return {**line_of(report), "study": report.study_id}


def composed_out(made: Composed, document: ReportDocument) -> dict[str, Any]:
    said = document.model_dump(mode="json")
    labels = labels_of(said)
    blocks = {block.key: block for block in made.report.blocks if isinstance(block, Figure | Table | Missing)}
    kept = []
    for part in said["parts"]:
        if part["kind"] not in ("figure", "table"):
            continue
        block = blocks[part["key"]]
        words = block.words if isinstance(block, Missing) else block.shown.caption
        kept.append({
            "key": part["key"], "kind": part["kind"], "plate": part["plate"], "label": labels[part["key"]],
            "name": made.names.get(part["plate"], ""), "words": words, "fails": isinstance(block, Missing),
            "moved": part["key"] in made.moved,
        })  # fmt: skip
    findings = check(made.report, said, made.moved)
    return {"kept": kept, "findings": plain(findings), "to_draw": made.to_draw, "key": made.key}
