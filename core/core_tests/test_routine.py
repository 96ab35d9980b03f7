"""A routine: steps that come to what the ledger came to, and what is in their way on another table."""

import unittest
from dataclasses import replace

from heron import intake
from heron.ledger import Decision, TableState, replay, replay_decisions, revocable
from heron.numbering import moves_between, to_runs
from heron.recipes import recipe_words
from heron.routine import Known, as_decisions, conflicts, digest, fitted, steps_of, words_of
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy import array, flatnonzero

ROWS = 12
SMALL = "tray,mass (g),count\n" + "\n".join(f"{'abc'[i % 3]},{i + 0.5},{i}" for i in range(ROWS))
TABLE = intake.read(SMALL.encode()).table
KNOWN = [Known(c.symbol, c.label, c.unit, c.kind, c.levels) for c in TABLE.columns.values()]
LOG = {"how": "scale", "of": "mass", "label": "log mass", "unit": "", "setting": {"way": "log"}}


def read(text: str, **choices):
    return intake.read(text.encode(), **choices).table


def decided(number: int, kind: str, rows=(), variable: str = "", of: int = 0, **changes) -> Decision:
    return Decision(number, kind, to_runs(rows), variable, of, changes)


@st.composite
def ledgers(draw):
    """Ledgers of every kind of entry; files read again lose some rows and keep the order of the others."""
    decisions: list[Decision] = []
    rows_now = ROWS
    for number in range(1, draw(st.integers(1, 9)) + 1):
        rows = draw(st.lists(st.integers(1, rows_now), min_size=1, max_size=4))
        kind = draw(
            st.sampled_from(
                ["set-aside", "put-back", "keep", "describe", "correct", "derive", "reread", "line-up", "undo"]
            )
        )
        variable = draw(st.sampled_from(["", "mass"]))
        if kind in ("set-aside", "put-back", "keep"):
            decisions.append(decided(number, kind, rows, variable))
        elif kind == "describe":
            decisions.append(decided(number, kind, mass={"label": f"mass {number}", "lower": float(number)}))
        elif kind == "correct":
            cells = {str(row): {"old": "", "new": f"{number}"} for row in rows}
            decisions.append(decided(number, kind, rows, mass=cells))
        elif kind == "derive":
            how = {
                "how": "pulled-in",
                "of": "mass",
                "label": "pulled",
                "unit": "g",
                "high": 4.0,
                "rows": sorted(set(rows)),
            }
            decisions.append(decided(number, kind, pulled=draw(st.sampled_from([how, None, LOG]))))
        elif kind == "reread":
            kept = draw(st.lists(st.integers(0, rows_now - 1), min_size=1, max_size=rows_now, unique=True))
            gone = array(sorted(kept))
            decisions.append(decided(number, kind, reading=number, moves=moves_between(array(range(rows_now)), gone)))
            rows_now = len(kept)
        elif kind == "undo":
            standing = revocable(decisions)
            if standing and standing[-1].kind != "reread":
                decisions.append(decided(number, kind, of=standing[-1].number))
        else:
            decisions.append(decided(number, kind, mass={"seed": 1}))
    return decisions


