"""Who may see and who may change what: every query for a study starts here."""

from django.core.exceptions import PermissionDenied
from django.db.models import QuerySet

from server.accounts.models import User
from server.studies.models import Membership, Study


def visible_studies(user: User) -> QuerySet[Study]:
    return Study.objects.filter(memberships__user=user)


def require_owner(user: User, study: Study) -> None:
    if not study.memberships.filter(user=user, role=Membership.Role.OWNER).exists():
        raise PermissionDenied
