"""Scripts run in an environment of their own, and give every number that the application gives."""

import csv
import io
import os
import shutil
import subprocess
import tempfile
import zipfile
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
from django.test import TestCase
from heron import figure, intake, writing
from heron.figure import styles
from heron.figure.source import (
    CountsSource,
    CumulativeSource,
    GroupsSource,
    OrderedSource,
    PairSource,
    QuantilesSource,
    ShapeSource,
)
from heron.formatting import NUMBER_STYLES

from server.demo import services as demo
from server.ledger.making import TableRecipe, make
from server.ledger.models import Entry
from server.ledger.services import Cell, RowDecision, correct, decide, derive, describe, start_rereading
from server.plates import selectors
from server.plates.documents import PlateDocument, TablePlateDocument
from server.plates.models import Plate
from server.plates.services import keep, keep_table
from server.records.scripts import script_of, zipped
from server.server_tests.cases import person, stored_in
from server.server_tests.test_figures import by_chance
from server.studies.models import Table
from server.studies.services import keep_file, look_again, store_table
from server.studies.snapshots import TableSnapshot

PYTHON = Path(os.environ.get("HERON_SCRIPT_PYTHON") or Path(__file__).parents[2] / "var" / "script" / "bin" / "python")
LOG = {"how": "scale", "setting": {"way": "log"}}
SIZES = ["small", "middle", "large"]
OPEN = {"basket": "open", "slotted": "closed"}
WIDE = "trial;est;low;high;w;note\n" + "\n".join(
    f"T{i};{i / 3 - 1:.3f};{i / 3 - 1.6:.3f};{i / 3 - 0.3:.3f};{i + 1};{'a' if i % 2 else 'b'}" for i in range(9)
).replace(".", ",")


