"""The columns that a linear relation is fitted on, and their QR decomposition."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from heron.checks import Floats, Ints, same_length
from heron.errors import InputError

_MOST_LEVELS = 200
_LARGEST = 1e150
_WELL_APART = 1e8  # the condition number of the columns' products; its root is that of the columns
_ALIKE = 1e-10  # a column with less than this share of itself left over follows from the others


@dataclass(frozen=True)
class Design:
    """Columns of the complete rows, centred.

    names: of the coefficients, the intercept first; rows: (n,) positions; length: rows given; y: (n,) the response;
    q: (n, k) orthonormal, of the centred columns; r: (k, k) upper triangular, q r are the columns; means: (k,).
    baselines: the level of each category that the others are compared with: the first that a complete row has;
    without_rows: the levels of each category that none has, which are left out. terms: of each predictor and product,
    how many columns it has.
    """

    names: tuple[str, ...]
    rows: Ints
    length: int
    y: Floats
    q: Floats
    r: Floats
    means: Floats
    baselines: dict[str, str]
    without_rows: dict[str, tuple[str, ...]]
    terms: dict[str, int]

    @property
    def n(self) -> int:
        return self.y.size

    @property
    def p(self) -> int:
        """Coefficients, the intercept included."""
        return len(self.names)


def design_of(y: ArrayLike, predictors: Mapping[str, Any], *, interactions: Sequence[tuple[str, str]] = ()) -> Design:
    """Return the design of a relation of y to its predictors.

    Parameters: y (n_rows,) floats, NaN for missing; predictors by name, each (n_rows,) floats, or labels with None for
    missing: a category, each level compared with the first that a complete row has; interactions, pairs of
    names whose products are columns too. Rows with anything missing are left out.
    Raises: InputError where rows are no more than coefficients, or a column follows from the others (by its name).
    """
    response = np.asarray(y, dtype=np.float64)
    blocks: dict[str, _Block] = {}
    whole = np.isfinite(response)
    for name, given in predictors.items():
        same_length(response.size, len(given), where=name)
        blocks[name] = _block(name, given)
        whole &= blocks[name].known
    rows = np.arange(response.size) if whole.all() else np.flatnonzero(whole)
    names, parts = ["intercept"], [np.empty((rows.size, 0))]
    used: Any = slice(None) if rows.size == response.size else rows
    kept = {name: block.over(used) for name, block in blocks.items()}
    terms = {name: len(predictor.names) for name, predictor in kept.items()}
    for predictor in kept.values():
        names += predictor.names
        parts.append(predictor.columns)
    for first, second in interactions:
        for each in (first, second):
            if each not in kept:
                raise InputError("no-predictor", f"{each} is not among the predictors.", where="interactions")
        a, b = kept[first], kept[second]
        names += [f"{one} × {other}" for one in a.names for other in b.names]
        terms[f"{first} × {second}"] = len(a.names) * len(b.names)
        parts.append((a.columns[:, :, None] * b.columns[:, None, :]).reshape(rows.size, -1))
    # Column after column in memory: what follows sums along rows.
    x = np.concatenate([part.T for part in parts])
    k, n = x.shape
    if n <= k + 1:
        raise InputError(
            "too-few-rows",
            f"{k + 1} coefficients need more than {k + 1} complete rows; there are {n}.",
            where="predictors",
            remedy="Leave out a predictor.",
        )
    if max(float(np.abs(x).max(initial=0)), float(np.abs(response[used]).max())) > _LARGEST:
        raise InputError(
            "too-large",
            f"Values beyond {_LARGEST:g} cannot be squared, and so not be fitted.",
            where="predictors",
            remedy="Put the variable in a larger unit.",
        )
    means = x.mean(axis=1)
    x -= means[:, None]
    q, r = _decomposed(x)
    sizes = np.sqrt(np.einsum("ij,ij->j", r, r))
    alike = np.flatnonzero(np.abs(np.diagonal(r)) <= _ALIKE * np.maximum(sizes, np.abs(means) * np.sqrt(n)))
    if alike.size:
        name = names[int(alike[0]) + 1]
        flat = bool(sizes[alike[0]] <= _ALIKE * max(abs(float(means[alike[0]])), 1e-300) * np.sqrt(n))
        raise InputError(
            "rank-deficient",
            f"{name} has no spread among the rows used." if flat else f"{name} follows from the other predictors.",
            where="predictors",
            remedy="Take it out of the predictors.",
        )
    baselines = {name: predictor.baseline for name, predictor in kept.items() if blocks[name].levels}
    gone = {name: predictor.without_rows for name, predictor in kept.items() if predictor.without_rows}
    return Design(tuple(names), rows, response.size, response[used], q, r, means, baselines, gone, terms)


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


@dataclass(frozen=True)
class _Block:
    """A predictor. levels: of a category, none of a number; columns: (n_rows, n_levels) which level each row has, or
    (n_rows, 1) the numbers; known: (n_rows,) which rows have a value."""

    name: str
    levels: tuple[str, ...]
    columns: Floats
    known: NDArray[np.bool_]

    def over(self, used: Any) -> "_Used":
        """The predictor over the rows used: the levels that they have, of which the first is compared with."""
        columns = self.columns[used]
        if not self.levels:
            return _Used([self.name], columns, "", ())
        not_empty = np.flatnonzero(columns.any(axis=0)).tolist()
        gone = tuple(level for i, level in enumerate(self.levels) if i not in not_empty)
        names = [f"{self.name} {self.levels[i]}" for i in not_empty[1:]]
        return _Used(names, columns[:, not_empty[1:]], self.levels[not_empty[0]] if not_empty else "", gone)


@dataclass(frozen=True)
class _Used:
    names: list[str]
    columns: Floats
    baseline: str
    without_rows: tuple[str, ...]


def _block(name: str, given: Any) -> _Block:
    array = np.asarray(given)
    if array.dtype.kind in "fiub":
        numbers = np.asarray(array, dtype=np.float64)
        return _Block(name, (), numbers[:, None], np.isfinite(numbers))
    labels = np.asarray(given, dtype=object)
    known = np.array([label is not None and label == label for label in labels], dtype=bool)
    levels = list(dict.fromkeys(getattr(given, "categories", ()))) or sorted({str(label) for label in labels[known]})
    if len(levels) > _MOST_LEVELS:
        raise InputError(
            "too-many-levels", f"{name} has {len(levels)} levels; at most {_MOST_LEVELS} are taken.", where=name
        )
    index = {level: i for i, level in enumerate(levels)}
    codes = np.array([index[str(label)] if is_known else -1 for label, is_known in zip(labels, known, strict=True)])
    columns = (codes[:, None] == np.arange(len(levels))[None, :]).astype(np.float64)
    return _Block(name, tuple(levels), columns, known)
