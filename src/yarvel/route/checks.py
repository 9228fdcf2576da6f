"""What to tick before release: only what this piece has, with the plan's values."""

from __future__ import annotations

from msgspec import Struct

from yarvel.figures.figure import Figure
from yarvel.heads import notches, rings
from yarvel.planning.in_words import spacing_text
from yarvel.planning.plan import Plan
from yarvel.shanks import fitting, sizes
from yarvel.stones import stone as stones
from yarvel.stones.cuts import CUTS
from yarvel.stones.words import words_of


class Check(Struct, frozen=True):
    """One check: its key, what to look at, and the figures in it; ``mark`` stands for it once it is ticked, and no
    longer when one of its figures has moved."""

    key: str
    text: str
    figures: tuple[Figure, ...] = ()

    @property
    def mark(self) -> str:
        """What a tick is kept as."""
        return mark_of(self.key, self.figures)


def mark_of(key: str, figures: tuple[Figure, ...]) -> str:
    """A key with its figures as they are shown; a reworded line keeps its tick, a changed figure does not."""
    values = " ".join(f"{figure.value:.{figure.spec.places}f}" for figure in figures)
    return f"{key}@{values}" if values else key


def checks(plan: Plan) -> tuple[Check, ...]:
    """The checks in their order."""
    return (*_stone(plan), *_seat(plan), *_ring(plan), *_last(plan))


def _stone(plan: Plan) -> list[Check]:
    figures = plan.figures
    depth = figures[stones.DEPTH]
    if stones.MEAN_DIAMETER in figures:
        across = figures[stones.MEAN_DIAMETER]
        text = f"Stone measured again: {across.text()} across, {depth.text()} deep"
        return [Check("stone-measured", text, (across, depth))]
    long, wide = figures[stones.LENGTH], figures[stones.WIDTH]
    text = f"Stone measured again: {long.text()} by {wide.text()}, {depth.text()} deep"
    return [Check("stone-measured", text, (long, wide, depth))]


def _seat(plan: Plan) -> list[Check]:
    figures = plan.figures
    checks = [Check("straight", "Straight from the front, the side and straight above")]
    if not plan.shape.places:
        return [*checks, Check("level", "Stone level; rim closed all round")]
    checks += [Check("level", "Stone level; no gap under any claw"), Check("spacing", spacing_text(plan))]
    notch = figures[notches.notch_ratio]
    if notch.value <= plan.rules.notch_stop:
        checks.append(Check("notch", f"Notch {notch.text()} of the claw, never past half", (notch,)))
    if rings.ring_hidden_by_mm in figures and figures[rings.ring_hidden_by_mm].value > 0:
        which = ("Collet", "Ring", "Upper ring")[min(len(plan.shape.rings), 2)]  # applied claws stand on a collet
        checks.append(Check("ring-hidden", f"{which} hidden under the stone"))
    return checks


def _ring(plan: Plan) -> list[Check]:
    figures, checks = plan.figures, []
    if sizes.inside_circumference_mm in figures:
        size = figures[sizes.inside_circumference_mm]
        checks.append(Check("size", f"Size: {size.text()} round the inside", (size,)))
    if fitting.CULET_CLEARANCE in figures and figures[fitting.CULET_CLEARANCE].value > 0:
        culet = figures[fitting.CULET_CLEARANCE]
        name = words_of(CUTS[plan.job.stone.cut]).low.capitalize()
        checks.append(Check("culet", f"{name} clear by {culet.text()}", (culet,)))
    return checks


def _last(plan: Plan) -> list[Check]:
    joints = [Check("joints", "Joints without gaps or pits")] if plan.joints or plan.job.way else []
    return [
        *joints,
        Check("snag", "Nothing catches cloth"),
        Check("loose", "Loose test, loupe, polished out"),
    ]
