"""Files that an operator put on this server: read in place, whatever their length."""

from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings

from server.problems import Refusal

MOST_FILES = 500


@dataclass(frozen=True)
class InboxFile:
    """A file of the folder: its name, size in bytes, and when it was changed last."""

    name: str
    size: int
    changed: datetime


def files() -> list[InboxFile]:
    """The files of the operator's folder by their names; none where there is no folder."""
    if not settings.INBOX:
        return []
    found = [path for path in sorted(Path(settings.INBOX).iterdir()) if path.is_file() and not path.is_symlink()]
    return [_told(path) for path in found[:MOST_FILES] if not path.name.startswith(".")]


def _told(path: Path) -> InboxFile:
    said = path.stat()
    return InboxFile(path.name, said.st_size, datetime.fromtimestamp(said.st_mtime, UTC))


def path_of(name: str) -> Path:
    """Where a file of the folder is; only what the folder lists is there."""
    if name not in {file.name for file in files()}:
        raise Refusal(404, "no-file", f"There is no file {name!r} on this server.", where="file")
    return Path(settings.INBOX) / name
