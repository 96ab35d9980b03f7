"""Readers of one table at once, by one web worker and by two: python -m bench.reliability.readers

One asks without pause, then fifty, then one and fifty every five seconds, and these once more beside eight uploads that
come as slowly as they may; each asks in turn what stages ask. Run it on a machine that is otherwise idle.
"""

import argparse
import json
import os
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from http.client import HTTPConnection
from pathlib import Path
from threading import Event, Thread
from urllib.parse import urlencode
from uuid import uuid4

import numpy as np
import psutil

ROOT = Path(__file__).resolve().parents[2]


def reader(port: int, cookie: str, table: str, pause: float, until: float) -> list[float]:
    """The seconds that each of a reader's questions took; each is a new one, so that no kept answer serves it."""
    connection = HTTPConnection("127.0.0.1", port, timeout=120)
    rng = np.random.default_rng()
    seconds = []
    time.sleep(pause * rng.random())  # they did not all come at once
    while time.monotonic() < until:
        level = 0.8 + 0.19 * rng.random()
        shape = {"kind": "shape", "table": table, "variable": "size", "level": level}
        pair = {"kind": "pair", "table": table, "x": "size", "y": "mass", "lines": ["least-squares"], "level": level}
        question = (
            f"figure?{urlencode({'panels': json.dumps([{'source': shape}])})}",
            f"readings/spread?variable=size&level={level}",
            f"readings/compare?variable=size&by=bed&level={level}",
            f"figure?{urlencode({'panels': json.dumps([{'source': pair}])})}",
        )[len(seconds) % 4]
        begun = time.monotonic()
        connection.request("GET", f"/api/tables/{table}/{question}", headers={"Cookie": f"sessionid={cookie}"})
        answer = connection.getresponse()
        body = answer.read()
        assert answer.status == 200, body
        seconds.append(time.monotonic() - begun)
        if pause:
            time.sleep(max(pause * (0.5 + rng.random()) - seconds[-1], 0))
    connection.close()
    return seconds


@contextmanager
def workers(count: int) -> Iterator[int]:
    """So many web workers on one socket; its port."""
    with socket.create_server(("127.0.0.1", 0), backlog=1024) as listening:
        command = [sys.executable, "-W", "ignore", "-m", "server.serving", "--inherited"]
        running = [subprocess.Popen(command, stdin=listening, cwd=ROOT, env=os.environ) for _ in range(count)]
        try:
            yield listening.getsockname()[1]
        finally:
            for process in running:
                process.terminate()
            for process in running:
                process.wait()


@contextmanager
def stalled_uploads(port: int, cookie: str, count: int) -> Iterator[None]:
    """So many uploads that send a little every second, and never end; one that is cut off begins anew."""
    ended = Event()

    def send() -> None:
        head = f"POST /api/studies/{uuid4()}/uploads HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: sessionid={cookie}\r\n"
        while not ended.is_set():
            with suppress(OSError), socket.create_connection(("127.0.0.1", port)) as connection:
                connection.sendall(f"{head}Content-Type: text/csv\r\nContent-Length: 100000000\r\n\r\n".encode())
                while not ended.wait(1):
                    connection.sendall(bytes(1_000))

    senders = [Thread(target=send) for _ in range(count)]
    for sender in senders:
        sender.start()
    try:
        yield
    finally:
        ended.set()
        for sender in senders:
            sender.join()


def read(port: int, cookie: str, table: str, readers: int, pause: float, seconds: float) -> tuple[float, float, float]:
    """Readings a second, and the median and 95 % point of what one takes."""
    until = time.monotonic() + seconds
    with ThreadPoolExecutor(readers) as pool:
        asked = [pool.submit(reader, port, cookie, table, pause, until) for _ in range(readers)]
    took = np.concatenate([one.result() for one in asked])
    return took.size / seconds, float(np.median(took)), float(np.quantile(took, 0.95))


def main() -> None:
    said = argparse.ArgumentParser(description="Readers of one table at once, by one web worker and by two.")
    said.add_argument("--seconds", type=float, default=20)
    said.add_argument("--until", type=int, help="ask by two workers alone, 50 readers every 5 s, then 100, to so many")
    asked = said.parse_args()
    seconds = asked.seconds
    os.environ |= {"HERON_DB_NAME": "heron_bench", "HERON_SECURE": "0"}
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    from bench.database import prepared

    with prepared():
        cookie, table = a_reader_with_a_table()
        if asked.until:
            more_and_more(cookie, table, asked.until, seconds)
            return
        for count in (1, 2):
            with workers(count) as port:
                read(port, cookie, table, 8 * count, 0, 12)  # each thread has its first questions behind it
                for readers, pause, uploads in ((1, 0.0, 0), (50, 0.0, 0), (1, 5.0, 0), (50, 5.0, 0), (50, 5.0, 8)):
                    with stalled_uploads(port, cookie, uploads):
                        rate, middle, late = read(port, cookie, table, readers, pause, seconds)
                    pausing = f"every {pause:g} s" if pause else "without pause"
                    beside = f" beside {uploads} stalled uploads" if uploads else ""
                    print(
                        f"{count} worker{'s' if count > 1 else ''}, {readers} asking {pausing}{beside}: "
                        f"{rate:.1f} readings/s, median {middle:.2f} s, 95 % {late:.2f} s",
                        flush=True,
                    )


def more_and_more(cookie: str, table: str, most: int, seconds: float) -> None:
    """How many may work at once before one waits, and what the two workers hold of memory by then."""
    with workers(2) as port:
        read(port, cookie, table, 16, 0, 12)
        for readers in range(50, most + 1, 50):
            rate, middle, late = read(port, cookie, table, readers, 5, seconds)
            held = [
                process.memory_info().rss / 2**20
                for process in psutil.Process().children()
                if "server.serving" in process.cmdline()
            ]
            print(
                f"{readers} asking every 5 s: {rate:.1f} readings/s, median {middle:.2f} s, 95 % {late:.2f} s; "
                f"workers hold {' and '.join(f'{each:.0f}' for each in held)} MB",
                flush=True,
            )


def a_reader_with_a_table() -> tuple[str, str]:
    """Their cookie, and the table: 100,000 rows in three groups."""
    from django.conf import settings
    from django.test import Client

    from server.accounts.models import User
    from server.server_tests.cases import stored

    user = User.objects.create(username="reader")
    client = Client()
    client.force_login(user)
    rng = np.random.default_rng(3)
    sizes = rng.lognormal(2, 0.7, 100_000)
    masses = sizes**1.5 * rng.lognormal(0, 0.2, sizes.size)
    lines = (
        f"{'abc'[i % 3]},{size:.3f},{mass:.3f}\n" for i, (size, mass) in enumerate(zip(sizes, masses, strict=True))
    )
    table = stored(user, f"bed,size,mass\n{''.join(lines)}")
    return client.cookies[settings.SESSION_COOKIE_NAME].value, str(table.pk)


if __name__ == "__main__":
    main()
