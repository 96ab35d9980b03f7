"""How often something may be tried: counted in the database, and so the same at every web worker."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import timedelta
from time import monotonic

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone

from server.accounts.events import address_of
from server.accounts.models import Attempt
from server.problems import Refusal

KEPT = timedelta(hours=1)


@dataclass(frozen=True)
class Rate:
    """How often something may be tried within a time: by one address, under one name and altogether, where it matters;
    and what is said of more."""

    kind: str
    within: timedelta
    by_address: int | None = None
    by_name: int | None = None
    by_all: int | None = None
    words: str = "That was tried too often."


WRONG_PASSWORD = Rate("wrong-password", timedelta(minutes=15), 30, 30, 1_000)
SIGN_UP = Rate("sign-up", KEPT, settings.SIGN_UPS_PER_HOUR, by_all=10 * settings.SIGN_UPS_PER_HOUR)
WRONG_CODE = Rate("wrong-code", KEPT, 60, 10)
VISIT = Rate("visit", KEPT, settings.SIGN_UPS_PER_HOUR, by_all=10 * settings.SIGN_UPS_PER_HOUR)
RESET = Rate("reset", KEPT, 20, 5)
WRONG_LINK = Rate("wrong-link", KEPT, 20)  # not under a name: the next person's link is another
UPLOAD = Rate("upload", timedelta(minutes=10), 200, 200)
LONG_SECONDS = 5.0
# About what keeps one processor at work all the time.
LONG_READING = Rate(
    "long-reading", timedelta(minutes=10), by_name=120, words="You had too many readings made that each took over 5 s."
)


def require(rate: Rate, request: HttpRequest, name: str = "") -> None:
    """Refuse what was tried too often, by this address, under this name or by everybody."""
    tried = Attempt.objects.filter(kind=rate.kind, at__gt=timezone.now() - rate.within)
    limits = (
        (rate.by_address, tried.filter(address=address_of(request))),
        (rate.by_name, tried.filter(name=name.lower())),
        (rate.by_all, tried),
    )
    if any(limit is not None and attempts.count() >= limit for limit, attempts in limits):
        seconds = round(rate.within.total_seconds())
        raise Refusal(
            429, "too-often", rate.words, remedy=f"Try again in {seconds // 60} minutes.", retry_after=seconds
        )


@contextmanager
def long_reading(request: HttpRequest, name: str) -> Iterator[None]:
    """A reading that is made, counted where it took long; refused to whoever had too many such."""
    require(LONG_READING, request, name)
    began = monotonic()
    try:
        yield
    finally:
        if monotonic() - began > LONG_SECONDS:
            count(LONG_READING, request, name)


def count(rate: Rate, request: HttpRequest, name: str = "") -> None:
    Attempt.objects.create(kind=rate.kind, address=address_of(request), name=name.lower())


def forget_old_attempts() -> None:
    Attempt.objects.filter(at__lte=timezone.now() - KEPT).delete()
