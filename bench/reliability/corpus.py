"""What opening each file of the hostile corpus takes, and what is said of it: python -m bench.reliability.corpus.

Files that are named behind it are opened too.
"""

import logging
import sys
import time
from collections.abc import Iterator
from pathlib import Path

from heron.errors import HeronError

from server import reader
from server.reader import asking, bounds
from server.server_tests.hostile_files import files


class _Heard(logging.Handler):
    told: dict[str, float]

    def emit(self, record: logging.LogRecord) -> None:
        self.told = record.args[1]  # type: ignore[index,assignment]


def _opened(data: bytes, name: str, heard: _Heard) -> Iterator[str]:
    """What is said of a file each way in which it can be opened."""
    ways = [lambda: reader.read([data], name, {})]
    if name.endswith(".zip"):
        ways += [lambda: reader.tables_of([data], name), lambda: reader.unpacked([data], name)]
    for way in ways:
        heard.told = {}
        try:
            way()
            yield "opened"
        except HeronError as error:
            yield str(error)


def main() -> None:
    heard = _Heard()
    asking.logger.addHandler(heard)
    asking.logger.setLevel(logging.INFO)
    reader.read([b"a\n1\n"], "first.csv", {})
    rows = []
    named = [(path, Path(path).read_bytes) for path in sys.argv[1:]]
    for name, make in [*files(), *named]:
        data = make()
        began = time.perf_counter()
        for said in _opened(data, name, heard):
            took, memory = time.perf_counter() - began, heard.told.get("memory", 0) / 1e6
            rows.append((memory, took, name))
            print(f"{name:42.42} {len(data) / 1e6:8.2f} MB {took:6.2f} s {memory:6.0f} MB  {said[:140]}", flush=True)
            began = time.perf_counter()
    memory, _, hungry = max(rows)
    took, slow = max((took, name) for _, took, name in rows)
    print(f"{len({name for *_, name in rows})} files; longest {took:.1f} s ({slow});")
    print(f"most memory {memory:.0f} MB ({hungry}) of {bounds.MEMORY / 1e6:.0f}")


if __name__ == "__main__":
    main()
