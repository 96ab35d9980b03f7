"""The document of a report as it is kept and sent."""

from typing import Annotated, Any, Literal
from uuid import UUID

from heron.formatting import USUAL_NUMBERS
from heron.report import HEADINGS
from heron.report.text import KEY
from pydantic import BaseModel, ConfigDict, Field, model_validator

from server.fields import NumberForm, PlainText

Words = Annotated[PlainText, Field(max_length=600)]
Key = Annotated[str, Field(pattern=rf"^{KEY}$", max_length=60)]
MOST_PARTS = 400


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class HeadingPart(_Part):
    kind: Literal["heading"]
    text: Words = ""
    level: Annotated[int, Field(ge=1, le=3)] = 1


class TextPart(_Part):
    """Paragraphs between empty lines, lists of lines that begin with "- " or "1. ", *emphasis*, **strong words**, and
    {key} for the number of a figure or table."""

    kind: Literal["text"]
    text: Annotated[PlainText, Field(max_length=50_000)] = ""


class KeptPart(_Part):
    """A plate, or a table of numbers, of the study. key: by which text refers to it."""

    kind: Literal["figure", "table"]
    key: Key
    plate: UUID


class SectionPart(_Part):
    """What writes itself, under a heading of one's own words."""

    kind: Literal["methods", "aside", "references", "versions"]
    heading: Words = ""

    @model_validator(mode="before")
    @classmethod
    def named(cls, given: Any) -> Any:
        if isinstance(given, dict) and "heading" not in given and given.get("kind") in HEADINGS:
            return {**given, "heading": HEADINGS[given["kind"]]}
        return given


AnyPart = Annotated[HeadingPart | TextPart | KeptPart | SectionPart, Field(discriminator="kind")]


class ReportDocument(_Part):
    """A report: parts in their order, on paper of a size, in a face of type."""

    format: Literal["velvet-heron-report"] = "velvet-heron-report"
    version: Literal[1] = 1
    title: Words = ""
    authors: Words = ""
    paper: Literal["A4", "letter"] = "A4"
    font: Literal["serif", "sans"] = "serif"
    numbers: NumberForm = USUAL_NUMBERS
    parts: list[AnyPart] = Field(default=[], max_length=MOST_PARTS)

    @model_validator(mode="after")
    def keys_are_different(self) -> "ReportDocument":
        keys = [part.key for part in self.parts if isinstance(part, KeptPart)]
        twice = sorted({key for key in keys if keys.count(key) > 1})
        if twice:
            raise ValueError(f"two parts have the key {twice[0]}")
        return self

    def plates_in(self, kind: Literal["figure", "table"]) -> list[UUID]:
        """The plates of a kind, in their order, each once."""
        return list(
            dict.fromkeys(part.plate for part in self.parts if isinstance(part, KeptPart) and part.kind == kind)
        )
