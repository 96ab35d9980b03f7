"""Files of any length, read twice: once for what their columns are, and once for their rows, part by part.

No more of a file is held than a few blocks. Kinds, levels and words for missing are found on the whole file.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from pyarrow import csv, parquet

from heron.checks import Floats
from heron.columns import Column, Kind, Table
from heron.errors import ReadError
from heron.formatting import counted
from heron.intake.formats import format_of
from heron.intake.long import NUMBER
from heron.intake.missing import TOKENS
from heron.intake.names import label_and_unit, symbols
from heron.intake.reader import read

MOST_LEVELS = 1_000
MOST_WORDS = 65_536  # different texts of a variable; one of more is left out
_ROWS = 131_072  # of a batch
_HEAD = 4_000_000
_MOST_DECIMALS = 10
_ISO = r"^\d{4}-\d{2}-\d{2}([ T]\d{2}:\d{2}(:\d{2}(\.\d+)?)?)?$"
_INFINITE = "infinite"
_NO_NUMBER = "nan"


@dataclass(frozen=True)
class FoundColumn:
    """What a column is, as the whole file says. levels: its different texts, the most frequent kinds of words first
    sorted; codes: the words that mean missing."""

    place: int
    symbol: str
    label: str
    unit: str
    kind: Kind
    levels: tuple[str, ...]
    codes: tuple[str, ...]
    decimals: int | None


@dataclass(frozen=True)
class LongFile:
    """A file that was read once. notes: what was left out, and why."""

    path: Path
    n_rows: int
    columns: tuple[FoundColumn, ...]
    notes: tuple[str, ...]
    decimal: str = "."
    delimiter: str = ","

    def rows(self, bounds: Sequence[int], start: int = 0) -> Iterator[Table]:
        """The table's parts from a part on, between ascending bounds."""
        waiting: list[pa.RecordBatch] = []
        held, number, passed = 0, start, 0
        for batch in _batches(self.path, self.delimiter):
            before, passed = passed, passed + batch.num_rows
            if passed <= bounds[start]:
                continue
            batch = batch.slice(max(bounds[start] - before, 0))
            while number < len(bounds) - 1 and held + batch.num_rows >= (size := bounds[number + 1] - bounds[number]):
                waiting.append(batch.slice(0, size - held))
                yield self._table(waiting, size)
                batch, waiting, held, number = batch.slice(size - held), [], 0, number + 1
            waiting.append(batch)
            held += batch.num_rows

    def _table(self, batches: list[pa.RecordBatch], n_rows: int) -> Table:
        whole = pa.Table.from_batches(batches)
        columns = {found.symbol: _column(found, whole.column(found.place), self.decimal) for found in self.columns}
        return Table(self.path.stem, n_rows, columns)


def look_through(path: Path, on_progress: Callable[[float], None] = lambda share: None) -> LongFile:
    """Read a Parquet, Arrow or delimited file once, for what its columns are.

    Parameters: on_progress, told the share that was read; what it raises ends the reading.
    Raises: ReadError for another format, a head of several lines, or a file that is broken.
    """
    decimal, delimiter = _layout(path)
    finders: list[_Finder] = []
    n_rows = 0
    try:
        for batch in _batches(path, delimiter, on_progress):
            if not finders:
                finders = [_Finder(name, decimal) for name in batch.schema.names]
            for finder, array in zip(finders, batch.columns, strict=True):
                finder.take(array)
            n_rows += batch.num_rows
    except (pa.ArrowException, OSError) as error:
        words = (str(error).splitlines() or [""])[0].rstrip(".")
        raise ReadError("broken-file", f"{path.name} cannot be read: {words}.") from error
    if not n_rows:
        raise ReadError("empty-file", f"{path.name} has no row.", remedy="Choose another file.")
    named = [label_and_unit(finder.name) for finder in finders]
    safe = symbols([label for label, _ in named])
    columns, notes = [], []
    for place, (finder, (label, unit), symbol) in enumerate(zip(finders, named, safe, strict=True)):
        found = finder.found(place, symbol, label, unit)
        if found is None:
            notes.append(f"{label} was left out: it holds more than {counted(MOST_WORDS, 'different text')}.")
        else:
            columns.append(found)
    if not columns:
        raise ReadError("no-columns", f"{path.name} has no column that can be read.", remedy=" ".join(notes))
    return LongFile(path, n_rows, tuple(columns), tuple(notes), decimal, delimiter)