class Steps(unittest.TestCase):
    @given(ledgers())
    @settings(max_examples=400, deadline=None)
    def test_steps_come_to_what_the_ledger_came_to(self, ledger):
        steps = steps_of(ledger, {})
        result, expected = replay_decisions(as_decisions(steps)), replace(replay_decisions(ledger), import_version=0)
        self.assertEqual(result, expected)
        self.assertEqual([step.number for step in steps], list(range(1, len(steps) + 1)))
        self.assertEqual(steps_of(as_decisions(steps), {}), steps)  # what is a routine already stays as it is

    def test_the_digest_knows_what_was_done_and_not_by_whom_or_by_what_detours(self):
        straight = [decided(1, "set-aside", [3, 4]), decided(2, "describe", mass={"unit": "mg"})]
        detour = [
            decided(1, "set-aside", [3, 4]), decided(2, "set-aside", [9]), decided(3, "undo", of=2),
            decided(4, "line-up", mass={"seed": 4}), decided(5, "describe", mass={"unit": "mg"}),
        ]  # fmt: skip
        said = digest("abc", {}, steps_of(straight, {1: "cracked"}))
        self.assertEqual(said, digest("abc", {"symbols": {}}, steps_of(detour, {1: "cracked", 2: "x"})))
        self.assertRegex(said, "^[0-9a-f]{64}$")
        whole, parts = ([decided(1, "describe", mass={"lower": lower})] for lower in (2, 2.0))
        self.assertEqual(digest("abc", {}, steps_of(whole, {})), digest("abc", {}, steps_of(parts, {})))
        for other in (
            digest("abd", {}, steps_of(straight, {1: "cracked"})),
            digest("abc", {"decimal": ","}, steps_of(straight, {1: "cracked"})),
            digest("abc", {}, steps_of(straight, {1: "crushed"})),
            digest("abc", {}, steps_of(straight[:1], {1: "cracked"})),
        ):
            self.assertNotEqual(said, other)

    def test_a_baseline_row_moves_with_its_row_and_is_none_when_it_is_gone(self):
        how = {"how": "percent", "of": ["mass"], "label": "p", "unit": "%", "row": 5, "centre": "mean"}
        ledger = [decided(1, "derive", p=how), decided(2, "reread", reading=1, moves=[(4, 12, 1)])]
        self.assertEqual(replay_decisions(ledger).derived["p"]["row"], 2)
        self.assertEqual(steps_of(ledger, {})[0].changes["p"]["row"], 2)
        gone = replay_decisions([ledger[0], decided(2, "reread", reading=1, moves=[(6, 12, 1)])])
        with self.assertRaisesRegex(Exception, "There is no row 0"):
            replay(
                as_decisions(steps_of([decided(1, "derive", p={**how, "row": gone.derived["p"]["row"]})], {})), TABLE
            )

    def test_each_step_has_words(self):
        log = {"way": "log", "base": "10", "offset": 0}
        how = {"how": "scale", "of": "mass", "label": "log mass", "unit": "", "setting": log}
        ledger = [
            decided(1, "set-aside", [3]), decided(2, "put-back", [3, 4, 9], "mass"), decided(3, "keep", range(1, 9)),
            decided(4, "correct", [1, 2], mass={"1": {"old": "", "new": "1.5"}, "2": {"old": "7", "new": "0.7"}}),
            decided(5, "derive", log=how), decided(6, "derive", log=None),
            decided(7, "describe", mass={"unit": "kg", "lower": -0.5, "true_zero": True}, tray={"levels": ["c", "a"]}),
            decided(8, "describe", **{"a": {"upper": None}, "b": {"upper": None}, "": {"unit_variable": "tray"}}),
        ]  # fmt: skip
        words = [words_of(step, {"mass": "shell mass"}) for step in steps_of(ledger, {})]
        self.assertEqual(words, [
            "sets aside row 3", "puts back the shell mass of rows 3, 4 and 9",
            "looks at 8 rows and keeps what is there",
            "corrects 2 cells of shell mass (row 1, blank → 1.5; row 2, 7 → 0.7)",
            "makes log mass: log₁₀ of shell mass",
            "takes away log",
            "describes shell mass: unit kg; not below \u22120.5; zero means none; describes tray: order of levels c, a",
            "describes a, b: no upper bound; says that n counts each tray",
        ])  # fmt: skip

    def test_each_recipe_has_words_with_what_it_was_told(self):
        of = {"of": "mass"}
        names = {"names": ["small", "big", "big"], "others": "huge"}
        for recipe, words in (
            ({"how": "expression", "text": "2 * mass", "of": ["mass"]}, "the expression 2 * mass"),
            ({"how": "scale", **of, "setting": {"way": "box-cox", "power": 0.31}}, "shell mass, Box-Cox 0.31"),
            ({"how": "scale", **of, "setting": {"way": "log", "base": "e", "offset": 0.5}}, "ln of (shell mass + 0.5)"),
            ({"how": "scale", **of, "setting": {"way": "power", "power": 0}}, "log₁₀ of shell mass"),
            ({"how": "classes", **of, "boundaries": [0, 5, 10], "closed": "left"},
             "2 classes of shell mass: [0, 5); [5, 10]"),
            ({"how": "classes", **of, "boundaries": [0, 5, 10, 15], "closed": "left", **names},
             "2 classes of shell mass: small [0, 5); big [5, 10); big [10, 15]; huge beyond"),
            ({"how": "recode", "of": "tray", "labels": {"a": "old", "b": "new"}, "others": "rest"},
             "tray, levels renamed: a → old, b → new, others → rest"),
            ({"how": "pulled-in", **of, "low": 2.0, "high": 40.5, "rows": [3]},
             "shell mass, 1 value pulled in to 2 and 40.5"),
            ({"how": "percent", **of, "by": "tray", "level": "a", "within": "week"},
             "shell mass in percent of the mean of tray a, within each week"),
            ({"how": "percent", **of, "row": 3}, "shell mass in percent of row 3"),
            ({"how": "along", **of, "take": "ratio", "steps": 2, "order": "week"},
             "ratio to 2 rows before, shell mass along week"),
        ):  # fmt: skip
            self.assertEqual(recipe_words(recipe, {"mass": "shell mass"}), words)


