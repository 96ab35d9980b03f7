"""The records of choices: each says all that is read from it, names sources that are known, and stands once."""

from dataclasses import fields as fields_of
from string import Formatter
from typing import Literal, get_args, get_origin, get_type_hints
from unittest import TestCase

from heron import (
    agreement,
    control,
    density,
    differences,
    frequency,
    groups,
    normality,
    outliers,
    quantiles,
    relation,
    rescale,
    sensitivity,
    statistics,
)
from heron.choices import Choice, Option, by_id, displays, ids_of
from heron.figure import choices
from heron.figure.roles import ROLES, Role
from heron.figure.source import KINDS
from heron.readings.spread import Back
from heron.sources import SOURCES, cited
from heron.summary import Summary

FAMILIES = {
    "outlier rules": (outliers.RULES, outliers.Rule),
    "centres": (groups.CENTRES, groups.Centre),
    "bars": (groups.BARS, groups.Bars),
    "whiskers": (groups.WHISKERS, groups.Whiskers),
    "bandwidth rules": (density.BANDWIDTH_RULES, density.BandwidthRule),
    "kernels": (density.KERNELS, density.Kernel),
    "class rules": (frequency.CLASS_RULES, frequency.ClassRule),
    "quantile definitions": (quantiles.QUANTILE_DEFINITIONS, quantiles.Definition),
    "families": (normality.FAMILIES, normality.Family),
    "effects": (differences.EFFECTS, differences.Effect),
    "scales": (relation.SCALES, relation.Scale),
    "lines": (relation.LINES, relation.LineKind),
    "control charts": (control.CHARTS, control.Chart),
    "tests": (normality.TESTS, ids_of(normality.TESTS)),
    "ways": (rescale.WAYS, ids_of(rescale.WAYS)),
}
# What a panel can be drawn with, by the field of its source.
DRAWN = {
    "measure": {"shape": choices.MEASURES, "cumulative": choices.MEASURES, "counts": choices.MEASURES},
    "layers": choices.SHAPE_LAYERS,
    "box_marks": choices.BOX_MARKS,
    "axis": choices.AXIS_SCALES,
    "form": {"shape": choices.FORMS, "rules": choices.RULE_FORMS},
    "scaling": choices.SCALINGS,
    "lines": {"cumulative": choices.CUMULATIVE_LINES, "pair": relation.LINES},
    "marks": {"ordered": choices.ORDER_MARKS, "groups": choices.GROUP_MARKS, "shares": choices.GROUP_MARKS,
              "estimates": choices.GROUP_MARKS},
    "plot": {"control": choices.CONTROL_PLOTS, "quantiles": choices.QUANTILE_PLOTS, "pair": choices.PAIR_PLOTS},
    "bands": {"quantiles": choices.QUANTILE_BANDS, "pair": choices.LINE_BANDS},
    "points": choices.POINTS,
    "violin": choices.VIOLINS,
    "side": choices.SIDES,
    "order": choices.GROUP_ORDERS,
    "line": choices.LEVEL_LINES,
    "sort": choices.ESTIMATE_ORDERS,
    "shown": choices.PAIR_FORMS,
    "shade": choices.SHADES,
    "width_rule": choices.WIDTH_RULES,
    "joined": choices.JOINS,
    "margins": choices.MARGINS,
    "view": choices.DIAGNOSTICS,
    "row_measure": choices.ROW_MEASURES,
    "statistic": sensitivity.STATISTICS,
    "unit": choices.TIME_UNITS,
    "closed": choices.CLOSED_SIDES,
    "spreads": differences.SPREADS,
    "scale": agreement.DIFFERENCE_SCALES,
    "x_axis": choices.AXIS_SCALES,
    "y_axis": choices.AXIS_SCALES,
}  # fmt: skip


def literals(annotation):
    """The words of a Literal that stands anywhere in a type."""
    if get_origin(annotation) is Literal:
        return {str(word) for word in get_args(annotation)}
    return set().union(*map(literals, get_args(annotation)))


def fields(words):
    return {name for _, name, _, _ in Formatter().parse(words) if name}


