"""A reading that has been overtaken is dropped at the next check.

The interface names each view ("stack-density") and counts its questions; of one view only the newest is wanted.
"""

from collections import OrderedDict
from threading import Lock

from server.problems import Refusal

_newest: OrderedDict[str, int] = OrderedDict()
_lock = Lock()
_MOST_VIEWS = 10_000


class Wanted:
    """Whether a question is still wanted; `check` is called between the steps of an answer."""

    def __init__(self, view: str | None) -> None:
        name, _, number = (view or "").rpartition(":")
        self._name = name if number.isdigit() else ""
        self._number = int(number) if number.isdigit() else 0
        if self._name:
            with _lock:
                _newest[self._name] = max(self._number, _newest.get(self._name, 0))
                _newest.move_to_end(self._name)
                while len(_newest) > _MOST_VIEWS:
                    _newest.popitem(last=False)

    def check(self) -> None:
        if self._name and _newest.get(self._name, 0) > self._number:
            raise Refusal(409, "overtaken", "A newer question has taken this one's place.")
