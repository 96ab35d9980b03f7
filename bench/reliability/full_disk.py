"""A disk that fills up under a running server, and is emptied: python -m bench.reliability.full_disk SERVER FOLDER.

FOLDER is on the disk of the server's database, a small one of its own (a tmpfs will do), which is filled to its last
byte. Prints what is answered before, at the reserve, when it is full, and afterwards.
"""

import os
import shutil
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from bench.reliability.visitor import Answer, Visitor

TABLE = b"a,b\n" + b"".join(b"%d,%d.5\n" % (i % 97, i) for i in range(2_000))


def main() -> None:
    server, folder = sys.argv[1], Path(sys.argv[2])
    visitor = Visitor(server)
    visitor.sign_up()
    study = visitor.post("/api/studies", {"title": "Trial"}).said["id"]
    table = visitor.stored(study, "one.csv", TABLE)["table_id"]
    rng = np.random.default_rng()

    def read(fresh: bool = True) -> Answer:
        level = rng.uniform(0.5, 0.99) if fresh else 0.95
        return visitor.get(f"/api/tables/{table}/readings/spread?variable=b&level={level:.6f}")

    def decide() -> Answer:
        now = visitor.get(f"/api/tables/{table}")
        revision = now.said["revision"] if now.status == 200 else 0
        said = {"variables": ["a"], "changes": {"label": f"a {rng.integers(10**9)}"}, "revision": revision}
        return visitor.post(f"/api/tables/{table}/ledger/describe", said)

    def say(when: str) -> None:
        asked: dict[str, Callable[[], Answer]] = {
            "a reading that is kept": lambda: read(fresh=False), "a fresh reading": read, "a decision": decide,
            "a file": lambda: visitor.bring(study, "two.csv", TABLE), "the page": lambda: visitor.get("/"),
        }  # fmt: skip
        told = ", ".join(f"{name} {said.status}" for name, ask in asked.items() for said in [ask()])
        print(f"{when} ({shutil.disk_usage(folder).free / 1e6:.0f} MB free): {told}", flush=True)

    say("before")
    fill(folder / "filling", leave=100_000_000)
    say("at the reserve")
    fill(folder / "filling", leave=0)
    say("full")
    ends = time.monotonic() + 30
    while time.monotonic() < ends:  # so that whatever breaks, breaks
        decide()
        read()
    say("full for half a minute")
    (folder / "filling").unlink()
    began = time.monotonic()
    while decide().status != 200 and time.monotonic() < began + 120:
        time.sleep(0.2)
    print(f"decisions are taken again {time.monotonic() - began:.1f} s after there was room")
    say("afterwards")
    print(f"a table is stored: {visitor.stored(study, 'three.csv', TABLE * 400)['state']}")


def fill(path: Path, leave: int) -> None:
    with path.open("ab") as file:
        while (free := shutil.disk_usage(path.parent).free) > leave:
            try:
                file.write(bytes(min(free - leave, 1_000_000)))
                file.flush()
                os.fsync(file.fileno())
            except OSError:
                return


if __name__ == "__main__":
    main()
