"""Code that reads a table's file by pandas and repeats what was decided on it; where pandas reads it otherwise than it
was read, the core reads it in the script too."""

import io
from collections.abc import Mapping
from typing import Any

import numpy as np
import pandas as pd

from heron import intake
from heron.columns import Column
from heron.errors import HeronError
from heron.routine import words_of
from heron.script import frames
from heron.script.code import comment, runs
from heron.script.spec import TableSpec
from heron.variables import SHAPING

_ENCODINGS = {"utf-8": "utf-8-sig", "utf-16": "utf-16", "latin-1": "latin-1", "windows-1252": "cp1252"}
_DAYS = ("%d.%m.%Y", "%d/%m/%Y", "%m/%d/%Y", "%d-%m-%Y", "%m-%d-%Y", "%Y/%m/%d", "%d %b %Y", "%d-%b-%Y")
_CLOCKS = ("", " %H:%M", " %H:%M:%S")
_MAKERS = {
    "longer": "rearranging.longer({0}, {sets!r}, marks={marks!r}, mark_name={mark_name!r})",
    "wider": "rearranging.wider({0}, keys={keys!r}, mark={mark!r}, values={values!r})",
    "split": "rearranging.split({0}, {variable!r}, at={at!r}, names={names!r})",
    "join": "rearranging.join({0}, {variables!r}, between={between!r}, name={name!r})",
    "stack": "rearranging.stack([{all}], name={name!r})",
    "look-up": "rearranging.look_up({0}, {1}, key={key!r}, other_key={other_key!r}, symbols={symbols!r})",
}


def code(table: TableSpec, names: Mapping[str, tuple[str, str]]) -> list[str]:
    """The lines that make a table's frame. names: the frame and the name of each table, by its key."""
    head = ["", f"# {'-' * 100}", *comment(f"Table: {table.name}")]
    if not table.path:
        return [*head, *_made(table, names), *_decided(table, cells=False)]
    head += comment(f"From {table.path}, SHA-256 {table.digest}.")
    reading = _reading(table)
    if reading is None:
        head += comment("pandas reads this file otherwise than it was read; the core reads it as it did.")
        choices = "".join(f", {name}={value!r}" for name, value in table.choices.items())
        head += [f"read = intake.read(HERE / {table.path!r}{choices}).table"]
        return [*head, *_replayed(table, "read")]
    return [*head, *reading, *_decided(table, cells=True)]


def _replayed(table: TableSpec, read: str) -> list[str]:
    """All decisions taken by the core at once."""
    lines = ["decisions = ["]
    limits = table.choices.get("below_limits") or {}
    if isinstance(limits, Mapping) and limits:
        said = {symbol: {"below_limit": treatment} for symbol, treatment in limits.items()}
        lines += ["    # What stands for values below a limit, as it was chosen when the file was read"]
        lines.append(f"    ledger.Decision(0, 'describe', changes={said!r}),")
    for step in table.steps:
        reason = f": {step.reason}" if step.reason else ""
        lines += [f"    {line}" for line in comment(f"{words_of(step, {})}{reason}")]
        lines.append(
            f"    ledger.Decision({step.number}, {step.kind!r}, {tuple(step.rows)!r}, {step.variable!r}, 0, {dict(step.changes)!r}),"
        )
    return [*lines, "]", f"{table.python} = frame_of(ledger.replay(decisions, {read}))"]


def _made(table: TableSpec, names: Mapping[str, tuple[str, str]]) -> list[str]:
    how, options = table.origin["how"], table.origin["options"]
    if how == "simulated":
        groups = ", ".join(f"simulation.Group(**{dict(group)!r})" for group in options["groups"])
        second = f"simulation.Simulated(**{dict(options['second'])!r})" if options.get("second") else "None"
        return [
            f"made = simulation.simulate(simulation.Simulated(**{dict(options['variable'])!r}), [{groups}],",
            f"                           seed={options['seed']!r}, second={second},",
            f"                           correlation={options['correlation']!r}, decimals={options['decimals']!r})",
            f"{table.python} = frame_of(made)",
        ]
    of = [f"table({names[key][0]}, {names[key][1]!r})" for key in table.origin["of"]]
    if how == "part":
        parts = [{**each, "levels": tuple(each.get("levels") or ())} for each in options["conditions"]]
        conditions = ", ".join(f"rearranging.Condition(**{each!r})" for each in parts)
        made = f"rearranging.subset({of[0]}, [{conditions}], symbols={options['symbols']!r})"
    else:
        made = _MAKERS[how].format(*of, all=", ".join(of), **options)
    return [f"{table.python} = frame_of({made}.table)"]


