"""A request as the API's operations get it."""

from django.http import HttpRequest

from server.accounts.models import User


class SignedIn(HttpRequest):
    """A request of somebody who is signed in, by session or token: whoever is not was refused before."""

    user: User