def _layout(path: Path) -> tuple[str, str]:
    """The decimal sign and the delimiter of a delimited file, from its beginning."""
    with path.open("rb") as file:
        head = file.read(_HEAD)
    kind = format_of(head, path.name)
    if kind in ("Parquet", "Arrow"):
        return ".", ","
    if kind != "delimited text":
        raise ReadError(
            "not-in-parts", f"{path.name} is {kind}, which is not read part by part.",
            remedy="Bring it in as Parquet, Arrow or delimited text.",
        )  # fmt: skip
    whole = head[: head.rindex(b"\n") + 1] if b"\n" in head and len(head) == _HEAD else head
    found = read(whole, path.name).found
    plain = found["header"].value == "names" and not found["above"].value if "above" in found else True
    if not plain or found["encoding"].value != "utf-8":
        raise ReadError(
            "not-in-parts", f"{path.name} does not begin with one line of names in UTF-8.",
            remedy="Save it so, or bring in a part of it.",
        )  # fmt: skip
    return str(found["decimal"].value), str(found["delimiter"].value or ",")


def _batches(
    path: Path, delimiter: str, on_progress: Callable[[float], None] = lambda share: None
) -> Iterator[pa.RecordBatch]:
    with path.open("rb") as file:
        kind = format_of(file.read(_HEAD), path.name)
    with pa.memory_map(str(path)) as source:
        if kind == "Parquet":
            said = parquet.ParquetFile(source)
            total, done = max(said.metadata.num_rows, 1), 0
            for batch in said.iter_batches(_ROWS):
                done += batch.num_rows
                on_progress(done / total)
                yield batch
        elif kind == "Arrow":
            magic = source.read(6) == b"ARROW1"
            source.seek(0)
            reader = pa.ipc.open_file(source) if magic else pa.ipc.open_stream(source)
            every = (reader.get_batch(i) for i in range(reader.num_record_batches)) if magic else iter(reader)
            for number, batch in enumerate(every, 1):
                on_progress(number / reader.num_record_batches if magic else source.tell() / source.size())
                for first in range(0, batch.num_rows, _ROWS):
                    yield batch.slice(first, _ROWS)
        else:
            parse = csv.ParseOptions(delimiter=delimiter, newlines_in_values=True)
            names = csv.open_csv(path, parse_options=parse).schema.names
            for batch in csv.open_csv(
                source,
                read_options=csv.ReadOptions(block_size=2**23),
                parse_options=parse,
                convert_options=csv.ConvertOptions(
                    column_types=dict.fromkeys(names, pa.string()), strings_can_be_null=False
                ),
            ):
                on_progress(source.tell() / source.size())
                yield batch


def _as_text(array: Any) -> Any:
    if pa.types.is_dictionary(array.type):
        array = array.dictionary_decode() if isinstance(array, pa.Array) else array.cast(array.type.value_type)
    return pc.utf8_trim_whitespace(pc.fill_null(array.cast(pa.string()), ""))


def _is_plain(kind: pa.DataType) -> bool:
    return bool(pa.types.is_integer(kind) or pa.types.is_floating(kind) or pa.types.is_decimal(kind))


def _is_time(kind: pa.DataType) -> bool:
    return bool(pa.types.is_timestamp(kind) or pa.types.is_date(kind))


@dataclass
class _Finder:
    """What is known of a column so far."""

    name: str
    decimal: str
    numbers: int = 0
    dates: int = 0
    whole: bool = True
    low: float = np.inf
    decimals: int = 0
    infinite: bool = False
    no_numbers: bool = False  # that are no number, though they are there
    words: dict[str, None] = field(default_factory=dict)  # that are neither numbers nor dates
    texts: dict[str, None] | None = field(default_factory=dict)

    def take(self, array: pa.Array) -> None:
        if _is_plain(array.type):
            values = _floats(array)
            self.no_numbers = self.no_numbers or int(np.isnan(values).sum()) > array.null_count
            self._take_numbers(values)
        elif _is_time(array.type):
            self.dates += len(array) - array.null_count
        else:
            self._take_text(_as_text(array))

    def _take_numbers(self, values: Floats) -> None:
        known = values[np.isfinite(values)]
        self.infinite = self.infinite or bool(np.isinf(values).any())
        self.numbers += known.size
        if known.size == 0:
            return
        self.low = min(self.low, float(known.min()))
        while self.decimals < _MOST_DECIMALS and not _in_steps(known, self.decimals):
            self.decimals += 1
        self.whole = self.decimals == 0

    def _take_text(self, text: pa.Array) -> None:
        text = text.filter(pc.not_equal(text, ""))
        if len(text) == 0:
            return
        if self.texts is not None:
            self.texts |= dict.fromkeys(pc.unique(text).to_pylist()) if self._few(text) else {}
            if len(self.texts) > MOST_WORDS:
                self.texts = None
        plain = pc.replace_substring(text, ",", ".") if self.decimal == "," else text
        is_number, is_date = (pc.match_substring_regex(plain, pattern) for pattern in (NUMBER, _ISO))
        if (n_dates := pc.sum(is_date).as_py() or 0) > 0:
            self.dates += n_dates
        if pc.any(is_number).as_py():
            self._take_numbers(_floats(pc.cast(plain.filter(is_number), pa.float64())))
        others = text.filter(pc.invert(pc.or_(is_number, is_date)))
        if len(others) and len(self.words) <= MOST_LEVELS:
            self.words |= dict.fromkeys(pc.unique(others).to_pylist())

    def _few(self, text: pa.Array) -> bool:
        """Whether texts are worth to be told apart: not of a column of numbers that went beyond all levels."""
        return self.texts is not None and not (len(self.texts) > MOST_LEVELS and not self.words)

    def found(self, place: int, symbol: str, label: str, unit: str) -> FoundColumn | None:
        codes = tuple(word for word in self.words if word.lower() in TOKENS)
        strange = len(self.words) > len(codes)
        if self.numbers and not self.dates and not strange:
            kind: Kind = "count" if self.whole and self.low >= 0 else "continuous"
            ours = (_NO_NUMBER, self.no_numbers), (_INFINITE, self.infinite)
            known = ("blank", *codes, *(code for code, seen in ours if seen and code not in codes))
            return FoundColumn(place, symbol, label, unit, kind, (), known, self.decimals)
        if self.dates and not self.numbers and not strange:
            return FoundColumn(place, symbol, label, unit, "date-time", (), ("blank", *codes), None)
        if self.texts is None:
            return None
        levels = tuple(sorted(self.texts)) or ("false", "true")
        kind = "category" if len(levels) <= MOST_LEVELS else "text"
        return FoundColumn(place, symbol, label, unit, kind, levels if self.texts else (), ("blank",), None)


