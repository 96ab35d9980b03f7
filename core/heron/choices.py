"""One record for each choice: what it is called, what it does, what is said of it, who described it.

Schemas and their limits, the interface's lists, captions, the methods paragraph and the page of definitions read these
records, which stand beside the functions that they name.
"""

import math
import pkgutil
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from importlib import import_module
from typing import Any, Literal, TypeVar

from heron.formatting import percent, with_marks


@dataclass(frozen=True)
class Option:
    """A number that a choice takes. low, high: the smallest and the largest; whole: only whole numbers.

    words: values that are chosen by name instead, with their labels.
    """

    name: str
    label: str
    usual: Any
    low: float = -math.inf
    high: float = math.inf
    whole: bool = False
    words: Mapping[str, str] | None = None


@dataclass(frozen=True)
class Use:
    """A method in use, for a methods section: its clause, and the keys of its sources."""

    clause: str
    sources: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Display:
    """One of several ways to draw. id: how documents, addresses and scripts name it; label: its name within a sentence
    on a screen; help: one sentence for whoever chooses."""

    id: str
    label: str
    help: str = ""
    rank: int = 0


@dataclass(frozen=True, kw_only=True)
class Choice(Display):
    """One of several things to choose, of which a caption and a methods section speak.

    definition: the formula, in words and signs. caption: what a caption says, and methods: the clause of a methods
    section, both with names of settings in braces ({percent} is the level in percent). sources: keys of heron.sources,
    or the whole citation where nothing else rests on it. rank: its place in lists.
    """

    help: str
    caption: str
    methods: str
    definition: str = ""
    sources: tuple[str, ...] = ()
    options: tuple[Option, ...] = ()

    def told(self, **settings: Any) -> str:
        """What a caption says."""
        return self.caption.format_map(self._worded(settings))

    def used(self, **settings: Any) -> Use:
        """What a methods section says."""
        return Use(self.methods.format_map(self._worded(settings)), self.sources)

    def _worded(self, settings: Mapping[str, Any]) -> dict[str, Any]:
        """Settings as a sentence says them, what is not given as it usually is."""
        usual = {option.name: option.usual for option in self.options} | dict(settings)
        if "level" in usual:
            usual["percent"] = percent(usual["level"])
        words = {option.name: option.words for option in self.options if option.words}
        return {name: words[name][str(value)] if name in words else _said(value) for name, value in usual.items()}

    def option(self, name: str) -> Option:
        """One of its settings, by name."""
        return next(option for option in self.options if option.name == name)


class _Said(float):
    """A number that stands in a sentence as its reader writes numbers."""

    def __format__(self, spec: str) -> str:
        return with_marks(format(float(self), spec))


def _said(value: Any) -> Any:
    return _Said(value) if isinstance(value, int | float) and not isinstance(value, bool) else value


Record = TypeVar("Record", bound=Display)


def by_id(records: Iterable[Record]) -> dict[str, Record]:
    """Records by their ids, in the order of their ranks."""
    return {record.id: record for record in sorted(records, key=lambda record: record.rank)}


def records_in(folder: Iterable[str], package: str, kind: type[Record]) -> dict[str, Record]:
    """The records of a kind that the modules of a package hold, so that a new module is all that a new record takes."""
    modules = (import_module(f"{package}.{module.name}") for module in pkgutil.iter_modules(folder))
    records = [value for module in modules for value in vars(module).values() if isinstance(value, kind)]
    return by_id({record.id: record for record in records}.values())


def displays(words: Mapping[str, str | tuple[str, str]]) -> dict[str, Display]:
    """Ways to draw, of their labels, or of their labels and help, by their ids in their order."""
    pairs = {identity: (said, "") if isinstance(said, str) else said for identity, said in words.items()}
    return {identity: Display(id=identity, label=label, help=hint) for identity, (label, hint) in pairs.items()}


def ids_of(records: Mapping[str, object]) -> Any:
    """The type of their ids, for schemas; a type checker is told that they are texts."""
    return Literal[tuple(records)]
