"""The whole of a script: tables in the order in which they stand on each other, then plates."""

import json
import re
from collections.abc import Mapping, Sequence
from typing import Any

from heron.figure.source import Source
from heron.formatting import USUAL_NUMBERS
from heron.script import numbers, tables
from heron.script.code import comment, indented
from heron.script.spec import NumbersSpec, PlateSpec, Script, TableSpec

_IMPORTS = (
    ("json", "import json"), ("Path", "from pathlib import Path"), ("", ""), ("np", "import numpy as np"),
    ("pd", "import pandas as pd"), ("optimize", "from scipy import optimize"), ("stats", "from scipy import stats"), ("", ""),
    *((name, f"from heron import {name}") for name in ("figure", "intake", "ledger", "rearranging", "simulation")),
    ("numbers_in", "from heron import tables as numbers_in"),
    ("draw", "from heron.figure.draw import draw"),
    ("numbers_as", "from heron.formatting import numbers_as"),
    ("write_table", "from heron.tables.writing import write as write_table"),
    *((name, f"from heron.script.standing import {name}") for name in (
        "agree", "called", "frame", "levels", "rows", "table_of", "tried",
    )),
)  # fmt: skip
# Names that no table takes: all that stand at the top of a script.
RESERVED = (
    *(name for name, _ in _IMPORTS if name), "HERE", "OUT", "NUMBERS", "finish", "finish_table", "scene", "scenes", "recomputed", "file",
    "made",
)  # fmt: skip
_HELPERS = '''
HERE = Path(__file__).resolve().parent
OUT = HERE / "out"
OUT.mkdir(exist_ok=True)
NUMBERS = []


def finish(name, file, scenes):
    """Keep the numbers and the data of a plate, and draw it."""
    document = json.loads((HERE / "plates" / f"{file}.json").read_text(encoding="utf-8"))
    letters = figure.letters(len(scenes), document["sheet"]["letters"])
    for letter, scene in zip(letters, scenes, strict=True):
        for each in scene.numbers:
            NUMBERS.append([name, f"{letter}: {each.name}" if letter else each.name, repr(each.value), each.unit])
    (OUT / f"{file}-data.csv").write_text(figure.data(scenes, letters), encoding="utf-8")
    (OUT / f"{file}.md").write_text(f"# {name}\\n\\n{document['caption']}\\n", encoding="utf-8")
    draw(document, scenes, *(OUT / f"{file}.{ending}" for ending in ("pdf", "png")), caption=document["caption"])
'''
_TABLES = '''

def finish_table(name, file, made):
    """Keep the numbers of a table, and write it."""
    document = json.loads((HERE / "tables" / f"{file}.json").read_text(encoding="utf-8"))
    for each in made.numbers:
        NUMBERS.append([name, each.name, repr(each.value), each.unit])
    for form in ("html", "docx", "csv"):
        (OUT / f"{file}.{form}").write_bytes(write_table(made, document, form, document["caption"]))
'''


