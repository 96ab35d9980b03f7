"""The whole of a script: tables in the order in which they stand on each other, then plates."""

import json
import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from heron.derived import compute_derived, title_of
from heron.figure.scene import Scene
from heron.script import alone, sides, tables, two
from heron.script.code import comment
from heron.script.spec import PlateSpec, Script, TableSpec

Source = Mapping[str, Any]
_PANELS: dict[str, Callable[[Source, Scene, TableSpec], list[str]]] = {
    "shape": alone.shape, "cumulative": alone.cumulative, "counts": alone.counts, "times": alone.moments,
    "ordered": alone.in_order, "quantiles": alone.quantile_plot, "rules": alone.rules, "groups": sides.compared,
    "shares": sides.shares, "estimates": sides.results, "differences": sides.differences, "pair": two.paired,
    "distances": two.distances, "influence": two.influence,
}  # fmt: skip
_IMPORTS = (
    ("json", "import json"), ("replace", "from dataclasses import replace"), ("Path", "from pathlib import Path"),
    ("", ""), ("np", "import numpy as np"), ("pd", "import pandas as pd"), ("stats", "from scipy import stats"), ("", ""),
    *((name, f"from heron import {name}") for name in (
        "cloud", "density", "differences", "estimates", "figure", "frequency", "groups", "influence", "intake", "ledger",
        "normality", "ordering", "outliers", "quantiles", "rearranging", "relation", "simulation", "thinning",
        "times",
    )),
    ("sides", "from heron.figure import groups as sides"), ("clouds", "from heron.figure import pairs as clouds"),
    ("shapes", "from heron.figure import spread as shapes"),
    *((name, f"from heron.figure.scene import {name}") for name in ("Axis", "Facts", "Number")),
    ("draw", "from heron.script.drawing import draw"),
    *((name, f"from heron.script.frames import {name}") for name in (
        "as_labels", "as_numbers", "as_text", "as_times", "attempt", "column", "described", "follow", "frame_of", "labels_for", "levels", "only",
        "repeated", "rows", "table", "values",
    )),
    ("groups_of", "from heron.script.frames import groups as groups_of"),
    ("typeset", "from heron.wording import typeset"),
    ("written", "from heron.variables import written"),
)  # fmt: skip
_HELPERS = '''
HERE = Path(__file__).resolve().parent
OUT = HERE / "out"
OUT.mkdir(exist_ok=True)
NUMBERS = []


def number(name, value, unit=""):
    """A number of a plate by its name; none where it is undefined."""
    return [] if value is None or not np.isfinite(value) else [Number(name, float(value), unit)]


def finish(name, file, scenes):
    """Keep the numbers and the data of a plate, and draw it."""
    document = json.loads((HERE / "plates" / f"{file}.json").read_text(encoding="utf-8"))
    letters = figure.letters(len(scenes), document["sheet"]["letters"])
    for letter, scene in zip(letters, scenes, strict=True):
        for each in scene.numbers:
            NUMBERS.append([name, f"{letter}: {each.name}" if letter else each.name, repr(each.value), each.unit])
    (OUT / f"{file}-data.csv").write_text(figure.data(scenes, letters), encoding="utf-8")
    (OUT / f"{file}.md").write_text(f"# {name}\\n\\n{document['caption']}\\n", encoding="utf-8")
    for ending in ("pdf", "png"):
        draw(document, scenes, OUT / f"{file}.{ending}", document["caption"])
'''


def write(title: str, version: str, found: Sequence[TableSpec], plates: Sequence[tuple[str, PlateSpec]]) -> Script:
    """Return the script that reads the files of tables, repeats their decisions, and recomputes and draws plates.

    Parameters: found, tables in an order in which each stands behind those that it is made of; plates, each with the
    name of its files.
    """
    names = {table.key: (table.python, table.name) for table in found}
    by_key = {table.key: table for table in found}
    body: list[str] = []
    for table in found:
        body += tables.code(table, names)
    notes, left_out = [], []
    for place, (file, plate) in enumerate(plates):
        trouble = next(
            (why for why in (_trouble(panel["source"], by_key) for panel in plate.document["panels"]) if why), ""
        )
        if trouble:
            notes.append(f"{plate.name} is not in the script: {trouble}")
            left_out.append(place)
            continue
        body += _plate(file, plate, by_key)
    body += [
        "", f"# {'-' * 100}", "with (OUT / \"numbers.csv\").open(\"w\", newline=\"\") as file:",
        "    pd.DataFrame(NUMBERS, columns=[\"plate\", \"name\", \"value\", \"unit\"]).to_csv(file, index=False)",
        'print(f"{len(NUMBERS)} numbers in {OUT / \'numbers.csv\'}; plates beside it.")',
    ]  # fmt: skip
    head = [
        *comment(f"{title}: what was decided, recomputed and drawn again."),
        *comment(
            f"Made by Velvet Heron {version}. It needs the files beside it and what requirements.txt lists; results go to out/."
        ),
    ]
    text = "\n".join([_HELPERS, *body]) + "\n"
    kept = {file: document_of(plate) for place, (file, plate) in enumerate(plates) if place not in left_out}
    documents = {f"plates/{file}.json": json.dumps(said, ensure_ascii=False, indent=1) for file, said in kept.items()}
    return Script("\n".join([*head, "", *_imports(text), text]), documents, tuple(notes))


