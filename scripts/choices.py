"""Write what the interface reads of the core's records of choices: web/src/api/choices.gen.ts, to standard output."""

import json
import sys
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

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
from heron.choices import Choice, Display, Option
from heron.figure import choices
from heron.figure.roles import ROLES
from heron.formatting import NUMBER_STYLES
from heron.report import FORMS as REPORT_FORMS
from heron.report import SECTIONS
from heron.tables.source import ABOVE, COEFFICIENTS, PERCENTS
from heron.tables.source import LINES as TABLE_LINES
from heron.tables.writing import FORMS

LISTS: dict[str, Mapping[str, Display]] = {
    "OUTLIER_RULES": outliers.RULES,
    "CENTRES": groups.CENTRES,
    "BARS": groups.BARS,
    "WHISKERS": groups.WHISKERS,
    "BANDWIDTH_RULES": density.BANDWIDTH_RULES,
    "KERNELS": density.KERNELS,
    "CLASS_RULES": frequency.CLASS_RULES,
    "QUANTILE_DEFINITIONS": quantiles.QUANTILE_DEFINITIONS,
    "FAMILIES": normality.FAMILIES,
    "EFFECTS": differences.EFFECTS,
    "LIMITS": differences.LIMITS,
    "GROUP_TESTS": differences.GROUP_TESTS,
    "FIT_SCALES": relation.SCALES,
    "LINES": relation.LINES,
    "CHARTS": control.CHARTS,
    "DIFFERENCE_SCALES": agreement.DIFFERENCE_SCALES,
    "NORMALITY_TESTS": normality.TESTS,
    "WAYS": rescale.WAYS,
    "POWERS": rescale.POWERS,
    "LOG_BASES": rescale.LOG_BASES,
    "STATISTICS": sensitivity.STATISTICS,
    "LISTED": statistics.LISTED,
    "TAKES": rescale.TAKES,
    "ROLES": ROLES,
    "TABLE_LINES": TABLE_LINES,
    "TABLE_PERCENTS": PERCENTS,
    "TABLE_COEFFICIENTS": COEFFICIENTS,
    "TABLE_ABOVE": ABOVE,
    "TABLE_FORMS": FORMS,
    "REPORT_FORMS": REPORT_FORMS,
    "REPORT_SECTIONS": SECTIONS,
    **{name: records for name, records in vars(choices).items() if name.isupper()},
}
# What a record says besides, where the interface must know it.
MORE = {
    groups.CentreChoice: lambda centre: {
        "bars": centre.bars,
        "effect": centre.effect,
        "among_values": centre.among_values,
        "fitting": list(groups.fitting(centre.id)),
    },
    statistics.Statistic: lambda listed: {
        "numbers": listed.numbers,
        "usual": listed.usual,
        "back": listed.back,
    },
    differences.EffectChoice: lambda effect: {
        "of_means": effect.of_means,
        "paired": effect.paired.label if effect.paired else effect.label,
    },
    differences.LimitsChoice: lambda limits: {
        name: getattr(limits, name) for name in ("equal", "together", "to_reference", "caption")
    },
    differences.GroupTest: lambda test: {"letter": test.letter},
    normality.TestChoice: lambda test: {"letter": test.letter},
    groups.BarChoice: lambda bar: {"level": any(option.name == "level" for option in bar.options)},
}


def option(setting: Option) -> dict[str, Any]:
    """A number to set; what is chosen by name has choices of its own."""
    return {name: getattr(setting, name) for name in ("label", "usual", "low", "high", "whole")}


def entry(record: Display) -> dict[str, Any]:
    settings = record.options if isinstance(record, Choice) else ()
    options = {setting.name: option(setting) for setting in settings if setting.words is None}
    more = MORE.get(type(record), lambda _: {})(record)
    return {"label": record.label, "help": record.help, **more, **({"options": options} if options else {})}


def written() -> str:
    parts = ["// Written by scripts/choices.py from the records of the core; not by hand.\n"]
    for name, records in LISTS.items():
        body = json.dumps({key: entry(record) for key, record in records.items()}, ensure_ascii=False, indent=2)
        parts.append(f"export const {name} = {body} as const;\n")
    styles = {name: asdict(style) for name, style in NUMBER_STYLES.items()}
    parts.append(f"export const NUMBER_STYLES = {json.dumps(styles, ensure_ascii=False, indent=2)} as const;\n")
    return "\n".join(parts)


if __name__ == "__main__":
    sys.stdout.write(written())
