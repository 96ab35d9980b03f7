"""Long tables: the same answers, importing, first looks, growth, memory: python -m bench.scale [ROWS]

ROWS: of the table that is looked at, 100,000,000 unless said; that which is imported has a fifth of them.
"""

import os
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
from pyarrow import parquet

from bench.timing import line

ROOT = Path(__file__).parents[1]
ROWS = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000_000
_PART = 1_048_576


def timed(work: Any) -> float:
    begun = time.perf_counter()
    work()
    return time.perf_counter() - begun


def a_file(path: Path, rows: int) -> None:
    rng = np.random.default_rng(2)
    writer = None
    for first in range(0, rows, _PART):
        n = min(_PART, rows - first)
        table = pa.table({
            "time (s)": np.arange(first, first + n), "mass (g)": np.round(rng.normal(50, 10, n), 3),
            "load": rng.normal(size=n), "eggs": rng.poisson(4, n), "flow": rng.lognormal(size=n),
            "bed": pa.array(rng.choice(["north", "south", "east"], n)),
        })  # fmt: skip
        writer = writer or parquet.ParquetWriter(path, table.schema)
        writer.write_table(table)
    assert writer is not None
    writer.close()


def read_and_written_again(path: Path, out: Path) -> None:
    file = parquet.ParquetFile(path)
    options = pa.ipc.IpcWriteOptions(compression="zstd")
    with pa.OSFile(str(out), "wb") as sink, pa.ipc.new_stream(sink, file.schema_arrow, options=options) as writer:
        for batch in file.iter_batches(131_072):
            writer.write_batch(batch)


def importing(study: Any, user: Any) -> None:
    from django.conf import settings

    from server.studies import services

    rows = ROWS // 5
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "beds.parquet"
        a_file(path, rows)
        bare = timed(lambda: read_and_written_again(path, Path(folder) / "out.arrows"))
        settings.INBOX = folder
        job = services.begin_from_inbox(user, study, path.name, "Beds", lambda job: None)
        ours = timed(lambda: services.run_from_inbox(job))
        job.refresh_from_db()
        assert job.state == "done", job.problem
    line(f"import of {rows:,} x 6 / pyarrow, read and written again", ours, bare, most=4)