def _reading(table: TableSpec) -> list[str] | None:
    """Lines that read the file by pandas, and type its columns; None where that gives other values than were read."""
    try:
        read = intake.read(table.data, table.path.rsplit("/", 1)[-1], **table.choices)
    except HeronError:
        return None
    symbols = list(read.table)
    how = _call(read, symbols)
    if how is None or any(problem.code == "unlike-lines" for problem in read.problems):
        return None
    function, settings = how
    try:
        cells = getattr(pd, function)(io.BytesIO(table.data), **settings)
        cells.columns = symbols
        if function != "read_csv":
            cells = frames.as_text(cells)
        cells.index = pd.RangeIndex(1, len(cells) + 1)
        if len(cells) != read.table.n_rows:
            return None
        corrected = {s: own for s, own in table.state.corrected.items() if s in symbols}
        for symbol, own in corrected.items():
            cells[symbol] = cells[symbol].astype(object)
            cells.loc[list(own), symbol] = list(own.values())
            cells[symbol] = cells[symbol].astype(str)
        typed = {symbol: _typing(table, symbol, read.found) for symbol in symbols}
        for symbol, (name, given) in typed.items():
            if name == "as_times":
                given |= _written(cells[symbol], given, table.columns[symbol])
            if not _same(getattr(frames, name)(cells[symbol], **given), table.columns[symbol]):
                return None
    except (ValueError, KeyError, TypeError, UnicodeError, ImportError):
        return None
    said = ", ".join(f"{name}={value!r}" for name, value in settings.items())
    lines = [f"cells = pd.{function}(HERE / {table.path!r}, {said})", f"cells.columns = {symbols!r}"]
    lines += ["cells = as_text(cells)"] if function != "read_csv" else []
    lines += ["cells.index = range(1, len(cells) + 1)  # rows keep their number"]
    for step in table.steps:
        if step.kind == "correct":
            reason = f": {step.reason}" if step.reason else ""
            lines += comment(f"Step {step.number} {words_of(step, {})}{reason}")
            for symbol, own in step.changes.items():
                for row, cell in own.items():
                    lines.append(
                        f"cells.loc[{int(row)}, {symbol!r}] = {str(cell['new'])!r}  # it was {str(cell['old'])!r}"
                    )
    lines.append(f"{table.python} = pd.DataFrame({{")
    for symbol, (name, given) in typed.items():
        settled = "".join(f", {key}={value!r}" for key, value in given.items())
        lines.append(f"    {symbol!r}: {name}(cells[{symbol!r}]{settled}),")
    lines.append("})")
    lines.append(f"{table.python}.attrs['said'] = {{")
    lines += [f"    {symbol!r}: {frames.said_of(table.columns[symbol])!r}," for symbol in symbols]
    return [*lines, "}"]


def _call(read: intake.Intake, symbols: list[str]) -> tuple[str, dict[str, Any]] | None:
    """The function of pandas that reads such a file, with its settings."""
    found = {name: guess.value for name, guess in read.found.items()}
    form, unused = str(found["format"]), found.get("blank_columns", [])
    used = [i for i in range(len(symbols) + len(unused)) if i + 1 not in unused]
    if form == "delimited text":
        header = found["header"]
        if found["delimiter"] in ("", " ") or found["comments"] or header not in ("names", "none"):
            return None
        return "read_csv", {
            "sep": found["delimiter"], "encoding": _ENCODINGS.get(str(found["encoding"]), "utf-8"), "dtype": "str",
            "keep_default_na": False, "header": 0 if header == "names" else None, "index_col": False,
            **({"skiprows": found["above"]} if found["above"] else {}), **({"usecols": used} if unused else {}),
        }  # fmt: skip
    if form == "Parquet":
        return "read_parquet", {}
    if form.startswith("workbook") and found.get("header") in ("names", "none"):
        block = found.get("block")
        if not isinstance(block, list):
            return None
        first, last, left = (int(each) for each in block[:3])
        return "read_excel", {
            "sheet_name": found["sheet"], "engine": "calamine", "dtype": "object", "header": None,
            "skiprows": first - 1 + (found["header"] == "names"), "nrows": last - first + (found["header"] == "none"),
            "usecols": [left - 1 + i for i in used], "keep_default_na": False,
        }  # fmt: skip
    return None


def _typing(table: TableSpec, symbol: str, found: Mapping[str, Any]) -> tuple[str, dict[str, Any]]:
    """Which function types a column, with its settings."""
    column, said = table.columns[symbol], table.state.description(symbol)
    missing = [code for code in column.missing_codes if code not in ("blank", "set aside")]
    given: dict[str, Any] = {"missing": missing} if missing else {}
    if column.kind == "date-time":
        return "as_times", given
    if column.numbers is not None:
        decimal = found["decimal"].value if "decimal" in found else "."
        given |= {"decimal": decimal} if decimal != "." else {}
        if said.get("below_limit") in ("limit", "half"):
            given["below"] = said["below_limit"]
            given["missing"] = [code for code in missing if not code.startswith("<")]
        if said.get("detection_limit") is not None:
            given["detection_limit"] = said["detection_limit"]
        return "as_numbers", given
    words = {old: new for old, new in said.get("level_labels", {}).items() if new and new != old}
    given |= {"words": words} if words else {}
    if list(column.levels) != sorted(column.levels):
        given["levels"] = list(column.levels)
    return "as_labels", ({**given, "ordered": True} if column.kind == "ordered" else given)


