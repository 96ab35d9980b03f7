"""Tables of numbers: each kind against another way of computing it, how they are written, and what leaves."""

import csv
import io
import unittest
from dataclasses import replace
from html.parser import HTMLParser

import numpy as np
import pandas as pd
from heron import Table, tables
from heron.errors import InputError
from heron.ledger import TablesAsImports, TableState, TableView, replay_decisions
from heron.tables.laid import written
from heron.tables.record import Cell, Column, Figure, Footnote, NumberTable, Row
from heron.tables.writing import as_csv, as_html, as_latex, as_markdown, write
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

DOCUMENT = {"title": "", "labels": {}, "hidden": [], "order": [], "decimals": {}, "sizes": True, "note": "",
            "numbers": "space-point"}  # fmt: skip
rng = np.random.default_rng(25)
N = 240
BED = np.array(["north", "south"])[rng.integers(0, 2, N)]
FRAME = pd.DataFrame(
    {
        "size": np.where(rng.random(N) < 0.1, np.nan, np.round(rng.normal(50, 10, N) + 4 * (BED == "south"), 1)),
        "mass": np.round(np.exp(rng.normal(1, 1, N)), 2),
        "bed": BED,
        "state": rng.choice(["good", "poor", "dead"], N, p=[0.5, 0.35, 0.15]),
        "flat": np.full(N, 3.0),
        "nothing": np.full(N, np.nan),
        "many": [f"g{i % 150}" for i in range(N)],
    }
)
WHOLE = Table.from_frame(FRAME, units={"size": "mm", "mass": "g"})
VIEW = TableView("shells", replay_decisions((), TablesAsImports(WHOLE)).with_sources())


class Long(TableView):
    """The same table looked at in parts; its store knows what the whole table says of a variable."""

    def variable(self, symbol):
        return replace(VIEW.variable(symbol), table=self)


LONG = Long("shells", TableState(imports=TablesAsImports(WHOLE, bounds=(0, 0, 1, 90, 200, N))))


def source(kind, **choices):
    return tables.from_json({"kind": kind, "table": "00000000-0000-0000-0000-000000000000", **choices})


def built(kind, view=VIEW, **choices):
    return tables.build(source(kind, **choices), view)


def values(table, row, column):
    at = [each.key for each in table.columns].index(column)
    return [figure.value for each in table.rows if each.key == row for figure in each.cells[at].figures]


def of(name, bed=None):
    return FRAME[name][FRAME.bed == bed].dropna() if bed else FRAME[name].dropna()


