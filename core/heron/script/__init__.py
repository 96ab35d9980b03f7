"""A script of a study: its files read by pandas, its decisions repeated, its numbers recomputed, its plates redrawn."""

from heron.script.spec import PlateSpec, Script, TableSpec
from heron.script.whole import write

__all__ = ["PlateSpec", "Script", "TableSpec", "write"]
