"""Code that makes a table of its file or of other tables, and takes again every decision on it."""

from collections.abc import Mapping
from typing import Any

from heron.routine import words_of
from heron.script.code import comment, runs
from heron.script.spec import TableSpec

_MAKERS = {
    "longer": "rearranging.longer({0}, {sets!r}, marks={marks!r}, mark_name={mark_name!r})",
    "wider": "rearranging.wider({0}, keys={keys!r}, mark={mark!r}, values={values!r})",
    "split": "rearranging.split({0}, {variable!r}, at={at!r}, names={names!r})",
    "join": "rearranging.join({0}, {variables!r}, between={between!r}, name={name!r})",
    "stack": "rearranging.stack([{all}], name={name!r})",
    "look-up": "rearranging.look_up({0}, {1}, key={key!r}, other_key={other_key!r}, symbols={symbols!r})",
}


def code(table: TableSpec, names: Mapping[str, str]) -> list[str]:
    """The lines that make a table. names: of the tables in the script, by their keys."""
    head = ["", f"# {'-' * 100}", *comment(f"Table: {table.name}")]
    if table.path:
        head += comment(f"From {table.path}, SHA-256 {table.digest}.")
        choices = "".join(f", {name}={value!r}" for name, value in table.choices.items())
        made = f"intake.read(HERE / {table.path!r}{choices}).table"
    else:
        made = _made(table.origin["how"], table.origin["options"], [names[key] for key in table.origin.get("of", [])])
    decisions = _decisions(table)
    if not decisions:
        return [*head, f"{table.python} = table_of({table.name!r}, {made})"]
    lines = [f"    {line}" for line in decisions]
    return [*head, f"{table.python} = table_of({table.name!r}, {made}, [", *lines, "])"]


def _decisions(table: TableSpec) -> list[str]:
    """A line for each decision, under its words and its reason."""
    lines = []
    if table.said:
        lines += comment("As it was said when the table was read")
        lines.append(f"ledger.Decision(0, 'describe', changes={_plain(table.said)!r}),")
    for step in table.steps:
        reason = f": {step.reason}" if step.reason else ""
        lines += comment(f"Step {step.number} {words_of(step, {})}{reason}")
        given = f"{step.number}, {step.kind!r}, {runs(step.rows)}, {step.variable!r}"
        changes = f", changes={_plain(step.changes)!r}" if step.changes else ""
        lines.append(f"ledger.Decision({given}{changes}),")
    return lines


def _plain(said: Mapping[str, Any]) -> dict[str, Any]:
    return {name: dict(value) if isinstance(value, Mapping) else value for name, value in said.items()}


def _made(how: str, options: Mapping[str, Any], of: list[str]) -> str:
    if how == "simulated":
        groups = ", ".join(f"simulation.Group(**{dict(group)!r})" for group in options["groups"])
        second = f"simulation.Simulated(**{dict(options['second'])!r})" if options.get("second") else "None"
        return (
            f"simulation.simulate(simulation.Simulated(**{dict(options['variable'])!r}), [{groups}], "
            f"seed={options['seed']!r}, second={second}, correlation={options['correlation']!r}, "
            f"decimals={options['decimals']!r})"
        )
    tables = [f"{name}.active()" for name in of]
    if how == "part":
        parts = [{**option, "levels": tuple(option.get("levels") or ())} for option in options["conditions"]]
        conditions = ", ".join(f"rearranging.Condition(**{part!r})" for part in parts)
        return f"rearranging.subset({tables[0]}, [{conditions}], symbols={options['symbols']!r}).table"
    return _MAKERS[how].format(*tables, all=", ".join(tables), **options) + ".table"
