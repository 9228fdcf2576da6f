"""Formulas as trees: read from their text, so that they can be set as mathematics and filled with numbers.

The text of a formula is what :mod:`yarvel.figures.figure` holds: ``·`` and ``/``, ``√(…)``, ``²``, names with an index
behind ``_``, and functions. What cannot be read so is set as it stands.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from msgspec import Struct

_TOKEN = re.compile(r"\s*([A-Za-zΑ-ωΣ°][A-Za-zΑ-ω0-9₀-₉ₐ-ₜ']*(?:_[A-Za-z0-9Α-ω]+)?|\d+(?:\.\d+)?|[-+−·/()√²³,])")
_POWERS = {"²": "2", "³": "3"}


class Word(Struct, frozen=True):
    """A number, or a symbol with its ``index``; ``is_symbol`` where it stands for a number."""

    text: str
    index: str = ""
    is_symbol: bool = False


class Sum(Struct, frozen=True):
    """Terms with their signs, "+" or "−"; the first one's sign is shown where it is "−"."""

    terms: tuple[tuple[str, Node], ...]


class Product(Struct, frozen=True):
    """Factors side by side."""

    factors: tuple[Node, ...]


class Fraction(Struct, frozen=True):
    """One above the other."""

    over: Node
    under: Node


class Root(Struct, frozen=True):
    """A square root."""

    of: Node


class Power(Struct, frozen=True):
    """A base with a raised exponent."""

    base: Node
    exponent: str


class Call(Struct, frozen=True):
    """A function and what it is taken of."""

    name: str
    of: tuple[Node, ...]


class Group(Struct, frozen=True):
    """Something in brackets."""

    of: Node


Node = Word | Sum | Product | Fraction | Root | Power | Call | Group


def read(formula: str) -> Node | None:
    """A formula's tree; None where it is no formula but words."""
    tokens, place = [], 0
    while place < len(formula.rstrip()):
        match = _TOKEN.match(formula, place)
        if match is None:
            return None
        tokens.append(match.group(1))
        place = match.end()
    reader = _Reader(tokens)
    try:
        node = reader.sum()
    except _NoFormulaError:
        return None
    return node if reader.done else None


class _NoFormulaError(Exception):
    """These tokens are no formula."""


class _Reader:
    """Reads tokens from left to right, by the usual precedence."""

    def __init__(self, tokens: list[str]) -> None:
        self._tokens, self._place = tokens, 0

    @property
    def done(self) -> bool:
        return self._place == len(self._tokens)

    def _next(self) -> str:
        return "" if self.done else self._tokens[self._place]

    def _take(self, wanted: str = "") -> str:
        token = self._next()
        if not token or (wanted and token != wanted):
            raise _NoFormulaError
        self._place += 1
        return token

    def sum(self) -> Node:
        sign = "−" if self._next() in "-−" and self._next() else "+"
        if sign == "−":
            self._take()
        terms = [(sign, self.product())]
        while self._next() and self._next() in "+-−":
            sign = self._take()
            terms.append(("+" if sign == "+" else "−", self.product()))
        return terms[0][1] if len(terms) == 1 and terms[0][0] == "+" else Sum(tuple(terms))

    def product(self) -> Node:
        power = self.power()
        while self._next() in ("·", "/"):
            if self._take() == "·":
                following = self.power()
                power = Product((*(power.factors if isinstance(power, Product) else (power,)), following))
            else:
                power = Fraction(_bare(power), _bare(self.power()))
        return power

    def power(self) -> Node:
        base = self.atom()
        while self._next() in _POWERS:
            base = Power(base, _POWERS[self._take()])
        return base

    def atom(self) -> Node:
        token = self._take()
        if token == "√":
            self._take("(")
            inner = self.sum()
            self._take(")")
            return Root(inner)
        if token == "(":
            inner = self.sum()
            self._take(")")
            return Group(inner)
        if self._next() == "(" and token[0].isalpha():
            self._take()
            of = [self.sum()]
            while self._next() == ",":
                self._take()
                of.append(self.sum())
            self._take(")")
            return Call(token, tuple(of))
        if not token[0].isalnum() and token[0] not in "Σ°":
            raise _NoFormulaError
        text, _, index = token.partition("_")
        return Word(text, index, is_symbol=not token[0].isdigit())


def _bare(node: Node) -> Node:
    """What needs no brackets above or below a line."""
    return node.of if isinstance(node, Group) else node


def filled(node: Node, numbers: Mapping[str, str]) -> Node:
    """The tree with numbers, as texts, in place of its symbols; a negative one in brackets."""
    if isinstance(node, Word):
        name = f"{node.text}_{node.index}" if node.index else node.text
        if not node.is_symbol or name not in numbers:
            return node
        number = Word(numbers[name])
        return Group(number) if numbers[name].startswith("−") else number
    if isinstance(node, Sum):
        return Sum(tuple((sign, filled(term, numbers)) for sign, term in node.terms))
    if isinstance(node, Product):
        return Product(tuple(filled(factor, numbers) for factor in node.factors))
    if isinstance(node, Fraction):
        return Fraction(_bare(filled(node.over, numbers)), _bare(filled(node.under, numbers)))
    if isinstance(node, Root):
        return Root(_bare(filled(node.of, numbers)))
    if isinstance(node, Power):
        return Power(filled(node.base, numbers), node.exponent)
    if isinstance(node, Call):
        return Call(node.name, tuple(_bare(filled(part, numbers)) for part in node.of))
    return Group(_bare(filled(node.of, numbers)))


def symbols(node: Node) -> tuple[str, ...]:
    """The symbols of a tree in the order in which they stand, each once."""
    symbol_names: list[str] = []

    def look(part: Node) -> None:
        if isinstance(part, Word):
            if part.is_symbol:
                symbol_names.append(f"{part.text}_{part.index}" if part.index else part.text)
        elif isinstance(part, Sum):
            for _, term in part.terms:
                look(term)
        elif isinstance(part, Product):
            for factor in part.factors:
                look(factor)
        elif isinstance(part, Fraction):
            look(part.over)
            look(part.under)
        elif isinstance(part, Power):
            look(part.base)
        elif isinstance(part, Call):
            for inner in part.of:
                look(inner)
        else:
            look(part.of)

    look(node)
    return tuple(dict.fromkeys(symbol_names))
