"""What is offered for one plan: operations with the plan's figures in their sentences."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping
from typing import Any, TypedDict, Unpack

from msgspec.structs import replace

from yarvel.figures.figure import FigureKey
from yarvel.figures.lookup import first_of
from yarvel.metals.alloys import GRADES, alloy_of
from yarvel.metals.joints import FUSED, WELDED, Joint, groups
from yarvel.operations import joint_states
from yarvel.operations.joint_groups import name_of
from yarvel.operations.lot import Lot
from yarvel.operations.operation import HEAT, Operation, RepeatGroup
from yarvel.operations.piece import EXISTS, MADE, Metal, Part, as_cast, as_it_came, wrought
from yarvel.operations.register import REGISTER
from yarvel.operations.stone_state import CENTRE, StoneState
from yarvel.planning.plan import Plan
from yarvel.route import lots
from yarvel.route.begins import Beginning
from yarvel.route.solder_words import set_up_text
from yarvel.stones.cuts import CUTS
from yarvel.stones.words import StoneWords, words_of

TAKE_IN, STOCK, SHANK, HEAD, MEND, FIT, SOLDER, SEAT, SET, FINISH, RELEASE = range(11)
"""Stages: they break ties only."""
_HEAD_PARTS = ("head", "collet", "tube", "claws", "upper ring", "lower ring", "ring")
CLAWS = "claws"
LEAST_MM = -0.005
_FIGURE = re.compile(r"{([a-z_]+\.[a-z_]+)}")


class Effects(TypedDict, total=False):
    """What of an operation is taken as it is given: see :class:`~yarvel.operations.operation.Operation`."""

    count: int
    joint: str
    takes_out: tuple[str, ...]
    melts: tuple[str, ...]
    makes: tuple[str, ...]
    shape: str
    tension: str
    zones: tuple[tuple[str, str], ...]
    place: str
    seat: str
    after: tuple[str, ...]
    maybe: bool
    reads: tuple[FigureKey, ...]
    takes: tuple[Lot, ...]
    gives: tuple[Lot, ...]
    harms: tuple[str, ...]
    shields: tuple[str, ...]
    stands_for: tuple[str, ...]


class Offers(Beginning):
    """Collects the operations of one plan, and the parts that they are done to as they lie on the bench at first."""

    def __init__(self, plan: Plan) -> None:
        super().__init__(plan)
        self.operations: list[Operation] = []
        self.parts: dict[str, Part] = {}
        self.stones: dict[str, StoneState] = {CENTRE: StoneState(plan.job.stone.state)}
        self.joints: dict[str, tuple[Joint, int]] = {joint.group: (joint, many) for joint, many in groups(plan.joints)}

    @property
    def grip(self) -> str:
        """The part that holds the stone."""
        return first_of(name for name in ("head", "collet", "tube", CLAWS) if name in self.parts)

    @property
    def claws(self) -> tuple[str, ...]:
        """What is leaned and closed over the stone: the claws, also where they are a zone of the part that holds it."""
        sawn = any(zone == CLAWS for operation in self.operations for zone, _ in operation.zones)
        return (CLAWS,) if sawn or CLAWS in self.parts else (self.grip,)

    def stock(
        self,
        *names: str,
        metal: str,
        cast: bool = False,
        facts: Iterable[str] = (),
        shape: str = "stock",
        origin: str = MADE,
    ) -> None:
        """Parts as they lie on the bench before anything is done."""
        alloy = alloy_of(metal, self.plan.rules)
        bears = Metal(
            alloy.elongation_drawn, alloy.elongation_annealed, alloy.elongation_cast, alloy.key, alloy.density
        )
        for name in names:
            part = as_cast(bears) if cast else wrought(bears, shape)
            if origin == EXISTS:
                part = as_it_came(bears, shape)
            self.parts[name] = replace(part.with_facts(facts, (), ""), origin=origin)

    def zone(self, name: str, host: str) -> None:
        """A zone of a part that is one piece with it from the first."""
        self.parts[name] = replace(self.parts[host], facts=frozenset(), host=host)

    def add(
        self,
        kind: str,
        target: str,
        on: tuple[str, ...],
        text: str,
        look: str = "",
        *,
        stage: int,
        strain: FigureKey | float = 0.0,
        joints: tuple[str, ...] = (),
        off: Mapping[str, float] | None = None,
        leaves: Mapping[tuple[str, ...], float] | None = None,
        figures: tuple[FigureKey, ...] = (),
        **more: Unpack[Effects],
    ) -> None:
        """Offer an operation; nothing where the plan has not the figures of its sentences, or where one of them is a
        length under nought: what cannot be made is a call. ``strain`` is a fraction or the figure that gives it;
        ``figures`` those that its words use besides; of ``joints`` those that the plan has."""
        keys = tuple(dict.fromkeys(FigureKey(key) for key in _FIGURE.findall(text + look)))
        held = self.plan.figures
        if any(key not in held for key in keys):
            return
        if any(held[key].unit == "mm" and held[key].value < LEAST_MM for key in keys):
            return
        if isinstance(strain, FigureKey):
            strain = held[strain].value if strain in held else 0.0
        self.operations.append(
            Operation(
                kind=REGISTER[kind],
                key=f"{kind}-{target}",
                on=on,
                text=self._filled(text),
                look=self._filled(look),
                figures=(*keys, *(key for key in figures if key in held)),
                joints=tuple(group for group in joints if group in self.joints),
                strain=strain,
                stage=stage,
                off=tuple((name, volume) for name, volume in (off or {}).items() if volume > 0),
                leaves=tuple((leaves or {}).items()),
                **more,
            )
        )

    def by_turns(self, keys: tuple[str, ...], until: str, usual: int) -> None:
        """These are done by turns until something is seen, the later ones right after the first; nothing where not all
        of them are offered."""
        turned_keys = {operation.key for operation in self.operations}
        if set(keys) <= turned_keys:
            turns = RepeatGroup(keys, until, usual)
            self.operations = [
                replace(operation, turns=turns) if operation.key in keys else operation for operation in self.operations
            ]

    def solder(
        self,
        group: str,
        target: str,
        on: tuple[str, ...],
        *,
        stage: int,
        after: tuple[str, ...] = (),
        makes: tuple[str, ...] = (),
        shape: str = "",
        tension: str = "",
        more: str = "",
    ) -> None:
        """Offer the closing of a group of joints by its grade or method, with its pickling and looking; nothing where
        the plan has none. Fused and welded ones stand in for ``solder-…`` and ``pickle-…`` where others wait for
        these."""
        if group not in self.joints:
            return
        joint, many = self.joints[group]
        if joint.grade == WELDED:
            self._weld(group, target, on, stage=stage, after=after, makes=makes, shape=shape, tension=tension)
            return
        fused = joint.grade == FUSED
        if not any(operation.kind.key == "set-up" for operation in self.operations):
            set_up, look = set_up_text(self.plan), "every part stands by itself"
            self.add("set-up", target, on, set_up, look, stage=stage, joints=(group,), after=after)
        care = f" {joint.shield[0].upper()}{joint.shield[1:]}." if joint.shield else ""
        how = (
            "Fuse, no solder, ends tight"
            if fused
            else f"{joint.grade.capitalize()} solder, flows {joint.flow_c:.0f} °C"
        )
        taken = lots.solder(self.plan, on[0], self._soldered_as(on), joint.grade, many)
        self.add(
            "fuse" if fused else "solder",
            target,
            on,
            f"{_named(group)}. {how}; {_times(many)}.{care}{more}",
            "run through along the whole joint, no gap, no pit",
            stage=stage,
            count=many,
            joints=(group,),
            melts=joint.softer,
            takes=() if fused else (taken,),
            after=(*after, f"set-up-{target}"),
            makes=makes,
            shape=shape,
            tension=tension,
            shields=joint.shielded,
            stands_for=(f"solder-{target}",) if fused else (),
        )
        done = self.operations[-1].key
        set_up = "Quench, pickle, look at every joint before the next heat."
        self.add("pickle", target, on, set_up, stage=stage, joints=(group,), after=(done,))

    def _weld(
        self,
        group: str,
        target: str,
        on: tuple[str, ...],
        *,
        stage: int,
        after: tuple[str, ...],
        makes: tuple[str, ...],
        shape: str,
        tension: str,
    ) -> None:
        """A joint closed by the laser: no heat, no pickle, nothing that flows later; and nothing that opens again."""
        _, many = self.joints[group]
        self.add(
            "tack",
            target,
            on,
            f"{_named(group)}. Weld by laser all round; {_times(many).removesuffix(', one chip each')}. It comes apart "
            "by the saw only.",
            "no gap, no pit",
            stage=stage,
            count=many,
            joints=(group,),
            joint=joint_states.WELDED,
            after=after,
            makes=("soldered", *makes),
            shape=shape,
            tension=tension,
            stands_for=(f"solder-{target}", f"pickle-{target}"),
        )

    def before_heat(self, kind: str, target: str, on: tuple[str, ...], text: str, look: str, **more: Any) -> None:
        """Offer an operation that comes before every torch."""
        self.add(kind, target, on, text, look, **more)
        key = self.operations[-1].key
        self.operations = [
            replace(operation, after=(*operation.after, key)) if operation.kind.temper == HEAT else operation
            for operation in self.operations
        ]

    def closed(
        self,
        group: str,
        target: str,
        on: tuple[str, ...],
        text: str = "File the ends true.",
        look: str = "no light",
        *,
        seam: str = "",
        stage: int,
        off: Mapping[str, float] | None = None,
    ) -> None:
        """Offer the closing of what was bent: its ends fitted, its seam soldered."""
        after = (f"bend-to-shape-{target}",)
        self.add("fit-seam", target, on, text, look, stage=stage, joints=(group,), after=after, off=off)
        self.solder(
            group,
            seam or f"{target}-seam",
            on,
            stage=stage,
            makes=("closed",),
            shape="closed",
            after=(f"fit-seam-{target}",),
        )

    def _soldered_as(self, on: tuple[str, ...]) -> str:
        """The alloy whose solder joins these parts: the one that flows lower."""
        keys = [self.parts[name].metal.key for name in on if name in self.parts]
        return min(keys, key=lambda key: alloy_of(key, self.plan.rules).flow(GRADES[0]))

    def bend(
        self,
        target: str,
        on: tuple[str, ...],
        text: str,
        look: str,
        strain: float,
        *,
        stage: int,
        after: tuple[str, ...],
    ) -> None:
        """Offer a bend of annealed metal in as many rounds as it bears, annealed between."""
        part = self.parts[on[0]]
        rounds = max(math.ceil(strain / part.metal.annealed - 1e-9), 1)
        more = f" In {rounds} rounds, annealed between: at once it would crack." if rounds > 1 else ""
        self.add("bend-to-shape", target, on, text + more, look, stage=stage, strain=strain / rounds, after=after)

    @property
    def words(self) -> StoneWords:
        """What the parts of the stone are called."""
        return words_of(CUTS[self.plan.job.stone.cut])

    @property
    def heats(self) -> bool:
        """Whether any torch is lit so far."""
        return any(operation.kind.temper == HEAT for operation in self.operations)

    @property
    def head_parts(self) -> tuple[str, ...]:
        """What the head is put together from, its hanging ring aside."""
        return tuple(name for name, part in self.parts.items() if name in _HEAD_PARTS and not part.host)

    @property
    def heated(self) -> frozenset[str]:
        """Parts that some torch work of the route heats."""
        heated_parts = {name for operation in self.operations if operation.kind.temper == HEAT for name in operation.on}
        return frozenset(heated_parts | {zone for zone, part in self.parts.items() if part.host in heated_parts})

    def _filled(self, line: str) -> str:
        return _FIGURE.sub(lambda found: self.plan.figures[FigureKey(found.group(1))].text(), line)


def _times(many: int) -> str:
    return "one joint" if many == 1 else f"{many} joints, one chip each"


def _named(group: str) -> str:
    name = name_of(group)
    return name[0].upper() + name[1:]
