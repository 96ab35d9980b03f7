"""An expression in ordinary arithmetic, parsed to a syntax tree and worked by numpy: nothing else can be reached."""

import ast
import math
import warnings
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from heron.checks import Floats
from heron.columns import NUMBER_KINDS, Column
from heron.errors import InputError
from heron.formatting import grouped
from heron.quantiles import of_sorted

LONGEST = 10_000
DEEPEST = 100
FUNCTIONS = (
    "ln", "log10", "log2", "exp", "sqrt", "abs", "round", "min", "max", "mean", "median", "sd", "rank", "known",
)  # fmt: skip
Value = Any  # (n_rows,) floats, (n_rows,) booleans, or an array of labels; or a single number or text


@dataclass(frozen=True)
class Expression:
    """A parsed expression. symbols: of the variables that it names, in the order of their first mention."""

    text: str
    symbols: tuple[str, ...]
    tree: ast.expr

    @property
    def over_rows(self) -> bool:
        """Whether it asks for a number of all rows, so that what it gives for one hangs on the others."""
        return any(
            isinstance(node, ast.Call)
            and isinstance(node.func, ast.Name)
            and node.func.id in _OVER_ROWS
            and len(node.args) == 1
            for node in ast.walk(self.tree)
        )


class _Wrong(Exception):
    """What is wrong, and where: the place of the character from 0."""

    def __init__(self, problem: str, at: int, remedy: str = "") -> None:
        super().__init__(problem)
        self.problem, self.at, self.remedy = problem, at, remedy


def _refuse(error: _Wrong) -> InputError:
    return InputError(
        "expression", f"{error.problem} (character {error.at + 1})", where=f"expression:{error.at}", remedy=error.remedy
    )


def parse(text: str) -> Expression:
    """Return the expression that a text holds.

    Parameters: text of up to 10,000 characters: numbers, texts in quotes, symbols of variables, + - * / ^, parentheses,
    comparisons, and / or / not, `a if condition else b`, and the functions ln, log10, log2, exp, sqrt, abs, round, min,
    max, mean, median, sd, rank, known.
    Raises: InputError whose `where` is "expression:" and the place of the character, from 0, that it cannot go on from.
    """
    if not text.strip():
        raise InputError(
            "expression", "The expression is empty.", where="expression:0", remedy="Type one, such as ln(x)."
        )
    if len(text) > LONGEST:
        raise InputError(
            "expression",
            f"It has {grouped(len(text))} characters; at most {grouped(LONGEST)} are read.",
            where=f"expression:{LONGEST}",
        )
    plain = text.replace("\u2212", "-").replace("\u00d7", "*").replace("\n", " ").replace("\r", " ").replace("\t", " ")
    # ^ stands for power; in a text in quotes it stays, and places are kept by working on a copy of equal length.
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # such as "2if": read all the same
            tree = ast.parse(_powers(plain).lstrip() if plain[0] == " " else _powers(plain), mode="eval").body
    except SyntaxError as error:
        at = _place(plain, error.offset - 1 if error.offset else 2 * LONGEST)
        raise _refuse(
            _Wrong("It cannot be read from here on.", at, "Look for a missing sign, quote or parenthesis.")
        ) from None
    except (RecursionError, MemoryError, ValueError, OverflowError):
        raise _refuse(_Wrong("It is nested too deeply.", 0, f"At most {DEEPEST} levels are read.")) from None
    symbols: dict[str, None] = {}
    try:
        _check(tree, symbols, plain, 0)
    except _Wrong as error:
        raise _refuse(error) from None
    return Expression(text, tuple(symbols), tree)


def _powers(text: str) -> str:
    """The text with ^ as **, outside quotes."""
    parts, quote = [], ""
    for c in text:
        if quote:
            quote = "" if c == quote else quote
        elif c in "'\"":
            quote = c
        parts.append("**" if c == "^" and not quote else c)
    return "".join(parts)


def _place(plain: str, offset: int) -> int:
    """Where a character of the text with ** stands in the text with ^."""
    passed, quote = len(plain) - len(plain.lstrip()) if plain[0] == " " else 0, ""
    seen = 0
    for i, c in enumerate(plain[passed:]):
        if seen >= offset:
            return i + passed
        quote = ("" if c == quote else quote) if quote else (c if c in "'\"" else "")
        seen += 2 if c == "^" and not quote else 1
    return max(len(plain) - 1, 0)


def place_of(text: str, node: ast.AST) -> int:
    """Where in the text of an expression a part of its tree begins, from 0."""
    return _place(text, getattr(node, "col_offset", 0))


_BINARY: dict[type, Callable[[Value, Value], Value]] = {
    ast.Add: np.add,
    ast.Sub: np.subtract,
    ast.Mult: np.multiply,
    ast.Div: np.divide,
    ast.Pow: np.power,
}
_COMPARED: dict[type, Callable[[Value, Value], Value]] = {
    ast.Lt: np.less,
    ast.LtE: np.less_equal,
    ast.Gt: np.greater,
    ast.GtE: np.greater_equal,
    ast.Eq: np.equal,
    ast.NotEq: np.not_equal,
}


