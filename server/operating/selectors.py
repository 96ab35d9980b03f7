"""What whoever runs a server sees of people: how much they keep, and nothing of what it holds."""

from typing import Any

from django.db.models import Count, Max, Q

from server.accounts import second
from server.accounts.models import User
from server.accounts.services import DEMO_NAME
from server.studies import quotas


def people() -> list[dict[str, Any]]:
    """Everybody with an account, with what they keep; visitors go by themselves."""
    owned = Q(memberships__role="owner")
    known = User.objects.filter(guest=False).exclude(username__startswith="former-")
    known = known.exclude(Q(demo=True) & ~Q(username=DEMO_NAME)).order_by("username")
    counted = known.annotate(
        seen=Max("open_sessions__seen"),
        n_studies=Count("memberships", filter=owned, distinct=True),
        n_tables=Count("memberships__study__tables", filter=owned, distinct=True),
    )
    return [
        {
            "id": one.pk, "name": one.get_username(), "address": one.email, "joined": one.date_joined,
            "last_seen": one.seen or one.last_login, "n_studies": one.n_studies, "n_tables": one.n_tables,
            "bytes": quotas.bytes_of(one), "active": one.is_active, "operator": one.is_staff,
            "second_factor": second.is_on(one),
            "quota_mb": one.quota_mb, "quota_tables": one.quota_tables, "quota_jobs": one.quota_jobs,
        } for one in counted
    ]  # fmt: skip
