"""A script of a study: its files read, its decisions taken again, its plates built, drawn and recomputed in pandas."""

from heron.script.spec import NumbersSpec, PlateSpec, Script, TableSpec
from heron.script.writer import RESERVED, write

__all__ = ["RESERVED", "NumbersSpec", "PlateSpec", "Script", "TableSpec", "write"]
