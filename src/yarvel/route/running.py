"""Running a route: the piece before each operation, and what is not as it must be there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

from yarvel.figures.errors import JobError, Problem
from yarvel.metals.joints import key_of
from yarvel.operations.operation import Operation
from yarvel.operations.piece import Piece
from yarvel.operations.register import REGISTER
from yarvel.planning.job import RouteJob
from yarvel.planning.plan import Plan
from yarvel.route.instead import replaced
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
    """The work in order, and the piece when all is done; ``refused`` what of a wished order of joints cannot be
    worked."""

    steps: tuple[Step, ...]
    done: Piece
    refused: tuple[str, ...] = ()


def run(operations: list[Operation], piece: Piece) -> Route:
    """One pass over the operations from the piece as it is now."""
    steps = []
    for planned in operations:
        operation = _shielded(planned, piece)
        lost = operation.lost(piece)
        steps.append(Step(operation, piece, operation.unmet(piece), _dust(lost, piece)))
        piece = operation.apply(piece, lost)
    return Route(tuple(steps), piece)


def _shielded(operation: Operation, piece: Piece) -> Operation:
    """What is near by then and might open stands in the words."""
    near = [short(joint) for joint in operation.shields if joint in piece.joined]
    return replace(operation, text=f"{operation.text} Shield {', '.join(near)}.") if near else operation


def _dust(lost: Mapping[str, float], piece: Piece) -> dict[str, float]:
    found: dict[str, float] = {}
    for name, volume in lost.items():
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
    wanted = () if plan.job.joints is None else plan.job.joints.order or ()
    ordered, refused = _as_soldered(offers.operations, wanted)
    asked = plan.job.route or RouteJob()
    operations = moved(replaced(ordered, asked.methods or {}), asked)
    return replace(run(operations, Piece(offers.parts, plan.job.stone.state)), refused=refused)


def _as_soldered(operations: list[Operation], wanted: tuple[str, ...]) -> tuple[list[Operation], tuple[str, ...]]:
    """Operations in order, joints as somebody wants them soldered where that can be worked; and what cannot."""
    found, held, refused = in_order(operations), operations, []
    place = {key_of(group): number for number, group in enumerate(wanted)}
    heats = [one for one in operations if any(key_of(group) in place for group in one.joints)]
    heats.sort(key=lambda one: min(place.get(key_of(group), len(place)) for group in one.joints))
    for first, then in pairwise(heats):
        tried = [replace(one, after=(*one.after, first.key)) if one.key == then.key else one for one in held]
        try:
            found, held = in_order(tried), tried
        except JobError:
            refused.append(f"{short(first.joints[0])} before {short(then.joints[0])}")
    return found, tuple(refused)


def moved(operations: list[Operation], asked: RouteJob) -> list[Operation]:
    """Operations as a person wants them: some added, each pair's first right after its second, some left out. What then
    no longer holds, running says.

    Raises
    ------
    JobError : a key that this route has not.
    """
    known = [one.key for one in operations]
    parts = dict.fromkeys(name for one in operations for name in one.on)
    known += [f"{kind}-{part}-added" for kind, part, _ in asked.added or ()]
    wrong = [
        Problem(f"route.added.{place}", f"unknown {what} {word!r}", f"one of: {', '.join(words)}")
        for place, (kind, part, _) in enumerate(asked.added or ())
        for what, word, words in (("kind", kind, REGISTER), ("part", part, parts))
        if word not in words
    ]
    wrong += [
        Problem(f"route.{name}", f"this route has no {key}", f"one of: {', '.join(known)}")
        for name, keys in (
            ("after", [key for pair in asked.after or () for key in pair]),
            ("without", asked.without or ()),
            ("added", [earlier for _, _, earlier in asked.added or ()]),
        )
        for key in keys
        if key not in known
    ]
    if wrong:
        raise JobError(wrong)
    found = list(operations)
    for kind, part, earlier in asked.added or ():
        place = next((number for number, held in enumerate(found) if held.key == earlier), len(found) - 1)
        made = Operation(REGISTER[kind], f"{kind}-{part}-added", (part,), f"{REGISTER[kind].label}: {part}.")
        found.insert(place + 1, replace(made, stage=found[place].stage))
    for key, earlier in asked.after or ():
        one = next(held for held in found if held.key == key)
        found.remove(one)
        place = next((number for number, held in enumerate(found) if held.key == earlier), len(found))
        found.insert(place + 1, one)
    return [one for one in found if one.key not in (asked.without or ())]