class ScriptCase(TestCase):
    def setUp(self) -> None:
        self.user = person("ada")
        self.study = demo.load(self.user)
        self.tables = {table.name: table for table in self.study.tables.all()}
        self.oysters = self.tables["Oyster nursery"]

    def kept(self, name: str, *sources: dict[str, Any], **said: Any) -> Plate:
        panels = [{"source": {"table": str(self.oysters.pk), **source}} for source in sources]
        numbers = list(NUMBER_STYLES)[self.study.plates.count() % len(NUMBER_STYLES)]
        of_all = {"style": styles.IN_PRINT, "panels": panels, "numbers": numbers}
        document = PlateDocument.model_validate({**of_all, **said})
        return keep(self.user, self.study, name, "", document)

    def decided(self) -> None:
        """Decisions of every kind on the oysters."""
        now = lambda: Table.objects.get(pk=self.oysters.pk)  # noqa: E731
        decide(self.user, now(), RowDecision("set-aside", [78, 331], "", 'cracked"""\n# import os', now().revision))
        decide(self.user, now(), RowDecision("set-aside", [12, 13, 14, 40], "shell_mass", "wet", now().revision))
        decide(self.user, now(), RowDecision("put-back", [13], "shell_mass", "", now().revision))
        decide(self.user, now(), RowDecision("keep", [390], "shell_mass", "weighed twice", now().revision))
        describe(
            self.user,
            now(),
            {"tray_type": {"levels": ["slotted", "mesh", "basket"], "level_labels": {"mesh": "m^{2} mesh"}}},
            now().revision,
        )
        describe(
            self.user,
            now(),
            {"shell_mass": {"label": "Mass 'of' shell", "lower": 0.0, "missing_codes": ["n/r", "-99"]}},
            now().revision,
        )
        correct(
            self.user,
            now(),
            [Cell("shell_length", 20, "55.5"), Cell("shell_length", 21, "n/r")],
            "misread",
            now().revision,
        )
        for of, label, way in (
            ("shell_mass", "log mass", LOG),
            ("shell_mass", "z of mass", {"how": "scale", "setting": {"way": "z"}}),
            ("shell_mass", "root of mass", {"how": "scale", "setting": {"way": "power", "power": 0.5}}),
            ("shell_mass", "mass pulled", {"how": "pulled-in", "high": 40.0}),
            ("shell_mass", "mass in classes", {"how": "classes", "boundaries": [0.0, 5.0, 10.0, 70.0], "names": SIZES}),
            ("tray_type", "tray again", {"how": "recode", "labels": OPEN, "others": "mesh too"}),
            ("shell_mass", "percent of mesh", {"how": "percent", "by": "tray_type", "level": "m^{2} mesh"}),
            ("shell_mass", "mass by length", {"how": "expression", "text": "shell_mass / shell_length ^ 2"}),
        ):
            recipe = {"of": of, "label": label, "unit": "", **way}
            if way["how"] == "percent":
                recipe["of"] = [of, "tray_type"]
            if way["how"] == "expression":
                recipe["of"] = ["shell_mass", "shell_length"]
            derive(self.user, now(), [recipe], now().revision, reason="needed")

    @property
    def all_kept(self):
        return list(self.study.plates.all()), list(self.study.table_plates.all())

    def run_script(self) -> Path:
        self.assertEqual(script_of(self.user, self.study, self.all_kept)[0].notes, ())
        folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, folder)
        with zipfile.ZipFile(io.BytesIO(zipped(self.user, self.study, self.all_kept))) as archive:
            archive.extractall(folder)
        (wheel,) = folder.glob("*.whl")
        self.assertTrue(PYTHON.exists(), f"{PYTHON} is made by ./check server")
        clean = {"PATH": os.environ["PATH"], "HOME": str(folder), "MPLBACKEND": "agg"}
        installing = [
            PYTHON,
            "-m",
            "pip",
            "install",
            "-q",
            "--no-deps",
            "--no-index",
            "--target",
            folder / "core",
            wheel,
        ]
        subprocess.run(installing, check=True, env=clean)
        ran = subprocess.run(
            [PYTHON, folder / "study.py"],
            cwd="/",
            capture_output=True,
            text=True,
            check=False,
            env={**clean, "PYTHONPATH": str(folder / "core")},
        )
        if keep_at := os.environ.get("HERON_KEEP_SCRIPT"):
            shutil.copytree(folder, keep_at, dirs_exist_ok=True)
        self.assertEqual(ran.returncode, 0, ran.stderr[-3_000:])
        self.assertNotIn("server", [path.name for path in (folder / "core").iterdir()])
        self.assertNotIn("differ in", ran.stdout)
        self.recomputed = sum(int(line.split()[0]) for line in ran.stdout.splitlines() if "recomputed" in line)
        return folder

    def compare(self, folder: Path) -> int:
        """Every number of every plate, and every mark's, to 1e-9; how many there were."""
        with (folder / "out" / "numbers.csv").open() as file:
            result = list(csv.reader(file))[1:]
        expected, compared = [], 0
        for number, plate in enumerate(self.study.plates.all(), 1):
            document = selectors.document_of(plate)
            scenes, _ = selectors.scenes(self.user, document.sources, document.numbers)
            expected += [
                [plate.name, name, value, unit] for name, value, unit in selectors.numbers_of(document, scenes)
            ]
            data = figure.data(scenes, figure.letters(len(scenes), document.sheet.letters))
            (made,) = (folder / "out").glob(f"{number:02d}-*-data.csv")
            one, two = (list(csv.reader(io.StringIO(text))) for text in (data, made.read_text()))
            counted = [Counter((row[0], row[1], row[2]) for row in lines) for lines in (one, two)]
            self.assertEqual(counted[0], counted[1], plate.name)
            for i, (mine, theirs) in enumerate(zip(one, two, strict=True)):
                for a, b in zip(mine, theirs, strict=True):
                    compared += self.same(a, b, f"{plate.name}, line {i}: {mine} and {theirs}")
            for ending in ("pdf", "png"):
                self.assertGreater(made.with_name(made.name.replace("-data.csv", f".{ending}")).stat().st_size, 2_000)
        for number, plate in enumerate(self.study.table_plates.all(), 1):
            table, _ = selectors.number_table(self.user, selectors.table_document_of(plate))
            expected += [[plate.name, name, value, unit] for name, value, unit in selectors.numbers_in(table)]
            (made,) = (folder / "out").glob(f"{number:02d}-{plate.document['source']['kind']}*.html")
            self.assertIn("<table", made.read_text())
            self.assertGreater(made.with_suffix(".docx").stat().st_size, 5_000)
        self.assertEqual([row[:2] for row in result], [row[:2] for row in expected])
        for theirs, mine in zip(result, expected, strict=True):
            compared += self.same(repr(mine[2]), theirs[2], f"{mine} and {theirs}")
            self.assertEqual(theirs[3], mine[3])
        return compared

    def same(self, a: str, b: str, words: str) -> int:
        if a == b:
            return 1
        try:
            one, two = float(a), float(b)
        except ValueError:
            self.fail(words)
        self.assertLessEqual(abs(one - two), 1e-9 * max(abs(one), abs(two), 1e-300), words)
        return 1


