"""What a report comes to: blocks in their order, figures and tables with their numbers."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from heron.tables import Laid

PAPERS = {"A4": (210.0, 297.0), "letter": (215.9, 279.4)}  # mm
MARGIN = 25.0
OFFICE_FACES = {"serif": "Times New Roman", "sans": "Arial"}  # which word processors have


@dataclass(frozen=True)
class Run:
    """Words in one look. refers: the key of the figure or table that they name, "" for none."""

    text: str
    strong: bool = False
    emphasis: bool = False
    refers: str = ""


@dataclass(frozen=True)
class Heading:
    """level: 1 for the first below the title, to 3."""

    text: str
    level: int = 1


@dataclass(frozen=True)
class Paragraph:
    runs: tuple[Run, ...]


@dataclass(frozen=True)
class Listed:
    """A list, with numbers where it is ordered."""

    items: tuple[tuple[Run, ...], ...]
    ordered: bool = False


@dataclass(frozen=True)
class KeptFigure:
    """A figure that was kept. width, height: of its sheet, in mm."""

    name: str
    caption: str
    alternative: str
    width: float
    height: float


@dataclass(frozen=True)
class KeptTable:
    """A table of numbers that was kept."""

    name: str
    caption: str
    laid: Laid


@dataclass(frozen=True)
class Failed:
    """What stands in place of a figure or table that cannot be made."""

    words: str


@dataclass(frozen=True)
class Figure:
    """key: by which text refers to it; plate: whose picture it is."""

    key: str
    label: str
    plate: str
    shown: KeptFigure


@dataclass(frozen=True)
class Table:
    key: str
    label: str
    shown: KeptTable


@dataclass(frozen=True)
class Missing:
    """A figure or table that cannot be made, and why."""

    key: str
    label: str
    words: str


Block = Heading | Paragraph | Listed | Figure | Table | Missing


@dataclass(frozen=True)
class Report:
    """labels: what figures and tables are called, by their keys; unknown: keys that the text names and nothing has."""

    title: str
    authors: str
    paper: str
    font: str
    blocks: tuple[Block, ...]
    labels: Mapping[str, str] = field(default_factory=dict)
    unknown: tuple[str, ...] = ()

    @property
    def referred(self) -> set[str]:
        """The keys that the text refers to."""
        return {run.refers for block in self.blocks for run in runs_of(block) if run.refers}


def runs_of(block: Block) -> tuple[Run, ...]:
    if isinstance(block, Paragraph):
        return block.runs
    return tuple(run for item in block.items for run in item) if isinstance(block, Listed) else ()
