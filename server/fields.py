"""What several apps take: text as it may be stored, numbers of rows, and how numbers are written."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Any

from heron.choices import ids_of
from heron.formatting import NUMBER_STYLES
from heron.intake import unstorable
from pydantic import AfterValidator, Field


def storable(text: str) -> str:
    """The text; an error for one that the database cannot hold."""
    trouble = unstorable(text)
    if trouble:
        raise ValueError(f"holds {trouble}, which no text here can")
    return text


PlainText = Annotated[str, AfterValidator(storable)]
NumberForm = ids_of(NUMBER_STYLES)
# No file that is taken has more rows, and all of them, by number, fit into memory.
RowNumber = Annotated[int, Field(ge=1, le=200_000_000)]


def texts_of(value: Any) -> Iterator[str]:
    """All texts in what JSON holds."""
    if isinstance(value, str):
        yield value
    parts = value.values() if isinstance(value, Mapping) else value if isinstance(value, list | tuple) else ()
    for part in parts:
        yield from texts_of(part)


# Where a stage shows what is kept, "" for nowhere.
OWN_ADDRESS = r"^(/tables/[0-9a-fA-F-]{36}/[a-z-]+(\?[^\s\\]*)?)?$"
