"""Who may see and who may change what: every query for a study starts here."""

from django.core.exceptions import PermissionDenied
from django.db.models import Q, QuerySet
from django.utils import timezone

from server.accounts.models import User
from server.studies.models import Membership, Study

_MAY_CHANGE = (Membership.Role.OWNER, Membership.Role.EDITOR)


def visible_to(user: User, study: str = "") -> Q:
    """What a person may see. study: the way from what is asked for to its study, with its underscores."""
    in_force = Q(**{f"{study}memberships__until": None}) | Q(**{f"{study}memberships__until__gt": timezone.now()})
    return Q(**{f"{study}memberships__user": user}) & in_force


def visible_studies(user: User) -> QuerySet[Study]:
    return Study.objects.filter(visible_to(user))


def require_editor(user: User, study: Study) -> None:
    """Refuse whoever may only look."""
    if not study.memberships.filter(user=user, role__in=_MAY_CHANGE).exists():
        raise PermissionDenied


def require_owner(user: User, study: Study) -> None:
    """Refuse whoever does not own a study: it is theirs to share."""
    if not study.memberships.filter(user=user, role=Membership.Role.OWNER).exists():
        raise PermissionDenied