class Records(TestCase):
    def test_the_types_of_schemas_are_the_ids_of_the_records(self):
        for name, (records, literal) in FAMILIES.items():
            with self.subTest(name):
                self.assertEqual({str(identity) for identity in get_args(literal)}, set(records))

    def test_a_panel_is_drawn_with_what_the_records_offer_and_nothing_else(self):
        rules = [set(map(str, records)) for records, _ in FAMILIES.values()]
        drawn = {}
        for kind, source in KINDS.items():
            hints = get_type_hints(source)
            for field in fields_of(source):
                words = literals(hints[field.name])
                if field.name == "kind" or not words or words in rules:
                    continue
                with self.subTest(f"{kind}: {field.name}"):
                    offered = DRAWN[field.name]
                    records = offered.get(kind, offered)
                    self.assertLessEqual(words, set(records))
                    drawn.setdefault(id(records), (records, set()))[1].update(words)
        for records, words in drawn.values():
            self.assertEqual(words, set(records))

    def test_every_role_of_a_mark_is_named(self):
        self.assertEqual(set(get_args(Role)), set(ROLES))
        for role in ROLES.values():
            self.assertTrue(role.label and role.drawn and role.one and role.many)

    def test_each_says_all_that_is_read_from_it(self):
        for name, (records, _) in FAMILIES.items():
            for record in records.values():
                with self.subTest(f"{name}: {record.id}"):
                    for words in (record.label, record.help, record.caption, record.methods):
                        self.assertTrue(words.strip())
                        self.assertNotRegex(words, r"\.\.|  ")
                    self.assertTrue(
                        record.help[0].isupper() or not record.help[0].isalpha() or name in ("class rules", "tests")
                    )
                    taken = {option.name for option in record.options}
                    settings = dict.fromkeys((fields(record.caption) | fields(record.methods)) - taken, 1.0)
                    self.assertNotRegex(record.told(**settings) + record.used(**settings).clause, r"[{}]")
                    self.assertFalse(record.methods.endswith("."))
                    for source in record.sources:
                        self.assertTrue(source in SOURCES or " (" in cited(source), source)

    def test_settings_stand_within_their_range(self):
        seen = {}
        for records, _ in FAMILIES.values():
            for record in records.values():
                for option in record.options:
                    if option.words is not None:
                        self.assertIn(str(option.usual), option.words)
                    else:
                        self.assertTrue(option.low <= option.usual <= option.high, option)
        for rule in outliers.RULES.values():
            for option in rule.options:
                self.assertEqual(seen.setdefault(option.name, option), option)  # one meaning for one name

    def test_what_is_said_takes_settings_as_they_are_or_as_they_usually_are(self):
        record = Choice(
            id="a", label="a", help="A", caption="{reach:g} IQR at {percent}, {how}", methods="with {reach:g}",
            options=(
                Option("reach", "Reach", 1.5), Option("level", "Level", 0.05),
                Option("how", "How", 7, words={"7": "seven"}),
            ),
        )  # fmt: skip
        self.assertEqual(record.told(), "1.5 IQR at 5 %, seven")
        self.assertEqual(record.told(reach=3, level=0.01), "3 IQR at 1 %, seven")
        self.assertEqual(record.used(reach=2).clause, "with 2")
        self.assertEqual(record.option("reach").usual, 1.5)

    def test_lists_stand_by_rank_and_as_written(self):
        records = by_id([Choice(id=i, label=i, help=i, caption=i, methods=i, rank=r) for i, r in (("b", 2), ("a", 1))])
        self.assertEqual(list(records), ["a", "b"])
        self.assertEqual(get_args(ids_of(records)), ("a", "b"))
        self.assertEqual(list(displays({"z": "last", "y": ("first", "why")})), ["z", "y"])
        self.assertEqual(displays({"y": ("first", "why")})["y"].help, "why")

    def test_what_is_listed_of_a_variable_is_in_its_summary(self):
        told = {field.name for field in fields_of(Summary)}
        for record in statistics.LISTED.values():
            names = {*record.numbers, *record.besides}
            self.assertLessEqual(names, {field.name for field in fields_of(Back)} if record.back else told, record.id)
            self.assertTrue(all(cited(source) for source in record.sources), record.id)
        named = [name for name, _ in statistics.NAMES.values()]
        self.assertEqual(len(named), len(set(named)))
