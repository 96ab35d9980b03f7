"""An answer that nobody waits for any more ends at its next check, whichever web worker is at it.

The interface names each view ("stack-density") and counts its questions; of one view only the newest is wanted.
"""

from contextlib import suppress
from datetime import timedelta
from time import monotonic

from django.db import DatabaseError
from django.db.models import F
from django.db.models.functions import Greatest
from django.utils import timezone
from heron.readings import Cancellation

from server.problems import Refusal
from server.readings.models import View

BETWEEN_LOOKS = 0.2  # seconds
KEPT = timedelta(hours=1)
_MOST_DIGITS = 16
_LONGEST = View._meta.get_field("name").max_length or 0


def _name(user_id: int, view: str) -> str:
    name = f"{user_id}/{view}"
    return name if view and len(name) <= _LONGEST else ""


class ViewCancellation(Cancellation):
    """Whether the question of somebody's view is still wanted: one that a newer question has overtaken is not."""

    def __init__(self, user_id: int, view: str | None) -> None:
        name, _, number = (view or "").rpartition(":")
        counted = number.isascii() and number.isdecimal() and len(number) < _MOST_DIGITS
        self._name = _name(user_id, name) if counted else ""
        self._number = int(number) if counted else 0
        self._looked = monotonic()
        self._overtaken = False
        if self._name:
            views = View.objects.filter(name=self._name)
            newer = Greatest(F("newest"), self._number)
            if not views.update(newest=newer, share=None, note="", asked=timezone.now()):
                View.objects.bulk_create([View(name=self._name, newest=self._number)], ignore_conflicts=True)
                views.update(newest=newer)
            self._look()

    def check(self) -> None:
        if self._name and not self._overtaken and monotonic() - self._looked > BETWEEN_LOOKS:
            self._look()
        if self._overtaken:
            raise Refusal(409, "overtaken", "A newer question has taken this one's place.")

    def progress(self, share: float) -> None:
        """So much of the answer is worked; ends it where it is no longer wanted."""
        if self._name and monotonic() - self._looked > BETWEEN_LOOKS:
            with suppress(DatabaseError):  # a database that is away for a moment stops no arithmetic
                View.objects.filter(name=self._name, newest=self._number).update(share=share)
        self.check()

    def tell(self, words: str) -> None:
        """Something is to be known of how the answer is worked, by whoever looks at its progress."""
        if self._name:
            with suppress(DatabaseError):
                View.objects.filter(name=self._name, newest=self._number).update(note=words[:_LONGEST])

    def _look(self) -> None:
        with suppress(DatabaseError):
            newest = View.objects.filter(name=self._name).values_list("newest", flat=True).first()
            self._overtaken = newest is not None and newest > self._number
        self._looked = monotonic()


def progress_of(user_id: int, view: str) -> tuple[float | None, str]:
    """How much of the newest answer for a view is worked, where it says so, and what is to be known of how."""
    return View.objects.filter(name=_name(user_id, view)).values_list("share", "note").first() or (None, "")


def stop(user_id: int, view: str) -> None:
    """The newest question of a view is not wanted any more."""
    View.objects.filter(name=_name(user_id, view)).update(newest=F("newest") + 1, share=None)


def forget_old_views() -> None:
    View.objects.filter(asked__lt=timezone.now() - KEPT).delete()
