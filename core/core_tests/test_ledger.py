"""Decisions and their replay."""

import json
import unittest

import numpy as np
from heron import intake, summary
from heron.errors import InputError
from heron.ledger import (
    TRIED,
    Decision,
    TablesAsImports,
    TableState,
    decisions_in_force,
    load_series,
    meet,
    replay,
    replay_decisions,
    revocable,
    undone_last,
)
from heron.numbering import from_runs, moves_between, to_runs
from hypothesis import given, settings
from hypothesis import strategies as st

TABLE = intake.read(b"bed,mass\na,1.5\nb,n/r\na,4\nb,8\na,16\nb,2\n").table


def entry(number, kind, rows=(), variable="", of=0):
    return Decision(number, kind, to_runs(rows), variable, of)


class SettingAside(unittest.TestCase):
    def test_rows_and_single_values(self):
        table = replay([entry(1, "set-aside", [3, 4]), entry(2, "set-aside", [5], "mass")], TABLE)
        self.assertEqual(table["mass"].missing_counts, {"n/r": 1, "set aside": 3})
        self.assertEqual(table["bed"].missing_counts, {"set aside": 2})
        self.assertEqual(table["bed"].values.tolist(), ["a", "b", None, None, "a", "b"])
        self.assertEqual(summary.summarize(table["mass"].numbers).mean, (1.5 + 2) / 2)
        self.assertEqual(TABLE["mass"].n_missing, 1)  # data are never overwritten

    def test_put_back_undo_and_redo(self):
        taken = [entry(1, "set-aside", [1, 2, 3]), entry(2, "put-back", [2])]
        self.assertEqual(replay_decisions(taken).aside.get("", ()), ((1, 1), (3, 3)))
        undone = [*taken, entry(3, "undo", of=2)]
        self.assertEqual((replay_decisions(undone).aside.get("", ()), undone_last(undone)), (((1, 3),), 2))
        again = [*undone, entry(4, "redo", of=2)]
        self.assertEqual((replay_decisions(again).aside.get("", ()), undone_last(again)), (((1, 1), (3, 3)), None))
        branched = [*undone, entry(4, "set-aside", [6])]
        self.assertEqual(
            (replay_decisions(branched).aside.get("", ()), undone_last(branched)), (((1, 3), (6, 6)), None)
        )
        self.assertEqual([decision.number for decision in decisions_in_force(branched)], [1, 4])

    def test_a_missing_value_set_aside_keeps_its_own_code_when_put_back(self):
        both = [entry(1, "set-aside", [2]), entry(2, "put-back", [2])]
        self.assertEqual(replay(both[:1], TABLE)["mass"].missing_counts, {"set aside": 1})
        self.assertEqual(replay(both, TABLE)["mass"].missing_counts, {"n/r": 1})

    def test_variables_are_described_and_the_words_taken_back(self):
        first = Decision(1, "describe", changes={"mass": {"label": "wet mass", "lower": 0.0}})
        second = Decision(2, "describe", changes={"mass": {"unit": "g", "label": "mass, wet"}})
        said = [first, second]
        self.assertEqual(replay_decisions(said).described, {"mass": {"label": "mass, wet", "unit": "g", "lower": 0.0}})
        column = replay(said, TABLE)["mass"]
        self.assertEqual((column.label, column.unit), ("mass, wet", "g"))
        undone = [*said, entry(3, "undo", of=2)]
        self.assertEqual(replay_decisions(undone).described, {"mass": {"label": "wet mass", "lower": 0.0}})
        self.assertEqual((replay_decisions(undone).aside.get("", ()), undone_last(undone)), ((), 2))

    def test_what_the_table_does_not_have_is_refused(self):
        for wrong in (entry(1, "set-aside", [7]), entry(1, "set-aside", [0]), entry(1, "set-aside", [1], "width")):
            with self.assertRaises(InputError):
                replay([wrong], TABLE)

    @settings(max_examples=100)
    @given(st.lists(st.tuples(st.booleans(), st.sets(st.integers(1, 6)), st.sampled_from(["", "mass"])), max_size=8))
    def test_replay_is_the_decisions_one_by_one(self, steps):
        rows, values = set(), set()
        decisions = []
        for number, (aside, named, variable) in enumerate(steps, 1):
            decisions.append(entry(number, "set-aside" if aside else "put-back", named, variable))
            held = values if variable else rows
            held.update(named) if aside else held.difference_update(named)
        table = replay(decisions, TABLE)
        codes = [None, *table["mass"].missing_codes]
        gone = [codes[reason] == "set aside" for reason in table["mass"].reasons]
        self.assertEqual(gone, [row in rows | values for row in range(1, 7)])
        back = [entry(99, "put-back", range(1, 7)), entry(100, "put-back", range(1, 7), "mass")]
        kept = replay([*decisions, *back], TABLE)
        np.testing.assert_array_equal(kept["mass"].numbers, TABLE["mass"].numbers)  # bit for bit


