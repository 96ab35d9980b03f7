"""Tables as they come back from the reader: numbers and labels as Arrow in one file, the rest as JSON behind them."""

import io
import json
from collections.abc import Iterable, Sequence
from dataclasses import asdict
from typing import IO, Any

import pyarrow as pa
from heron.columns import Column, Table
from heron.intake import Guess, Intake, Problem, Remedy

_ARRAYS = ("numbers", "codes", "reasons", "limits")
_ALIGNED = 64
Place = tuple[int, int]  # where something begins in a parcel, and its size


class Packing(io.RawIOBase):
    """A parcel while it is packed: parts one behind the other, and at last the header that says where they stand."""

    def __init__(self, file: IO[bytes]) -> None:
        self._file = file
        self._at = 0

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self._file.write(data)
        self._at += len(data)
        return len(data)

    def put(self, data: bytes) -> Place:
        begin = self._begin()
        self.write(data)
        return begin, len(data)

    def arrays(self, **arrays: Any) -> Place:
        """Arrays of one length, as an Arrow stream of one batch, written as they are made."""
        begin = self._begin()
        batch = pa.record_batch(list(arrays.values()), names=list(arrays))
        with pa.ipc.new_stream(self, batch.schema) as stream:
            stream.write_batch(batch)
        return begin, self._at - begin

    def _begin(self) -> int:
        self.write(bytes(-self._at % _ALIGNED))
        return self._at

    def end(self, header: object) -> Place:
        place = self.put(json.dumps(header).encode())
        self._file.flush()
        return place


class Parcel:
    """A parcel that came: its parts by their places, and its header."""

    def __init__(self, data: Any, header: Place) -> None:
        self._data = memoryview(data)
        self.header: Any = json.loads(self.part(header))

    def part(self, place: Sequence[int]) -> bytes:
        begin, size = place
        return bytes(self._data[begin : begin + size])

    def arrays(self, place: Sequence[int]) -> dict[str, pa.Array]:
        begin, size = place
        with pa.ipc.open_stream(pa.py_buffer(self._data[begin : begin + size])) as stream:
            batch = stream.read_next_batch()
        return dict(zip(batch.schema.names, batch.columns, strict=True))


def pack_intakes(packing: Packing, intakes: Iterable[Intake]) -> list[dict[str, Any]]:
    """What a header says of intakes, whose columns go into the parcel."""
    return [
        {
            "table": _pack_table(packing, read.table),
            "beside": [_pack_table(packing, table) for table in read.beside],
            "found": {name: asdict(guess) for name, guess in read.found.items()},
            "problems": [asdict(problem) for problem in read.problems],
            "n": read.n,
            "n_missing": read.n_missing,
        }
        for read in intakes
    ]


def unpack_intake(parcel: Parcel, said: dict[str, Any]) -> Intake:
    return Intake(
        _unpack_table(parcel, said["table"]),
        {name: Guess(**guess) for name, guess in said["found"].items()},
        tuple(_problem(problem) for problem in said["problems"]),
        said["n"],
        said["n_missing"],
        tuple(_unpack_table(parcel, table) for table in said["beside"]),
    )


def _problem(said: dict[str, Any]) -> Problem:
    remedies = tuple(Remedy(**remedy) for remedy in said.pop("remedies"))
    return Problem(**{**said, "rows": tuple(said["rows"])}, remedies=remedies)


def _pack_table(packing: Packing, table: Table) -> dict[str, Any]:
    columns = []
    for column in table.columns.values():
        arrays = {name: values for name in _ARRAYS if (values := getattr(column, name)) is not None}
        columns.append({
            "symbol": column.symbol, "label": column.label, "unit": column.unit, "kind": column.kind,
            "decimals": column.decimals, "missing_codes": column.missing_codes, "level_numbers": column.level_numbers,
            "arrays": packing.arrays(**{name: pa.array(values) for name, values in arrays.items()}),
            "levels": packing.arrays(levels=pa.array(column.levels, pa.string())),
        })  # fmt: skip
    return {"name": table.name, "n_rows": table.n_rows, "columns": columns}


def _unpack_table(parcel: Parcel, said: dict[str, Any]) -> Table:
    columns = [_column(parcel, column) for column in said["columns"]]
    return Table(said["name"], said["n_rows"], {column.symbol: column for column in columns})


def _column(parcel: Parcel, said: dict[str, Any]) -> Column:
    arrays = {name: array.to_numpy() for name, array in parcel.arrays(said.pop("arrays")).items()}
    levels = tuple(parcel.arrays(said.pop("levels"))["levels"].to_pylist())
    for name in ("missing_codes", "level_numbers"):
        said[name] = tuple(said[name])
    values: dict[str, Any] = {name: arrays.get(name) for name in _ARRAYS}
    return Column(**said, levels=levels, **values)
