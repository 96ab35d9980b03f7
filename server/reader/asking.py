"""Having a file opened apart, and taking what comes back."""

import json
import logging
import mmap
import socket
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from threading import Lock
from time import monotonic
from typing import IO, Any
from uuid import uuid4

from heron.errors import HeronError, ReadError
from heron.intake import Intake

from server.reader import bounds
from server.reader.parcel import Parcel, Place, unpack_intake

Report = Callable[[float], None]
logger = logging.getLogger(__name__)
_ENVIRONMENT = {"MALLOC_ARENA_MAX": "1", "ARROW_DEFAULT_MEMORY_POOL": "system", "LC_ALL": "C.UTF-8"}
_TRIES = 2
_PATIENCE = 0.3  # seconds between two looks at whether it is still wanted


class TookLonger(Exception):
    """The file was not open after the time that somebody wanted to wait for it."""


def read(
    pieces: Iterable[bytes], name: str, choices: Mapping[str, Any], *, at_most: float | None = None,
    on_progress: Report | None = None,
) -> Intake:  # fmt: skip
    """What `heron.intake.read` makes of a file. on_progress: told the share that is done, now and then; what it raises
    ends the reading. at_most: seconds, after which TookLonger is raised."""
    parcel = _ask({"work": "read", "name": name, "choices": dict(choices)}, pieces, at_most, on_progress)
    return unpack_intake(parcel, parcel.header[0])


def tables_of(pieces: Iterable[bytes], name: str) -> list[Intake]:
    """All tables of a Data Package, each under its name on `found["sheet"]`."""
    parcel = _ask({"work": "tables", "name": name}, pieces)
    return [unpack_intake(parcel, said) for said in parcel.header]


@dataclass(frozen=True)
class Package:
    """A package unpacked. study: the title of the study that it holds whole, "" where it holds none."""

    study: str
    digests: Mapping[str, str]
    _places: Mapping[str, Place]
    _parcel: Parcel

    def read(self, path: str) -> bytes:
        return self._parcel.part(self._places[path])


def unpacked(pieces: Iterable[bytes], name: str) -> Package:
    """The entries of a package that holds a study, each looked at once."""
    parcel = _ask({"work": "unpack", "name": name}, pieces)
    entries = parcel.header["entries"]
    return Package(
        parcel.header["study"],
        {path: entry["digest"] for path, entry in entries.items()},
        {path: entry["place"] for path, entry in entries.items()},
        parcel,
    )


def warm() -> None:
    """Have the process that stands by load what it needs, before anybody waits for it."""
    with _lock:
        _started()


def _ask(
    said: Mapping[str, Any], pieces: Iterable[bytes], at_most: float | None = None, on_progress: Report | None = None
) -> Parcel:
    with tempfile.TemporaryFile() as source:
        for piece in pieces:
            source.write(piece)
        source.flush()
        for _ in range(_TRIES):
            with tempfile.TemporaryFile() as result:
                told = _answered(said, source, result, at_most, on_progress)
                if told.keys() & {"ended", "header", "refused", "failed"}:
                    logger.info("%s %s", said["name"], told)
                    begin, size = _header(told)
                    return Parcel(mmap.mmap(result.fileno(), begin + size, prot=mmap.PROT_READ), (begin, size))
    raise bounds.ended(0)


def _answered(
    said: Mapping[str, Any], source: IO[bytes], result: IO[bytes], at_most: float | None, on_progress: Report | None
) -> dict[str, Any]:
    """What was told of one try; nothing of its end where somebody ended whoever tells it."""
    ours, theirs = socket.socketpair()
    with ours:
        with theirs:
            _hand_over([source.fileno(), result.fileno(), theirs.fileno()])
        with suppress(BrokenPipeError, ConnectionResetError):
            ours.sendall(json.dumps(said).encode() + b"\n")
        return _told(ours, at_most, on_progress)


def _told(channel: socket.socket, at_most: float | None, on_progress: Report | None) -> dict[str, Any]:
    """Everything that is told until the process has ended; how far it has come is passed on."""
    begun, share, coming = None, 0.0, b""
    told: dict[str, Any] = {}
    channel.settimeout(_PATIENCE)
    while "ended" not in told:
        with suppress(TimeoutError):
            try:
                part = channel.recv(65_536)
            except ConnectionResetError:
                part = b""
            if not part:  # its guard was ended too
                break
            *lines, coming = (coming + part).split(b"\n")
            for line in lines:
                told |= json.loads(line)
                begun = begun or monotonic()
            share = told.get("progress", share)
        if on_progress:
            on_progress(share)
        if at_most is not None and begun and monotonic() - begun > at_most and "ended" not in told:
            raise TookLonger
    return told


def _header(told: dict[str, Any]) -> Place:
    """Where the header of the parcel stands; raises why there is none."""
    if "header" in told:
        begin, size = told["header"]
        return begin, size
    if "refused" in told:
        kind = {"file": ReadError, "choice": HeronError}[told["refused"].pop("kind")]
        raise kind(**told["refused"])
    if "failed" in told:
        number = uuid4().hex[:8]
        logger.error("a file could not be opened, number %s: %s", number, told["failed"])
        raise ReadError(
            "unforeseen", f"The file holds something that nobody foresaw, number {number}.",
            remedy="Save its table as delimited text; tell who runs this server the number, which is in its log.",
        )  # fmt: skip
    raise bounds.ended(told["ended"])


_lock = Lock()
_standing_by: tuple[subprocess.Popen[bytes], socket.socket] | None = None


def _started() -> socket.socket:
    """The socket of the process that stands by, which is started where there is none any more."""
    global _standing_by
    if _standing_by is None or _standing_by[0].poll() is not None:
        ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        command = [sys.executable, "-I", "-m", "server.reader"]
        with theirs:
            process = subprocess.Popen(command, stdin=theirs.fileno(), env=_ENVIRONMENT)
        _standing_by = process, ours
    return _standing_by[1]


def _hand_over(descriptors: list[int]) -> None:
    global _standing_by
    with _lock:
        try:
            socket.send_fds(_started(), [b"."], descriptors)
        except (BrokenPipeError, ConnectionResetError):  # it ended just now
            _standing_by = None
            socket.send_fds(_started(), [b"."], descriptors)
