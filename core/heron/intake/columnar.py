"""Parquet and Arrow files: columns that come with their types."""

import io

import pyarrow as pa
import pyarrow.compute as pc
from pyarrow import parquet

from heron.errors import ReadError
from heron.intake.found import Guess
from heron.intake.raw import Raw
from heron.intake.sniff import MOST_COLUMNS

MOST_CELLS = 200_000_000


def parse(data: bytes, name: str) -> Raw:
    """Return the columns of a Parquet or Arrow file as text that reads back to the same values."""
    try:
        if name == "Parquet":
            source = parquet.ParquetFile(io.BytesIO(data))
            _check_size(source.metadata.num_rows, len(source.schema_arrow.names))
            table = source.read()
        else:
            opened = pa.ipc.open_file(data) if data.startswith(b"ARROW1") else pa.ipc.open_stream(data)
            table = opened.read_all()
            _check_size(table.num_rows, table.num_columns)
    except (pa.ArrowException, OSError, ValueError) as error:
        if isinstance(error, ReadError):
            raise
        words = str(error).splitlines()[0].rstrip(".")
        raise ReadError("broken-file", f"The file begins as {name} does, but cannot be read: {words}.") from error
    columns = [_text(table.column(i)) for i in range(table.num_columns)]
    if not columns:
        raise ReadError("empty-file", "The file has no column.", remedy="Choose another file.")
    return Raw(columns, tuple(table.column_names), {"format": Guess(name, "its first bytes say so")})


def _check_size(rows: int, columns: int) -> None:
    if columns > MOST_COLUMNS:
        raise ReadError("too-many-columns", f"The file has {columns} columns; at most {MOST_COLUMNS} are read.")
    if rows * columns > MOST_CELLS:
        raise ReadError("too-many-cells", f"The file has {rows * columns} cells; at most {MOST_CELLS} are read.")


def _text(column: pa.ChunkedArray) -> pa.ChunkedArray:
    kind = column.type
    if pa.types.is_dictionary(kind):
        column = pc.cast(column, kind.value_type)
        kind = kind.value_type
    if pa.types.is_floating(kind):
        column = pc.cast(column, pa.float64())
    elif pa.types.is_timestamp(kind):
        column = pc.strftime(pc.cast(column, pa.timestamp("s"), safe=False), "%Y-%m-%d %H:%M:%S")
    elif pa.types.is_nested(kind) or pa.types.is_binary(kind) or pa.types.is_large_binary(kind):
        return _spelled(column)
    try:
        return pc.fill_null(pc.cast(column, pa.string()), "")
    except pa.ArrowNotImplementedError:
        return _spelled(column)


def _spelled(column: pa.ChunkedArray) -> pa.ChunkedArray:
    cells = ["" if cell is None else str(cell) for cell in column.to_pylist()]
    return pa.chunked_array([pa.array(cells, pa.string())])
