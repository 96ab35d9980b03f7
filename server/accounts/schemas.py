from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Field, Schema
from pydantic import model_validator

from server.fields import PlainText

Password = Annotated[PlainText, Field(min_length=1, max_length=128)]


class Credentials(Schema):
    name: PlainText = Field(min_length=1, max_length=150)
    password: Password


Code = Annotated[PlainText, Field(max_length=20)]


class SignInIn(Credentials):
    """code: of the second factor, for an account that has one."""

    code: Code = ""


class ListOfStudy(Schema):
    """What readings list: ids of statistics, null for the usual ones, and percents whose points are wanted."""

    statistics: list[Annotated[PlainText, Field(max_length=60)]] | None = Field(default=None, max_length=100)
    percents: list[Annotated[float, Field(ge=0, le=100)]] = Field(default=[], max_length=40)


class Listed(Schema):
    """What readings list in each study, by its id, and under "" in those without a list; and the reasons that are
    offered for decisions, null for the usual ones."""

    lists: dict[Annotated[str, Field(pattern=r"^([0-9a-f-]{36})?$")], ListOfStudy] = Field(default={}, max_length=500)
    reasons: list[Annotated[PlainText, Field(max_length=200)]] | None = Field(default=None, max_length=40)

    @model_validator(mode="before")
    @classmethod
    def of_no_study(cls, given: Any) -> Any:
        """What was kept before studies had lists of their own holds for each that has none."""
        kept = getattr(given, "_obj", given)
        if isinstance(kept, dict) and ("statistics" in kept or "percents" in kept):
            return {"lists": {"": {k: kept[k] for k in ("statistics", "percents") if k in kept}},
                    "reasons": kept.get("reasons")}  # fmt: skip
        return given


class SessionOut(Schema):
    """guest: somebody who came by a link, and looks; operator: somebody who runs this server; sign_up: who may make an
    account, anybody, who is invited, or who comes through the institution besides; institution: its name, "" for none;
    password: whether the person has one."""

    name: str | None
    is_demo: bool
    guest: bool
    operator: bool
    password: bool
    sign_up: Literal["open", "invited", "institution"]
    institution: str
    demo: Literal["off", "shared", "each"]
    upload_limit: int
    listed: Listed | None


class PasswordIn(Schema):
    password: Password


class NewPasswordIn(Schema):
    old: Password
    new: Password


class AskedAnewIn(Schema):
    """who: a name or a mail address."""

    who: Annotated[PlainText, Field(min_length=1, max_length=254)]


class SetAnewIn(Schema):
    """person, token: as the link that was sent has them."""

    person: Annotated[PlainText, Field(max_length=40)]
    token: Annotated[PlainText, Field(max_length=100)]
    password: Password


class AddressIn(Schema):
    """address: "" for none."""

    address: Annotated[PlainText, Field(max_length=254, pattern=r"^([^@\s]+@[^@\s]+\.[^@\s]+)?$")]


class OpenSessionOut(Schema):
    """A browser in which the person is signed in. here: this one."""

    id: int
    address: str
    browser: str
    began: datetime
    seen: datetime
    here: bool


class EventOut(Schema):
    """Something that happened to the account. what: in words."""

    what: str
    detail: str
    address: str
    at: datetime


class AccountOut(Schema):
    """address: for mail, "" for none. idle_hours: after so long without use a session ends. second_factor, codes_left:
    whether it takes one, and how many of the ten codes were not used. institution: whether it is signed in to so."""

    name: str
    address: str
    joined: datetime
    idle_hours: float
    second_factor: bool
    codes_left: int
    institution: bool
    sessions: list[OpenSessionOut]
    events: list[EventOut]


class BegunFactorOut(Schema):
    """secret: for typing into an app; picture: the same as an SVG, for its camera."""

    secret: str
    picture: str


class CodeIn(Schema):
    code: Annotated[Code, Field(min_length=1)]


class CodesOut(Schema):
    """Ten codes, each of which stands in for the app once; shown this once."""

    codes: list[str]


class TokenIn(Schema):
    """days: until it ends; scope: whether it changes things, or reads alone."""

    name: Annotated[PlainText, Field(min_length=1, max_length=100)]
    days: int = Field(default=90, ge=1, le=366)
    scope: Literal["read", "write"] = "write"


class TokenOut(Schema):
    """ending: its last four letters; used: about when it was used last, null for never."""

    id: int
    name: str
    ending: str
    created: datetime
    ends: datetime
    scope: str
    used: datetime | None


class MadeTokenOut(TokenOut):
    """text: the token itself, shown this once."""

    text: str
