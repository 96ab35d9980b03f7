"""From bytes to text that can be parsed: encoding and line lengths."""

import codecs
import re
from dataclasses import dataclass
from typing import Literal

import numpy as np

from heron.errors import ReadError
from heron.formatting import fixed
from heron.intake.found import Guess

Encoding = Literal["utf-8", "utf-16", "latin-1", "windows-1252"]
ENCODINGS: tuple[Encoding, ...] = ("utf-8", "utf-16", "latin-1", "windows-1252")
LONGEST_LINE = 10_000_000
_PYTHON_NAMES = {"windows-1252": "cp1252"}

_NOTHING = b" \t\r\n\x00\xef\xbb\xbf\xff\xfe"


@dataclass(frozen=True)
class PlainText:
    """UTF-8 bytes without byte-order mark and comment lines, and what was found on the way."""

    data: bytes
    encoding: Guess
    n_comments: int


def to_utf8(data: bytes, encoding: Encoding | None, *, by_lines: bool = True) -> PlainText:
    """Return the file as UTF-8, or raise ReadError saying what it holds instead of text. by_lines: whether lines are
    records, none of which is very long."""
    if not data[:4096].strip(_NOTHING) and not data.strip(_NOTHING):
        raise ReadError("empty-file", f"The file is empty: {len(data)} bytes, no value.", remedy="Choose another file.")
    guess = _encoding(data, encoding)
    text = _decode(data, guess)
    if b"\x00" in text:
        line = text.count(b"\n", 0, text.index(b"\x00")) + 1
        raise ReadError(
            "nul-characters",
            f"Read as {guess.value}, the text holds {text.count(bytes(1))} NUL characters, the first in line {line}.",
            where="encoding",
            remedy="Choose another encoding; if none fits, the file is not text.",
        )
    if b"\r" in text:
        text = text.replace(b"\r\n", b"\n").replace(b"\r", b"\n")
    if by_lines:
        _check_lines(text)
    n_comments = 0
    if text.startswith(b"#") or b"\n#" in text:
        text, n_comments = re.subn(rb"(?m)^#[^\n]*(\n|\Z)", b"", text)
        if not text.strip():
            raise ReadError("empty-file", f"The file holds {n_comments} comment lines and no value.")
    return PlainText(text, guess, n_comments)


def _encoding(data: bytes, encoding: Encoding | None) -> Guess:
    if encoding is not None:
        return Guess(encoding, "as you said")
    if data.startswith(codecs.BOM_UTF8):
        return Guess("utf-8", "a byte-order mark says so")
    if data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return Guess("utf-16", "a byte-order mark says so")
    if b"\x00" not in data[:4096] and data.isascii():
        return Guess("utf-8", "all bytes are ASCII")
    head = np.frombuffer(data[:4096], dtype=np.uint8)
    odd, even = (np.mean(half == 0) if half.size else 0.0 for half in (head[1::2], head[::2]))
    if max(odd, even) > 0.4 and min(odd, even) < 0.05:
        return Guess("utf-16", "every second byte is zero")
    try:
        data.decode("utf-8")
    except UnicodeDecodeError as error:
        if any(0x80 <= byte <= 0x9F for byte in data):
            return Guess("windows-1252", f"byte {error.start + 1} is not UTF-8, and some bytes are Windows punctuation")
        return Guess("latin-1", f"byte {error.start + 1} is not UTF-8")
    return Guess("utf-8", "every character decodes")


def _decode(data: bytes, guess: Guess) -> bytes:
    if guess.value == "utf-8" and not data.startswith(codecs.BOM_UTF8):
        plain = data
        try:
            if not data.isascii():
                data.decode("utf-8")
        except UnicodeDecodeError as error:
            raise _wrong_encoding(guess, error) from error
        return plain
    try:
        if guess.value == "utf-8":
            return data.decode("utf-8-sig").encode()
        if guess.value == "utf-16" and not data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
            little = np.mean(np.frombuffer(data[1:4096:2], dtype=np.uint8) == 0) > 0.4
            return data.decode("utf-16-le" if little else "utf-16-be").encode()
        return data.decode(_PYTHON_NAMES.get(guess.value, guess.value)).encode()
    except UnicodeError as error:
        raise _wrong_encoding(guess, error) from error


def _wrong_encoding(guess: Guess, error: UnicodeError) -> ReadError:
    where = f" at byte {error.start + 1}" if isinstance(error, UnicodeDecodeError) else ""
    return ReadError(
        "wrong-encoding",
        f"The file cannot be read as {guess.value}: it fails{where}.",
        where="encoding",
        remedy="Choose another encoding.",
    )


def _check_lines(text: bytes) -> None:
    start = 0
    while len(text) - start > LONGEST_LINE:
        end = text.rfind(b"\n", start, start + LONGEST_LINE + 1)
        if end < 0:
            length = text.find(b"\n", start)
            length = (length if length >= 0 else len(text)) - start
            raise ReadError(
                "line-too-long",
                f"Line {text.count(bytes([10]), 0, start) + 1} is {fixed(length / 1e6, 1)} MB long; at most "
                f"{LONGEST_LINE // 10**6} MB is read.",
                remedy="Is this a table? Check how its lines end.",
            )
        start = end + 1
