"""The faults that can be planted in a module, each as a stretch of its text and what takes its
place: another comparison, a number that is off by one, a condition turned round, a step left out
(the usual operators of mutation testing; Jia and Harman 2011, from memory)."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

_OTHER = {
    ast.Eq: "!=", ast.NotEq: "==", ast.Lt: "<=", ast.LtE: "<", ast.Gt: ">=", ast.GtE: ">",
    ast.In: "not in", ast.NotIn: "in", ast.Is: "is not", ast.IsNot: "is",
}  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """start, end: the bytes of the file that new takes the place of. first, last: its lines."""

    file: Path
    start: int
    end: int
    new: str
    first: int
    last: int

    def planted(self, text: bytes) -> bytes:
        """The module's text with it."""
        return text[: self.start] + self.new.encode() + text[self.end :]

    def told(self, root: Path, text: bytes) -> str:
        """Where it is, and what it changes, in one line."""
        old = " ".join(text[self.start : self.end].decode().split())
        return f"{self.file.relative_to(root)}:{self.first}: {old[:60]} → {self.new[:60]}"


def faults(file: Path) -> list[Fault]:
    """All that can be planted in a module."""
    text = file.read_text()
    starts = [0]
    for line in text.encode().split(b"\n"):
        starts.append(starts[-1] + len(line) + 1)
    found = []
    for node, new in _changes(ast.parse(text), text):
        start = starts[node.lineno - 1] + node.col_offset
        end = starts[(node.end_lineno or node.lineno) - 1] + (node.end_col_offset or 0)
        found.append(Fault(file, start, end, new, node.lineno, node.end_lineno or node.lineno))
    return [one for one in found if _is_python(one.planted(text.encode()))]


def _is_python(text: bytes) -> bool:
    try:
        compile(text, "planted", "exec")
    except SyntaxError:
        return False
    return True


def _changes(tree: ast.Module, text: str) -> Iterator[tuple[ast.expr | ast.stmt, str]]:
    types = {id(one) for node in ast.walk(tree) for one in _annotations(node)}
    for node in ast.walk(tree):
        if id(node) not in types and isinstance(node, ast.expr | ast.stmt):
            yield from _changed(node, text)


def _annotations(node: ast.AST) -> Iterator[ast.AST]:
    for name in ("annotation", "returns", "decorator_list"):
        held = getattr(node, name, None)
        for one in held if isinstance(held, list) else [held]:
            if isinstance(one, ast.AST):
                yield from ast.walk(one)


def _changed(
    node: ast.expr | ast.stmt, text: str
) -> Iterator[tuple[ast.expr | ast.stmt, str]]:  # fmt: skip
    def said(part: ast.AST) -> str:
        return ast.get_source_segment(text, part) or ""

    match node:
        case ast.Compare(left, [operator], [right]):
            yield node, f"{said(left)} {_OTHER[type(operator)]} {said(right)}"
        case ast.BoolOp(operator, values):
            word = " or " if isinstance(operator, ast.And) else " and "
            yield node, f"({word.join(f'({said(one)})' for one in values)})"
        case ast.UnaryOp(ast.Not(), operand):
            yield node, f"bool({said(operand)})"
        case ast.BinOp(left, ast.Add() | ast.Sub() as operator, right):
            sign = "-" if isinstance(operator, ast.Add) else "+"
            yield node, f"({said(left)} {sign} {said(right)})"
        case ast.Constant(bool() as value):
            yield node, str(not value)
        case ast.Constant(int() as value):
            yield node, str(value + 1)
        case ast.If(test) | ast.IfExp(test) | ast.While(test):
            yield test, f"(not ({said(test)}))"
        case ast.Break():
            yield node, "continue"
        case ast.Return(ast.expr() as value) if not isinstance(value, ast.Constant):
            yield value, "None"
        case ast.Expr(ast.Call()):
            yield node, "pass"
