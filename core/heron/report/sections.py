"""The parts of a report that write themselves: methods, what was set aside, references, versions."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from heron.choices import Display, displays
from heron.formatting import counted, grouped
from heron.methods import Methods, TableUsed
from heron.report.record import Block, Listed, Paragraph, Run

SECTIONS: dict[str, Display] = displays(
    {
        "methods": ("Methods", "What was read, decided and computed, in the words of a methods section."),
        "aside": ("What was set aside", "Every decision on the tables in use, with its reason."),
        "references": ("References", "Who described the methods in use."),
        "versions": (
            "Versions",
            "Files with their digests, tables with their revisions, programs with their versions.",
        ),
    }
)
HEADINGS = {name: shown.label for name, shown in SECTIONS.items()}


@dataclass(frozen=True)
class Standing:
    """A table as a report found it. revision: of its Ledger; digest: of the Ledger as it stands."""

    used: TableUsed
    revision: int
    digest: str


def sections_of(
    methods: Methods, tables: Sequence[Standing], software: Mapping[str, str]
) -> dict[str, tuple[Block, ...]]:
    """What each of these parts says."""
    return {
        "methods": tuple(Paragraph((Run(words),)) for words in methods.paragraphs),
        "aside": tuple(_aside(tables)),
        "references": (Listed(tuple((Run(words),) for words in methods.citations)),) if methods.citations else (),
        "versions": tuple(_versions(tables, software)),
    }


def _aside(tables: Sequence[Standing]) -> list[Block]:
    blocks: list[Block] = []
    for table in tables:
        decided = table.used.decided
        if not decided:
            continue
        said = f"{table.used.name}: {counted(len(decided), 'decision')} in force."
        items = tuple(
            (Run(f"Entry {one.number}: {_deed(one.kind)} {one.words}{f': {one.reason}' if one.reason else ''}."),)
            for one in decided
        )
        blocks += [Paragraph((Run(said),)), Listed(items)]
    return blocks or [Paragraph((Run("Nothing was set aside, corrected or described anew."),))]


_DEEDS = {"set-aside": "set aside,", "correct": "corrected,", "describe": "described anew,", "reread": "read again,"}


def _deed(kind: str) -> str:
    return _DEEDS.get(kind, f"{kind},")


def _versions(tables: Sequence[Standing], software: Mapping[str, str]) -> list[Block]:
    items = []
    for table in tables:
        used = table.used
        size = f"{grouped(used.n_rows)} rows by {used.n_variables} variables"
        file = f"; SHA-256 of its file {used.digest}" if used.digest else ""
        items.append(
            (Run(f"{used.name}, {used.source}, {size}: revision {table.revision}{file}; Ledger {table.digest}."),)
        )
    items.append((Run("Computed by " + ", ".join(f"{name} {version}" for name, version in software.items()) + "."),))
    return [Listed(tuple(items))]
