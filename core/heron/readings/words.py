"""What a careful colleague would say of one variable, from its numbers."""

from dataclasses import dataclass, field

import numpy as np

from heron.checks import Ints
from heron.formatting import counted
from heron.groups import Box
from heron.summary import Summary


@dataclass(frozen=True)
class Sentence:
    """A sentence of a reading; rows: (k,) the row positions that it speaks of, for the reader to follow."""

    text: str
    rows: Ints = field(default_factory=lambda: np.empty(0, dtype=np.int64))


def words_on_shape(summary: Summary, box: Box) -> tuple[Sentence, ...]:
    """Return the sentences on the shape of a variable and on the rows beyond its fences."""
    if summary.n == 0:
        return (Sentence("There is no value to describe."),)
    if summary.range == 0:
        return (
            Sentence(f"All {counted(summary.n, 'value')} are the same." if summary.n > 1 else "There is one value."),
        )
    return (_shape(summary), *_beyond(box))


def _shape(summary: Summary) -> Sentence:
    if summary.n < 8 or summary.skewness is None:
        return Sentence(f"With {counted(summary.n, 'value')} the shape cannot be judged.")
    size = abs(summary.skewness)
    if size < 0.5:
        flat = summary.kurtosis is not None and summary.kurtosis < -1
        return Sentence("Roughly symmetric, " + "flat or two-peaked." if flat else "Roughly symmetric.")
    side = "right" if summary.skewness > 0 else "left"
    return Sentence(f"{'Strongly' if size >= 1 else 'Moderately'} {side}-skewed.")


def _beyond(box: Box) -> tuple[Sentence, ...]:
    far, n_near = box.far_rows, box.n_outliers - box.n_far
    near = np.setdiff1d(box.outlier_rows, far, assume_unique=True)
    said = []
    if box.n_far:
        said.append(Sentence(f"{counted(box.n_far, 'row')} {_lie(box.n_far)} beyond the outer fences (extreme)", far))
    if n_near:
        said.append(Sentence(f"{counted(n_near, 'row')} {_lie(n_near)} beyond the inner fences (mild)", near))
    return tuple(said) or (Sentence("No row lies beyond a fence."),)


def _lie(n: int) -> str:
    return "lies" if n == 1 else "lie"
