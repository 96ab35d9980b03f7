"""A request as the API's operations get it."""

from django.http import HttpRequest

from server.accounts.models import User
from server.problems import Refusal


class SignedIn(HttpRequest):
    """A request of somebody who is signed in, by session or token: whoever is not was refused before."""

    user: User


def as_person(request: HttpRequest) -> User:
    """Who asks, where anybody may: refused unless they are signed in."""
    if not isinstance(request.user, User):
        raise Refusal(401, "not-signed-in", "Nobody is signed in.", remedy="Sign in.")
    return request.user