class InTheWay(unittest.TestCase):
    def found(self, text: str, *ledger: Decision, known=KNOWN, same_file: bool = False, **choices):
        steps = steps_of(ledger, {})
        used = [each.symbol for each in known]
        return {
            conflict.code: conflict
            for conflict in conflicts(known, steps, used, read(text, **choices), same_file=same_file)
        }

    def test_the_same_file_has_nothing_in_the_way(self):
        ledger = [
            decided(1, "set-aside", [12]), decided(2, "correct", [2], mass={"2": {"old": "1.5", "new": "1.6"}}),
            decided(3, "derive", log=LOG), decided(4, "describe", tray={"levels": ["c", "a", "b"]}),
        ]  # fmt: skip
        self.assertEqual(self.found(SMALL, *ledger, same_file=True), {})

    def test_a_variable_that_is_missing_names_the_steps_that_need_it(self):
        ledger = [decided(1, "describe", mass={"unit": "mg"}), decided(2, "derive", log=LOG), decided(3, "keep", [1])]
        result = self.found("tray,count\na,1\n", *ledger)["missing-variable"]
        self.assertEqual((result.variable, result.steps, result.hinders), ("mass", (1, 2), True))
        self.assertIn("no variable mass: mass (g)", result.words)

    def test_new_and_lost_levels(self):
        result = self.found(SMALL.replace("c,", "net,"), decided(1, "describe", tray={"levels": ["c", "b", "a"]}))
        self.assertEqual((result["new-level"].rows, result["new-level"].n_rows), ((3, 6, 9, 12), 4))
        self.assertIn("1 level that the routine does not know: net (4 rows)", result["new-level"].words)
        self.assertIn("No row of tray is c", result["lost-level"].words)
        self.assertEqual(result["new-level"].steps, (1,))

    def test_values_out_of_bounds(self):
        known = [replace(each, lower=1.0, upper=10.0) if each.symbol == "mass" else each for each in KNOWN]
        result = self.found(SMALL, known=known)["out-of-bounds"]
        self.assertEqual((result.rows, result.n_rows, result.hinders), ((1, 11, 12), 3, False))
        self.assertEqual(result.words, "3 values of mass lie below 1 or above 10.")

    def test_rows_that_no_longer_exist_and_rows_that_are_others(self):
        result = self.found("tray,mass (g),count\na,0.5,1\nb,2,3\n", decided(1, "set-aside", [2, 7, 9], "mass"))
        self.assertEqual((result["no-such-row"].rows, result["no-such-row"].hinders), ((7, 9), True))
        self.assertIn(
            "2 rows of the routine do not exist here, the first of them row 7; there are 2.",
            result["no-such-row"].words,
        )
        self.assertEqual((result["other-rows"].steps, result["other-rows"].hinders), ((1,), False))

    def test_a_corrected_cell_that_holds_something_else(self):
        ledger = [
            decided(1, "correct", [2, 3], mass={"2": {"old": "1.5", "new": "1"}, "3": {"old": "2.5", "new": "2"}}),
            decided(2, "correct", [2], mass={"2": {"old": "1.0", "new": "1.2"}}),
        ]  # fmt: skip
        self.assertNotIn("other-cell", self.found(SMALL, *ledger, same_file=True))
        self.assertNotIn("other-cell", self.found(SMALL.replace("b,1.5,", "b,1.500,"), *ledger))
        result = self.found(SMALL.replace("b,1.5,", "b,7,"), *ledger)["other-cell"]
        self.assertEqual((result.steps, result.rows), ((1,), (2,)))

    def test_other_kinds_and_what_can_no_longer_follow(self):
        text = SMALL.replace("0.5,0", "low,0").replace("1.5,1", "high,1")
        result = self.found(text, decided(1, "derive", log=LOG), kinds={"mass": "category"})
        self.assertIn("mass was continuous; here it is category.", result["other-kind"].words)
        self.assertEqual((result["cannot-follow"].steps, result["cannot-follow"].hinders), ((1,), True))
        unlike = decided(1, "describe", tray={"kind": "continuous"})
        self.assertEqual(self.found(SMALL, unlike)["other-kind"].steps, (1,))


