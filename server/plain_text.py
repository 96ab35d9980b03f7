"""Text as it may be stored: PostgreSQL holds every character but NUL."""

from typing import Annotated

from pydantic import AfterValidator


def _without_nul(text: str) -> str:
    if "\x00" in text:
        raise ValueError("holds a NUL character, which no text here can")
    return text


PlainText = Annotated[str, AfterValidator(_without_nul)]
