"""One Python expression, seen in four ways: a function, a check of dimensions, its derivatives, its printed form.

Only what can be shown to a reader is allowed: names, numbers, arithmetic and the functions listed here.
"""

from __future__ import annotations

import ast
import math
from collections.abc import Callable, Mapping, Sequence
from fractions import Fraction
from typing import Any

import numpy as np

from .units import NUMBER, Dimension


class RuleError(TypeError):
    """A rule that cannot be shown, or whose units do not agree; raised at import."""


def sqrt(x: float) -> float:
    """Square root, for use in rules."""
    return math.sqrt(x)


def exp(x: float) -> float:
    """Exponential of a plain number, for use in rules."""
    return math.exp(x)


def log(x: float) -> float:
    """Natural logarithm of a plain number, for use in rules."""
    return math.log(x)


def larger(a: float, b: float) -> float:
    """The larger of two, for use in rules."""
    return max(a, b)


def smaller(a: float, b: float) -> float:
    """The smaller of two, for use in rules."""
    return min(a, b)


def mean(x: Sequence[float]) -> float:
    """Arithmetic mean of a list, for use in rules."""
    return sum(x) / len(x)


def total(x: Sequence[float]) -> float:
    """Sum of a list, for use in rules."""
    return math.fsum(x)


def slope(y: Sequence[float], x: Sequence[float]) -> float:
    """Slope of the least-squares line of y over x; ZeroDivisionError when all x are equal."""
    mx, my = mean(x), mean(y)
    return sum((a - mx) * (b - my) for a, b in zip(x, y, strict=True)) / sum((a - mx) ** 2 for a in x)


def _slope_by_y(y: Sequence[float], x: Sequence[float]) -> Any:
    xs = np.asarray(x, dtype=float)
    centred = xs - xs.mean()
    return centred / (centred**2).sum()


def _slope_by_x(y: Sequence[float], x: Sequence[float]) -> Any:
    xs, ys = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
    cx, cy = xs - xs.mean(), ys - ys.mean()
    square = (cx**2).sum()
    return (cy - 2 * slope(y, x) * cx) / square


def _each(x: Sequence[float], weight: float) -> Any:
    return np.full(len(x), weight)


def _step(a: float, b: float) -> float:
    return 1.0 if a >= b else 0.0


_SCALAR: dict[str, Callable[..., Any]] = {
    "sqrt": math.sqrt,
    "exp": math.exp,
    "log": math.log,
    "larger": max,
    "smaller": min,
    "mean": mean,
    "total": total,
    "slope": slope,
    "_slope_by_y": _slope_by_y,
    "_slope_by_x": _slope_by_x,
    "_each": _each,
    "_len": len,
    "_step": _step,
}


def _slope_on_arrays(y: Sequence[Any], x: Sequence[Any]) -> Any:
    middle_x, middle_y = sum(x) / len(x), sum(y) / len(y)
    pairs = list(zip(x, y, strict=True))
    return sum((a - middle_x) * (b - middle_y) for a, b in pairs) / sum((a - middle_x) ** 2 for a, _ in pairs)


_ARRAY: dict[str, Callable[..., Any]] = _SCALAR | {
    "sqrt": np.sqrt,
    "exp": np.exp,
    "log": np.log,
    "larger": np.maximum,
    "smaller": np.minimum,
    "mean": lambda x: sum(x) / len(x),
    "total": sum,
    "slope": _slope_on_arrays,
}
_LIST_FUNCTIONS = ("mean", "total", "slope")
_ALLOWED = ("sqrt", "exp", "log", "larger", "smaller", *_LIST_FUNCTIONS)
_OPERATORS = (ast.Add, ast.Sub, ast.Mult, ast.Div, ast.Pow)


def _number(value: float) -> ast.expr:
    return ast.Constant(value)


def _op(left: ast.expr, op: ast.operator, right: ast.expr) -> ast.expr:
    zero_left, zero_right = _is(left, 0), _is(right, 0)
    if isinstance(op, ast.Add):
        if zero_left:
            return right
        if zero_right:
            return left
    if isinstance(op, ast.Sub) and zero_right:
        return left
    if isinstance(op, ast.Mult):
        if zero_left or zero_right:
            return _number(0)
        if _is(left, 1):
            return right
        if _is(right, 1):
            return left
    if isinstance(op, ast.Div) and zero_left:
        return _number(0)
    return ast.BinOp(left, op, right)


def _is(node: ast.expr, value: float) -> bool:
    return isinstance(node, ast.Constant) and node.value == value


def _call(name: str, *args: ast.expr) -> ast.expr:
    return ast.Call(ast.Name(name, ast.Load()), list(args), [])


