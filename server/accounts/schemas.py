from datetime import datetime
from typing import Annotated

from ninja import Field, Schema

from server.fields import PlainText


class Credentials(Schema):
    name: PlainText = Field(min_length=1, max_length=150)
    password: PlainText = Field(min_length=1, max_length=256)


class Listed(Schema):
    """What a reading lists: ids of statistics, null for the usual ones, and percents whose points are wanted; and the
    reasons that are offered for decisions, null for the usual ones."""

    statistics: list[PlainText] | None = Field(default=None, max_length=100)
    percents: list[Annotated[float, Field(ge=0, le=100)]] = Field(default=[], max_length=40)
    reasons: list[Annotated[PlainText, Field(max_length=200)]] | None = Field(default=None, max_length=40)


class SessionOut(Schema):
    """guest: somebody who came by a link, and looks."""

    name: str | None
    is_demo: bool
    guest: bool
    demo_mode: bool
    upload_limit: int
    listed: Listed | None


class TokenIn(Schema):
    name: Annotated[PlainText, Field(min_length=1, max_length=100)]


class TokenOut(Schema):
    """ending: its last four letters; used: about when it was used last, null for never."""

    id: int
    name: str
    ending: str
    created: datetime
    used: datetime | None


class MadeTokenOut(TokenOut):
    """text: the token itself, shown this once."""

    text: str