class EveryKind(ScriptCase):
    def test_every_decision_and_every_kind_of_panel(self):
        self.decided()
        length, mass = "shell_length", "shell_mass"
        kiln, bus = (str(self.tables[name].pk) for name in ("Tile kiln", "Night bus"))
        results = stored_in(self.study, WIDE, "Results")
        self.kept(
            "Shapes",
            {
                "kind": "shape",
                "variable": length,
                "by": "tray_type",
                "layers": ["classes", "density", "normal", "box", "points", "rug"],
            },
            {
                "kind": "shape",
                "variable": mass,
                "axis": "log",
                "quantile_definition": 6,
                "whiskers": "percentiles",
                "measure": "percents",
            },
            {"kind": "shape", "variable": "vigour", "measure": "counts"},
            {
                "kind": "shape",
                "variable": "log_mass",
                "bandwidth": 0.1,
                "kernel": "epanechnikov",
                "rule": "sturges",
                "quantile_definition": "hinges",
            },
        )
        self.kept(
            "One variable",
            {"kind": "cumulative", "variable": length, "by": "tray_type"},
            {"kind": "counts", "variable": "tray_again"},
            {"kind": "counts", "variable": "drill_holes", "measure": "percents"},
            {"kind": "quantiles", "variable": mass},
            {"kind": "quantiles", "variable": mass, "family": "gamma"},
            {"kind": "quantiles", "variable": length, "by": "tray_type"},
            {"kind": "ordered", "variable": length},
            {"kind": "ordered", "variable": length, "along": mass},
            {
                "kind": "shape",
                "variable": mass,
                "as_if": '{"how": "scale", "setting": {"way": "power", "power": 0.3}}',
            },
            {"kind": "shape", "variable": length, "only": {"by": "week", "level": "18"}},
            sheet={"columns": 4, "width": 250, "height": 180},
        )
        drawn = {
            "marks": ["points", "violin", "box", "centre", "joined", "from zero"],
            "violin": "half",
            "points": "apart",
        }
        for i, asked in enumerate(
            (
                {"bars": "sd"},
                {"bars": "se", "second": "week"},
                {"bars": "mean-interval", "second": "week", "log": True},
                {"centre": "median", "bars": "quartile-span"},
                {"centre": "median", "bars": "median-interval"},
                {"centre": "geometric-mean", "bars": "mean-interval"},
                {"centre": "trimmed-mean", "bars": "percentiles"},
                {"bars": "bootstrap-interval"},
                {"bars": "range", "by": "week", "line": "rows"},
                {"bars": "sd", "by": "week", "second": "tray_type", "line": "centres"},
            )
        ):
            more = {
                **drawn,
                "order": ("levels", "centre", "n", "hand")[i % 4],
                "hand": [2, 0],
                "upright": i % 2 == 0,
                "on_numbers": i > 7,
                "values": None if i % 3 else 2,
                "rings": i != 4,
                "violin": ("half", "ridges", "facing", "whole")[i % 4],
                "points": ("apart", "scattered", "line")[i % 3],
            }
            self.kept(f"Groups {i}", {"kind": "groups", "variable": mass, "by": "tray_type", **asked, **more})
        rng = np.random.default_rng(7)
        roles = [{"variable": mass, "by": "tray_type"}, {"variable": length, "by": "week", "second": "tray_type"}]
        chosen = [by_chance(GroupsSource, {**said, "kind": "groups"}, rng) for said in roles * 4]
        self.kept("By chance", *chosen, sheet={"columns": 4, "width": 250, "height": 120})
        alone = (
            (ShapeSource, {"variable": mass}), (ShapeSource, {"variable": length, "by": "tray_type"}),
            (ShapeSource, {"variable": mass, "by": "week"}), (CumulativeSource, {"variable": mass}),
            (CumulativeSource, {"variable": length, "by": "tray_type"}), (OrderedSource, {"variable": length}),
            (QuantilesSource, {"variable": mass}), (CountsSource, {"variable": "tray_again"}),
        )  # fmt: skip
        chosen = [by_chance(kind, {**said, "kind": kind.kind}, rng) for kind, said in alone * 3]
        self.kept("Alone by chance", *chosen, sheet={"columns": 4, "width": 250, "height": 200})
        both = {"x": length, "y": mass, "kind": "pair", "plot": "pairs"}
        chosen = [
            {**by_chance(PairSource, said, rng), "plot": "pairs"} for said in (both, {**both, "by": "tray_type"}) * 6
        ]
        self.kept("Pairs by chance", *chosen, sheet={"columns": 4, "width": 250, "height": 150})
        self.kept(
            "Shares",
            {
                "kind": "shares",
                "variable": "vigour",
                "by": "tray_type",
                "chosen": [3, 4],
                "marks": ["from zero", "joined"],
            },
            {"kind": "shares", "variable": "vigour", "by": "tray_again", "neutral": 2, "stacked": True},
        )
        estimated = {"of": ["est"], "limits": ["low", "high"], "label": "trial", "weight": "w"}
        self.kept(
            "Results",
            {"table": str(results.pk), "kind": "estimates", **estimated, "combined": [9], "none": 0.0},
            {
                "table": str(results.pk),
                "kind": "estimates",
                **estimated,
                "heading": "note",
                "sort": "estimate",
                "none": 0.0,
                "none_words": "no effect",
            },
            {"table": str(results.pk), "kind": "estimates", "of": ["low", "high"], "label": "trial"},
        )
        for measure in ("mean", "median", "ratio", "hedges-g", "cliffs-delta"):
            self.kept(
                f"Differences {measure}",
                {"kind": "differences", "variable": mass, "by": "tray_type", "measure": measure},
            )
        pair = {"x": length, "y": mass}
        self.kept(
            "Pairs",
            {"kind": "pair", **pair, "lines": ["least-squares", "median", "smooth"]},
            {
                "kind": "pair",
                **pair,
                "by": "tray_type",
                "lines": ["least-squares"],
                "x_scale": "log10",
                "y_scale": "log10",
                "size": "drill_holes",
            },
            {"kind": "pair", **pair, "also": ["shell_width", "salinity"], "joined": "x"},
            {"kind": "pair", **pair, "lines": [], "shown": "density"},
            {"kind": "pair", **pair, "by": "tray_type", "lines": [], "margins": "boxes", "jitter_x": 0.5},
            {"kind": "pair", **pair, "lines": ["median"], "shown": "contours", "sparse": 9, "x_axis": "log"},
            {"kind": "pair", **pair, "by": "tray_type", "each": False, "bands": "both", "equation": True},
            {"kind": "pair", **pair, "plot": "residuals", "margins": "densities"},
            {"kind": "pair", "x": "drill_holes", "y": length, "lines": [], "shown": "counts", "by": "tray_type"},
            {"kind": "pair", **pair, "lines": [], "shown": "hexagons", "across": 12},
            {"kind": "pair", **pair, "lines": [], "shown": "cells"},
        )
        relation = {"response": mass, "predictors": [length, "tray_type"], "product": []}
        views = ("leverage", "residuals", "size", "order", "qq", "dfbetas", "partial")
        self.kept(
            "Rows",
            {
                "kind": "rules",
                "variable": mass,
                "rules": ["fences", "z", "robust-z", "grubbs", "esd", "skew-fences"],
            },
            {"kind": "rules", "variable": mass, "by": "tray_type"},
            {"kind": "distances", "variables": [mass, length, "shell_width"]},
            *({"kind": "influence", **relation, "view": view} for view in views),
            sheet={"columns": 4, "width": 250, "height": 180},
        )
        self.kept(
            "Other tables",
            {
                "table": kiln,
                "kind": "shape",
                "variable": Table.objects.get(pk=kiln).variables.filter(kind="continuous")[0].symbol,
            },
            {"table": bus, "kind": "counts", "variable": "age_band"},
        )
        for source in (
            {"kind": "summary", "variables": [length, mass, "vigour"], "by": "tray_type", "test": True},
            {"kind": "group-differences", "variable": length, "by": "tray_type"},
            {"kind": "frequencies", "variable": "vigour", "by": "tray_type"},
            {"kind": "regression", "response": mass, "predictors": [length, "tray_type"]},
        ):
            document = {"source": {"table": str(self.oysters.pk), **source}}
            keep_table(self.user, self.study, str(source["kind"]), TablePlateDocument.model_validate(document))
        folder = self.run_script()
        self.assertGreater(self.compare(folder), 20_000)
        text = (folder / "study.py").read_text()
        self.assertGreater(self.recomputed, 200)
        for call in ("np.mean(known)", "np.quantile(known", "stats.sem(known)", "stats.linregress(", "stats.shapiro("):
            self.assertIn(call, text)
        self.assertIn("# Step 2 ", text)
        self.assertNotIn("server", text)
        self.assertEqual(Entry.objects.filter(table=self.oysters).count(), 15)