def _in_steps(values: Floats, decimals: int) -> bool:
    with np.errstate(over="ignore", invalid="ignore"):
        steps = values * 10.0**decimals
        return bool(np.all(np.abs(steps - np.rint(steps)) < 1e-6 * np.maximum(1.0, np.abs(steps) * 1e-6)))


def _floats(array: Any) -> Floats:
    """Numbers, NaN where there is none."""
    if pa.types.is_decimal(array.type):
        array = array.cast(pa.float64())
    values = array.to_numpy() if isinstance(array, pa.ChunkedArray) else array.to_numpy(zero_copy_only=False)
    return np.asarray(values, dtype=np.float64)


def _column(found: FoundColumn, given: pa.ChunkedArray, decimal: str) -> Column:
    n = len(given)
    reasons = np.zeros(n, dtype=np.uint8)
    if found.kind in ("continuous", "count") and _is_plain(given.type):
        values = _floats(given).copy()
        endless = np.isinf(values)
        if _NO_NUMBER in found.codes:
            reasons[np.isnan(values)] = found.codes.index(_NO_NUMBER) + 1
        reasons[np.asarray(given.is_null().to_numpy(), dtype=bool)] = 1
        if endless.any():
            reasons[endless] = found.codes.index(_INFINITE) + 1
            values[endless] = np.nan
        return _made(found, values, None, reasons)
    if found.kind == "date-time" and _is_time(given.type):
        return _made(found, _seconds(given.cast(pa.timestamp("ms"), safe=False)), None, _blank(given))
    text = _as_text(given).combine_chunks()
    if found.kind in ("continuous", "count", "date-time"):
        plain = pc.replace_substring(text, ",", ".") if decimal == "," and found.kind != "date-time" else text
        known = pc.match_substring_regex(plain, _ISO if found.kind == "date-time" else NUMBER)
        why = pc.index_in(text, pa.array(["", *found.codes[1:]])).fill_null(0).to_numpy(zero_copy_only=False)
        numeric = np.asarray(known.to_numpy(zero_copy_only=False), dtype=bool)
        reasons = np.where(numeric, 0, why + 1).astype(np.uint8)
        kept = pc.if_else(known, plain, pa.scalar(None, pa.string()))
        if found.kind == "date-time":
            return _made(found, _seconds(kept.cast(pa.timestamp("ms"))), None, reasons)
        return _made(found, _floats(kept.cast(pa.float64())), None, reasons)
    codes = pc.index_in(text, pa.array(list(found.levels), pa.string())).fill_null(-1)
    held = codes.to_numpy(zero_copy_only=False).astype(np.int32)
    return _made(found, None, held, (held < 0).astype(np.uint8))


def _seconds(times: Any) -> Floats:
    stamps = times.to_numpy() if isinstance(times, pa.ChunkedArray) else times.to_numpy(zero_copy_only=False)
    whole = stamps.astype("datetime64[ms]").astype(np.int64)
    return np.where(np.isnat(stamps), np.nan, whole / 1000)


def _blank(given: pa.ChunkedArray) -> Any:
    return np.asarray(given.is_null().to_numpy(), dtype=np.uint8)


def _made(found: FoundColumn, numbers: Floats | None, codes: Any, reasons: Any) -> Column:
    return Column(
        found.symbol, found.label, found.unit, found.kind, numbers, codes, found.levels, reasons, found.codes,
        found.decimals,
    )  # fmt: skip