def corrects(number, **cells):
    return Decision(
        number, "correct", changes={"mass": {row[1:]: {"old": "", "new": text} for row, text in cells.items()}}
    )


class Meeting(unittest.TestCase):
    def test_decisions_meet_where_they_are_about_the_same(self):
        def aside(*rows, variable=""):
            return Decision(0, "set-aside", to_runs(rows), variable)

        def correct(row, symbol):
            return Decision(0, "correct", ((row, row),), changes={symbol: {str(row): {"old": "1", "new": "2"}}})

        def describe(*symbols):
            return Decision(0, "describe", changes={symbol: {"label": "x"} for symbol in symbols})

        derive = Decision(0, "derive", changes={"log_mass": {"of": "mass"}})
        undo, line_up = Decision(0, "undo", of=1), Decision(0, "line-up", variable="mass")
        for one, other, whether in (
            (aside(1, 2), aside(2, 3), True), (aside(1, 2), aside(3), False),
            (aside(1, variable="mass"), aside(1), True), (aside(1, variable="mass"), aside(1, variable="eggs"), False),
            (aside(4), correct(4, "mass"), True), (aside(4), correct(5, "mass"), False),
            (aside(4, variable="eggs"), correct(4, "mass"), False), (correct(4, "mass"), correct(4, "mass"), True),
            (aside(4), describe("mass"), False), (aside(4, variable="mass"), describe("mass"), True),
            (correct(4, "mass"), describe("mass"), True), (correct(4, "mass"), describe("eggs"), False),
            (describe("mass"), describe("eggs", "mass"), True), (describe("mass"), describe(""), False),
            (derive, describe("mass"), True), (derive, describe("eggs"), False), (derive, aside(1), False),
            (derive, correct(1, "mass"), False), (undo, aside(1), True), (undo, describe(""), True),
            (line_up, describe("mass"), False), (line_up, undo, False),
        ):  # fmt: skip
            with self.subTest(one=one, other=other):
                self.assertEqual((meet(one, other), meet(other, one)), (whether, whether))


class Correcting(unittest.TestCase):
    def test_a_cell_holds_its_new_text_and_is_read_as_its_kind_then_is(self):
        table = replay([corrects(1, _2="3", _4=""), corrects(2, _5="n/r")], TABLE)
        np.testing.assert_array_equal(table["mass"].numbers, [1.5, 3, 4, np.nan, np.nan, 2])
        self.assertEqual(table["mass"].missing_counts, {"blank": 1, "n/r": 1})
        named = Decision(3, "describe", changes={"mass": {"kind": "category"}})
        self.assertEqual(replay([corrects(1, _2="3"), named], TABLE)["mass"].values.tolist()[1], "3")
        self.assertEqual(replay([corrects(1, _2="3"), entry(2, "undo", of=1)], TABLE)["mass"].n_missing, 1)

    def test_a_later_correction_of_a_cell_stands_over_an_earlier_one(self):
        self.assertEqual(
            replay_decisions([corrects(1, _2="3"), corrects(2, _2="5", _1="1")]).corrected["mass"], {2: "5", 1: "1"}
        )


