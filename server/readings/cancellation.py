"""An answer that nobody waits for any more ends at its next check.

The interface names each view ("stack-density") and counts its questions; of one view only the newest is wanted.
"""

from threading import Lock

from cachetools import LRUCache
from heron.readings import Cancellation

from server.problems import Refusal

_MOST_VIEWS = 10_000
_newest: LRUCache[str, int] = LRUCache(_MOST_VIEWS)
_shares: LRUCache[str, float] = LRUCache(_MOST_VIEWS)
_lock = Lock()
_MOST_DIGITS = 16


class ViewCancellation(Cancellation):
    """Whether the question of a view is still wanted: one that a newer question has overtaken is not."""

    def __init__(self, view: str | None) -> None:
        name, _, number = (view or "").rpartition(":")
        counted = number.isascii() and number.isdecimal() and len(number) < _MOST_DIGITS
        self._name = name if counted else ""
        self._number = int(number) if counted else 0
        if self._name:
            with _lock:
                _newest[self._name] = max(self._number, _newest.get(self._name, 0))
                _shares.pop(self._name, None)

    def check(self) -> None:
        if not self._name:
            return
        with _lock:
            overtaken = _newest.get(self._name, 0) > self._number
        if overtaken:
            raise Refusal(409, "overtaken", "A newer question has taken this one's place.")

    def progress(self, share: float) -> None:
        """So much of the answer is worked; ends it where it is no longer wanted."""
        self.check()
        if self._name:
            with _lock:
                _shares[self._name] = share


def share_of(view: str) -> float | None:
    """How much of the newest answer for a view is worked, where it says so."""
    with _lock:
        return _shares.get(view)


def stop(view: str) -> None:
    """The newest question of a view is not wanted any more."""
    with _lock:
        if view in _newest:
            _newest[view] += 1
            _shares.pop(view, None)
