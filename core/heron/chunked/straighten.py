"""Which scales straighten the relation of all pairs of a long table."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import get_args

import numpy as np

from heron.chunked.lines import Leaves, Left, curvature_of, fanning_of, square_left
from heron.chunked.pairs import Of2, PairSums, Products
from heron.ledger import Chunks, Part, in_rounds
from heron.relation import Board, Cell, LineTold, Scale, board_of, candidates, cell_of, likelihood, rounding, unlined


@dataclass(frozen=True)
class Logs:
    """The look at how many pairs there are, and the sum of the logs of the sizes of y."""

    of: Of2

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> tuple[int, float]:
        y = self.of.both(part)[3]
        with np.errstate(all="ignore"):
            return y.size, float(np.log(np.abs(y)).sum())

    def merge(self, records: Sequence[tuple[int, float]]) -> tuple[int, float]:
        return sum(n for n, _ in records), math.fsum(logs for _, logs in records)


def board_in(chunks: Chunks, x: str, y: str) -> Board:
    """The board of all pairs of two variables of a long table, as `heron.relation.board`."""
    ofs = [Of2(x, y, scales=(a, b)) for b in get_args(Scale) for a in get_args(Scale)]
    plain = ofs[0]
    in_rounds(chunks, *(partial(_line, chunks, of) for of in ofs))
    lines = [_line(chunks, of) for of in ofs]
    sums = {of.scales: found for of, (found, _) in zip(ofs, lines, strict=True)}
    n_pairs = sums[plain.scales].n
    cells = [_cell(of, n_pairs, *line) for of, line in zip(ofs, lines, strict=True)]
    # 0 has no place on roots of y in this comparison, as it has none on logs.
    stands = candidates(cells, [sums[of.scales[0], _stricter(of.scales[1])].n for of in ofs])
    compared = [of for of, is_one in zip(ofs, stands, strict=True) if is_one]
    standing = (
        tuple(dict.fromkeys(of.scales[0] for of in compared)),
        tuple(dict.fromkeys(_stricter(of.scales[1]) for of in compared)),
    )
    n_common, logs = chunks.over(Logs(replace(plain, standing=standing)))[0]
    # A cell whose pairs are no more than those compared is compared over the same.
    fewer = [replace(of, standing=standing) for of in compared if sums[of.scales].n > n_common]
    in_rounds(chunks, *(partial(_line, chunks, of) for of in fewer))
    again = {of.scales: _line(chunks, of) for of in fewer}
    likely = []
    for of, line, is_one in zip(ofs, lines, stands, strict=True):
        found, left = again.get(of.scales, line)
        ends = (found.lows[0], found.highs[0]), (found.lows[1], found.highs[1])
        known = is_one and left is not None and not unlined(found.n, *ends)
        likely.append(likelihood(found.n, left.e2, ends[1], of.scales[1], lambda: logs) if known and left else None)
    return board_of(cells, likely, n_common)


def _stricter(scale: Scale) -> Scale:
    return "log10" if scale == "square-root" else scale


def _line(chunks: Chunks, of: Of2) -> tuple[PairSums, Left | None]:
    """The sums of pairs, and what the line through them leaves, None where none can be put there."""
    sums: PairSums = chunks.over(Products(of))[0]
    line = sums.line
    if unlined(sums.n, (sums.lows[0], sums.highs[0]), (sums.lows[1], sums.highs[1])) or line is None:
        return sums, None
    left: Left = chunks.over(Leaves(of, *line, sums.n, math.sqrt(line[3] / sums.n), 0.0, bare=True))[0]
    return sums, left


def _cell(of: Of2, n_pairs: int, sums: PairSums, left: Left | None) -> Cell:
    n_lost, ends = n_pairs - sums.n, (sums.lows[1], sums.highs[1])
    if left is None:
        why = unlined(sums.n, (sums.lows[0], sums.highs[0]), ends)
        return cell_of(of.scales, sums.n, n_lost, None, why or "No line can be put through the pairs.")
    total, n = sums.squares[1] * sums.units[1] ** 2, sums.n
    square, spread = square_left(left, n), left.e4 - left.e2**2 / n
    share = max(1 - left.e2 / total, 0.0) if total else None
    if left.e2 <= rounding(n, ends):
        return cell_of(of.scales, n, n_lost, LineTold(share), "")
    told = LineTold(
        share,
        curvature_of(left, n),
        fanning_of(left, n),
        square[1] / left.e2 if square and left.e2 else None,
        left.ze2**2 / n / spread if spread > 0 else None,
    )
    return cell_of(of.scales, n, n_lost, told, "")