def simulated(study: Any, user: Any, rows: int, *, second: bool = False) -> Any:
    from server.ledger import making
    from server.studies.models import Job, Table

    options = {
        "variable": {"name": "size", "distribution": "normal", "parameters": {"mean": 50, "SD": 10}},
        "groups": [{"name": "", "n": rows, "parameters": {}}], "second": None, "correlation": 0, "decimals": 6,
        "seed": 1,
        **({
            "groups": [{"name": name, "n": rows // 2, "parameters": {}} for name in ("north", "south")],
            "second": {"name": "mass", "distribution": "log-normal", "parameters": {}}, "correlation": 0.6,
        } if second else {}),
    }  # fmt: skip
    job = Job.objects.create(study=study, author=user, name="Many", choices=options, purpose=Job.Purpose.MAKE)
    making.run_making(job)
    job.refresh_from_db()
    return Table.objects.get(pk=job.table_id)


def first_look(table: Any, *, fresh: bool) -> float:
    """The numbers of the variable; fresh: nothing of it was kept."""
    from heron.readings import spread
    from heron.readings.subject import numbers_of

    from server.caching import forget_everything
    from server.studies.models import PartRecord
    from server.studies.snapshots import TableSnapshot

    if fresh:
        PartRecord.objects.filter(table=table).exclude(key__startswith="sample").delete()
    forget_everything()
    variable = TableSnapshot.of(table).variable("size")
    numbers = numbers_of(variable)
    return timed(lambda: spread.numbers_with(variable, numbers, spread.BoxSettings(), 0.95))


def bare_numbers(rows: int) -> float:
    rng = np.random.default_rng(1)
    values = np.concatenate([rng.normal(50, 10, min(_PART, rows - first)) for first in range(0, rows, _PART)])
    return timed(lambda: (values.mean(), values.std(), np.partition(values, [rows // 4, rows // 2, 3 * rows // 4])))


@contextmanager
def two_workers() -> Iterator[None]:
    """Two workers of a cluster on this machine."""
    from django.conf import settings

    lending = [sys.executable, "-W", "ignore", "-m", "server.lending"]
    environment = {**os.environ, "PYTHONPATH": f"{ROOT}:{ROOT / 'core'}"}
    ours: list[subprocess.Popen[str]] = []

    def lent(*said: str) -> str:
        process = subprocess.Popen([*lending, *said], cwd=ROOT, env=environment, stdout=subprocess.PIPE, text=True)
        ours.append(process)
        assert process.stdout
        return process.stdout.readline().split()[-1]

    try:
        settings.CLUSTER = lent("--schedule", "tcp://127.0.0.1:0")
        for _ in range(2):
            lent("--scheduler", settings.CLUSTER, "--threads", "1")
        yield
    finally:
        settings.CLUSTER = ""
        for process in ours:
            process.terminate()


def on_workers(table: Any, bare: float) -> None:
    """The same by two workers."""
    with two_workers():
        first_look(table, fresh=True)  # each worker has loaded what it needs
        line(
            f"numbers of {table.n_rows:,}, two workers / numpy in memory", first_look(table, fresh=True), bare, most=2.4
        )


def statistics(table: Any) -> dict[str, float]:
    """What is told of the variable, of its levels and of its pairs, by name, as it is worked anew."""
    from heron.readings import groups, pairs, spread
    from heron.readings.cancellation import Cancellation
    from heron.readings.influence import RelationSettings, fit_of_all
    from heron.readings.normality import judged
    from heron.readings.subject import numbers_of

    from server.caching import forget_everything
    from server.studies.models import PartRecord
    from server.studies.snapshots import TableSnapshot

    PartRecord.objects.filter(table=table).exclude(key__startswith="sample").delete()
    forget_everything()
    snapshot = TableSnapshot.of(table)
    size, mass, group = (snapshot.variable(symbol) for symbol in ("size", "mass", "group"))
    result: dict[str, float] = {}
    for variable in (size, mass):
        told = asdict(spread.numbers_with(variable, numbers_of(variable), spread.BoxSettings(), 0.95))
        result |= {f"{variable.symbol} {name}": value for name, value in told.items() if isinstance(value, float)}
    check = asdict(judged(size, 0.95, Cancellation())[0].check)
    result |= {name: check[name] for name in ("skewness", "kurtosis")}
    result |= {f"{name} statistic": check[name]["statistic"] for name in ("dagostino_pearson", "jarque_bera")}
    asked = groups.CompareSettings(
        group, None, "median", "percentiles", 0.95, False, (5.0, 95.0), 0.1, None, "none", False
    )  # fmt: skip
    for told_of in groups.groups_reading(mass, asked, Cancellation()).groups:
        centred = asdict(told_of.centred)
        result |= {f"{told_of.label} {name}": value for name, value in centred.items() if isinstance(value, float)}
    found = pairs.correlated(size, mass, None, 0.95, Cancellation()).groups[0].found
    for name in ("estimate", "low", "high"):
        result[f"Pearson {name}"] = getattr(found.pearson, name)
    fit = fit_of_all(snapshot, RelationSettings("mass", ("size", "group")))
    for name in ("coefficients", "se", "robust_se"):
        result |= {f"{name} {term}": value for term, value in zip(fit.names, getattr(fit, name).tolist(), strict=True)}
    return result | {"residual SD": fit.sigma, "R squared": fit.r_squared or 0.0}


def same_answers(study: Any, user: Any) -> None:
    """The same statistics in memory, by threads over parts, and by two workers."""
    from django.conf import settings

    rows = min(5_000_000, ROWS)
    table = simulated(study, user, rows, second=True)
    usual, settings.LARGE_ROWS = settings.LARGE_ROWS, 10**9
    held = statistics(table)
    settings.LARGE_ROWS = min(usual, rows // 2)
    ways = {"threads": statistics(table)}
    with two_workers():
        ways["two workers"] = statistics(table)
    settings.LARGE_ROWS = usual
    for way, told in ways.items():
        off = max(abs(told[name] - value) / (abs(value) or 1.0) for name, value in held.items())
        print(f"{len(held)} statistics of {rows:,} rows by {way}: within {off:.1g} of those in memory (at most 1e-12)")
    table.delete()


def main() -> None:
    from server.accounts.models import User
    from server.studies import services

    user = User.objects.create(username="long")
    study = services.create_study(user, "Long")
    same_answers(study, user)
    importing(study, user)
    print(f"peak memory of importing: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB", flush=True)
    for rows in [rows for rows in (1_000_000, 3_000_000, 10_000_000, 30_000_000) if rows < ROWS]:
        table = simulated(study, user, rows)
        print(f"numbers of {rows:,}: {1000 * first_look(table, fresh=True):.0f} ms", flush=True)
        table.delete()
    table = simulated(study, user, ROWS)
    fresh, kept = first_look(table, fresh=True), first_look(table, fresh=False)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"numbers of {ROWS:,}: {1000 * fresh:.0f} ms; {1000 * kept:.0f} ms from what was kept", flush=True)
    print(f"peak memory until then: {peak:.0f} MB", flush=True)
    bare = bare_numbers(ROWS)
    line(f"numbers of {ROWS:,}, one process / numpy in memory", fresh, bare, most=4)
    on_workers(table, bare)


if __name__ == "__main__":
    os.environ["HERON_DB_NAME"] = "heron_bench"
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    from bench.database import prepared

    with prepared():
        main()
