"""The process that stands by to open files: it has loaded what that needs, and doubles itself for each file.

A file is opened by a process that ends with it, bound to limits (`bounds`). Beside each stands a guard, which waits for
its end, tells how it ended, and ends it when its time is over or whoever asked is gone.
"""

import json
import os
import select
import signal
import socket
import sys
import time
from contextlib import suppress
from typing import Any

import pyarrow as pa
from heron.errors import HeronError, ReadError

from server.reader import bounds
from server.reader.parcel import Packing
from server.reader.work import WORK

LONGEST_QUESTION = 16_000_000
_BETWEEN_REPORTS = 0.2


def main() -> None:
    """Serve the socket that stands as standard input: each message brings the descriptors of a file, of the parcel to
    be written and of the one who asked."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # an interrupt from the keyboard is for whoever started this
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # so that guards that ended leave nothing behind
    control = socket.socket(fileno=os.dup(sys.stdin.fileno()))
    os.dup2(os.open(os.devnull, os.O_RDONLY), sys.stdin.fileno())
    while True:
        _, descriptors, _, _ = socket.recv_fds(control, 1, 3)
        if not descriptors:  # whoever started this is gone
            return
        if len(descriptors) == 3 and os.fork() == 0:
            control.close()
            with suppress(BrokenPipeError, ConnectionResetError):
                _guard(*descriptors)
            os._exit(0)
        for descriptor in descriptors:
            os.close(descriptor)


def _guard(source: int, result: int, asked: int) -> None:
    """Have a process open the file; see that it ends, and tell how."""
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    channel = socket.socket(fileno=asked)
    said = json.loads(_line(channel))
    _tell(channel, {"progress": 0.0})
    worker = os.fork()
    if worker == 0:
        _work(source, result, channel, said)
    ends = time.monotonic() + bounds.SECONDS
    waiting = select.poll()
    waiting.register(os.pidfd_open(worker), select.POLLIN)
    waiting.register(channel, select.POLLIN)  # nothing more is said on it: it is closed
    late = not waiting.poll((ends - time.monotonic()) * 1000)
    with suppress(ProcessLookupError):
        os.kill(worker, signal.SIGKILL) if late or not _has_ended(worker) else None
    _, status, used = os.wait4(worker, 0)
    code = signal.SIGXCPU if late else os.WTERMSIG(status) if os.WIFSIGNALED(status) else 0
    _tell(channel, {"ended": int(code), "memory": used.ru_maxrss * 1024, "seconds": used.ru_utime + used.ru_stime})


def _has_ended(worker: int) -> bool:
    return os.waitid(os.P_PID, worker, os.WEXITED | os.WNOHANG | os.WNOWAIT) is not None


def _work(source: int, result: int, channel: socket.socket, said: dict[str, Any]) -> None:
    """Open the file, write the parcel, tell where its header stands or why there is none; then end."""
    told = time.monotonic()

    def report(share: float) -> None:
        nonlocal told
        if time.monotonic() - told > _BETWEEN_REPORTS:
            told = time.monotonic()
            _tell(channel, {"progress": share})

    answer: dict[str, Any]
    try:
        file = os.fdopen(result, "wb")
        packing = Packing(file)
        pa.set_memory_pool(pa.system_memory_pool())
        os.lseek(source, 0, os.SEEK_SET)
        opened = os.fdopen(source, "rb", buffering=0)
        bounds.confine(_all_taken())
        header = WORK[said["work"]](opened, said, packing, report)
        answer = {"header": packing.end(header)}
    except HeronError as error:
        answer = {"refused": _in_words(error)}
    except MemoryError:
        answer = {"refused": _in_words(bounds.too_much_memory())}
    except RecursionError:
        answer = {"refused": _in_words(ReadError("too-deep", "The file is nested too deeply to be opened."))}
    except BaseException as error:  # noqa: BLE001 -- told to whoever asked, who logs it
        answer = {"failed": f"{type(error).__name__}: {error}"[:2_000]}
    with suppress(BrokenPipeError, ConnectionResetError):
        _tell(channel, answer)
    os._exit(0)


def _in_words(error: HeronError) -> dict[str, Any]:
    return {
        "kind": "file" if isinstance(error, ReadError) else "choice", "code": error.code, "problem": error.problem,
        "where": error.where, "rows": error.rows[:100], "remedy": error.remedy,
    }  # fmt: skip


def _all_taken() -> int:
    """A number of descriptors that are all in use, so that a limit of as many leaves none to be opened."""
    most = max(int(name) for name in os.listdir("/proc/self/fd"))
    spare = os.open(os.devnull, os.O_RDONLY)
    while spare < most:
        spare = os.dup(spare)
    return max(spare, most) + 1


def _line(channel: socket.socket) -> bytes:
    said = b""
    while not said.endswith(b"\n") and len(said) < LONGEST_QUESTION and (part := channel.recv(65_536)):
        said += part
    return said


def _tell(channel: socket.socket, what: dict[str, Any]) -> None:
    channel.sendall(json.dumps(what).encode() + b"\n")
