"""Reading tables from files: what was found, why, and what deserves a question."""

from heron.intake.delimited import read
from heron.intake.found import Guess, Intake, Problem, Remedy

__all__ = ["Guess", "Intake", "Problem", "Remedy", "read"]
