from datetime import datetime
from typing import Annotated, Any

from ninja import Field, Schema
from pydantic import model_validator

from server.fields import PlainText


class Credentials(Schema):
    name: PlainText = Field(min_length=1, max_length=150)
    password: PlainText = Field(min_length=1, max_length=256)


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