def derivative(node: ast.expr, by: str) -> ast.expr:
    """The derivative of an expression by one of its names, as an expression."""
    if isinstance(node, ast.Constant):
        return _number(0)
    if isinstance(node, ast.Name):
        return _number(1 if node.id == by else 0)
    if isinstance(node, ast.UnaryOp):
        inner = derivative(node.operand, by)
        return inner if _is(inner, 0) else ast.UnaryOp(node.op, inner)
    if isinstance(node, ast.BinOp):
        return _derive_operation(node, by)
    if isinstance(node, ast.Call):
        return _derive_call(node, by)
    raise RuleError(f"a rule cannot hold {type(node).__name__}")


def _derive_operation(node: ast.BinOp, by: str) -> ast.expr:
    a, b, op = node.left, node.right, node.op
    da, db = derivative(a, by), derivative(b, by)
    if isinstance(op, ast.Add | ast.Sub):
        if _is(da, 0) and isinstance(op, ast.Sub):
            return db if _is(db, 0) else ast.UnaryOp(ast.USub(), db)
        return _op(da, op, db)
    if isinstance(op, ast.Mult):
        return _op(_op(da, op, b), ast.Add(), _op(a, op, db))
    if isinstance(op, ast.Div):
        top = _op(da, ast.Div(), b)
        return _op(top, ast.Sub(), _op(_op(a, ast.Mult(), db), ast.Div(), _op(b, ast.Mult(), b)))
    # u ** v: the second term only where the exponent depends on the name
    lead = _op(_op(b, ast.Mult(), ast.BinOp(a, ast.Pow(), ast.BinOp(b, ast.Sub(), _number(1)))), ast.Mult(), da)
    tail = _op(_op(node, ast.Mult(), _call("log", a)), ast.Mult(), db)
    return _op(lead, ast.Add(), tail)


def _derive_call(node: ast.Call, by: str) -> ast.expr:
    name = node.func.id if isinstance(node.func, ast.Name) else ""
    args = node.args
    if name in _LIST_FUNCTIONS:
        names = [a.id for a in args if isinstance(a, ast.Name)]
        if by not in names:
            return _number(0)
        if name == "mean":
            return _call("_each", args[0], _op(_number(1), ast.Div(), _call("_len", args[0])))
        if name == "total":
            return _call("_each", args[0], _number(1))
        return _call("_slope_by_y" if names[0] == by else "_slope_by_x", *args)
    inner = [derivative(a, by) for a in args]
    if all(_is(d, 0) for d in inner):
        return _number(0)
    if name in ("larger", "smaller"):
        first, second = args if name == "larger" else (args[1], args[0])
        chosen = _call("_step", first, second)
        return _op(
            _op(chosen, ast.Mult(), inner[0]),
            ast.Add(),
            _op(_op(_number(1), ast.Sub(), chosen), ast.Mult(), inner[1]),
        )
    outer = {
        "sqrt": ast.BinOp(_number(0.5), ast.Div(), node),
        "exp": node,
        "log": ast.BinOp(_number(1), ast.Div(), args[0]),
    }[name]
    return _op(outer, ast.Mult(), inner[0])


def check(node: ast.expr, names: set[str], vectors: set[str]) -> None:
    """Refuse what cannot be shown. Raises RuleError."""
    if isinstance(node, ast.Constant):
        if isinstance(node.value, bool) or not isinstance(node.value, int | float):
            raise RuleError(f"a rule holds numbers only, not {node.value!r}")
    elif isinstance(node, ast.Name):
        if node.id not in names:
            raise RuleError(f"a rule may use its own names and constants only, not {node.id!r}")
        if node.id in vectors:
            raise RuleError(f"the list {node.id!r} stands outside mean, total or slope")
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        check(node.operand, names, vectors)
    elif isinstance(node, ast.BinOp) and isinstance(node.op, _OPERATORS):
        check(node.left, names, vectors)
        check(node.right, names, vectors)
    elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _ALLOWED:
        lists = node.func.id in _LIST_FUNCTIONS
        for arg in node.args:
            if lists and not (isinstance(arg, ast.Name) and arg.id in vectors):
                raise RuleError(f"{node.func.id} takes a list that the rule is given")
            check(arg, names, set() if lists else vectors)
    else:
        raise RuleError(f"a rule is one expression that can be shown: {ast.dump(node)[:60]} cannot")