def _check(node: ast.AST, symbols: dict[str, None], plain: str, depth: int) -> None:
    """Refuse every kind of node but those that an expression may have."""
    at = place_of(plain, node)
    if depth > DEEPEST:
        raise _Wrong("It is nested too deeply.", at, f"At most {DEEPEST} levels are read.")
    inner: list[ast.AST] = []
    match node:
        case ast.Constant(value=value) if isinstance(value, str) or (
            isinstance(value, int | float) and not isinstance(value, bool)
        ):
            if not isinstance(value, str) and not math.isfinite(float(value) if abs(value) < 10**300 else math.inf):
                raise _Wrong("The number is too large.", at)
        case ast.Name(id=name):
            symbols[name] = None
        case ast.BinOp(left=left, op=op, right=right):
            if type(op) not in _BINARY:
                raise _Wrong("This sign has no meaning here.", at, "Use + - * / and ^.")
            inner = [left, right]
        case ast.UnaryOp(op=ast.USub() | ast.UAdd() | ast.Not(), operand=operand):
            inner = [operand]
        case ast.BoolOp(values=values):
            inner = list(values)
        case ast.Compare(left=left, ops=ops, comparators=comparators):
            if any(type(op) not in _COMPARED for op in ops):
                raise _Wrong("This comparison has no meaning here.", at, "Use < <= > >= == and !=.")
            inner = [left, *comparators]
        case ast.IfExp(test=test, body=body, orelse=orelse):
            inner = [test, body, orelse]
        case ast.Call(func=ast.Name(id=name), args=args, keywords=[]):
            if name not in FUNCTIONS:
                raise _Wrong(f"There is no function {name[:40]!r}.", at, f"There are {', '.join(FUNCTIONS)}.")
            few, most = _ARGUMENTS.get(name, (1, 1))
            if not few <= len(args) <= most:
                said = str(few) if few == most else f"{few} or more"
                raise _Wrong(f"{name} takes {said} in its parentheses, not {len(args)}.", at)
            inner = list(args)
        case _:
            raise _Wrong(
                "This has no meaning in an expression.", at, "Use arithmetic, comparisons and the functions listed."
            )
    for part in inner:
        _check(part, symbols, plain, depth + 1)


_ARGUMENTS = {"min": (1, 50), "max": (1, 50), "mean": (1, 50), "round": (1, 2)}


def evaluate(
    expression: Expression, columns: Mapping[str, Column], n_rows: int
) -> Floats | NDArray[np.object_] | NDArray[np.bool_]:
    """Return the value of an expression for each row: numbers with NaN where it has none, truths, or labels.

    Parameters: columns by symbol, each of n_rows. Raises: InputError for a symbol that is not among them, or a name
    where a number is needed.
    Notes: a row with a missing value in what is worked with has none itself; comparisons with a missing value are not
    true. mean, median, sd and rank of one thing are over all its rows; min, max and mean of several are row by row.
    """
    plain = expression.text
    try:
        with np.errstate(all="ignore"):
            result = _Worker(columns, n_rows, plain).work(expression.tree)
    except _Wrong as error:
        raise _refuse(error) from None
    except RecursionError:
        raise _refuse(_Wrong("It is nested too deeply.", 0)) from None
    if isinstance(result, str):
        result = np.full(n_rows, result, dtype=object)
    array = np.asarray(result)
    if array.ndim == 0:
        array = np.full(n_rows, array)
    if array.dtype.kind in "iuf":
        numbers: Floats = array.astype(np.float64)
        numbers[~np.isfinite(numbers)] = np.nan
        return numbers
    return array


