"""The memory of one web worker over many random readings: python -m bench.reliability.memory [READINGS]"""

import os
import subprocess
import sys
from http.client import HTTPConnection
from urllib.parse import urlencode

import numpy as np

from bench.reliability.readers import a_reader_with_a_table, workers

EACH = 500


def main() -> None:
    wanted = int(sys.argv[1]) if len(sys.argv) > 1 else 10_000
    os.environ |= {"HERON_DB_NAME": "heron_bench", "HERON_SECURE": "0"}
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    from bench.database import prepared

    with prepared():
        cookie, table = a_reader_with_a_table()
        with workers(1) as port:
            connection = HTTPConnection("127.0.0.1", port, timeout=120)
            rng = np.random.default_rng(4)
            held = []
            for done in range(1, wanted + 1):
                connection.request(
                    "GET", f"/api/tables/{table}/{question(rng)}", headers={"Cookie": f"sessionid={cookie}"}
                )
                answer = connection.getresponse()
                body = answer.read()
                assert answer.status in (200, 422), body[:300]
                if done % EACH == 0:
                    held.append(own_memory(port))
                    print(f"{done} readings: {held[-1]:.0f} MB", flush=True)
    first, last = held[min(2_000 // EACH, len(held)) - 1], held[-1]
    print(f"after the first 2,000: {first:.0f} MB, at the end {last:.0f} MB, {100 * (last / first - 1):+.1f} %")


def question(rng: np.random.Generator) -> str:
    """One of what stages ask, each time another."""
    variable, level = rng.choice(["size", "mass"]), f"{rng.uniform(0.5, 0.99):.6f}"
    named: dict[str, dict[str, str]] = {
        "spread": {"variable": variable, "level": level},
        "density": {"variable": variable, "bandwidth": f"{rng.uniform(0.05, 3):.4f}"},
        "classes": {"variable": variable, "count": str(rng.integers(2, 200))},
        "normality": {"variable": variable, "level": level},
        "intervals": {"variable": variable, "level": level},
        "split": {"variable": variable, "by": "bed", "level": level},
        "compare": {"variable": variable, "by": "bed", "level": level},
    }
    name = rng.choice(list(named))
    return f"readings/{name}?{urlencode(named[name])}"


def own_memory(port: int) -> float:
    """Megabytes of the worker that are its own: it is the one child that listens."""
    listed = subprocess.run(
        ["ps", "--ppid", str(os.getpid()), "-o", "pid=,args="], capture_output=True, text=True, check=True
    )
    (worker,) = [line.split()[0] for line in listed.stdout.splitlines() if "server.serving" in line]
    with open(f"/proc/{worker}/smaps_rollup") as file:
        private = [int(line.split()[1]) for line in file if line.startswith(("Private_Dirty", "Private_Clean"))]
    return sum(private) / 1e3


if __name__ == "__main__":
    main()
