"""Records of parts as bytes, so that they can be kept: what is plain as JSON, arrays behind it as they are."""

import json
import struct
from dataclasses import fields, is_dataclass
from typing import Any

import numpy as np

from heron.audit import ColumnFacts
from heron.chunked.audited import PartAudit
from heron.chunked.counts import Nodes, Outlying
from heron.chunked.far import Far
from heron.chunked.flagged import Flagged
from heron.chunked.influence import Felt, Rows, Triangle
from heron.chunked.lines import Left
from heron.chunked.order import Bins
from heron.chunked.paging import Hits, KeyRanges, Standing
from heron.chunked.pairs import PairSums
from heron.chunked.rows import Listed
from heron.chunked.sequence import InRows, Run
from heron.chunked.thick import Lowest
from heron.chunked.values import Basis, Distinct, End
from heron.influence import RowSums
from heron.ledger import Used
from heron.moments import Moments

_KINDS = (
    Basis,
    Bins,
    ColumnFacts,
    Distinct,
    End,
    Far,
    Felt,
    Flagged,
    Hits,
    InRows,
    KeyRanges,
    Left,
    Listed,
    Lowest,
    Moments,
    Nodes,
    Outlying,
    PartAudit,
    PairSums,
    RowSums,
    Rows,
    Run,
    Standing,
    Triangle,
    Used,
)
_RECORDS: dict[str, type] = {kind.__name__: kind for kind in _KINDS}
_LENGTH = struct.Struct("<Q")


def pack(record: Any) -> bytes:
    """A record as bytes."""
    arrays: list[bytes] = []
    plain = json.dumps(_plain(record, arrays), separators=(",", ":")).encode()
    return b"".join((_LENGTH.pack(len(plain)), plain, *arrays))


def unpack(data: bytes) -> Any:
    """The record that `pack` wrote."""
    (length,) = _LENGTH.unpack_from(data)
    begin = _LENGTH.size + length
    return _record(json.loads(data[_LENGTH.size : begin]), memoryview(data)[begin:], [0])


def _plain(value: Any, arrays: list[bytes]) -> Any:
    if isinstance(value, np.ndarray):
        arrays.append(value.tobytes())
        return {"array": value.dtype.str, "size": value.size}
    if is_dataclass(value):
        return {type(value).__name__: [_plain(getattr(value, field.name), arrays) for field in fields(value)]}
    if isinstance(value, dict):
        return {"counts": value}
    if isinstance(value, tuple):
        return {"tuple": [_plain(each, arrays) for each in value]}
    return value.item() if isinstance(value, np.generic) else value


def _record(plain: Any, data: memoryview, begin: list[int]) -> Any:
    if not isinstance(plain, dict):
        return plain
    if "array" in plain:
        dtype = np.dtype(plain["array"])
        array = np.frombuffer(data, dtype, plain["size"], begin[0])
        begin[0] += array.nbytes
        return array
    if "tuple" in plain:
        return tuple(_record(each, data, begin) for each in plain["tuple"])
    if "counts" in plain:
        return plain["counts"]
    ((name, values),) = plain.items()
    return _RECORDS[name](*[_record(value, data, begin) for value in values])