def _imports(text: str) -> list[str]:
    """Imports of what a text names, those from one place in one line."""
    found: list[str] = []
    for name, line in _IMPORTS:
        if name and not re.search(rf"(?<![\w.'\"]){name}\b", text):
            continue
        place = line.rpartition(" import ")[0]
        if found and place and " as " not in line and found[-1].startswith(f"{place} import "):
            found[-1] += f", {name}"
        else:
            found.append(line)
    return found


def _trouble(source: Source, tables_of: Mapping[str, TableSpec]) -> str:
    """Why a panel cannot be in a script; "" where it can."""
    if source["table"] not in tables_of:
        return "a table that it stands on is not in the study."
    table = tables_of[source["table"]]
    symbol = source["variable"]
    if (
        symbol
        and symbol in table.columns
        and table.columns[symbol].n_limited
        and source["kind"] in ("shape", "quantiles")
    ):
        return f"{table.columns[symbol].label} has values below a limit of detection, which it cannot tell apart."
    return ""


def _plate(file: str, plate: PlateSpec, by_key: Mapping[str, TableSpec]) -> list[str]:
    lines = ["", f"# {'-' * 100}", *comment(f"Plate: {plate.name}"), *comment(plate.caption), "scenes = []"]
    for panel, scene in zip(plate.document["panels"], plate.scenes, strict=True):
        source = panel["source"]
        table = by_key[source["table"]]
        lines += ["", f"t = {table.python}"]
        weights = table.state.weights_of(_named({**source, "only": None}))
        if source["as_if"]:
            table, source, tried = _tried(source, table)
            lines += tried
        if source["only"]:
            lines.append(f"t = only(t, {source['only']['by']!r}, {source['only']['level']!r})")
        if weights:
            lines += comment(f"Each row counts as often as {table.label(weights)} says.")
            lines.append(f"t = repeated(t, {weights!r})")
        lines += [*_PANELS[source["kind"]](source, scene, table), "scenes.append(scene)"]
    return [*lines, f"finish({plate.name!r}, {file!r}, scenes)"]


def _named(source: Any) -> set[str]:
    """All texts in a panel's source, the symbols of its variables among them."""
    if isinstance(source, str):
        return {source}
    parts = source.values() if isinstance(source, Mapping) else source if isinstance(source, list | tuple) else ()
    return {text for part in parts for text in _named(part)}


def document_of(plate: PlateSpec) -> dict[str, Any]:
    """What of a plate's document a script draws by, with its caption."""
    panels = [
        {key: value for key, value in panel.items() if key not in ("source", "address")}
        for panel in plate.document["panels"]
    ]
    return {
        "sheet": plate.document["sheet"],
        "style": plate.document["style"],
        "panels": panels,
        "caption": plate.caption,
    }


def _tried(source: Source, table: TableSpec) -> tuple[TableSpec, Source, list[str]]:
    """A panel of a variable on a scale that is only tried: the variable made so, under another name."""
    from dataclasses import replace

    way = json.loads(source["as_if"])
    of = source["variable"]
    named: Any = of
    if way["how"] == "expression":
        from heron import rescale

        named = list(rescale.parse(way["text"]).symbols)
    elif way["how"] in ("percent", "along"):
        besides = (way.get("by") if way.get("row") is None else None, way.get("order"), way.get("within"))
        named = list(dict.fromkeys([of, *(each for each in besides if each)]))
    recipe = {"of": named, "label": "", "unit": "", **{key: value for key, value in way.items() if value is not None}}
    sources = {symbol: table.columns[symbol] for symbol in ([named] if isinstance(named, str) else named)}
    label, unit = title_of(recipe, sources)
    recipe = {**recipe, "label": label, "unit": unit}
    made = compute_derived("tried", recipe, sources)
    columns = {**table.columns, "tried": made}
    lines = [*comment(f"{label}, tried and not kept"), "t = t.copy()", f"t['tried'] = follow(t, 'tried', {recipe!r})"]
    return replace(table, columns=columns), {**source, "variable": "tried"}, lines
