"""What several apps take: text as it may be stored, and numbers of rows."""

from typing import Annotated

from heron.intake import unstorable
from pydantic import AfterValidator, Field


def _storable(text: str) -> str:
    trouble = unstorable(text)
    if trouble:
        raise ValueError(f"holds {trouble}, which no text here can")
    return text


PlainText = Annotated[str, AfterValidator(_storable)]
# No file that is taken has more rows, and all of them, by number, fit into memory.
RowNumber = Annotated[int, Field(ge=1, le=200_000_000)]