@dataclass
class _Worker:
    columns: Mapping[str, Column]
    n_rows: int
    plain: str

    def work(self, node: ast.AST) -> Value:
        match node:
            case ast.Constant(value=value):
                return value if isinstance(value, str) else float(value)  # type: ignore[arg-type]
            case ast.Name(id=name):
                return self._named(node, name)
            case ast.BinOp(left=left, op=op, right=right):
                return _BINARY[type(op)](self._number(left), self._number(right))
            case ast.UnaryOp(op=ast.Not(), operand=operand):
                return ~self._truth(operand)
            case ast.UnaryOp(op=op, operand=operand):
                return -self._number(operand) if isinstance(op, ast.USub) else self._number(operand)
            case ast.BoolOp(op=op, values=values):
                parts = [self._truth(value) for value in values]
                join = np.logical_and if isinstance(op, ast.And) else np.logical_or
                return join.reduce(np.broadcast_arrays(*parts))
            case ast.Compare():
                return self._compared(node)
            case ast.IfExp(test=test, body=body, orelse=orelse):
                return self._chosen(test, body, orelse)
            case ast.Call(func=ast.Name(id=name), args=args):
                return self._called(name, args)
        raise _Wrong("This has no meaning in an expression.", self._at(node))

    def _at(self, node: ast.AST) -> int:
        return place_of(self.plain, node)

    def _named(self, node: ast.AST, name: str) -> Value:
        column = self.columns.get(name)
        if column is None:
            near = ", ".join(sorted(self.columns)[:8])
            raise _Wrong(
                f"There is no variable {name[:40]!r}.",
                self._at(node),
                f"Variables are named by their symbols: {near} …",
            )
        if column.numbers is not None and column.kind in (*NUMBER_KINDS, "date-time"):
            return column.numbers
        return column.values

    def _number(self, node: ast.AST) -> Value:
        result = self.work(node)
        if isinstance(result, str) or (isinstance(result, np.ndarray) and result.dtype == object):
            raise _Wrong("A number is needed here, not a name.", self._at(node), "Compare names with == and !=.")
        return result.astype(np.float64) if isinstance(result, np.ndarray) and result.dtype == bool else result

    def _truth(self, node: ast.AST) -> Value:
        result = np.asarray(self.work(node))
        if result.dtype != bool:
            raise _Wrong("A condition is needed here, such as x > 3.", self._at(node))
        return result

    def _compared(self, node: ast.Compare) -> Value:
        sides = [self.work(side) for side in (node.left, *node.comparators)]
        value: Value = True
        for i, op in enumerate(node.ops):
            a, b = sides[i], sides[i + 1]
            names = [_is_name(a), _is_name(b)]
            if any(names):
                if not all(names) or not isinstance(op, ast.Eq | ast.NotEq):
                    raise _Wrong(
                        "Names are compared with names, by == or !=.",
                        self._at(node),
                        'Put names in quotes: group == "a".',
                    )
                known = _known(a) & _known(b)
                same = np.asarray(a, dtype=object) == np.asarray(b, dtype=object)
                part = known & (same if isinstance(op, ast.Eq) else ~same)
            else:
                part = _COMPARED[type(op)](a, b) & _known(a) & _known(b)
            value = part & value
        return np.asarray(value)

    def _chosen(self, test: ast.AST, body: ast.AST, orelse: ast.AST) -> Value:
        condition, a, b = self._truth(test), self.work(body), self.work(orelse)
        if _is_name(a) != _is_name(b):
            raise _Wrong("Both sides of a choice must be numbers, or both names.", self._at(body))
        if _is_name(a):
            shape = np.broadcast_shapes(condition.shape, np.shape(a), np.shape(b))
            both = [np.broadcast_to(np.asarray(side, dtype=object), shape) for side in (a, b)]
            return np.where(np.broadcast_to(condition, shape), *both)
        return np.where(condition, a, b)

    def _called(self, name: str, args: list[ast.expr]) -> Value:
        if name == "known":
            return np.asarray(_known(self.work(args[0])))
        values = [self._number(arg) for arg in args]
        if name in ("min", "max", "mean") and len(values) > 1:
            stacked = np.stack(np.broadcast_arrays(*values))
            return (
                stacked.mean(axis=0)
                if name == "mean"
                else stacked.min(axis=0)
                if name == "min"
                else stacked.max(axis=0)
            )
        if name == "round":
            digits = values[1] if len(values) > 1 else 0.0
            if np.ndim(digits) or not -12 <= digits <= 12 or digits != int(digits):
                raise _Wrong("Decimals are a whole number from -12 to 12.", self._at(args[1]))
            return np.round(values[0], int(digits))
        return _FUNCTIONS[name](values[0])


def _is_name(value: Value) -> bool:
    return isinstance(value, str) or (isinstance(value, np.ndarray) and value.dtype == object)


def _known(value: Value) -> Value:
    if _is_name(value):
        return (
            np.array([cell is not None for cell in np.atleast_1d(value)]) if isinstance(value, np.ndarray) else np.True_
        )
    return ~np.isnan(value) if np.asarray(value).dtype != bool else np.ones(np.shape(value), dtype=bool)


def _over(work: Callable[[Floats], float]) -> Callable[[Value], Value]:
    """One number of all rows, where there is a value."""

    def over_all(value: Value) -> Value:
        known = np.asarray(value, dtype=np.float64)
        known = known[np.isfinite(known)] if known.ndim else known.reshape(1)
        return work(known) if known.size else math.nan

    return over_all


def _ranks(value: Value) -> Value:
    array = np.array(value, dtype=np.float64, ndmin=1)
    known = np.isfinite(array)
    array[known] = stats.rankdata(array[known])
    return array


def _largest(pick: Callable[[Floats], float]) -> Callable[[Value], Value]:
    return _over(lambda known: float(pick(known)))


_OVER_ROWS = ("min", "max", "mean", "median", "sd", "rank")
_FUNCTIONS: dict[str, Callable[[Value], Value]] = {
    "ln": np.log,
    "log10": np.log10,
    "log2": np.log2,
    "exp": np.exp,
    "sqrt": np.sqrt,
    "abs": np.abs,
    "min": _largest(np.min),
    "max": _largest(np.max),
    "mean": _largest(np.mean),
    "median": _over(lambda known: float(of_sorted(np.sort(known), np.array([0.5]), 7)[0])),
    "sd": _over(lambda known: float(known.std(ddof=1)) if known.size > 1 else math.nan),
    "rank": _ranks,
}