class RowsUnderNewNumbers(unittest.TestCase):
    def test_decisions_follow_their_rows_when_the_file_is_read_with_another_header(self):
        again = intake.read(b"bed,mass\na,1.5\nb,n/r\na,4\nb,8\na,16\nb,2\n", header="none").table
        match = intake.match(TABLE, again)
        self.assertEqual((match.moves, match.n, match.n_gone, match.n_new), (((1, 6, 2),), 6, 0, 1))
        reread = Decision(3, "reread", changes={"reading": 1, "moves": match.moves})
        taken = [entry(1, "set-aside", [3, 4]), entry(2, "set-aside", [6], "mass"), reread]
        state = replay_decisions(taken)
        self.assertEqual((state.aside, state.import_version), ({"": ((4, 5),), "mass": ((7, 7),)}, 1))
        self.assertEqual(replay(taken, TABLE, again).n_rows, 7)
        back = [*taken, entry(4, "undo", of=3)]
        self.assertEqual((replay_decisions(back).aside.get("", ()), replay(back, TABLE, again).n_rows), (((3, 4),), 6))
        with self.assertRaises(InputError):
            replay(taken, TABLE)

    def test_other_rows_are_not_taken_for_the_same(self):
        other = intake.read(b"bed,mass\nq,91\nr,92\ns,93\n").table
        self.assertEqual(intake.match(TABLE, other).moves, ())
        self.assertEqual(
            replay_decisions([entry(1, "set-aside", [1]), Decision(2, "follow", changes={"moves": ()})]).aside.get(
                "", ()
            ),
            (),
        )

    @given(st.lists(st.integers(0, 40), unique=True), st.lists(st.integers(0, 40), unique=True))
    def test_each_row_that_stays_is_found_under_its_new_number(self, before, now):
        moves = moves_between(np.array(before, dtype=np.int64), np.array(now, dtype=np.int64))
        for index, key in enumerate(before, 1):
            state = replay_decisions([entry(1, "set-aside", [index]), Decision(2, "follow", changes={"moves": moves})])
            result = from_runs(state.aside.get("", ())).tolist()
            self.assertEqual(result, [now.index(key) + 1] if key in now else [])


class AgainstPlainFolding(unittest.TestCase):
    """Whatever is decided, taken back and made again: the table is what the decisions that stand make of it alone."""

    STEPS = st.lists(
        st.one_of(
            st.tuples(st.just("set-aside"), st.sets(st.integers(1, 6), min_size=1)),
            st.tuples(st.just("correct"), st.dictionaries(st.integers(1, 6), st.sampled_from(["", "2.5", "n/r"]))),
            st.tuples(st.just("describe"), st.sampled_from(["g", "kg", ""])),
            st.tuples(st.just("undo"), st.none()),
            st.tuples(st.just("redo"), st.none()),
            st.tuples(st.just("line-up"), st.none()),
        ),
        max_size=12,
    )

    @given(STEPS)
    def test_undone_decisions_leave_nothing_behind(self, steps):
        taken, stack, waiting = [], [], []
        for number, (kind, said) in enumerate(steps, 1):
            if kind == "undo":
                if not stack:
                    continue
                waiting.append(stack.pop())
                taken.append(entry(number, "undo", of=waiting[-1].number))
            elif kind == "redo":
                self.assertEqual(undone_last(taken), waiting[-1].number if waiting else None)
                if not waiting:
                    continue
                stack.append(waiting.pop())
                taken.append(entry(number, "redo", of=stack[-1].number))
            elif kind == "line-up":  # evidence: no decision, and in nobody's way
                taken.append(Decision(number, "line-up", changes={"mass": {"picked": 1}}))
            else:
                made = {
                    "set-aside": lambda n=number, rows=said: entry(n, "set-aside", rows),
                    "correct": lambda n=number, cells=said: corrects(
                        n, **{f"_{row}": text for row, text in cells.items()}
                    ),
                    "describe": lambda n=number, unit=said: Decision(n, "describe", changes={"mass": {"unit": unit}}),
                }[kind]()
                taken.append(made)
                stack.append(made)
                waiting.clear()
        self.assertEqual([decision.number for decision in revocable(taken)], [decision.number for decision in stack])
        self.assertEqual(replay_decisions(taken), replay_decisions(stack))
        one, other = replay(taken, TABLE)["mass"], replay(stack, TABLE)["mass"]
        self.assertEqual(
            (one.numbers.tobytes(), one.missing_counts, one.unit),
            (other.numbers.tobytes(), other.missing_counts, other.unit),
        )


