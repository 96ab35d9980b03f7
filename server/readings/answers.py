"""Answers made of the core's typed results: their schemas, and the envelope in which long arrays travel.

An envelope is a little-endian 32-bit header length, the header (JSON), and the arrays, each on a multiple of 8 bytes.
In the header an array stands as {"dtype", "offset", "length"}, the offset counted from the first multiple of 8 behind
the header.
"""

import dataclasses
import json
import math
import struct
from collections.abc import Callable, Sequence
from functools import cache
from typing import Any, Literal, TypeVar, Union, get_args, get_origin, get_type_hints

import numpy as np
from heron.checks import Floats, Ints
from ninja import Schema
from pydantic import BaseModel, create_model

Answer = TypeVar("Answer")


class Array(Schema):
    """A long array in an envelope: where it stands behind the header."""

    dtype: Literal["float64", "int32"]
    offset: int
    length: int


@cache
def schema_of(result: type, arrays: type = Array) -> type[BaseModel]:
    """The schema of a core dataclass; its numpy arrays become `arrays` (Array, or list[float | None] when short)."""
    hints = get_type_hints(result)
    fields: dict[str, Any] = {
        field.name: (_translated(hints[field.name], arrays), ...) for field in dataclasses.fields(result)
    }
    name = result.__name__ if arrays is Array else f"Short{result.__name__}"
    return create_model(name, __base__=Schema, **fields)


def _translated(annotation: Any, arrays: type) -> Any:
    if annotation == Floats or (annotation == Ints and arrays is Array):
        return arrays
    if annotation == Ints:
        return list[int]
    if dataclasses.is_dataclass(annotation):
        return schema_of(annotation, arrays)  # type: ignore[arg-type]
    origin = get_origin(annotation)
    if origin in (tuple, list):
        return list[_translated(get_args(annotation)[0], arrays)]  # type: ignore[misc]
    if origin is not None and str(origin).endswith("UnionType'>"):
        return Union[tuple(_translated(part, arrays) for part in get_args(annotation))]  # noqa: UP007
    return annotation


def plain(value: Any) -> Any:
    """A result as JSON can hold it: NaN and infinity as null, short arrays as lists."""
    if isinstance(value, np.ndarray):
        return [plain(item) for item in value.tolist()]
    if isinstance(value, float):
        return value if math.isfinite(value) else None
    if isinstance(value, dict):
        return {key: plain(item) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [plain(item) for item in value]
    if isinstance(value, BaseModel):
        return plain(dict(value))
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return {field.name: plain(getattr(value, field.name)) for field in dataclasses.fields(value)}
    return value


def envelope(answer: Any) -> bytes:
    """The answer with every numpy array taken out of the JSON and laid behind it."""
    parts: list[bytes] = []
    offset = 0

    def lay(value: Any) -> Any:
        nonlocal offset
        if isinstance(value, np.ndarray):
            dtype = "int32" if value.dtype.kind in "iu" else "float64"
            data = np.ascontiguousarray(value, dtype="<i4" if dtype == "int32" else "<f8").tobytes()
            entry = {"dtype": dtype, "offset": offset, "length": value.size}
            padding = -len(data) % 8
            parts.append(data + bytes(padding))
            offset += len(data) + padding
            return entry
        if isinstance(value, dict):
            return {key: lay(item) for key, item in value.items()}
        if isinstance(value, list | tuple):
            return [lay(item) for item in value]
        if dataclasses.is_dataclass(value) and not isinstance(value, type):
            return {field.name: lay(getattr(value, field.name)) for field in dataclasses.fields(value)}
        return plain(value)

    header = json.dumps(lay(answer), allow_nan=False).encode()
    return b"".join((struct.pack("<I", len(header)), header, bytes(-(4 + len(header)) % 8), *parts))


def reread(body: bytes, read: Callable[[Any], Any]) -> bytes:
    """An envelope whose answer is read as something else, on the same arrays."""
    (length,) = struct.unpack_from("<I", body)
    arrays = body[-(-(4 + length) // 8) * 8 :]
    header = json.dumps(read(json.loads(body[4 : 4 + length]))).encode()
    return b"".join((struct.pack("<I", len(header)), header, bytes(-(4 + len(header)) % 8), arrays))


def unwrapped(body: bytes, result: type[Answer], name: str) -> list[Answer]:
    """The dataclasses that stand in a list of an envelope, under a name."""
    (length,) = struct.unpack_from("<I", body)
    start = -(-(4 + length) // 8) * 8

    def read(value: Any, hint: Any) -> Any:
        if isinstance(value, dict) and set(value) == {"dtype", "offset", "length"}:
            kind = "<i4" if value["dtype"] == "int32" else "<f8"
            return np.frombuffer(body, kind, value["length"], start + value["offset"])
        if dataclasses.is_dataclass(hint) and isinstance(value, dict):
            hints = get_type_hints(hint)
            fields = {field.name: read(value[field.name], hints[field.name]) for field in dataclasses.fields(hint)}
            return hint(**fields)  # type: ignore[operator]
        if isinstance(value, list):
            inner = next((part for part in get_args(hint) if part is not Ellipsis), None)
            return tuple(read(item, inner) for item in value)
        return value

    said = json.loads(body[4 : 4 + length])
    return [read(value, result) for value in said[name]]


def completed(said: dict[str, Any], result: type) -> dict[str, Any]:
    """A dataclass in an envelope of an earlier version, with fields that it lacked as they usually are."""
    hints = get_type_hints(result)
    return {**said, **{field.name: _completed(said, field, hints[field.name]) for field in dataclasses.fields(result)}}


def _completed(said: dict[str, Any], field: dataclasses.Field[Any], hint: Any) -> Any:
    if field.name not in said:
        return {"dtype": "float64", "offset": 0, "length": 0} if hint in (Floats, Ints) else plain(field.default)
    value = said[field.name]
    if dataclasses.is_dataclass(hint) and isinstance(value, dict):
        return completed(value, hint)  # type: ignore[arg-type]
    inner = (get_args(hint) or (None,))[0]
    if dataclasses.is_dataclass(inner) and isinstance(value, list):
        return [completed(item, inner) for item in value]  # type: ignore[arg-type]
    return value


def is_envelope(body: bytes, names: Sequence[str]) -> bool:
    """Whether bytes are an envelope whose answer has these names, with every array within it."""
    try:
        (length,) = struct.unpack_from("<I", body)
        answer = json.loads(body[4 : 4 + length])
    except (struct.error, ValueError, RecursionError):
        return False
    start = -(-(4 + length) // 8) * 8
    room = len(body) - start

    def fits(value: Any) -> bool:
        if isinstance(value, list):
            return all(map(fits, value))
        if not isinstance(value, dict):
            return True
        if set(value) != {"dtype", "offset", "length"}:
            return all(map(fits, value.values()))
        size = {"int32": 4, "float64": 8}.get(str(value["dtype"]), 0)
        at, n = value["offset"], value["length"]
        whole = isinstance(at, int) and isinstance(n, int) and at >= 0 and n >= 0 and at % size == 0 if size else False
        return whole and at + n * size <= room

    return isinstance(answer, dict) and sorted(answer) == sorted(names) and fits(answer)
