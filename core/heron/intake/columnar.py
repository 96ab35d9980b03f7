"""Parquet and Arrow files: columns that come with their types."""

import io
import struct
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc
from pyarrow import parquet

from heron.errors import ReadError
from heron.formatting import fixed
from heron.intake.archive import MOST_UNPACKED
from heron.intake.found import Guess
from heron.intake.raw import Raw, storable_cells
from heron.intake.sniff import MOST_COLUMNS

MOST_CELLS = 200_000_000


def parse(data: bytes, name: str) -> Raw:
    """Return the columns of a Parquet or Arrow file as text that reads back to the same values."""
    try:
        table = _parquet(data) if name == "Parquet" else _arrow(data)
        table.validate(full=True)
        columns = [storable_cells(_text(table.column(i))) for i in range(table.num_columns)]
    except MemoryError:  # of which there may be more elsewhere
        raise
    except (pa.ArrowException, OSError, ValueError, struct.error, IndexError) as error:
        words = (str(error).splitlines() or [""])[0].rstrip(".")
        raise ReadError("broken-file", f"The file begins as {name} does, but cannot be read: {words}.") from error
    if not columns:
        raise ReadError("empty-file", "The file has no column.", remedy="Choose another file.")
    return Raw(columns, tuple(table.column_names), {"format": Guess(name, "its first bytes say so")})


def _parquet(data: bytes) -> pa.Table:
    """The table, its texts still as dictionaries, which take no more room than the file says of them."""
    source = parquet.ParquetFile(io.BytesIO(data))
    said = source.metadata
    _check_size(said.num_rows, said.num_columns)
    groups = (said.row_group(i) for i in range(said.num_row_groups))
    _check_bytes(sum(group.column(i).total_uncompressed_size for group in groups for i in range(group.num_columns)))
    texts = [field.name for field in source.schema_arrow if pa.types.is_string(field.type)]
    return parquet.ParquetFile(io.BytesIO(data), read_dictionary=texts).read()


def _arrow(data: bytes) -> pa.Table:
    """The table of an Arrow stream, or of a file, which is a stream behind its first eight bytes; what each message
    opens to is added up before it is opened."""
    stream = pa.py_buffer(data)
    if data.startswith(b"ARROW1"):
        stream = stream.slice(8)
    _check_bytes(sum(_unpacked(message) for message in pa.ipc.MessageReader.open_stream(stream)))
    batches, rows = [], 0
    with pa.ipc.open_stream(stream) as reader:
        for batch in reader:
            rows += batch.num_rows
            _check_size(rows, batch.num_columns)
            batches.append(batch)
        return pa.Table.from_batches(batches, reader.schema)


_DICTIONARY, _RECORDS = 2, 3  # kinds of messages, as the format numbers them


def _unpacked(message: pa.ipc.Message) -> int:
    """How many bytes the buffers of a message say that they open to."""
    head, body = bytes(message.metadata), message.body
    root = _number(head, 0, "<I")
    kind, at = _field(head, root, 1), _field(head, root, 2)
    if not kind or not at or head[kind] not in (_DICTIONARY, _RECORDS):
        return 0
    batch = at + _number(head, at, "<I")
    if head[kind] == _DICTIONARY:
        at = _field(head, batch, 1)
        batch = at + _number(head, at, "<I")
    buffers, packed = _field(head, batch, 2), _field(head, batch, 3)
    if not buffers or not packed:
        return len(body)
    listed = buffers + _number(head, buffers, "<I")
    total = 0
    for index in range(_number(head, listed, "<I")):
        start, length = struct.unpack_from("<qq", head, listed + 4 + 16 * index)
        if length >= 8:
            said = _number(body, start, "<q")
            total += length if said < 0 else said
    return total


def _field(head: bytes, table: int, slot: int) -> int:
    """Where a field of a FlatBuffers table stands; 0 where it is left out."""
    listed = table - _number(head, table, "<i")
    if 4 + 2 * slot >= _number(head, listed, "<H"):
        return 0
    offset = _number(head, listed + 4 + 2 * slot, "<H")
    return table + offset if offset else 0


def _number(data: Any, at: int, form: str) -> int:
    return int(struct.unpack_from(form, data, at)[0])


def _check_size(rows: int, columns: int) -> None:
    if columns > MOST_COLUMNS:
        raise ReadError("too-many-columns", f"The file has {columns} columns; at most {MOST_COLUMNS} are read.")
    if rows * columns > MOST_CELLS:
        raise ReadError("too-many-cells", f"The file has {rows * columns} cells; at most {MOST_CELLS} are read.")


def _check_bytes(size: int) -> None:
    if size > MOST_UNPACKED:
        raise ReadError(
            "too-large-inside",
            f"The file opens to {fixed(size / 1e9, 1)} GB; at most {fixed(MOST_UNPACKED / 1e9, 0)} GB is opened.",
            remedy="Save it in parts.",
        )


def _text(column: pa.ChunkedArray) -> pa.ChunkedArray:
    kind = column.type
    _check_bytes(sum(_written_out(chunk) for chunk in column.chunks))
    if pa.types.is_dictionary(kind):
        column = pc.cast(column, kind.value_type)
        kind = kind.value_type
    if pa.types.is_floating(kind):
        column = pc.cast(column, pa.float64())
    elif pa.types.is_timestamp(kind):
        # In universal time, whatever zone it names: no list of zones is looked up.
        moments = pc.cast(pc.cast(column, pa.int64()), pa.timestamp(kind.unit))
        column = pc.strftime(pc.cast(moments, pa.timestamp("s"), safe=False), "%Y-%m-%d %H:%M:%S")
    elif pa.types.is_nested(kind) or pa.types.is_binary(kind) or pa.types.is_large_binary(kind):
        return _spelled(column)
    try:
        return pc.fill_null(pc.cast(column, pa.string()), "")
    except pa.ArrowNotImplementedError:
        return _spelled(column)


def _written_out(array: pa.Array) -> int:
    """About how many bytes an array takes once each of its cells stands by itself."""
    kind = array.type
    if pa.types.is_dictionary(kind):
        sizes = _sizes(array.dictionary)
        return 0 if sizes is None else pc.sum(pc.take(sizes, array.indices)).as_py() or 0
    if pa.types.is_nested(kind):
        if not hasattr(array, "flatten"):  # a union, or runs of equal values
            return 100 * len(array) + int(array.get_total_buffer_size())
        parts = array.flatten()
        return 8 * len(array) + sum(map(_written_out, parts if isinstance(parts, list) else [parts]))
    sizes = _sizes(array)
    return 8 * len(array) if sizes is None else pc.sum(sizes).as_py() or 0


def _sizes(array: pa.Array) -> pa.Array | None:
    try:
        return pc.cast(pc.binary_length(array), pa.int64())
    except pa.ArrowNotImplementedError:
        return None


def _spelled(column: pa.ChunkedArray) -> pa.ChunkedArray:
    cells = ["" if cell is None else str(cell) for cell in column.to_pylist()]
    return pa.chunked_array([pa.array(cells, pa.string())])
