"""What deserves a look in a long table, found part by part."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from heron.audit import Bounds, ColumnFacts, facts_of, joined_facts, patterns_of
from heron.ledger import Part


@dataclass(frozen=True)
class PartAudit:
    """The facts of columns, and how many rows lack just some of them, as `patterns_of` has it."""

    facts: tuple[ColumnFacts, ...]
    patterns: Mapping[str, int]


@dataclass(frozen=True)
class Audited:
    """A look at what an audit stands on. bounds: the lowest and the highest value that each variable can take;
    decimals: to which it was recorded, which a part alone need not show."""

    symbols: tuple[str, ...]
    bounds: tuple[Bounds, ...]
    decimals: tuple[int | None, ...]

    def partial(self, part: Part) -> PartAudit:
        columns = part.rows_of(*self.symbols).columns
        in_order = [
            replace(columns[symbol], decimals=decimals)
            for symbol, decimals in zip(self.symbols, self.decimals, strict=True)
        ]
        facts = (facts_of(column, ends, part.first) for column, ends in zip(in_order, self.bounds, strict=True))
        return PartAudit(tuple(facts), patterns_of(in_order))

    def merge(self, records: Sequence[PartAudit]) -> PartAudit:
        patterns: dict[str, int] = {}
        for record in records:
            for places, n in record.patterns.items():
                patterns[places] = patterns.get(places, 0) + n
        return PartAudit(
            tuple(joined_facts(facts) for facts in zip(*(record.facts for record in records), strict=True)), patterns
        )
