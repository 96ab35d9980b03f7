"""Answers that are kept for the next time they are asked for."""

from collections.abc import Callable, Hashable
from dataclasses import fields, is_dataclass
from threading import Condition
from typing import Any, Generic, TypeVar

import numpy as np
from cachetools import Cache, LRUCache, RRCache, cached

Answer = TypeVar("Answer")
_caches: list["Kept[Any]"] = []


class Kept(Generic[Answer]):
    """Answers by their questions, of at most a size together: those asked for longest ago go first, a larger one is not
    kept. A question that is asked again while it is answered waits for that answer.

    in_turn: answers are asked for one after the other, and all again; any one goes then, since the one asked for
    longest ago is the next that is wanted."""

    def __init__(self, most: int, size_of: Callable[[Answer], int] | None = None, *, in_turn: bool = False) -> None:
        kind: type[Cache[Any, Answer]] = RRCache if in_turn else LRUCache
        self._cache = kind(most, getsizeof=size_of)
        self._condition = Condition()
        self._answer = cached(self._cache, key=lambda question, compute: question, condition=self._condition)(
            lambda question, compute: compute()
        )
        _caches.append(self)

    def answer(self, question: Hashable, compute: Callable[[], Answer]) -> Answer:
        """The answer that is kept, or else computed, and kept from here on."""
        result: Answer = self._answer(question, compute)
        return result

    def forget(self) -> None:
        with self._condition:
            self._cache.clear()


def forget_everything() -> None:
    """Empty every cache, as between tests that use one database after another."""
    for kept in _caches:
        kept.forget()


def bytes_of(answer: Any) -> int:
    """About how much memory an answer takes: its arrays, wherever they stand in it."""
    if isinstance(answer, np.ndarray):
        return int(answer.nbytes)
    if is_dataclass(answer):
        return 1_000 + sum(bytes_of(getattr(answer, field.name)) for field in fields(answer))
    parts = answer.values() if isinstance(answer, dict) else answer if isinstance(answer, list | tuple) else ()
    return 100 + sum(map(bytes_of, parts))
