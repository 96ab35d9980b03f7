"""Import of a large file, from bytes in the database to a stored table."""

import io

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow_csv

from bench.timing import best


def a_file(rows: int) -> bytes:
    rng = np.random.default_rng(2)
    columns = {f"measure_{i} (mm)": np.round(rng.lognormal(3, 0.4, rows), 3) for i in range(6)}
    columns |= {"eggs": rng.poisson(4, rows), "vigour": rng.integers(1, 6, rows), "score": rng.normal(size=rows)}
    columns["bed"] = rng.choice(["north", "south", "east"], rows)
    sink = io.BytesIO()
    arrow_csv.write_csv(pa.table(columns), sink)
    return sink.getvalue()


def a_million_rows(line) -> None:
    from server.accounts.models import User
    from server.studies import services
    from server.studies.models import Job

    data = a_file(1_000_000)
    bare = best(lambda: arrow_csv.read_csv(pa.BufferReader(data)), times=3)
    user = User.objects.create(username="importer")
    study = services.create_study(user, "Import")

    def one() -> None:
        jobs: list[Job] = []
        pieces = [data[i : i + 1_000_000] for i in range(0, len(data), 1_000_000)]
        upload = services.bring_in(user, study, "large.csv", pieces, print).upload
        services.start_storing(user, upload, "large", {}, jobs.append)
        started.append(jobs[0])

    started: list[Job] = []
    for _ in range(2):
        one()
    ours = best(lambda: services.run_storing(started.pop()), times=2)
    assert Job.objects.filter(state="done").count() == 2
    line("import of a 1,000,000 x 10 CSV / pyarrow.csv.read_csv of it", ours, bare, most=4)
