from typing import Annotated

from ninja import Field, Schema

from server.accounts.schemas import Credentials
from server.fields import PlainText
from server.joining.institution import Purpose

Secret = Annotated[PlainText, Field(max_length=100)]


class NewAccount(Credentials):
    """invitation: the secret of one, where it takes one."""

    invitation: Secret = ""


class LeaveForIn(Schema):
    """purpose: to sign in, to be asked again who one is, or to sign in so to this account too; back: the page to come
    back to."""

    purpose: Purpose = "sign-in"
    back: Annotated[PlainText, Field(max_length=2_000, pattern=r"^/([^/\\].*)?$")] = "/"
    invitation: Secret = ""


class LeaveForOut(Schema):
    address: str
