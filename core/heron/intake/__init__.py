"""Reading tables from files: what was found, why, and what deserves a question."""

from heron.intake.archive import open_archive, read_entry
from heron.intake.batches import LongFile, look_through
from heron.intake.formats import format_of
from heron.intake.found import Guess, Intake, Problem, Remedy
from heron.intake.match import Match, match
from heron.intake.missing import limited_text
from heron.intake.names import symbols
from heron.intake.package import MARK
from heron.intake.package import names as tables_in_package
from heron.intake.package import study_title as study_in_package
from heron.intake.raw import unstorable
from heron.intake.reader import read

__all__ = [
    "MARK",
    "Guess",
    "Intake",
    "LongFile",
    "Match",
    "Problem",
    "Remedy",
    "format_of",
    "limited_text",
    "look_through",
    "match",
    "open_archive",
    "read",
    "read_entry",
    "study_in_package",
    "symbols",
    "tables_in_package",
    "unstorable",
]
