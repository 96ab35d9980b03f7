"""How often something may be tried: counted in the database, and so the same at every web worker."""

from datetime import timedelta

from django.conf import settings
from django.http import HttpRequest
from django.utils import timezone

from server.accounts.models import Attempt
from server.problems import Refusal

_QUARTER, _HOUR = timedelta(minutes=15), timedelta(hours=1)
KEPT = _HOUR
# What is counted: within how long, how many by one address, by one name, and altogether; None where it does not matter.
WRONG_PASSWORD = ("wrong-password", _QUARTER, 30, 30, 1_000)
SIGN_UP = ("sign-up", _HOUR, settings.SIGN_UPS_PER_HOUR, None, 10 * settings.SIGN_UPS_PER_HOUR)
UPLOAD = ("upload", timedelta(minutes=10), 200, 200, None)
Rate = tuple[str, timedelta, int | None, int | None, int | None]


def require(rate: Rate, request: HttpRequest, name: str = "") -> None:
    """Refuse what was tried too often, by this address, under this name or by everybody."""
    kind, within, *most = rate
    tried = Attempt.objects.filter(kind=kind, at__gt=timezone.now() - within)
    by = (tried.filter(address=_address(request)), tried.filter(name=name.lower()), tried)
    if any(limit is not None and attempts.count() >= limit for limit, attempts in zip(most, by, strict=True)):
        minutes = round(within.total_seconds() / 60)
        raise Refusal(
            429, "too-often", "That was tried too often.", remedy=f"Try again in {minutes} minutes.",
            retry_after=round(within.total_seconds()),
        )  # fmt: skip


def count(rate: Rate, request: HttpRequest, name: str = "") -> None:
    Attempt.objects.create(kind=rate[0], address=_address(request), name=name.lower())


def forget_old_attempts() -> None:
    Attempt.objects.filter(at__lte=timezone.now() - KEPT).delete()


def _address(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))[:64]