class Fitted(unittest.TestCase):
    def test_what_cannot_be_taken_is_left_out_and_the_rest_is_taken(self):
        two = {**LOG, "of": ["log", "mass"], "how": "expression", "text": "log + mass", "label": "two"}
        ledger = [
            decided(1, "set-aside", [1, 9]), decided(2, "set-aside", [8]), decided(3, "describe", mass={"unit": "mg"}),
            decided(4, "describe", tray={"levels": ["c", "b", "a"]}, **{"": {"unit_variable": "tray"}}),
            decided(5, "correct", [1, 10], count={"1": {"old": "0", "new": "5"}, "10": {"old": "9", "new": "6"}}),
            decided(6, "derive", log=LOG), decided(7, "derive", two=two), decided(8, "keep", [2], "count"),
        ]  # fmt: skip
        steps = steps_of(ledger, dict.fromkeys(range(9), "why"))
        table = read("tray,count\na,3\nnet,4\nb,5\n")
        result = fitted(steps, table, leave_out=[8])
        self.assertEqual(
            [(step.number, step.kind) for step in result], [(1, "set-aside"), (2, "describe"), (3, "correct")]
        )
        self.assertEqual(result[0].rows, ((1, 1),))
        self.assertEqual(result[1].changes, {"tray": {"levels": ["b", "a", "net"]}, "": {"unit_variable": "tray"}})
        self.assertEqual(result[2].changes, {"count": {"1": {"old": "3", "new": "5"}}})
        self.assertEqual({step.reason for step in result}, {"why"})
        replayed = replay(as_decisions(result), table)
        self.assertEqual(replayed["tray"].levels, ("b", "a", "net"))
        self.assertEqual(flatnonzero(replayed["tray"].reasons).tolist(), [0])

    def test_on_the_same_table_nothing_changes(self):
        ledger = [decided(1, "set-aside", [12]), decided(2, "derive", log=LOG), decided(3, "keep", [4], "log")]
        steps = steps_of(ledger, {})
        self.assertEqual(tuple(fitted(steps, TABLE, ())), steps)
        self.assertNotEqual(replay_decisions(as_decisions(steps)), TableState())


class Symbols(unittest.TestCase):
    def test_variables_are_read_under_other_symbols(self):
        table = read("Weight (g),tray,mass\n1,a,x\n2,b,y\n", symbols={"weight": "mass"}, kinds={"mass": "count"})
        self.assertEqual(list(table), ["mass", "tray", "mass_2"])
        self.assertEqual((table["mass"].label, table["mass"].kind), ("Weight", "count"))
        placed = read("a\nx\ny\nz\n", levels={"a": ["z", "q", "x"], "b": []})["a"]
        self.assertEqual((placed.levels, placed.values.tolist()), (("z", "x", "y"), ["x", "y", "z"]))
        with self.assertRaisesRegex(Exception, "Two variables cannot have one symbol"):
            read("a,b\n1,2\n", symbols={"a": "c", "b": "c"})