class Kinds(unittest.TestCase):
    def near(self, given, expected, places=9):
        np.testing.assert_allclose(given, expected, rtol=10.0**-places)

    def test_a_summary_takes_what_suits_each_variable(self):
        table = built(
            "summary", variables=["size", "mass", "state"], by="bed", difference=True, standardized=True, test=True
        )
        north, south = of("size", "north"), of("size", "south")
        row = "variable:size:mean_sd"
        self.near(values(table, row, "level:north"), [north.mean(), north.std()])
        self.near(values(table, row, "total"), [of("size").mean(), of("size").std()])
        welch = stats.ttest_ind(north, south, equal_var=False)
        limits = welch.confidence_interval(0.95)
        self.near(values(table, row, "difference"), [north.mean() - south.mean(), limits.low, limits.high])
        self.near(values(table, row, "p"), [welch.pvalue])
        pooled = np.sqrt(
            ((north.size - 1) * north.var() + (south.size - 1) * south.var()) / (north.size + south.size - 2)
        )
        g = (north.mean() - south.mean()) / pooled * (1 - 3 / (4 * (north.size + south.size - 2) - 1))
        self.near(values(table, row, "standardized")[:1], [g], places=3)
        gaps = FRAME[FRAME["size"].isna()].bed.value_counts()
        self.assertEqual(values(table, "variable:size:missing", "level:south"), [gaps["south"]])
        heavy = [of("mass", bed) for bed in ("north", "south")]
        self.near(values(table, "variable:mass", "level:south"), np.quantile(heavy[1], [0.5, 0.25, 0.75]))
        self.near(values(table, "variable:mass", "p"), [stats.kruskal(*heavy).pvalue])
        crossed = pd.crosstab(FRAME.state, FRAME.bed)
        self.near(
            values(table, "variable:state:level:poor", "level:north"),
            [crossed.loc["poor", "north"], 100 * crossed.loc["poor", "north"] / crossed["north"].sum()],
        )
        p = values(table, f"variable:state:level:{table.rows[5].label}", "p")
        self.near(p, [stats.chi2_contingency(crossed, correction=False).pvalue])
        self.assertEqual([column.n for column in table.columns[:3]], [*FRAME.bed.value_counts().sort_index(), N])
        said = " ".join(note.words for note in table.notes)
        for words in (
            "Welch's test",
            "Kruskal and Wallis' test",
            "chi-square",
            f"size {int(gaps.sum())} missing",
            "definition 7",
        ):
            self.assertIn(words, said)

    def test_lines_are_those_that_were_chosen(self):
        table = built("summary", variables=["size"], lines=["mean_interval", "geometric", "range", "n"])
        size = of("size")
        reach = stats.t.ppf(0.975, size.size - 1) * size.sem()
        self.near(
            values(table, "variable:size:mean_interval", "total"),
            [size.mean(), size.mean() - reach, size.mean() + reach],
        )
        self.near(values(table, "variable:size:geometric", "total"), [stats.gmean(size), stats.gstd(size)])
        self.near(values(table, "variable:size:range", "total"), [size.min(), size.max()])
        self.assertEqual(values(table, "variable:size:n", "total"), [size.size])

    def test_groups_stand_with_bars_and_differ_from_a_reference(self):
        table = built("groups", variable="size", by="bed", effect="mean", reference="south")
        north, south = of("size", "north"), of("size", "south")
        reach = stats.t.ppf(0.975, north.size - 1) * north.sem()
        self.near(values(table, "group:north", "bar"), [north.mean() - reach, north.mean() + reach])
        self.near(values(table, "group:north", "difference")[:1], [north.mean() - south.mean()])
        ratio = built("groups", variable="mass", by="bed", centre="geometric-mean", effect="ratio", reference="north")
        means = [stats.gmean(of("mass", bed)) for bed in ("south", "north")]
        low, high = values(ratio, "group:south", "difference")[1:]
        self.near(values(ratio, "group:south", "difference")[:1], [means[0] / means[1]])
        self.assertLess(low, means[0] / means[1])
        self.assertGreater(high, means[0] / means[1])
        nested = built("groups", variable="size", by="bed", second="state", bars="sd")
        self.assertEqual([row.depth for row in nested.rows][:2], [0, 1])

    def test_pairs_of_groups_differ(self):
        table = built("group-differences", variable="size", by="bed")
        north, south = of("size", "north"), of("size", "south")
        limits = stats.ttest_ind(north, south, equal_var=False).confidence_interval(0.95)
        (row,) = table.rows
        self.near(values(table, row.key, "difference"), [north.mean() - south.mean()])
        self.near(values(table, row.key, "limits"), [limits.low, limits.high], places=4)
        self.assertIn("Welch's test: p", " ".join(note.words for note in table.notes))
        shift = built("group-differences", variable="mass", by="state", measure="shift")
        self.assertEqual([column.key for column in shift.columns], ["difference", "limits", "p", "holm"])

    def test_correlations_frequencies_and_percent_points(self):
        table = built("correlations", variables=["size", "mass"], coefficient="spearman", above="p")
        known = FRAME.dropna(subset=["size"])
        rho = stats.spearmanr(known["size"], known["mass"])
        self.near(values(table, "variable:mass", "variable:size"), [rho.statistic])
        self.near(values(table, "variable:size", "variable:mass"), [rho.pvalue], places=6)
        crossed = pd.crosstab(FRAME.state, FRAME.bed)
        table = built("frequencies", variable="state", by="bed", percents="rows")
        self.near(
            values(table, "level:dead", "level:south"),
            [crossed.loc["dead", "south"], 100 * crossed.loc["dead", "south"] / crossed.loc["dead"].sum()],
        )
        alone = built("frequencies", variable="state")
        self.near(values(alone, "level:good", "percent"), [100 * (FRAME.state == "good").mean()])
        points = built("percent-points", variables=["mass"], by="bed", percents=[10, 50])
        self.near(values(points, "variable:mass:level:south", "percent:10"), [np.quantile(of("mass", "south"), 0.1)])

    def test_a_regression_and_its_rows(self):
        choices = {"response": "mass", "predictors": ["size", "bed"]}
        table = built("regression", **choices)
        known = FRAME.dropna(subset=["size"])
        x = np.column_stack((np.ones(len(known)), known["size"], known.bed == "south")).astype(float)
        b, rss, *_ = np.linalg.lstsq(x, known.mass, rcond=None)
        sigma = np.sqrt(rss[0] / (len(known) - 3))
        se = sigma * np.sqrt(np.diag(np.linalg.inv(x.T @ x)))
        for i, row in enumerate(("term:intercept", "term:size", "term:bed south")):
            self.near(values(table, row, "value"), [b[i]])
            self.near(values(table, row, "se"), [se[i]])
        self.near(values(table, "sigma", "value"), [sigma])
        rows = built("influential", **choices, rows=3)
        self.assertEqual(len(rows.rows), 3)
        named = int(rows.rows[0].key.split(":")[1])
        self.near(values(rows, rows.rows[0].key, "response"), [FRAME.mass[named - 1]])

    def test_a_long_table_gives_the_same(self):
        for choices in (
            {"kind": "summary", "variables": ["size", "mass", "state"], "by": "bed"},
            {"kind": "summary", "variables": ["size", "mass"], "lines": ["geometric", "missing"]},
            {"kind": "groups", "variable": "size", "by": "bed"},
            {"kind": "correlations", "variables": ["size", "mass"]},
            {"kind": "frequencies", "variable": "state", "by": "bed"},
            {"kind": "frequencies", "variable": "state"},
            {"kind": "regression", "response": "mass", "predictors": ["size", "bed"], "robust": True},
            {"kind": "influential", "response": "mass", "predictors": ["size"]},
            {"kind": "percent-points", "variables": ["mass", "size"], "by": "bed"},
        ):  # fmt: skip
            with self.subTest(**choices):
                one, other = built(**choices), built(view=LONG, **choices)
                self.assertEqual(one.columns, other.columns)
                for a, b in zip(one.rows, other.rows, strict=True):
                    self.assertEqual((a.key, a.label), (b.key, b.label))
                    for c, d in zip(a.cells, b.cells, strict=True):
                        np.testing.assert_allclose(
                            [f.value for f in c.figures], [f.value for f in d.figures], rtol=1e-9
                        )
                        self.assertEqual(tables.laid_out(one, DOCUMENT), tables.laid_out(other, DOCUMENT))

    def test_too_many_too_few_and_nothing(self):
        with self.assertRaisesRegex(InputError, "150 groups"):
            built("summary", variables=["size"], by="many")
        turned = built("summary", variables=["size"], by="many", turned=True)
        self.assertEqual(len(turned.rows), 151)
        with self.assertRaisesRegex(InputError, "of two groups; there are 3"):
            built("summary", variables=["size"], by="state", difference=True)
        for name in ("flat", "nothing"):
            table = built("summary", variables=[name], by="bed", difference=True, standardized=True, test=True)
            self.assertTrue(tables.laid_out(table, DOCUMENT).lines)
        with self.assertRaises(InputError):
            built("regression", response="size", predictors=["flat"])
        with self.assertRaisesRegex(InputError, "role 'variable'"):
            built("groups", variable="", by="bed")


