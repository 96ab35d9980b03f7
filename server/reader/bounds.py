"""What opening a file may take, and the words for one that takes more."""

import resource
import signal

from heron.errors import ReadError
from heron.formatting import fixed

MEMORY = 1_500_000_000  # bytes of addresses, of which the programs themselves take a quarter
PROCESSOR_SECONDS = 60
SECONDS = 90  # by the clock, on a machine that is busy with other things
RESULT_BYTES = 3_000_000_000
MEMORY_TAKEN = "too-much-memory"
TIME_TAKEN = "too-much-time"


def confine(descriptors: int) -> None:
    """Bind this process to the limits: no file or connection is opened from here on beside those that are open."""
    # The first second over its time a process is told, which ends it as what it is.
    resource.setrlimit(resource.RLIMIT_CPU, (PROCESSOR_SECONDS, PROCESSOR_SECONDS + 1))
    for what, most in (
        (resource.RLIMIT_AS, MEMORY),
        (resource.RLIMIT_FSIZE, RESULT_BYTES),
        (resource.RLIMIT_NOFILE, descriptors),
        (resource.RLIMIT_CORE, 0),
    ):
        resource.setrlimit(what, (most, most))


def too_much_memory() -> ReadError:
    return ReadError(
        MEMORY_TAKEN, f"Opening this file takes more than {fixed(MEMORY / 1e9, 1)} GB of memory.",
        remedy="Save its table alone, as delimited text, or in parts.",
    )  # fmt: skip


def too_much_time() -> ReadError:
    return ReadError(
        TIME_TAKEN, f"Opening this file takes more than {PROCESSOR_SECONDS} s.",
        remedy="Save its table alone, as delimited text, or in parts.",
    )  # fmt: skip


def ended(status: int) -> ReadError:
    """The words for a process that ended without an answer. status: as wait gives it."""
    if status == signal.SIGXCPU:
        return too_much_time()
    return ReadError(
        "broke-off",
        f"What opened the file broke off, as it does when that takes more than {fixed(MEMORY / 1e9, 1)} GB.",
        remedy="Save the table anew as delimited text.",
    )  # fmt: skip