def _written(cells: "pd.Series[str]", given: Mapping[str, Any], expected: Column) -> dict[str, str]:
    """How times are written, where it is one way and not that of ISO 8601."""
    for written in ("ISO8601", *(day + clock for day in _DAYS for clock in _CLOCKS)):
        try:
            if _same(frames.as_times(cells, **given, written=written), expected):
                return {"written": written} if written != "ISO8601" else {}
        except ValueError:
            continue
    return {}


def _same(series: "pd.Series[Any]", expected: Column) -> bool:
    """Whether a typed series is the column, bit for bit."""
    if expected.codes is not None:
        if not isinstance(series.dtype, pd.CategoricalDtype):
            return False
        names = np.array([*map(str, series.cat.categories), None], dtype=object)[series.cat.codes.to_numpy()]
        return tuple(map(str, series.cat.categories)) == expected.levels and bool(
            np.array_equal(names, expected.values)
        )
    frame = pd.DataFrame({"x": series})
    numbers = frames.column(frame, "x").numbers
    if numbers is None or expected.numbers is None:
        return False
    return bool(np.array_equal(numbers, expected.numbers, equal_nan=True))


def _decided(table: TableSpec, *, cells: bool) -> list[str]:
    """The steps in their order, and the variables that follow. cells: whether corrections were taken before."""
    frame, lines = table.python, []
    if not cells and any(step.kind in ("correct", "describe") for step in table.steps):
        return _replayed(table, f"table({frame}, {table.name!r})")
    aside: list[str] = []
    for step in table.steps:
        reason = f": {step.reason}" if step.reason else ""
        if step.kind != "correct":
            lines += comment(f"Step {step.number} {words_of(step, {})}{reason}")
        if step.kind in ("set-aside", "put-back"):
            if not aside:
                lines.append('aside = {}  # by variable; whole rows under ""')
            if step.variable not in aside:
                aside.append(step.variable)
                lines.append(f"aside[{step.variable!r}] = set()")
            sign = "|=" if step.kind == "set-aside" else "-="
            lines.append(f"aside[{step.variable!r}] {sign} set({runs(step.rows)})")
    for symbol in aside:
        if symbol not in table.state.derived:
            where = f"sorted(aside[{symbol!r}])" + (f", {symbol!r}" if symbol else "")
            lines.append(f"{frame}.loc[{where}] = None")
    for symbol, recipe in table.state.derived.items():
        lines.append(f"{frame}[{symbol!r}] = {_followed(table, symbol, recipe)}")
        if symbol in aside:
            lines.append(f"{frame}.loc[sorted(aside[{symbol!r}]), {symbol!r}] = None")
        column = table.columns[symbol]
        if table.state.description(symbol).keys() & SHAPING:
            lines.append(f"{frame}[{symbol!r}] = described({frame}, {symbol!r}, {table.state.description(symbol)!r})")
        lines.append(f"{frame}.attrs['said'][{symbol!r}] = {frames.said_of(column)!r}")
    return lines


def _followed(table: TableSpec, symbol: str, recipe: Mapping[str, Any]) -> str:
    """A variable that follows, by a call of numpy or pandas where that is what it is."""
    frame, of = table.python, recipe["of"]
    source = f"{frame}[{(of if isinstance(of, str) else of[0])!r}]"
    if recipe["how"] == "scale":
        setting = recipe["setting"]
        way, offset = setting["way"], setting.get("offset") or 0
        log = {"10": "np.log10", "2": "np.log2", "e": "np.log"}.get(str(setting.get("base", "10")))
        if way == "log" and log:
            inner = source if not offset else f"({source} + {offset!r})"
            return f"{log}({inner}.where({inner} > 0))"
        if way == "z":
            return f"({source} - {source}.mean()) / {source}.std()"
        if way == "centre" and setting.get("at", "mean") in ("mean", "median"):
            return f"{source} - {source}.{setting.get('at', 'mean')}()"
        if way == "rank":
            return f'{source}.rank(method="average")'
    if recipe["how"] == "pulled-in" and not recipe.get("rows"):
        return f"{source}.clip({recipe.get('low')!r}, {recipe.get('high')!r})"
    if recipe["how"] == "recode" and recipe.get("others") is None:
        levels = list(table.columns[symbol].levels)
        if table.columns[symbol].kind == "category" and len(set(recipe["labels"].values())) == len(levels):
            return f"pd.Categorical({source}.astype(object).map({dict(recipe['labels'])!r}), categories={levels!r})"
    return f"follow({frame}, {symbol!r}, {dict(recipe)!r})"
