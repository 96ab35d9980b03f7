"""The unit of an expression, as far as those of its variables are known, and where they do not agree."""

import ast
import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from heron.formatting import typeset
from heron.rescale.expression import Expression, place_of

Powers = dict[str, Fraction]  # by the name of a unit; {} is a plain number
_LOGS = {"ln": "ln", "log10": "log10", "log2": "log2"}
_KEPT = ("abs", "round", "min", "max", "mean", "median", "sd")
_LIKE = {ast.Add: "added", ast.Sub: "subtracted"}
_PLAIN = "\u207a\u207b\u2070\u00b9\u00b2\u00b3\u2074\u2075\u2076\u2077\u2078\u2079"
_LOWERED = str.maketrans(_PLAIN, "+-0123456789")
_PART = re.compile(rf"([A-Za-z\u00b5\u03bc\u2126%]+)(?:\^?\{{?([+\-\u2212]?\d+)\}}?|([{_PLAIN}]+))?")


@dataclass(frozen=True)
class UnitDoubt:
    """Where units do not agree. at: the place of the character, from 0."""

    problem: str
    at: int


@dataclass(frozen=True)
class UnitFound:
    """unit: of the expression, "" for none, None where it cannot be known."""

    unit: str | None
    doubts: tuple[UnitDoubt, ...]


def unit_of(expression: Expression, units: Mapping[str, str]) -> UnitFound:
    """Return the unit of an expression and what in it does not go together.

    Parameters: units by symbol; "" where a variable has none, which counts as not known.
    Notes: sums, differences, comparisons and choices need like units, which a plain number always has; products,
    quotients and powers combine them; a logarithm has the unit that it was taken of in its name ("ln g"); ranks, and
    truths, have none. A doubt is no error: the expression is worked all the same.
    """
    finder = _Finder(expression.text, {symbol: _parsed(unit) for symbol, unit in units.items()})
    result = finder.of(expression.tree)
    return UnitFound(None if result is None else _written(result), tuple(finder.doubts))


def _parsed(unit: str) -> Powers | None:
    """What a unit is made of; one that cannot be read stands for itself."""
    if not unit.strip():
        return None
    powers: Powers = {}
    over = 1
    for side in unit.replace("\u00b7", " ").replace("*", " ").split("/"):
        for word in side.strip("() ").split():
            part = _PART.fullmatch(word)
            if part is None:
                return {unit.strip(): Fraction(1)}
            power = int((part[2] or (part[3] or "1").translate(_LOWERED)).replace("\u2212", "-"))
            powers[part[1]] = powers.get(part[1], Fraction(0)) + over * power
        over = -1
    return {name: power for name, power in powers.items() if power}


def _written(powers: Powers) -> str:
    def side(parts: list[tuple[str, Fraction]]) -> str:
        return " ".join(name if power == 1 else f"{name}^{{{power}}}" for name, power in parts)

    above = [(name, power) for name, power in powers.items() if power > 0]
    below = [(name, -power) for name, power in powers.items() if power < 0]
    if not below:
        return side(above)
    under = side(below)
    return f"{side(above) or '1'}/{under if len(below) == 1 else f'({under})'}"


class _Finder:
    def __init__(self, text: str, units: Mapping[str, Powers | None]) -> None:
        self.text, self.units = text, units
        self.doubts: list[UnitDoubt] = []

    def of(self, node: ast.AST) -> Powers | None:
        match node:
            case ast.Constant():
                return {}
            case ast.Name(id=name):
                return self.units.get(name)
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                self.of(operand)
                return {}
            case ast.UnaryOp(operand=operand):
                return self.of(operand)
            case ast.BinOp(left=left, op=op, right=right):
                return self._combined(node, op, left, right)
            case ast.BoolOp(values=values):
                for value in values:
                    self.of(value)
                return {}
            case ast.Compare(left=left, comparators=others):
                self._alike([left, *others], "compared", node)
                return {}
            case ast.IfExp(test=test, body=body, orelse=orelse):
                self.of(test)
                return self._alike([body, orelse], "put side by side", node)
            case ast.Call(func=ast.Name(id=name), args=args):
                return self._called(node, name, args)
        return None

    def _combined(self, node: ast.AST, op: ast.operator, left: ast.AST, right: ast.AST) -> Powers | None:
        if type(op) in _LIKE:
            return self._alike([left, right], _LIKE[type(op)], right)
        a, b = self.of(left), self.of(right)
        if isinstance(op, ast.Pow):
            exponent = _number(right)
            if b:
                self._doubt(f"An exponent is a plain number, not one in {_written(b)}.", right)
            return None if a is None or (exponent is None and a) else {n: p * (exponent or 0) for n, p in a.items()}
        if a is None or b is None:
            return None
        sign = 1 if isinstance(op, ast.Mult) else -1
        result = {name: a.get(name, Fraction(0)) + sign * b.get(name, Fraction(0)) for name in {**a, **b}}
        return {name: power for name, power in result.items() if power}

    def _called(self, node: ast.AST, name: str, args: list[ast.expr]) -> Powers | None:
        if name in _KEPT:
            kept = args[:1] if name == "round" else args
            return self._alike(kept, "put side by side", node)
        result = self.of(args[0])
        if name in ("rank", "known"):
            return {}
        if name in _LOGS:
            return None if result is None else {f"{_LOGS[name]} {_written(result)}": Fraction(1)} if result else {}
        if name == "sqrt":
            return None if result is None else {unit: power / 2 for unit, power in result.items()}
        if result and not _written(result).startswith("ln "):
            self._doubt(f"exp needs a plain number, not one in {typeset(_written(result))}.", node)
        return {} if result == {} else None

    def _alike(self, nodes: list[ast.expr] | list[ast.AST], done: str, node: ast.AST) -> Powers | None:
        """The unit that all share; a plain number goes with any."""
        result = [self.of(part) for part in nodes]
        known = [powers for powers in result if powers]
        for other in known[1:]:
            if other != known[0]:
                units = f"{typeset(_written(known[0]))} and {typeset(_written(other))}"
                self._doubt(f"{units} are {done} here.", node)
                return None
        return known[0] if known else None if None in result else {}

    def _doubt(self, problem: str, node: ast.AST) -> None:
        self.doubts.append(UnitDoubt(problem, place_of(self.text, node)))


def _number(node: ast.AST) -> Fraction | None:
    """The value of a literal number, its sign and a division of two of them, such as 1/3, too."""
    match node:
        case ast.Constant(value=value) if isinstance(value, int | float):
            return Fraction(value).limit_denominator(1000)
        case ast.UnaryOp(op=ast.USub(), operand=operand):
            result = _number(operand)
            return None if result is None else -result
        case ast.BinOp(left=left, op=ast.Div(), right=right):
            above, below = _number(left), _number(right)
            return above / below if above is not None and below else None
    return None