def write(
    title: str,
    version: str,
    table_specs: Sequence[TableSpec],
    plates: Sequence[tuple[str, PlateSpec]],
    of_numbers: Sequence[tuple[str, NumbersSpec]] = (),
) -> Script:
    """Return the script that reads the files of tables, takes their decisions again, builds and draws plates, and
    writes tables of numbers.

    Parameters: table_specs, tables in an order in which each stands behind those that it is made of; plates,
    of_numbers, each with the name of its files.
    """
    names, by_key = {table.key: table.python for table in table_specs}, {table.key: table for table in table_specs}
    body: list[str] = []
    for table in table_specs:
        body += tables.code(table, names)
    notes, documents = [], {}
    for file, plate in plates:
        if any(str(source.table) not in by_key for source in plate.sources):
            notes.append(f"{plate.name} is not in the script: a table that it stands on is not in the study.")
            continue
        body += _plate(file, plate, by_key)
        documents[f"plates/{file}.json"] = json.dumps(document_of(plate), ensure_ascii=False, indent=1)
    for file, table_plate in of_numbers:
        if str(table_plate.source.table) not in by_key:
            notes.append(f"{table_plate.name} is not in the script: the table that it stands on is not in the study.")
            continue
        body += _numbers(file, table_plate, by_key[str(table_plate.source.table)].python)
        written = {**table_plate.document, "caption": table_plate.caption}
        documents[f"tables/{file}.json"] = json.dumps(written, ensure_ascii=False, indent=1)
    body += [
        "", f"# {'-' * 100}", "with (OUT / \"numbers.csv\").open(\"w\", newline=\"\") as file:",
        "    pd.DataFrame(NUMBERS, columns=[\"plate\", \"name\", \"value\", \"unit\"]).to_csv(file, index=False)",
        'print(f"{len(NUMBERS)} numbers in {OUT / \'numbers.csv\'}; plates beside it.")',
    ]  # fmt: skip
    head = [
        *comment(f"{title}: what was decided, computed and drawn again."),
        *comment(
            f"Made by Velvet Heron {version}. It needs the files beside it and what requirements.txt lists; results "
            f"go to out/."
        ),
    ]
    text = "\n".join([_HELPERS + (_TABLES if of_numbers else ""), *body]) + "\n"
    return Script("\n".join([*head, "", *_imports(text), text]), documents, tuple(notes))


def _imports(text: str) -> list[str]:
    """Imports of what a text names, those from one place in one line."""
    result: list[str] = []
    for name, line in _IMPORTS:
        if name and not re.search(rf"(?<![\w.'\"]){name}\b", text):
            continue
        source, _, named = line.rpartition(" import ")
        if result and source and result[-1].startswith(f"{source} import "):
            result[-1] += f", {named}"
        else:
            result.append(line)
    return result


def _plate(file: str, plate: PlateSpec, by_key: Mapping[str, TableSpec]) -> list[str]:
    lines = ["", f"# {'-' * 100}", *comment(f"Plate: {plate.name}"), *comment(plate.caption), "scenes = []"]
    for source in plate.sources:
        lines += ["", *_panel(source, by_key[str(source.table)], plate.document["numbers"])]
    return [*lines, f"finish({plate.name!r}, {file!r}, scenes)"]


def _panel(source: Source, table: TableSpec, numbers_as: str) -> list[str]:
    """A panel built of its source, and its numbers recomputed beside it."""
    lines = _written_in(numbers_as, f"scene = figure.build(figure.from_json({source.to_json()!r}), {table.python})")
    view = f"{table.python}"
    if source.only:
        view += f".narrowed({source.only.by!r}, {source.only.level!r})"
    as_if = getattr(source, "as_if", None)
    if as_if:
        view = f"tried({view}, {getattr(source, 'variable', '')!r}, {json.loads(as_if)!r})"
    again = numbers.code(source, table.view)
    if again:
        lines += [
            "", "", "def recomputed(table):", *indented(["numbers = {}", *again, "return numbers"]), "", "",
            f"print(agree(scene, recomputed({view})))",
        ]  # fmt: skip
    return [*lines, "scenes.append(scene)"]


def _written_in(style: str, line: str) -> list[str]:
    """A line whose words write numbers in a style."""
    return [line] if style == USUAL_NUMBERS else [f"with numbers_as({style!r}):", *indented([line])]


def _numbers(file: str, numbers: NumbersSpec, table: str) -> list[str]:
    return [
        "", f"# {'-' * 100}", *comment(f"Table: {numbers.name}"), *comment(numbers.caption),
        *_written_in(
            numbers.document["numbers"],
            f"made = numbers_in.build(numbers_in.from_json({numbers.source.to_json()!r}), {table})",
        ),
        f"finish_table({numbers.name!r}, {file!r}, made)",
    ]  # fmt: skip


def document_of(plate: PlateSpec) -> dict[str, Any]:
    """What of a plate's document a script draws by, with its caption."""
    panels = [
        {key: value for key, value in panel.items() if key not in ("source", "address")}
        for panel in plate.document["panels"]
    ]
    return {
        "sheet": plate.document["sheet"],
        "style": plate.document["style"],
        "numbers": plate.document["numbers"],
        "panels": panels,
        "caption": plate.caption,
    }
