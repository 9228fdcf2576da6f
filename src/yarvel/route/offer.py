"""What is offered for one plan: operations with the plan's figures in their sentences."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Mapping
from dataclasses import replace

from yarvel.metals.alloys import alloy_of
from yarvel.metals.joints import Joint, groups
from yarvel.operations.lot import Lot
from yarvel.operations.operation import HEAT, Operation
from yarvel.operations.piece import Metal, Part, as_cast, wrought
from yarvel.operations.register import REGISTER
from yarvel.planning.plan import Plan
from yarvel.route import lots

TAKE_IN, STOCK, SHANK, HEAD, FIT, SOLDER, CLEAN, SEAT, SET, FINISH, RELEASE = range(11)
"""Stages: they break ties only."""
_HEAD_PARTS = ("head", "collet", "tube", "claws", "upper ring", "lower ring")
_LEAST_MM = -0.005
_FIGURE = re.compile(r"{([a-z_]+\.[a-z_]+)}")


class Offers:
    """Collects the operations of one plan, and the parts that they are done to as they lie on the bench at first."""

    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        self.operations: list[Operation] = []
        self.parts: dict[str, Part] = {}
        self.joints: dict[str, tuple[Joint, int]] = {joint.group: (joint, many) for joint, many in groups(plan.joints)}

    @property
    def grip(self) -> str:
        """The part that holds the stone."""
        return next(name for name in ("head", "collet", "tube", "claws") if name in self.parts)

    @property
    def exists(self) -> bool:
        """Whether the ring is there already: an old slot, another size."""
        return self.plan.job.ring_exists

    def stock(
        self, *names: str, metal: str, cast: bool = False, facts: Iterable[str] = (), shape: str = "stock"
    ) -> None:
        """Parts as they lie on the bench before anything is done."""
        alloy = alloy_of(metal, self.plan.rules)
        bears = Metal(
            alloy.elongation_drawn, alloy.elongation_annealed, alloy.elongation_cast, alloy.key, alloy.density
        )
        for name in names:
            part = as_cast(bears) if cast else wrought(bears, shape)
            self.parts[name] = part.with_facts(facts, (), "")

    def add(
        self,
        kind: str,
        target: str,
        on: tuple[str, ...],
        text: str,
        look: str = "",
        *,
        stage: int,
        count: int = 1,
        joints: tuple[str, ...] = (),
        melts: tuple[str, ...] = (),
        makes: tuple[str, ...] = (),
        shape: str = "",
        strain: str | float = 0.0,
        after: tuple[str, ...] = (),
        maybe: bool = False,
        takes: tuple[Lot, ...] = (),
        gives: tuple[Lot, ...] = (),
        off: Mapping[str, float] | None = None,
        leaves: Mapping[tuple[str, ...], float] | None = None,
    ) -> None:
        """Offer an operation; nothing where the plan has not the figures of its sentences, or where one of them is a
        length under nought: what cannot be made is a call. ``strain`` is a fraction or the key of its figure."""
        keys = tuple(dict.fromkeys(_FIGURE.findall(text + look)))
        figures = self.plan.figures
        if any(key not in figures for key in keys):
            return
        if any(figures[key].unit == "mm" and figures[key].value < _LEAST_MM for key in keys):
            return
        if isinstance(strain, str):
            strain = figures[strain].value if strain in figures else 0.0
        self.operations.append(
            Operation(
                REGISTER[kind],
                f"{kind}-{target}",
                on,
                self._filled(text),
                self._filled(look),
                keys,
                count,
                joints,
                melts,
                makes,
                shape,
                strain,
                after,
                stage,
                maybe,
                takes,
                gives,
                tuple((name, volume) for name, volume in (off or {}).items() if volume > 0),
                tuple((leaves or {}).items()),
            )
        )

    def solder(self, group: str, target: str, on: tuple[str, ...], *, stage: int, **more: object) -> None:
        """Offer the soldering of a group of joints, with its pickling and looking; nothing where the plan has none."""
        if group not in self.joints:
            return
        joint, many = self.joints[group]
        shield = f" Shield: {joint.shield}." if joint.shield else ""
        text = f"{joint.grade.capitalize()} solder, flows {joint.flow_c:.0f} °C; {_times(many)}.{shield}"
        self.add(
            "solder",
            target,
            on,
            text,
            "solder has run through along the whole joint, no gap, no pit",
            stage=stage,
            count=many,
            joints=(group,),
            melts=joint.melts,
            takes=(lots.solder(self.plan, on[0], self._soldered_as(on, joint.grade), joint.grade, many),),
            **more,  # type: ignore[arg-type]
        )
        self.add("pickle", target, on, "Quench, pickle, look at every joint before the next heat.", stage=stage)
        last = self.operations[-1]
        if last.kind.key == "pickle":
            self.operations[-1] = _after(last, f"solder-{target}")

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
        self.add("fit-seam", target, on, text, look, stage=stage, after=(f"bend-to-shape-{target}",), off=off)
        self.solder(
            group,
            seam or f"{target}-seam",
            on,
            stage=stage,
            makes=("closed",),
            shape="closed",
            after=(f"fit-seam-{target}",),
        )

    def _soldered_as(self, on: tuple[str, ...], grade: str) -> str:
        """The alloy whose solder joins these parts: the one that flows lower."""
        keys = [self.parts[name].metal.key for name in on if name in self.parts]
        return min(keys, key=lambda key: alloy_of(key, self.plan.rules).flow(grade))

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
    def volumes(self) -> Mapping[str, float]:
        """Volumes of the bodies' parts, mm³; empty while the plan is not weighed."""
        return self.plan.volumes

    @property
    def head_parts(self) -> tuple[str, ...]:
        """What the head is put together from, its hanging ring aside."""
        return tuple(name for name in self.parts if name in _HEAD_PARTS)

    @property
    def heated(self) -> frozenset[str]:
        """Parts that some torch work of the route heats."""
        return frozenset(name for one in self.operations if one.kind.temper == HEAT for name in one.on)

    def _filled(self, line: str) -> str:
        return _FIGURE.sub(lambda found: self.plan.figures[found.group(1)].text(), line)


def _times(many: int) -> str:
    return "one joint" if many == 1 else f"{many} joints, one chip each"


def _after(operation: Operation, key: str) -> Operation:
    return replace(operation, after=(*operation.after, key))
