"""Running a route: the piece before each operation, and what is not as it must be there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from yarvel.figures.errors import JobError, Problem
from yarvel.operations.operation import Operation
from yarvel.operations.piece import Piece
from yarvel.planning.job import RouteJob
from yarvel.planning.plan import Plan
from yarvel.route.offer import Offers
from yarvel.route.offers import CONTRIBUTORS
from yarvel.route.ordering import in_order
from yarvel.route.solder_words import short


@dataclass(frozen=True)
class Step:
    """One operation of a route with the piece before it and what is not as it must be (empty where all is well);
    ``lost`` what becomes dust in it, g by alloy."""

    operation: Operation
    piece: Piece
    unmet: tuple[str, ...]
    lost: Mapping[str, float]


@dataclass(frozen=True)
class Route:
    """The work in order, and the piece when all is done."""

    steps: tuple[Step, ...]
    done: Piece


def run(operations: list[Operation], piece: Piece) -> Route:
    """One pass over the operations from the piece as it is now."""
    steps = []
    for planned in operations:
        operation = _shielded(planned, piece)
        steps.append(Step(operation, piece, operation.unmet(piece), _dust(operation, piece)))
        piece = operation.apply(piece)
    return Route(tuple(steps), piece)


def _shielded(operation: Operation, piece: Piece) -> Operation:
    """What is near by then and might open stands in the words."""
    near = [short(joint) for joint in operation.shields if joint in piece.joined]
    return replace(operation, text=f"{operation.text} Shield {', '.join(near)}.") if near else operation


def _dust(operation: Operation, piece: Piece) -> dict[str, float]:
    found: dict[str, float] = {}
    for name, volume in operation.lost(piece).items():
        metal = piece.parts[name].metal
        found[metal.key] = found.get(metal.key, 0.0) + volume * metal.density / 1000
    return found


def route_of(plan: Plan) -> Route:
    """The route of a plan, in the order of its schools and as a person moved it.

    Raises
    ------
    JobError : the job moves or leaves out what its route has not.
    """
    offers = Offers(plan)
    for contribute in CONTRIBUTORS:
        contribute(offers)
    operations = moved(in_order(offers.operations), plan.job.route or RouteJob())
    return run(operations, Piece(offers.parts, plan.job.stone.state))


def moved(operations: list[Operation], asked: RouteJob) -> list[Operation]:
    """Operations as a person wants them: each pair's first right after its second, some left out. What then no longer
    holds, running says.

    Raises
    ------
    JobError : a key that this route has not.
    """
    known = [one.key for one in operations]
    wrong = [
        Problem(f"route.{name}", f"this route has no {key}", f"one of: {', '.join(known)}")
        for name, keys in (
            ("after", [key for pair in asked.after or () for key in pair]),
            ("without", asked.without or ()),
        )
        for key in keys
        if key not in known
    ]
    if wrong:
        raise JobError(wrong)
    found = list(operations)
    for key, earlier in asked.after or ():
        one = next(held for held in found if held.key == key)
        found.remove(one)
        place = next((number for number, held in enumerate(found) if held.key == earlier), len(found))
        found.insert(place + 1, one)
    return [one for one in found if one.key not in (asked.without or ())]
