"""The working of a figure: its formula, then the same formula with the numbers put in."""

from __future__ import annotations

import re

from yarvel.figures.figure import Figure, format_number, unit_suffix
from yarvel.figures.mathematics import Node, filled, read

_WORD = re.compile(r"[A-Za-zΑ-ωρπ_][A-Za-zΑ-ω0-9_₀-₉ₐ-ₜ']*")


def with_numbers(formula: str, inputs: tuple[tuple[str, float], ...]) -> str:
    """Put the numbers in place of the symbols; words that are not symbols stay.

    A negative number is set in brackets. Numbers carry up to four decimals (six below a tenth),
    without trailing zeros.
    """
    numbers = dict(inputs)

    def put(match: re.Match[str]) -> str:
        word = match.group()
        return _plain(numbers[word]) if word in numbers else word

    return _WORD.sub(put, formula)


def lines(figure: Figure) -> list[str]:
    """The working as lines of text: formula, numbers put in, result with its tolerance, origin."""
    result = f"= {figure.text()} {figure.plus_minus_text()}".rstrip()
    if not figure.inputs:
        formula_lines = (
            [] if figure.formula in (figure.source, "") else [figure.formula[0].upper() + figure.formula[1:]]
        )
        return [*formula_lines, result, f"Origin: {figure.source}"]
    return [figure.formula, f"= {with_numbers(figure.formula, figure.inputs)}", result, f"Origin: {figure.source}"]


def trees(figure: Figure) -> list[Node]:
    """The formula, and the formula with its numbers, to be set as mathematics; none where it is words."""
    formula = read(figure.formula) if figure.inputs else None
    if formula is None:
        return []
    numbers = {mark: _bare(value) for mark, value in figure.inputs}
    return [formula, filled(formula, numbers)]


def told(figure: Figure) -> list[str]:
    """What stands under the mathematics: the result with its tolerance, and the origin."""
    return lines(figure)[-2:]


def value_text(value: float, unit: str, places: int = 2) -> str:
    """A number with its unit, for places where no figure object is at hand."""
    return f"{format_number(value, places)}{unit_suffix(unit)}"


def _bare(value: float) -> str:
    text = format_number(value, 4 if abs(value) >= 0.1 or value == 0 else 6)
    return text.rstrip("0").rstrip(".") if "." in text else text


def _plain(value: float) -> str:
    text = _bare(value)
    return f"({text})" if text.startswith("−") else text
