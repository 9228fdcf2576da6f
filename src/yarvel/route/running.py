"""Running a route: the piece before each operation, and what is not as it must be there."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from itertools import pairwise

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.errors import JobError, Problem
from yarvel.figures.figure import FigureKey
from yarvel.figures.lookup import first_of
from yarvel.operations import joint_states
from yarvel.operations.joint_groups import key_of, name_of
from yarvel.operations.operation import Operation
from yarvel.operations.piece import UNKNOWN, Piece
from yarvel.operations.register import REGISTER
from yarvel.planning.job import RouteJob
from yarvel.planning.plan import Plan
from yarvel.route.instead import known_methods, replaced
from yarvel.route.offer import Offers
from yarvel.route.offers import CONTRIBUTORS
from yarvel.route.ordering import in_order


class RouteStep(Struct, frozen=True):
    """One operation of a route with the piece before it and what is not as it must be (empty where all is well);
    ``lost_g`` what becomes dust in it, g by alloy."""

    operation: Operation
    piece: Piece
    unmet: tuple[str, ...]
    lost_g: Mapping[str, float]


class Route(Struct, frozen=True):
    """The work in order, and the piece when all is done; ``refused`` what of a wished order of joints cannot be
    worked, ``astray`` what somebody changed of operations that this work has not (any more)."""

    steps: tuple[RouteStep, ...]
    done: Piece
    refused: tuple[str, ...] = ()
    astray: tuple[Problem, ...] = ()


def run(operations: list[Operation], piece: Piece) -> Route:
    """One pass over the operations from the piece as it is now."""
    steps = []
    tested = False
    awaited: dict[FigureKey, Operation] = {}
    for planned in operations:
        operation = _awaiting(_shielded(planned, piece), awaited)
        awaited.update(dict.fromkeys(planned.reads, planned))
        if not tested and _meets_unknown(operation, piece):
            operation, tested = replace(operation, text=f"{operation.text} {_AS_IT_CAME}"), True
        lost = operation.lost(piece)
        steps.append(RouteStep(operation, piece, operation.unmet(piece), _dust(lost, piece)))
        piece = operation.apply(piece, lost)
    return Route(tuple(steps), piece)


def _shielded(operation: Operation, piece: Piece) -> Operation:
    """What is near by then and might open stands in the words."""
    near = [name_of(joint) for joint in operation.shields if joint in piece.joined]
    return replace(operation, text=f"{operation.text} Shield {', '.join(near)}.") if near else operation


_AS_IT_CAME = "As it came in: its temper and the grades of its old joints are not known; test before you trust them."


def _meets_unknown(operation: Operation, piece: Piece) -> bool:
    """Whether it heats, bends or saws what came in as nobody knows."""
    parts = [piece.parts[name] for name in operation.on if name in piece.parts]
    return bool(operation.kind.temper or operation.kind.opens) and any(part.temper == UNKNOWN for part in parts)


def _awaiting(operation: Operation, awaited: Mapping[FigureKey, Operation]) -> Operation:
    """Figures that are still to be measured on what is made are told as what they are: from the table."""
    if not any(key in awaited for key in operation.figures):
        return operation
    return replace(operation, text=f"{operation.text} {_FROM_TABLE}", waits=True)


_FROM_TABLE = "From the table, until what was made is measured."


def _dust(lost: Mapping[str, float], piece: Piece) -> dict[str, float]:
    dust_g: dict[str, float] = {}
    for name, volume in lost.items():
        metal = piece.parts[name].metal
        dust_g[metal.key] = dust_g.get(metal.key, 0.0) + volume * metal.density_g_cm3 / 1000
    return dust_g


def route_of(plan: Plan) -> Route:
    """The route of a plan, in the order of its schools and as a person moved it. What the job changes of operations
    that this route has not is left aside and said: a head of another style has other operations."""
    offers = Offers(plan)
    for contribute in CONTRIBUTORS:
        contribute(offers)
    wanted = () if plan.job.joints is None else plan.job.joints.order or ()
    ordered, refused = _as_soldered(offers.operations, wanted)
    asked = plan.job.route or RouteJob()
    methods, wrong = known_methods(ordered, asked.methods or {})
    operations, astray = moved(replaced(readied(ordered), methods), asked)
    route_run = run(operations, Piece(offers.parts, {}, offers.stones))
    return replace(route_run, refused=refused, astray=(*wrong, *astray))


def readied(operations: list[Operation]) -> list[Operation]:
    """Operations that hold or close a joint, each with how far that joint must be: as far as any operation of this
    route brings it before (no solder over air); a joint that nothing prepares is only closed."""
    ready: dict[str, str] = {}
    for operation in operations:
        if operation.joints and operation.joint_after in _PREPARES:
            for group in operation.joints:
                ready[group] = max(
                    ready.get(group, joint_states.OPEN), operation.joint_after, key=joint_states.STATES.index
                )
    readied_operations = []
    for operation in operations:
        joints_held = operation.joints if operation.joint_after == joint_states.HELD else operation.closes
        waits = [ready.get(group, joint_states.OPEN) for group in joints_held]
        least = max(waits, key=joint_states.STATES.index, default=joint_states.OPEN)
        readied_operations.append(operation if least == joint_states.OPEN else replace(operation, joint_before=least))
    return readied_operations


_PREPARES = (joint_states.MARKED, joint_states.CUT, joint_states.FITS)


def _as_soldered(operations: list[Operation], wanted: tuple[str, ...]) -> tuple[list[Operation], tuple[str, ...]]:
    """Operations in order, joints as somebody wants them soldered where that can be worked; and what cannot."""
    ordered, operations_left, refused = in_order(operations), operations, []
    place = {key_of(group): number for number, group in enumerate(wanted)}
    heats = [operation for operation in operations if any(key_of(group) in place for group in operation.closes)]
    heats.sort(key=lambda one: min(place.get(key_of(group), len(place)) for group in one.closes))
    for first, then in pairwise(heats):
        tried = [
            replace(operation, after=(*operation.after, first.key)) if operation.key == then.key else operation
            for operation in operations_left
        ]
        try:
            ordered, operations_left = in_order(tried), tried
        except JobError:
            refused.append(f"{name_of(first.closes[0])} before {name_of(then.closes[0])}")
    return ordered, tuple(refused)


def moved(operations: list[Operation], asked: RouteJob) -> tuple[list[Operation], tuple[Problem, ...]]:
    """Operations as a person wants them: some added, each pair's first right after its second, some left out. What then
    no longer holds, running says. And what was asked of operations or parts that are not here."""
    parts = dict.fromkeys(name for operation in operations for name in operation.on)
    known = [operation.key for operation in operations]
    wrong = []
    added = []
    for place, (kind, part, earlier) in enumerate(asked.added or ()):
        unknown = _unknown(
            f"route.added.{place}", (("kind", kind, REGISTER), ("part", part, parts), ("operation", earlier, known))
        )
        wrong += unknown
        if not unknown:
            added.append((kind, part, earlier))
            known.append(f"{kind}-{part}-added")
    pairs, without = [], []
    for place, pair in enumerate(asked.after or ()):
        unknown = _unknown(f"route.after.{place}", [("operation", key, known) for key in pair])
        wrong += unknown
        pairs += [] if unknown else [pair]
    for place, key in enumerate(asked.without or ()):
        unknown = _unknown(f"route.without.{place}", [("operation", key, known)])
        wrong += unknown
        without += [] if unknown else [key]
    return _moved(operations, added, pairs, without), tuple(wrong)


def _unknown(path: str, asked: Iterable[tuple[str, str, Collection[str]]]) -> list[Problem]:
    """What of the words of one row is not among those that there are."""
    return [
        Problem(path, f"this work has no {what} {word!r}", f"one of: {', '.join(words)}")
        for what, word, words in asked
        if word not in words
    ]


def _moved(
    operations: list[Operation],
    added: list[tuple[str, str, str]],
    pairs: list[tuple[str, str]],
    without: list[str],
) -> list[Operation]:
    reordered = list(operations)
    for kind, part, earlier in added:
        place = first_of(number for number, operation in enumerate(reordered) if operation.key == earlier)
        operation = Operation(
            kind=REGISTER[kind], key=f"{kind}-{part}-added", on=(part,), text=f"{REGISTER[kind].label}: {part}."
        )
        reordered.insert(place + 1, replace(operation, stage=reordered[place].stage))
    for key, earlier in pairs:
        moved_operation = first_of(operation for operation in reordered if operation.key == key)
        reordered.remove(moved_operation)
        place = next((number for number, operation in enumerate(reordered) if operation.key == earlier), len(reordered))
        reordered.insert(place + 1, moved_operation)
    return [operation for operation in reordered if operation.key not in without]
