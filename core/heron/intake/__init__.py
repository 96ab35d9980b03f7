"""Reading tables from files: what was found, why, and what deserves a question."""

from heron.intake.formats import format_of
from heron.intake.found import Guess, Intake, Problem, Remedy
from heron.intake.match import Match, match
from heron.intake.missing import limited_text
from heron.intake.names import symbols
from heron.intake.reader import read

__all__ = ["Guess", "Intake", "Match", "Problem", "Remedy", "format_of", "limited_text", "match", "read", "symbols"]
