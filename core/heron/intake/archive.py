"""Zip archives, opened with care: what they hold is known, and bounded, before memory is taken."""

import io
import struct
import zipfile
import zlib

from heron.errors import ReadError
from heron.formatting import fixed

MOST_UNPACKED = 2_000_000_000
MOST_ENTRIES = 100_000
_STEP = 1_000_000
BROKEN = (
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    OSError,
    RuntimeError,
    NotImplementedError,
    ValueError,
    struct.error,
)


def open_archive(data: bytes) -> zipfile.ZipFile:
    """Return the archive, or ReadError when it is broken, names an entry twice, or opens to more than can be held."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        entries = archive.infolist()
    except BROKEN as error:
        raise ReadError(
            "broken-zip", "The file begins as a zip does, but is cut off or broken.", remedy="Save it again."
        ) from error
    size = sum(entry.file_size for entry in entries)
    if size > MOST_UNPACKED:
        raise ReadError(
            "too-large-inside",
            f"The file opens to {fixed(size / 1e9, 1)} GB; at most {fixed(MOST_UNPACKED / 1e9, 0)} GB is opened.",
            remedy="Save the table as delimited text.",
        )
    if len(entries) > MOST_ENTRIES or len({entry.filename for entry in entries}) < len(entries):
        raise ReadError("broken-zip", "The archive holds too many entries, or one name twice.", remedy="Save it again.")
    return archive


def read_entry(archive: zipfile.ZipFile, path: str, at_most: int = MOST_UNPACKED) -> bytes:
    """Return an entry, its first bytes where it has more than `at_most`; ReadError where it is not what the archive
    says of it. Read in steps, so that a false size takes no memory."""
    parts, left = [], at_most
    try:
        with archive.open(path) as entry:
            while left > 0 and (part := entry.read(min(_STEP, left))):
                parts.append(part)
                left -= len(part)
    except KeyError as error:
        raise ReadError("broken-zip", f"The archive lacks {path}.", remedy="Save it again.") from error
    except BROKEN as error:
        raise ReadError(
            "broken-zip", f"{path} in the archive is not what the archive says it is.", remedy="Save it again."
        ) from error
    return b"".join(parts)