TWICE = {"how": "expression", "of": ["mass"], "text": "mass * 2", "label": "twice", "unit": ""}
Z_SCORE = {"how": "scale", "of": "mass", "setting": {"way": "z"}, "label": "z", "unit": "SD"}


class States(unittest.TestCase):
    """What a state hands out, and by what it knows its columns."""

    def state(self, *decisions):
        return replay_decisions(decisions, TablesAsImports(TABLE))

    def test_one_decision_more_is_the_replay_of_all(self):
        derive = Decision(1, "derive", changes={"z": Z_SCORE, "twice": TWICE})
        taken = [
            derive,
            entry(2, "set-aside", [1, 2]),
            entry(3, "put-back", [2]),
            corrects(4, _2="9"),
            entry(5, "keep", [6], "mass"),
            Decision(6, "describe", changes={"z": {"label": "score"}, "": {"unit_variable": "bed"}}),
            Decision(7, "follow", changes={"moves": [(2, 6, 1)]}),
            Decision(8, "derive", changes={"twice": None}),
        ]
        step_by_step = self.state()
        for n, decision in enumerate(taken, 1):
            step_by_step = step_by_step.decided(decision)
            whole = self.state(*taken[:n])
            self.assertEqual((step_by_step, step_by_step.key), (whole, whole.key))
            self.assertEqual(TableState.from_json(json.loads(json.dumps(whole.to_json())), whole.imports), whole)

    def test_three_views_of_a_column_and_of_one_that_is_made_of_it(self):
        state = self.state(
            Decision(1, "derive", changes={"twice": TWICE}), corrects(2, _2="3"), entry(3, "set-aside", [5])
        )
        expected = {
            "imported": ([1.5, np.nan, 4, 8, 16, 2], [3, 6, 8, 16, 32, 4]),
            "described": ([1.5, 3, 4, 8, 16, 2], [3, 6, 8, 16, 32, 4]),
            "active": ([1.5, 3, 4, 8, np.nan, 2], [3, 6, 8, 16, np.nan, 4]),
        }
        for view, (mass, twice) in expected.items():
            np.testing.assert_array_equal(state.column("mass", view).numbers, mass)
            np.testing.assert_array_equal(state.column("twice", view).numbers, twice)

    def test_a_column_is_known_by_what_it_stands_on(self):
        before = self.state(Decision(1, "derive", changes={"z": Z_SCORE}))
        keys = {symbol: before.column_key(symbol, "active") for symbol in ("bed", "mass", "z")}
        aside = before.decided(entry(2, "set-aside", [1], "mass"))
        changed = {symbol: aside.column_key(symbol, "active") != key for symbol, key in keys.items()}
        self.assertEqual(changed, {"bed": False, "mass": True, "z": True})
        self.assertEqual(aside.column_key("z", "described"), before.column_key("z", "described"))
        back = aside.decided(entry(3, "put-back", [1], "mass"))
        self.assertEqual(back.column_key("z", "active"), keys["z"])

    def test_a_scale_that_is_tried_leaves_the_state_as_it_was(self):
        state = self.state()
        tried = state.tried({**Z_SCORE, "label": "", "unit": ""})
        self.assertEqual((state.symbols, tried.symbols), (("bed", "mass"), ("bed", "mass", TRIED)))
        self.assertEqual(tried.column(TRIED, "active").unit, "SD")
        with self.assertRaises(InputError):
            state.tried({"how": "expression", "of": ["nowhere"], "text": "nowhere", "label": "x"}).column(
                TRIED, "active"
            )

    def test_one_level_alone_shows_derived_values_as_the_table_has_them(self):
        state = self.state(Decision(1, "derive", changes={"z": Z_SCORE}))
        whole, only = load_series(state, ["z"]), load_series(state.narrowed("bed", "a"), ["z"])
        np.testing.assert_array_equal(only.numbers("z"), whole.numbers("z")[[0, 2, 4]])
        self.assertEqual((only.rows(np.arange(3)).tolist(), only.used("z").n), ([1, 3, 5], 3))
        by_row = load_series(state.narrowed("bed", "a"), ["z"], weights="refuse").numbers("z")
        self.assertEqual(np.flatnonzero(~np.isnan(by_row)).tolist(), [0, 2, 4])
        with self.assertRaisesRegex(InputError, "no level"):
            state.narrowed("bed", "q")

    def test_what_can_no_longer_be_made_rests(self):
        state = self.state(Decision(1, "derive", changes={"z": Z_SCORE, "of_z": {**TWICE, "of": ["z"], "text": "z"}}))
        names = state.decided(Decision(2, "describe", changes={"mass": {"kind": "category"}}))
        self.assertEqual((list(state.settled().derived), names.settled().derived), (["z", "of_z"], {}))


