"""One form for groups: a label for each row, and the order of the labels."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Ints, same_length
from heron.columns import Column
from heron.errors import ChoiceError, InputError


@dataclass(frozen=True)
class Grouping:
    """Rows in groups. labels: of the groups, in their order; places: (n_rows,) of each row's label among them, -1 for
    a row of no group."""

    labels: tuple[str, ...]
    places: Ints

    def rows(self) -> list[Ints]:
        """The rows of each group, ascending; empty for a group without a row."""
        known = np.flatnonzero(self.places >= 0)
        if len(self.labels) == 1:
            return [known]
        in_order = known[np.argsort(self.places[known], kind="stable")]
        ends = np.searchsorted(self.places[in_order], np.arange(1, len(self.labels) + 1))
        return np.split(in_order, ends)[:-1]


By = ArrayLike | Sequence[object] | Column | Grouping


def groups_of(
    by: By | None, n_rows: int | None = None, *, order: Sequence[object] | None = None, where: str = "by"
) -> Grouping:
    """Return the groups of rows.

    Parameters
    ----------
    by : (n_rows,) labels, a Column or a Grouping, or None
        The label of each row: text, numbers or truths; None and NaN for no group. A Column, a pandas categorical and a
        Grouping bring their order along. Without labels all rows are one group, called "".
    n_rows : int, optional
        How many rows there are; as many as labels where it is not said.
    order : sequence of labels, optional
        The groups in their order, each once; one without a row is a group without values. By default labels stand as
        they sort, text as text and numbers by size.
    where : str
        What messages call the labels.

    Returns
    -------
    Grouping
        The labels in their order, and the place of each row's label among them.

    Raises
    ------
    LengthMismatch
        For another number of labels than rows.
    ChoiceError
        For a row whose label is not in `order`.

    Examples
    --------
    >>> groups_of(["low", "high", None, "low"], 4, order=["low", "high"]).places.tolist()
    [0, 1, -1, 0]
    """
    if by is None:
        return Grouping(("",), np.zeros(n_rows or 0, dtype=np.int64))
    result = by if isinstance(by, Grouping) else _of_labels(by, where)
    if n_rows is not None:
        same_length(n_rows, result.places.size, where=where)
    return result if order is None else _in_order(result, [label_of(label) for label in order], where)


def _of_labels(by: Any, where: str) -> Grouping:
    if isinstance(by, Column):
        if by.codes is not None:
            return Grouping(by.levels, by.codes.astype(np.int64))
        by = by.numbers
    kinds = getattr(getattr(by, "dtype", None), "categories", None)
    if kinds is not None:
        codes = by.cat.codes if hasattr(by, "cat") else by.codes
        return Grouping(tuple(map(label_of, kinds)), np.asarray(codes, dtype=np.int64))
    given = np.asarray(by)
    if given.ndim != 1:
        problem = f"{where} must hold one label for each row; it has {given.ndim} dimensions."
        raise InputError("not-one-dimensional", problem, where=where)
    if given.dtype.kind not in "biuf":
        # A list of words and gaps turns gaps into words; what was given knows better.
        texts = [label_of(label) for label in (by if given.dtype.kind == "U" else given)]
        given = np.array(texts, dtype=object)
        known = np.array([text is not None for text in texts], dtype=bool)
    else:
        known = ~np.isnan(given) if given.dtype.kind == "f" else np.ones(given.size, dtype=bool)
    names, codes = np.unique(given[known], return_inverse=True)
    places = np.full(given.size, -1, dtype=np.int64)
    places[known] = codes
    return Grouping(tuple(map(label_of, names.tolist())), places)


def _in_order(grouping: Grouping, order: list[Any], where: str) -> Grouping:
    position = {label: i for i, label in enumerate(order)}
    if len(position) < len(order):
        raise InputError("label-twice", "The order names a label twice.", where="order", remedy="Name each label once.")
    filled = np.bincount(grouping.places[grouping.places >= 0], minlength=len(grouping.labels))
    for label, n in zip(grouping.labels, filled.tolist(), strict=True):
        if n and label not in position:
            raise ChoiceError(label, order, where=where)
    moved = np.array([*(position.get(label, -1) for label in grouping.labels), -1], dtype=np.int64)
    return Grouping(tuple(order), moved[grouping.places])


def label_of(label: object) -> Any:
    """A label in words, None for none: a whole number without its point."""
    if label is None or label != label:
        return None
    if isinstance(label, float) and label.is_integer() and abs(label) < 1e15:
        return str(int(label))
    return str(label)
