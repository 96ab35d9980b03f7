"""Fuzzing, led by coverage, of what reads people's texts: python -m bench.reliability.fuzz TARGET SECONDS FOLDER.

Needs atheris besides what the core needs. What it finds is kept in FOLDER, a file each.
"""

import io
import json
import sys
import zipfile
from pathlib import Path

import atheris

with atheris.instrument_imports(include=["heron"]):
    from heron import intake
    from heron.errors import HeronError
    from heron.intake.dates import read_dates
    from heron.rescale import evaluate, parse

MOST = 3_000  # bytes of a text
TABLE = intake.read(b"a,b,c,d\n1,-2,x,2026-01-02\n,3,y,2026-02-03\n4,0,,\n", "a.csv").table
WORDS = [
    "resources", "path", "a.csv", "name", "title", "schema", "fields", "missingValues", "categories", "value", "type",
    "decimalChar", "dialect", "delimiter", "header", "kind", "unit", "safe", "velvet-heron", "study", "ledger", "",
]  # fmt: skip
SEEDS = {
    "delimited": [b"a,b\n1,2\n", b'a;b\n"1,5";x\n', b"a\tb (mm)\n1e5\tNA\n", b"# c\n1 2 3\n4 5 6\n", b"a\n<0.5\n2\n"],
    "json": [b'[{"a": 1}, {"b": [2]}]', b'{"a": [1, 2], "b": ["x", "y"]}', b'{"a": 1}\n{"a": NaN}\n'],
    "dates": [b"2026-01-02T03:04:05Z", b"2.1.2026", b"1 Feb 2026 3 pm", b"Feb 3, 2026\n04/05/2026 12:00"],
    "expressions": [b"(a + b) / 2", b"log(a) - sqrt(b)^2", b"a = b * 1e-3", b"abs(-a) + 3%"],
    "package": [bytes(range(200)), bytes(range(255, 0, -1))],
}


def delimited(data: bytes) -> None:
    intake.read(data, "a.csv")


def records(data: bytes) -> None:
    intake.read(data, "a.json")


def dates(data: bytes) -> None:
    texts = data.decode(errors="replace").split("\n")
    for order in (None, "day-first", "month-first"):
        read_dates(texts, order)


def expressions(data: bytes) -> None:
    found = parse(data.decode(errors="replace"))
    evaluate(found, TABLE.columns, TABLE.n_rows)


def package(data: bytes) -> None:
    said = atheris.FuzzedDataProvider(data)
    described = said.PickValueInList([_any(said, 4), {"resources": [_any(said, 4), {"path": "a.csv", **_of(said, 4)}]}])
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w") as archive:
        archive.writestr("datapackage.json", json.dumps(described))
        archive.writestr("a.csv", b"a,b\n1,2\n3,4\n")
    whole = sink.getvalue()
    intake.study_in_package(whole)
    for name in intake.tables_in_package(whole)[:20]:
        intake.read(whole, "a.zip", sheet=name)


def _any(said: atheris.FuzzedDataProvider, depth: int) -> object:
    """A value as JSON has them, of the words that packages are made of."""
    simple = [None, True, said.ConsumeInt(4), said.ConsumeFloat(), said.ConsumeUnicodeNoSurrogates(5), *WORDS]
    if depth == 0 or said.ConsumeBool():
        return said.PickValueInList(simple)
    return [_any(said, depth - 1)] * said.ConsumeIntInRange(0, 3) if said.ConsumeBool() else _of(said, depth - 1)


def _of(said: atheris.FuzzedDataProvider, depth: int) -> dict[str, object]:
    return {said.PickValueInList(WORDS): _any(said, depth) for _ in range(said.ConsumeIntInRange(0, 4))}


TARGETS = {"delimited": delimited, "json": records, "dates": dates, "expressions": expressions, "package": package}


def main() -> None:
    name, seconds, folder = sys.argv[1:]
    seeds = Path(folder, f"{name}-seeds")
    seeds.mkdir(parents=True, exist_ok=True)
    for number, seed in enumerate(SEEDS[name]):
        (seeds / str(number)).write_bytes(seed)

    def one(data: bytes) -> None:
        try:
            TARGETS[name](data)
        except HeronError as error:
            json.dumps([error.problem, error.remedy])

    options = [f"-max_total_time={seconds}", f"-artifact_prefix={folder}/{name}-", f"-max_len={MOST}", "-timeout=20"]
    atheris.Setup([sys.argv[0], *options, "-rss_limit_mb=3000", "-print_final_stats=1", str(seeds)], one)
    atheris.Fuzz()


if __name__ == "__main__":
    main()
