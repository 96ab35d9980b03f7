"""The columns that a linear relation is fitted on, and their QR decomposition."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, same_length
from heron.errors import InputError
from heron.formatting import significant

_MOST_LEVELS = 200
_LARGEST = 1e150
_WELL_APART = 1e8  # the condition number of the columns' products; its root is that of the columns
_ALIKE = 1e-10  # a column with less than this share of itself left over follows from the others


@dataclass(frozen=True)
class Predictor:
    """What the columns of a predictor are: its numbers, or of a category which rows have each of its levels but the
    first. levels: those that complete rows have, in their order; places: of these among all; without_rows: the rest."""

    name: str
    is_category: bool = False
    levels: tuple[str, ...] = ()
    places: tuple[int, ...] = ()
    without_rows: tuple[str, ...] = ()

    @property
    def names(self) -> list[str]:
        return [f"{self.name} {level}" for level in self.levels[1:]] if self.is_category else [self.name]

    def columns(self, values: Floats) -> Floats:
        """(k, n) of numbers, or of places among all levels."""
        if not self.is_category:
            return values[None, :]
        return np.asarray(values[None, :] == np.array(self.places[1:], dtype=np.float64)[:, None], dtype=np.float64)


def predictor_of(name: str, levels: Sequence[str] | None, places: Ints) -> Predictor:
    """A predictor over the rows used. levels: of a category, None of a number; places: among them, that rows have."""
    if levels is None:
        return Predictor(name)
    kept = tuple(int(place) for place in np.unique(places))
    gone = tuple(level for i, level in enumerate(levels) if i not in kept)
    return Predictor(name, True, tuple(levels[i] for i in kept), kept, gone)


@dataclass(frozen=True)
class Terms:
    """What a response is fitted on besides the intercept. products: of two predictors by name."""

    predictors: tuple[Predictor, ...]
    products: tuple[tuple[str, str], ...] = ()

    @property
    def _by_name(self) -> dict[str, Predictor]:
        return {predictor.name: predictor for predictor in self.predictors}

    @property
    def names(self) -> tuple[str, ...]:
        """Of the coefficients, the intercept first."""
        names, of = ["intercept"], self._by_name
        for predictor in self.predictors:
            names += predictor.names
        for first, second in self.products:
            names += [f"{one} × {other}" for one in of[first].names for other in of[second].names]
        return tuple(names)

    @property
    def widths(self) -> dict[str, int]:
        """Of each predictor and product, how many columns it has."""
        widths = {predictor.name: len(predictor.names) for predictor in self.predictors}
        return widths | {f"{one} × {other}": widths[one] * widths[other] for one, other in self.products}

    @property
    def baselines(self) -> dict[str, str]:
        """The level of each category that the others are compared with."""
        return {each.name: each.levels[0] if each.levels else "" for each in self.predictors if each.is_category}

    @property
    def without_rows(self) -> dict[str, tuple[str, ...]]:
        """The levels of each category that no complete row has, which are left out."""
        return {each.name: each.without_rows for each in self.predictors if each.without_rows}

    def columns(self, values: Mapping[str, Floats]) -> Floats:
        """(k, n), column after column in memory, of complete rows. values: of each predictor by name."""
        parts = {each.name: each.columns(values[each.name]) for each in self.predictors}
        n = next(iter(values.values())).size
        whole = [*parts.values()]
        for first, second in self.products:
            whole.append((parts[first][:, None, :] * parts[second][None, :, :]).reshape(-1, n))
        return np.concatenate(whole)


@dataclass(frozen=True)
class Design:
    """Columns of the complete rows, centred.

    rows: (n,) positions; length: rows given; y: (n,) the response; q: (n, k) orthonormal, of the centred columns; r:
    (k, k) upper triangular, q r are the columns; means: (k,).
    """

    terms: Terms
    rows: Ints
    length: int
    y: Floats
    q: Floats
    r: Floats
    means: Floats

    @property
    def names(self) -> tuple[str, ...]:
        return self.terms.names

    @property
    def n(self) -> int:
        return self.y.size

    @property
    def p(self) -> int:
        """Coefficients, the intercept included."""
        return len(self.r) + 1


def design_of(y: ArrayLike, predictors: Mapping[str, Any], *, interactions: Sequence[tuple[str, str]] = ()) -> Design:
    """Return the design of a relation of y to its predictors.

    Parameters: y (n_rows,) floats, NaN for missing; predictors by name, each (n_rows,) floats, or labels with None for
    missing: a category, each level compared with the first that a complete row has; interactions, pairs of
    names whose products are columns too. Rows with anything missing are left out.
    Raises: InputError where rows are no more than coefficients, or a column follows from the others (by its name).
    """
    response = np.asarray(y, dtype=np.float64)
    given: dict[str, tuple[list[str] | None, Floats]] = {}
    whole = np.isfinite(response)
    for name, column in predictors.items():
        same_length(response.size, len(column), where=name)
        given[name] = _given(name, column)
        whole &= np.isfinite(given[name][1])
    for each in (name for pair in interactions for name in pair):
        if each not in given:
            raise InputError("no-predictor", f"{each} is not among the predictors.", where="interactions")
    rows = np.arange(response.size) if whole.all() else np.flatnonzero(whole)
    used: Any = slice(None) if rows.size == response.size else rows
    values = {name: column[used] for name, (_, column) in given.items()}
    terms = Terms(
        tuple(predictor_of(name, levels, values[name].astype(np.int64) if levels is not None else rows[:0])
              for name, (levels, _) in given.items()),
        tuple(interactions),
    )  # fmt: skip
    x = terms.columns(values) if values else np.empty((0, rows.size))
    check_size(terms, rows.size, float(np.abs(x).max(initial=0)), float(np.abs(response[used]).max(initial=0)))
    means = x.mean(axis=1)
    x -= means[:, None]
    q, r = _decomposed(x)
    check_rank(terms, r, means, rows.size)
    return Design(terms, rows, response.size, response[used], q, r, means)


def check_size(terms: Terms, n: int, largest: float, largest_response: float) -> None:
    """Refuse too few complete rows for the coefficients, and values that cannot be squared."""
    p = len(terms.names)
    if n <= p:
        raise InputError(
            "too-few-rows",
            f"{p} coefficients need more than {p} complete rows; there are {n}.",
            where="predictors",
            remedy="Leave out a predictor.",
        )
    if max(largest, largest_response) > _LARGEST:
        raise InputError(
            "too-large",
            f"Values beyond {significant(_LARGEST)} cannot be squared, and so not be fitted.",
            where="predictors",
            remedy="Put the variable in a larger unit.",
        )


def check_rank(terms: Terms, r: Floats, means: Floats, n: int) -> None:
    """Refuse a column that follows from the others, by its name. r: the triangle of the centred columns."""
    sizes = np.sqrt(np.einsum("ij,ij->j", r, r))
    alike = np.flatnonzero(np.abs(np.diagonal(r)) <= _ALIKE * np.maximum(sizes, np.abs(means) * np.sqrt(n)))
    if alike.size:
        name = terms.names[int(alike[0]) + 1]
        flat = bool(sizes[alike[0]] <= _ALIKE * max(abs(float(means[alike[0]])), 1e-300) * np.sqrt(n))
        raise InputError(
            "rank-deficient",
            f"{name} has no spread among the rows used." if flat else f"{name} follows from the other predictors.",
            where="predictors",
            remedy="Take it out of the predictors.",
        )


def _decomposed(x: Floats) -> tuple[Floats, Floats]:
    """Q and R of centred columns, given as rows. Columns that lie well apart are made orthonormal by Cholesky's factor
    of their products, twice, which loses nothing there and is several times faster on tall tables; others by
    Householder."""
    products = x @ x.T
    sizes = np.sqrt(np.diagonal(products))
    if x.shape[0] == 0 or not (sizes > 0).all() or not np.isfinite(sizes).all():
        return np.linalg.qr(x.T)
    products = products / np.outer(sizes, sizes)
    if not np.isfinite(products).all() or np.linalg.cond(products) > _WELL_APART:
        return np.linalg.qr(x.T)
    first = np.linalg.cholesky(products).T * sizes
    q = np.linalg.inv(first).T @ x
    again = np.linalg.cholesky(q @ q.T).T
    return (np.linalg.inv(again).T @ q).T, again @ first


def check_levels(name: str, n_levels: int) -> None:
    """Refuse a category of too many levels."""
    if n_levels > _MOST_LEVELS:
        raise InputError(
            "too-many-levels", f"{name} has {n_levels} levels; at most {_MOST_LEVELS} are taken.", where=name
        )


def _given(name: str, column: Any) -> tuple[list[str] | None, Floats]:
    """The levels of a predictor, None of a number, and its numbers or places among the levels, NaN for missing."""
    array = np.asarray(column)
    if array.dtype.kind in "fiub":
        return None, np.asarray(array, dtype=np.float64)
    labels = np.asarray(column, dtype=object)
    known = np.array([label is not None and label == label for label in labels], dtype=bool)
    levels = list(dict.fromkeys(getattr(column, "categories", ()))) or sorted({str(label) for label in labels[known]})
    check_levels(name, len(levels))
    index = {level: float(i) for i, level in enumerate(levels)}
    return levels, np.array(
        [index[str(label)] if is_known else np.nan for label, is_known in zip(labels, known, strict=True)]
    )
