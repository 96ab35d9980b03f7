"""What deserves a look before a report leaves."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from heron.formatting import counted
from heron.report.record import Missing, Report


@dataclass(frozen=True)
class ReportFinding:
    """What deserves a look. holds: whether it is well; words: what was found; mend: what would help."""

    code: str
    holds: bool
    words: str
    mend: str = ""


def check(report: Report, document: Mapping[str, Any], moved: Sequence[str]) -> tuple[ReportFinding, ...]:
    """What deserves a look before a report leaves. moved: keys of figures and tables whose numbers changed since
    somebody last looked at them."""
    return tuple(_checks(report, document, moved))


def _checks(report: Report, document: Mapping[str, Any], moved: Sequence[str]) -> Iterator[ReportFinding]:
    labels = report.labels
    lost = [block for block in report.blocks if isinstance(block, Missing)]
    for block in lost:
        yield ReportFinding("lost", False, block.words, "Mend its plate, or take it out of the report.")
    if labels and not lost:
        yield ReportFinding("lost", True, "Every figure and table can be made.")
    if report.unknown:
        named = ", ".join(f"{{{key}}}" for key in report.unknown)
        yield ReportFinding(
            "unknown", False, f"The text refers to {named}, which nothing in this report is called.",
            "Choose from Refer to, or add the figure or table.",
        )  # fmt: skip
    alone = [label for key, label in labels.items() if key not in report.referred]
    if labels:
        yield ReportFinding(
            "referred", not alone,
            f"The text does not refer to {_some(alone)}." if alone else "The text refers to every figure and table.",
            "Put in the place where it is spoken of." if alone else "",
        )  # fmt: skip
    if moved:
        said = [labels[key] for key in labels if key in set(moved)]
        yield ReportFinding(
            "moved", False, f"Numbers moved since they were last looked at: {_some(said)}.",
            "Open its plate to see which, and read your text again.",
        )  # fmt: skip
    kinds = {part["kind"] for part in document["parts"]}
    if labels:
        yield ReportFinding(
            "methods", "methods" in kinds,
            "The report says how its numbers were found." if "methods" in kinds
            else "Nothing says how the numbers were found.",
            "" if "methods" in kinds else "Add the part Methods.",
        )  # fmt: skip


def _some(labels: Sequence[str]) -> str:
    return ", ".join(labels[:4]) + (f" and {counted(len(labels) - 4, 'more', 'more')}" if len(labels) > 4 else "")