TABLE = NumberTable(
    "summary", "Shells by bed", "", (Column("a", "north | 1", 12), Column("p", "p", None, ("test",))),
    (
        Row("x", "size_mm & more", (Cell("{} ({})", (Figure(9.5, decimals=1), Figure(1.25, decimals=2)), se=0.4),
                                    Cell(figures=(Figure(0.0004, "p"),))), 0, 1),
        Row("h", "state <b>"),
        Row("h:good", "good", (Cell("{} ({})", (Figure(3, "count"), Figure(25.0, "percent", 1))), Cell()), 1),
        Row("y", "=1+1", (Cell(figures=(Figure(-1234.5678, decimals=2),)), Cell(text="–")), 0, 1),
    ),
    (Footnote("test", "Welch's test."), Footnote("", "Values are mean (SD).")),
)  # fmt: skip


class Written(unittest.TestCase):
    def test_labels_order_what_is_hidden_and_decimals_are_the_documents(self):
        edited = DOCUMENT | {
            "labels": {"x": "Size", "a": "North"}, "order": ["y"], "hidden": ["h"], "note": "Of one's own.",
            "decimals": {"x": {"by": "se", "digits": 2}, "a": {"by": "significant", "digits": 3}},
        }  # fmt: skip
        laid = tables.laid_out(TABLE, edited)
        self.assertEqual([line.label for line in laid.lines], ["=1+1", "Size"])
        self.assertEqual(laid.lines[1].cells, ("9.50 (1.25)", "< 0.001"))
        self.assertEqual(laid.lines[0].cells[0], "\u22121235")
        self.assertEqual(laid.heads[0].label, "North")
        self.assertEqual(laid.notes, (("a", "Welch's test."), ("", "Values are mean (SD)."), ("", "Of one's own.")))
        hidden = tables.laid_out(TABLE, DOCUMENT | {"hidden": ["p"], "sizes": False})
        self.assertEqual([note for note, _ in hidden.notes], [""])
        self.assertEqual(hidden.heads[0].n, "")

    @given(st.lists(st.floats(-1e6, 1e6), min_size=1, max_size=8), st.integers(0, 4))
    def test_decimal_marks_stand_under_one_another(self, given_values, decimals):
        rows = tuple(
            Row(f"r{i}", "", (Cell(figures=(Figure(x, decimals=decimals),)),)) for i, x in enumerate(given_values)
        )
        laid = tables.laid_out(NumberTable("groups", "", "", (Column("c", "c"),), rows), DOCUMENT)
        self.assertEqual(len({len(line.led(0).split(".")[0]) for line in laid.lines}), 1)

    def test_numbers_as_a_journal_writes_them(self):
        for figure, expected in (
            (Figure(0.0009, "p"), "< 0.001"), (Figure(0.0312, "p"), "0.031"), (Figure(0.5, "p"), "0.50"),
            (Figure(-0.0001, decimals=2), "0.00"), (Figure(1234567, "count"), "1\u202f234\u202f567"),
            (Figure(1e300, decimals=1), "1.000 × 10³⁰⁰"), (Figure(-2.5, decimals=1), "\u22122.5"),
        ):  # fmt: skip
            self.assertEqual(written(figure), expected)

    def test_what_deserves_a_look(self):
        def failing(**edited):
            return {finding.code for finding in tables.check(TABLE, DOCUMENT | edited) if not finding.holds}

        self.assertEqual(failing(), set())
        groups = built("groups", variable="size", by="bed", effect="mean")
        hidden = DOCUMENT | {"hidden": ["n", "centre", "difference"]}
        lacking = {finding.code for finding in tables.check(groups, hidden) if not finding.holds}
        self.assertEqual(lacking, {"sizes", "spread", "tests"})
        regression = built("regression", response="mass", predictors=["size"])
        self.assertEqual([finding.code for finding in tables.check(regression, DOCUMENT)], ["decimals"])
        self.assertEqual(failing(decimals={"y": {"by": "fixed", "digits": 6}}, sizes=False), {"decimals", "sizes"})

    def test_every_format_is_read_back(self):
        laid, caption = tables.laid_out(TABLE, DOCUMENT), "Shells & beds."
        rows = list(csv.reader(io.StringIO(as_csv(TABLE, DOCUMENT))))
        self.assertEqual(rows[1][1:4], ["9.5", "1.25", "0.0004"])
        self.assertEqual(rows[2][0], "state <b>: good")
        self.assertEqual(rows[3][0], "'=1+1")
        heard = _Heard()
        heard.feed(as_html(laid, caption))
        self.assertIn("state <b>", heard.texts)
        self.assertEqual(heard.balance, 0)
        latex = as_latex(laid, caption)
        for text in (
            r"size\_mm \& more",
            r"\toprule",
            r"$-$1234.57",
            r"\textsuperscript{a}",
            r"25.0 \%",
            "Shells \\& beds.",
        ):
            self.assertIn(text, latex)
        self.assertIn("north \\| 1", as_markdown(laid, caption))
        from openpyxl import load_workbook

        sheet = load_workbook(io.BytesIO(write(TABLE, DOCUMENT, "xlsx", caption))).active
        self.assertEqual([cell.value for cell in sheet[4]][:2], ["size_mm & more", "9.5 (1.25)"])
        self.assertEqual(sheet.cell(7, 1).value, "'=1+1")
        from docx import Document

        page = Document(io.BytesIO(write(TABLE, DOCUMENT, "docx", caption)))
        self.assertEqual(page.paragraphs[0].text, caption)
        self.assertEqual(page.paragraphs[0].style.name, "Caption")
        table = page.tables[0]
        self.assertEqual(table.cell(1, 0).text, "size_mm & more")
        self.assertEqual(table.cell(1, 1).text.strip("\u2007"), "9.5 (1.25)")
        self.assertIn("tblHeader", table.rows[0]._tr.xml)


class _Heard(HTMLParser):
    def __init__(self):
        super().__init__()
        self.texts, self.balance = [], 0

    def handle_starttag(self, tag, attributes):
        self.balance += tag != "br"

    def handle_endtag(self, tag):
        self.balance -= 1

    def handle_data(self, data):
        self.texts.append(data)