REPEATED = "unit,arm,day,score,times\n" + "\n".join(
    f"u{i % 12},{'ab'[i // 12 % 2]},{i // 12},{(i * 37) % 23 + i / 7:.3f},{i % 4}" for i in range(72)
)


class OtherTables(ScriptCase):
    def describe_table(self, table: Table, **said: str) -> None:
        now = Table.objects.get(pk=table.pk)
        describe(self.user, now, {"": said}, now.revision)

    def test_units_weights_other_files_made_tables_and_what_is_degenerate(self):
        units = stored_in(self.study, REPEATED, "Units")
        self.describe_table(units, unit_variable="unit")
        weights = stored_in(self.study, REPEATED, "Weights")
        self.describe_table(weights, weight_variable="times")
        commented = stored_in(self.study, "# a note\nbed  mass\n1    2.5\n2    4\n3    7.25\n", "Blanks")
        alone = stored_in(self.study, "a,b\n4,x\n", "One row")
        flat = stored_in(self.study, "a,b,c\n" + "4,x,1\n4,y,2\n" * 6, "Flat")
        big = stored_in(
            self.study,
            "x,y,g\n" + "\n".join(f"{i * 0.37 % 11:.3f},{(i * i) % 97 + i % 13},{'pq'[i % 2]}" for i in range(24_000)),
            "Big",
        )
        below = stored_in(self.study, "lead\n<0.5\n1.5\n2\n", "Below", below_limits={"lead": "half"})
        dated = "Log of the beds;;\n\nday;mass;n\n" + "".join(f"{i + 9:02d}.02.2026;{i * i},5;{i}\n" for i in range(8))
        log = stored_in(self.study, dated, "Log")
        book = self.stored_as(units, "xlsx")
        arrow = self.stored_as(units, "parquet")
        self.reread(units, kinds={"day": "category"})
        part = make(
            self.user,
            self.study,
            "Part",
            TableRecipe(
                "part",
                (units.pk,),
                {
                    "conditions": [{"variable": "score", "test": "between", "low": 5.0, "high": None, "levels": []}],
                    "symbols": [],
                },
            ),
        )
        now = Table.objects.get(pk=part.pk)
        decide(self.user, now, RowDecision("set-aside", [2, 5], "", "odd", now.revision))
        stack = make(self.user, self.study, "Stacked", TableRecipe("stack", (units.pk, weights.pk), {"name": "source"}))
        simulated = make(
            self.user,
            self.study,
            "Simulated",
            TableRecipe(
                "simulated",
                (),
                {
                    "variable": {"name": "v", "distribution": "normal", "parameters": {}},
                    "groups": [
                        {"name": "a", "n": 30, "parameters": {}},
                        {"name": "b", "n": 20, "parameters": {"mean": 2.0}},
                    ],
                    "second": None,
                    "correlation": 0.0,
                    "decimals": 3,
                    "seed": 11,
                },
            ),
        )
        now = Table.objects.get(pk=units.pk)
        describe(self.user, now, {"score": {"spec_lower": -1.0, "spec_upper": 40.0}}, now.revision)
        asked = {"kind": "groups", "variable": "score", "by": "arm", "units": True}
        on = lambda table, **source: {"table": str(table.pk), **source}  # noqa: E731
        self.kept(
            "Units",
            on(units, **asked),
            on(units, **{**asked, "by": "arm", "bars": "within-unit-interval", "units": True}),
            on(units, kind="differences", variable="score", by="arm", units=True),
            on(units, kind="groups", variable="score", by="day", pair="unit"),
            on(units, kind="differences", variable="score", by="arm", pair="unit"),
            on(units, kind="groups", variable="score", by="arm"),
            on(units, kind="control", variable="score"),
            on(units, kind="influence", response="score", predictors=["times", "arm"], view="leverage"),
        )
        self.kept(
            "Weights",
            on(weights, kind="shape", variable="score", by="arm"),
            on(weights, kind="cumulative", variable="score"),
            on(weights, kind="counts", variable="arm"),
            on(weights, kind="quantiles", variable="score"),
            on(weights, kind="groups", variable="score", by="arm"),
            on(weights, kind="differences", variable="score", by="arm"),
            on(weights, kind="shares", variable="arm", by="day"),
            on(weights, kind="pair", x="day", y="score", by="arm", lines=["least-squares"]),
            on(weights, kind="shape", variable="score", only={"by": "arm", "level": "b"}),
        )
        self.kept(
            "Files",
            on(commented, kind="pair", x="bed", y="mass", lines=["least-squares"]),
            on(log, kind="pair", x="n", y="mass", lines=["least-squares"]),
            on(book, kind="shape", variable="score"),
            on(arrow, kind="shape", variable="score"),
        )
        self.kept(
            "Few",
            on(alone, kind="groups", variable="a", by="b"),
            on(flat, kind="shape", variable="a", by="b"),
            on(flat, kind="groups", variable="a", by="b", bars="sd"),
            on(flat, kind="pair", x="a", y="c", lines=["least-squares", "median", "smooth"]),
            on(flat, kind="pair", x="c", y="a", lines=["least-squares", "median", "smooth"]),
            on(flat, kind="differences", variable="a", by="b"),
            on(flat, kind="differences", variable="a", by="b", measure="median"),
        )
        self.kept(
            "Many",
            on(big, kind="shape", variable="x", by="g"),
            on(big, kind="pair", x="x", y="y", by="g", lines=[]),
            on(big, kind="groups", variable="y", by="g"),
            on(big, kind="influence", response="y", predictors=["x"]),
            on(big, kind="rules", variable="y"),
        )
        self.kept(
            "Made",
            on(part, kind="shape", variable="score"),
            on(stack, kind="groups", variable="score", by="source"),
            on(simulated, kind="groups", variable="v", by="group"),
        )
        self.kept(
            "Below the limit", on(below, kind="counts", variable="lead"), on(below, kind="shape", variable="lead")
        )
        self.assertGreater(self.compare(self.run_script()), 200_000)

    def stored_as(self, table: Table, form: str) -> Table:
        data = writing.write(TableSnapshot.of(table).active(), form)
        source = keep_file(f"units.{form}", [data])
        return store_table(self.study, f"As {form}", intake.read(data, f"units.{form}").table, source)

    def reread(self, table: Table, **choices: Any) -> None:
        upload = look_again(self.user, table, print).upload
        self.assertEqual(start_rereading(self.user, upload, choices, lambda _: None).state, "done")