def dimension_of(node: ast.expr, dims: Mapping[str, Dimension]) -> Dimension:
    """The dimension of an expression. Raises RuleError where units do not agree."""
    if isinstance(node, ast.Constant):
        return NUMBER
    if isinstance(node, ast.Name):
        return dims[node.id]
    if isinstance(node, ast.UnaryOp):
        return dimension_of(node.operand, dims)
    if isinstance(node, ast.Call):
        return _dimension_of_call(node, dims)
    assert isinstance(node, ast.BinOp)
    a, b = dimension_of(node.left, dims), dimension_of(node.right, dims)
    if isinstance(node.op, ast.Mult):
        return a * b
    if isinstance(node.op, ast.Div):
        return a / b
    if isinstance(node.op, ast.Pow):
        if b != NUMBER:
            raise RuleError("an exponent must be a plain number")
        if a == NUMBER:
            return NUMBER
        try:
            power = eval(compile(ast.Expression(node.right), "<rule>", "eval"), {"__builtins__": {}})
        except NameError as error:
            raise RuleError(f"{ast.unparse(node)}: the power of a quantity must be a number") from error
        return a ** Fraction(power).limit_denominator(1000)
    if a != b:
        raise RuleError(f"{ast.unparse(node)}: {a} and {b} cannot be added")
    return a


def _dimension_of_call(node: ast.Call, dims: Mapping[str, Dimension]) -> Dimension:
    name = node.func.id if isinstance(node.func, ast.Name) else ""
    args = [dimension_of(a, dims) for a in node.args]
    if name in ("exp", "log"):
        if args[0] != NUMBER:
            raise RuleError(f"{name} takes a plain number, not {args[0]}")
        return NUMBER
    if name in ("larger", "smaller") and args[0] != args[1]:
        raise RuleError(f"{ast.unparse(node)}: {args[0]} and {args[1]} cannot be compared")
    if name == "slope":
        return args[0] / args[1]
    return args[0] ** Fraction(1, 2) if name == "sqrt" else args[0]


def compiled(node: ast.expr, names: Sequence[str], constants: Mapping[str, float], *, arrays: bool = False) -> Any:
    """A function of ``names`` for the expression; with ``arrays`` it takes numpy arrays."""
    function = ast.Expression(ast.Lambda(ast.arguments([], [ast.arg(n) for n in names], None, [], [], None, []), node))
    ast.fix_missing_locations(function)
    space = {"__builtins__": {}, **(_ARRAY if arrays else _SCALAR), **constants}
    return eval(compile(function, "<rule>", "eval"), space)


_RANK = {ast.Add: 1, ast.Sub: 1, ast.Mult: 2, ast.Div: 2, ast.Pow: 4}
_SIGN = {ast.Add: " + ", ast.Sub: " − ", ast.Mult: " · ", ast.Div: " / "}
_SUPER = str.maketrans("0123456789.-", "⁰¹²³⁴⁵⁶⁷⁸⁹·⁻")


def printed(node: ast.expr, word: Callable[[str], str]) -> str:
    """The expression as a reader's formula; ``word`` gives the text that stands for each name."""
    return _print(node, word)[0]


def _print(node: ast.expr, word: Callable[[str], str]) -> tuple[str, int]:
    if isinstance(node, ast.Constant):
        return f"{node.value:g}" if isinstance(node.value, float) else str(node.value), 9
    if isinstance(node, ast.Name):
        text = word(node.id)
        return text, 9 if " " not in text else 8
    if isinstance(node, ast.UnaryOp):
        return "−" + _wrap(node.operand, word, 3), 2
    if isinstance(node, ast.Call):
        name = node.func.id if isinstance(node.func, ast.Name) else ""
        inner = ", ".join(_print(a, word)[0] for a in node.args)
        shown = {
            "sqrt": "√",
            "log": "ln ",
            "larger": "larger of ",
            "smaller": "smaller of ",
            "total": "sum of ",
        }
        return f"{shown.get(name, name + ' ')}({inner})", 9
    assert isinstance(node, ast.BinOp)
    rank = _RANK[type(node.op)]
    if isinstance(node.op, ast.Pow):
        if isinstance(node.right, ast.Constant) and float(node.right.value).is_integer():  # type: ignore[arg-type]
            return _wrap(node.left, word, 9) + str(node.right.value).translate(_SUPER), rank
        return f"{_wrap(node.left, word, 9)}^{_wrap(node.right, word, 9)}", rank
    stronger = rank + 1 if isinstance(node.op, ast.Sub | ast.Div) else rank
    return _wrap(node.left, word, rank) + _SIGN[type(node.op)] + _wrap(node.right, word, stronger), rank


def _wrap(node: ast.expr, word: Callable[[str], str], rank: int) -> str:
    text, own = _print(node, word)
    return text if own >= rank else f"({text})"
