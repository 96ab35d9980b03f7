"""A hundred kills at random moments under work: python -m bench.reliability.kills SERVER VAR [KILLS].

VAR is the folder of the running ./start. Somebody decides, reads and stores tables without pause; every few seconds a
web worker, the job worker, a backend of the database, the database itself or a reader is killed. What was acknowledged
must be there at the end, once; how long the service takes to be back is told by kind.
"""

import os
import random
import signal
import statistics
import sys
import time
from collections import Counter
from contextlib import suppress
from pathlib import Path
from threading import Event, Thread
from typing import Any

from bench.reliability.visitor import Answer, Visitor

SMALL = b"a,b\n" + b"".join(b"%d,%d.5\n" % (i % 97, i) for i in range(2_000))
LARGE = b"a,b\n" + b"".join(b"%d,%d.5\n" % (i % 97, i) for i in range(600_000))
KINDS = ("web", "jobs", "backend", "database", "reader")


def processes(kind: str, var: Path) -> list[int]:
    """The processes of a kind, of this run and no other."""
    words = {
        "web": "server.serving", "jobs": "procrastinate", "backend": "postgres: heron heron", "database": str(var),
        "reader": "server.reader",
    }[kind]  # fmt: skip
    database = int((var / "postgres/data/postmaster.pid").read_text().split()[0])
    supervisor = int((var / "supervisor.pid").read_text())
    if kind == "database":
        return [database]
    return [pid for pid, line in _lines() if words in line and {database, supervisor} & set(_above(pid))]


def _lines() -> list[tuple[int, str]]:
    found = []
    for folder in Path("/proc").glob("[0-9]*"):
        with suppress(OSError):
            found.append((int(folder.name), (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode()))
    return found


def _above(pid: int) -> list[int]:
    above = []
    with suppress(OSError):
        while pid > 1:
            above.append(pid)
            pid = int(Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[1])
    return above


class Work:
    """Decisions, readings and tables, one after the other, for as long as nobody ends it."""

    def __init__(self, visitor: Visitor) -> None:
        self.visitor = visitor
        self.study = visitor.post("/api/studies", {"title": "Kills"}).said["id"]
        self.table = visitor.stored(self.study, "one.csv", SMALL)["table_id"]
        self.ended = Event()
        self.acknowledged: list[int] = []
        self.jobs: list[str] = []
        self.odd: list[tuple[int, bytes]] = []

    def decide(self, number: int) -> bool:
        now = self.visitor.get(f"/api/tables/{self.table}")
        if now.status != 200:
            self._look(now)
            return False
        said = {"variables": ["a"], "changes": {"label": f"label {number}"}, "revision": now.said["revision"]}
        answer = self.visitor.post(f"/api/tables/{self.table}/ledger/describe", said)
        self._look(answer)
        if answer.status == 200:
            self.acknowledged.append(number)
        return answer.status == 200

    def read(self) -> bool:
        level = random.uniform(0.5, 0.99)
        answer = self.visitor.get(f"/api/tables/{self.table}/readings/spread?variable=b&level={level}")
        self._look(answer)
        return answer.status == 200

    def entries(self) -> list[dict[str, Any]]:
        """All entries of the ledger, the last first."""
        found: list[dict[str, Any]] = []
        while not found or found[-1]["number"] > 1:
            before = f"?before={found[-1]['number']}" if found else ""
            found += reversed(self.visitor.get(f"/api/tables/{self.table}/ledger{before}").said["entries"])
        return found

    def _look(self, answer: Answer) -> None:
        if answer.status not in (0, 200, 202, 409, 503):
            self.odd.append((answer.status, answer.body[:200]))

    def store(self, visitor: Visitor) -> None:
        while not self.ended.is_set():
            with suppress(AssertionError, KeyError, ValueError):
                looked = visitor.bring(self.study, "large.csv", LARGE)
                self._look(looked)
                name = {"name": "large", "choices": {}}
                job = visitor.post(f"/api/uploads/{looked.said['upload_id']}/store", name).said
                self.jobs.append(job["id"])
            self.ended.wait(6)


def main() -> None:
    server, var = sys.argv[1], Path(sys.argv[2])
    kills = int(sys.argv[3]) if len(sys.argv) > 3 else 100
    rng = random.Random(7)
    work = Work(signed_up(server))
    Thread(target=work.store, args=(work.visitor.twin(),), daemon=True).start()
    back: dict[str, list[float]] = {kind: [] for kind in KINDS}
    number = 0
    for turn in range(kills):
        ends = time.monotonic() + rng.uniform(0.5, 3)
        while time.monotonic() < ends:
            number += 1
            work.decide(number)
            work.read()
        kind = KINDS[turn % len(KINDS)]
        there = processes(kind, var)
        if not there:
            print(f"no {kind} to kill", flush=True)
            continue
        os.kill(rng.choice(there), signal.SIGKILL)
        began = time.monotonic()
        good = 0
        while good < 2 and time.monotonic() < began + 90:
            number += 1
            good = good + 1 if work.decide(number) and work.read() else 0
            time.sleep(0.05)
        back[kind].append(time.monotonic() - began)
    work.ended.set()
    time.sleep(100)  # so that jobs that were broken off are taken up
    tell(work, back)


def signed_up(server: str) -> Visitor:
    visitor = Visitor(server)
    visitor.sign_up()
    return visitor


def tell(work: Work, back: dict[str, list[float]]) -> None:
    for kind, seconds in back.items():
        print(
            f"{kind}: {len(seconds)} kills, back in {statistics.median(seconds):.1f} s, at worst {max(seconds):.1f} s"
        )
    everything = [second for seconds in back.values() for second in seconds]
    print(f"all: {len(everything)}, median {statistics.median(everything):.1f} s, worst {max(everything):.1f} s")
    entries = work.entries()
    said = Counter(entry["said"].rpartition(": label ")[2] for entry in entries)
    lost = [number for number in work.acknowledged if said[f"label {number}"] != 1]
    whole = [entry["number"] for entry in entries] == list(range(len(entries), 0, -1))
    print(f"{len(work.acknowledged)} decisions acknowledged, {len(entries)} entries, numbered without a gap: {whole}")
    print(f"acknowledged and not there once: {len(lost)}")
    states = Counter(work.visitor.get(f"/api/jobs/{job}").said["state"] for job in work.jobs)
    print(f"jobs: {dict(states)}; odd answers: {work.odd[:5]}")


if __name__ == "__main__":
    main()
