from datetime import datetime
from typing import Annotated, Literal

from ninja import Field, Schema

from server.accounts.schemas import EventOut
from server.fields import PlainText

Quota = Annotated[int, Field(ge=0, le=2_000_000_000)]


class PersonOut(Schema):
    """Somebody with an account. last_seen: within a session that is open, else when they signed in last; bytes: of the
    files in their studies; quotas: null for what holds for everybody."""

    id: int
    name: str
    address: str
    joined: datetime
    last_seen: datetime | None
    n_studies: int
    n_tables: int
    bytes: int
    active: bool
    operator: bool
    second_factor: bool
    quota_mb: int | None
    quota_tables: int | None
    quota_jobs: int | None


class PersonChange(Schema):
    """second_factor: False to turn it off for somebody who lost it; nobody else turns it on."""

    active: bool
    second_factor: bool = True
    quota_mb: Quota | None
    quota_tables: Quota | None
    quota_jobs: Quota | None


class InvitationIn(Schema):
    """name: for whom, in words."""

    name: Annotated[PlainText, Field(min_length=1, max_length=150)]
    days: int = Field(default=14, ge=1, le=90)


class InvitationOut(Schema):
    """used_by: the name of the account that was made by it, null while it is open."""

    id: int
    name: str
    created: datetime
    expires: datetime
    used_by: str | None


class MadeInvitationOut(InvitationOut):
    """path: the address that makes an account, shown this once."""

    path: str


class LetterOut(Schema):
    """A mail that would have been sent where there is no mail service."""

    id: int
    to: str
    subject: str
    text: str
    at: datetime


class EventOfPersonOut(EventOut):
    name: str


class OverviewOut(Schema):
    """mail: whether a mail service is named; without one letters are handed over by hand. quotas: what holds for
    everybody, 0 for any number."""

    sign_up: Literal["open", "invited", "institution"]
    mail: bool
    quota_mb: int
    quota_tables: int
    quota_jobs: int
    people: list[PersonOut]
    invitations: list[InvitationOut]
    letters: list[LetterOut]
    events: list[EventOfPersonOut]
