"""Figures: numbers that know their unit, their formula, their origin and how they were worked out.

A figure is made by one small pure function over floats or arrays. The decorator :func:`figure` ties to
that function what is known about its result; a :class:`Ledger` runs such functions and keeps, beside each
value, the numbers that went in, so that the working shown is always the working done.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Generic, NamedTuple, ParamSpec

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

Number = float | NDArray[np.float64]
"""A float, or an array of samples that broadcasts like one."""

P = ParamSpec("P")

GEOMETRY = "geometry"
COMMON_PRACTICE = "common practice"
FROM_MEMORY = "from memory"
MEASURED = "measured"
ASSUMED = "assumed"
CHOSEN = "chosen"


def published(name: str) -> str:
    """Origin of a value that a named publication gives."""
    return f"published: {name}"


class FigureSpec(Struct, frozen=True, kw_only=True):
    """What is known about a figure before any number is put in.

    Attributes
    ----------
    key : ``room.name`` as in the plan document.
    label : short name for people, sentence case.
    unit : "mm", "mm³", "ct", "g", "°", "°C" or "" for a ratio.
    formula : the formula as text, in the symbols given by ``symbols``.
    source : origin of the formula.
    symbols : parameter name of the function -> symbol in the formula.
    places : decimals that are ever worth showing.
    shown_in : key of the station that lists it, "" for none.
    """

    key: str
    label: str
    unit: str
    formula: str
    source: str
    symbols: Mapping[str, str]
    places: int = 2
    shown_in: str = ""


class FigureKey:
    """What a figure is asked for by: the function that gives it or, where it is read, chosen or given by several, a key
    of its own. Two are equal when they name the same figure.

    Attributes
    ----------
    key : ``room.name`` as in the plan document.
    """

    __slots__ = ("_hash", "key")

    def __init__(self, key: str) -> None:
        self.key = key
        self._hash = hash(key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, FigureKey) and other.key == self.key

    def __hash__(self) -> int:
        return self._hash

    def __repr__(self) -> str:
        return f"FigureKey({self.key!r})"


class FigureFunction(FigureKey, Generic[P]):
    """A pure function of floats or arrays together with the spec of its result."""

    def __init__(self, function: Callable[P, Number], spec: FigureSpec) -> None:
        super().__init__(spec.key)
        self.function = function
        self.spec = spec
        code = function.__code__
        self.parameters = code.co_varnames[: code.co_argcount]
        self.marks = tuple(spec.symbols.get(name, "") for name in self.parameters)
        self.__doc__ = function.__doc__
        self.__name__ = function.__name__
        unknown = set(spec.symbols) - set(self.parameters)
        if unknown:
            raise TypeError(f"{function.__name__} has no parameter {sorted(unknown)}")

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> Number:
        return self.function(*args, **kwargs)


def figure(
    key: str | FigureKey,
    label: str,
    unit: str,
    formula: str,
    source: str,
    *,
    places: int = 2,
    shown_in: str = "",
    **symbols: str,
) -> Callable[[Callable[P, Number]], FigureFunction[P]]:
    """Declare what a pure function's result is called, measured in, and founded on."""
    name = key.key if isinstance(key, FigureKey) else key

    def wrap(function: Callable[P, Number]) -> FigureFunction[P]:
        return FigureFunction(
            function,
            FigureSpec(
                key=name,
                label=label,
                unit=unit,
                formula=formula,
                source=source,
                symbols=symbols,
                places=places,
                shown_in=shown_in,
            ),
        )

    return wrap


class Entry(NamedTuple):
    """One line of a ledger: the value, what it is, and the numbers that went in, with their symbols."""

    spec: FigureSpec
    value: Number
    marks: tuple[str, ...]
    arguments: tuple[Any, ...]


@dataclass
class Ledger:
    """Runs figure functions and keeps their working; one a plan, alive only while it is made."""

    entries: dict[FigureKey, Entry] = field(default_factory=dict)

    def enter(self, function: FigureFunction[P], *args: P.args, **kwargs: P.kwargs) -> Number:
        """Run ``function`` on positional arguments, keep its result under its key, and return it (TypeError for
        arguments by name: the working keeps their order)."""
        if kwargs:
            raise TypeError("a figure is entered with positional arguments only, so that its working keeps their order")
        value = function.function(*args)  # type: ignore[call-arg]
        self.entries[function] = Entry(function.spec, value, function.marks, args)
        return value

    def given(
        self,
        key: FigureKey,
        label: str,
        unit: str,
        value: Number,
        source: str,
        *,
        places: int = 2,
        formula: str = "",
        shown_in: str = "",
    ) -> Number:
        """Keep a value that was measured, chosen or assumed rather than worked out."""
        spec = FigureSpec(
            key=key.key,
            label=label,
            unit=unit,
            formula=formula or source,
            source=source,
            symbols={},
            places=places,
            shown_in=shown_in,
        )
        self.entries[key] = Entry(spec, value, (), ())
        return value

    def call(self, key: FigureKey, label: str) -> None:
        """Call an entered figure by another label, where its own does not fit what is made (KeyError if there is
        none)."""
        entry = self.entries[key]
        self.entries[key] = entry._replace(spec=replace(entry.spec, label=label))

    def value(self, key: FigureKey) -> Number:
        """Value already entered under ``key``; KeyError if there is none."""
        return self.entries[key].value


class Figure(Struct, frozen=True):
    """A finished figure of a plan.

    ``plus_minus`` is the half-width of the interval that holds 95 % of the results which the readings'
    resolution and the assumed proportions allow, in the figure's own unit.
    """

    spec: FigureSpec
    value: float
    plus_minus: float = 0.0
    marks: tuple[str, ...] = ()
    arguments: tuple[Any, ...] = ()

    @property
    def key(self) -> str:
        """``room.name`` as in the plan document."""
        return self.spec.key

    @property
    def label(self) -> str:
        """Short name for people."""
        return self.spec.label

    @property
    def unit(self) -> str:
        """Unit of value and tolerance."""
        return self.spec.unit

    @property
    def formula(self) -> str:
        """The formula in its symbols."""
        return self.spec.formula

    @property
    def source(self) -> str:
        """Origin of the formula, or of the value."""
        return self.spec.source

    @property
    def inputs(self) -> tuple[tuple[str, float], ...]:
        """Symbol and number of everything that the formula names."""
        return tuple((mark, float(number)) for mark, number in zip(self.marks, self.arguments, strict=True) if mark)

    def text(self, *, unit: bool = True) -> str:
        """Value to no more places than its tolerance deserves, with its unit."""
        number = format_number(self.value, deserved_places(self.plus_minus, self.spec.places))
        return f"{number}{unit_suffix(self.unit)}" if unit else number

    def plus_minus_text(self) -> str:
        """The tolerance as ``± 0.03``, or nothing when the figure is exact."""
        places = deserved_places(self.plus_minus, self.spec.places)
        rounded = format_number(self.plus_minus, places)
        return f"± {rounded}" if float(rounded) > 0 else ""


def unit_suffix(unit: str) -> str:
    """Unit as it is set behind a number."""
    return unit if unit == "°" else f" {unit}" if unit else ""


def deserved_places(plus_minus: float, most: int) -> int:
    """Decimals that a value with this tolerance deserves, at the most ``most``."""
    if plus_minus <= 0:
        return most
    return int(np.clip(-np.floor(np.log10(plus_minus)), 0, most))


def format_number(value: float, places: int) -> str:
    """Fixed decimals, a true minus sign, never a negative zero."""
    text = f"{value:.{places}f}"
    if float(text) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")