class Weights(unittest.TestCase):
    @given(st.lists(st.tuples(st.sampled_from("ab"), st.integers(-9, 9), st.integers(0, 3)), min_size=1, max_size=12))
    def test_entries_are_the_rows_repeated(self, rows):
        lines = [f"{bed},{x},{n}" for bed, x, n in rows]
        often = [n for _, _, n in rows]
        head, kinds = "bed,x,n", {"bed": "category", "x": "count", "n": "count"}
        counted = intake.read("\n".join([head, *lines]).encode(), header="names", kinds=kinds).table
        decided = [Decision(1, "describe", changes={"": {"weight_variable": "n"}}), entry(2, "set-aside", [1], "x")]
        series = load_series(replay_decisions(decided, TablesAsImports(counted)), ["bed", "x"])
        expected = np.repeat([x if i else np.nan for i, (_, x, _) in enumerate(rows)], often)
        np.testing.assert_array_equal(series.numbers("x"), expected)
        labels, index = series.levels("bed")
        self.assertEqual([labels[i] for i in index], [bed for bed, _, n in rows for _ in range(n)])
        used = series.used("x")
        self.assertEqual((used.n, used.set_aside, used.weightless), (sum(often[1:]), often[0], often.count(0)))
        self.assertEqual(series.rows(np.arange(series.n)).tolist(), [i for i, n in enumerate(often, 1) if n])

    def test_what_speaks_of_rows_refuses_them_and_the_weights_themselves_count_once(self):
        weighted = replay_decisions(
            [Decision(1, "describe", changes={"": {"weight_variable": "mass"}})], TablesAsImports(TABLE)
        )
        with self.assertRaisesRegex(InputError, "as often as mass says"):
            load_series(weighted, ["bed"], weights="refuse")
        self.assertEqual(load_series(weighted, ["mass"]).n, 6)
        self.assertEqual(load_series(weighted, ["bed"], weights="ignore").n, 6)
        with self.assertRaisesRegex(InputError, "frequencies"):
            load_series(weighted, ["bed"])
