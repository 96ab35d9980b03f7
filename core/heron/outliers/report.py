"""What was screened, by which rules, what was decided and what moved: sentences for a methods section."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from heron.formatting import counted, grouped, significant
from heron.outliers.rules import RULES, Rule
from heron.summary import Summary

_LISTED = 6
_DEEDS = {
    "kept": "kept",
    "set aside": "set aside",
    "corrected": "corrected",
    "pulled in": "pulled in to the limit in a variable of its own",
}


@dataclass(frozen=True)
class Decided:
    """One decision. rows: from 1; texts: the value of each as it stood in the source."""

    deed: str
    rows: Sequence[int]
    texts: Sequence[str]
    note: str
    entry: int


def report(
    label: str,
    unit: str,
    rules: Sequence[Rule],
    options: Mapping[str, Any],
    within: str,
    n_named: int,
    n_undecided: int,
    decided: Sequence[Decided],
    before: Summary,
    after: Summary,
) -> tuple[str, ...]:
    """Return the sentences. before: of the values as they were read; after: as they stand."""
    by = ", ".join(RULES[rule].told(**options) for rule in rules)
    where = f" within each {within}" if within else ""
    one = "value was" if n_named == 1 else "values were"
    flagged = f"{grouped(n_named) if n_named else 'no'} {one} flagged"
    said = [f"{label[:1].upper()}{label[1:]} was screened{where} by {by}; {flagged}."]
    for decision in decided:
        said.append(decided_words(decision, unit))
    if n_undecided and decided:
        said.append(f"{grouped(n_undecided)} {'is' if n_undecided == 1 else 'are'} still to be decided on.")
    moved = _moved(before, after, unit)
    if moved:
        said.append(moved)
    elif any(decision.deed != "kept" for decision in decided):
        said.append("The mean and the SD are as they were.")
    return tuple(said)


def decided_words(decided: Decided, unit: str) -> str:
    """One decision, with its rows, its note and its place in the ledger."""
    units = f" {unit}" if unit else ""
    shown = [
        f"{row} ({text}{units})" if text else str(row) for row, text in zip(decided.rows, decided.texts, strict=True)
    ]
    if len(shown) > _LISTED:
        rows, verb = counted(len(shown), "row"), "were"
    elif len(shown) == 1:
        rows, verb = f"Row {shown[0]}", "was"
    else:
        rows, verb = f"Rows {', '.join(shown[:-1])} and {shown[-1]}", "were"
    note = f": {decided.note.rstrip('.')}" if decided.note else ""
    return f"{rows} {verb} {_DEEDS[decided.deed]}{note} (ledger {decided.entry})."


def _moved(before: Summary, after: Summary, unit: str) -> str:
    if before.mean is None or after.mean is None or (before.mean, before.sd) == (after.mean, after.sd):
        return ""
    units = f" {unit}" if unit else ""
    words = f"This moves the mean from {significant(before.mean, 4)} to {significant(after.mean, 4)}{units}"
    if before.sd is not None and after.sd is not None:
        words += f" and the SD from {significant(before.sd, 4)} to {significant(after.sd, 4)}{units}"
    return f"{words} (n {before.n} to {after.n})." if before.n != after.n else f"{words}."
