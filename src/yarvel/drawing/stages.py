"""The piece as it is at an operation: parts that are not there yet left out, the band whole until it is sawn, claws
straight until they lean and are closed, the stone where it is."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.drawing.model import SheetModel
from yarvel.drawing.outlines import reach_by_height
from yarvel.figures.figure import FigureKey
from yarvel.figures.lookup import first_of
from yarvel.heads import basket, seats
from yarvel.heads.shape import Claws, HeadShape, Polygon, Vees, Wall
from yarvel.operations.stone_state import ABSENT
from yarvel.route.running import Route, RouteStep
from yarvel.shanks.joinery import Joinery

STRAIGHT, NOTCHED, LEANING, CLOSED = "straight", "notched", "leaning", "closed"
_HEAD = ("head", "collet", "tube", "claws", "upper ring", "lower ring", "ring", "hanging ring")
_JOINERY = ("saw-gap-gap", "fit-ends-gap", "fit-ends-slot", "file-flat-shank", "split-shoulders-shank", "drill-shank")
_CLOSES = ("close-claws", "fold-vs", "press-bezel")


class StageView(Struct, frozen=True, kw_only=True):
    """What of a piece is there: its stone, band (``cut`` once the head's place is made in it), upper and lower ring,
    claws, wall (``sawn`` once a collet has its claws), and how claws or rim stand; ``figures`` keys to be told."""

    stone: bool = True
    band: bool = True
    cut: bool = True
    rings: tuple[bool, bool] = (True, True)
    claws: bool = True
    wall: bool = True
    sawn: bool = True
    tips: str = CLOSED
    figures: tuple[FigureKey, ...] = ()

    @property
    def nothing(self) -> bool:
        """Whether nothing of it is there yet."""
        return not (self.band or self.claws or self.wall or any(self.rings))


def seen_at(route: Route, step: RouteStep) -> StageView:
    """What is there while an operation is done: of what went before it, and of the parts that it is done to."""
    place = first_of(
        number for number, route_step in enumerate(route.steps) if route_step.operation.key == step.operation.key
    )
    done = [route_step.operation for route_step in route.steps[: place + 1]]
    here, before = step.operation, [operation.kind.key for operation in done[:-1]]
    shapes = {name: part.shape for name, part in step.piece.parts.items()}
    joined = "joined" in shapes.values() or any("in the shank" in part.facts for part in step.piece.parts.values())
    head = joined or bool(set(here.on) & set(_HEAD))
    made_names = {
        name for operation in done for name in operation.on if operation.kind.key not in ("draw-wire", "anneal")
    }
    bent = {name for operation in done for name in operation.on if operation.kind.key == "bend-to-shape"}
    there = {name for name, shape in shapes.items() if shape in ("joined", "closed", "head")}
    there |= {name for operation in done for name in operation.on if operation.kind.key == "cast-part"}
    whole = bool({"head", "collet", "tube"} & made_names)
    late = any("claws-to-collet" in route_step.operation.joints for route_step in route.steps)
    soldered = any("claws" in operation.on and operation.kind.key in ("solder", "fuse", "tack") for operation in done)
    tips = NOTCHED if "cut-seat" in before else STRAIGHT
    if "lean-claws" in before:
        tips = LEANING
    if set(_CLOSES) & set(before) or step.piece.stone == "held":
        tips = CLOSED
    return StageView(
        stone=step.piece.stone != ABSENT,
        band=(joined or "shank" in here.on) and bool({"shank"} & (bent | there)),
        cut=joined or any(operation.key in _JOINERY for operation in done),
        rings=(
            head and (whole or bool({"upper ring", "ring"} & bent)),
            head and (whole or "lower ring" in bent),
        ),
        claws=head and (soldered or (whole and not late)),
        wall=head and whole,
        sawn="saw-claws" in [operation.kind.key for operation in done]
        or not any(route_step.operation.kind.key == "saw-claws" for route_step in route.steps),
        tips=tips,
        figures=here.figures,
    )


def staged(model: SheetModel, seen: StageView) -> SheetModel:
    """The sheet's model with what is there."""
    top = tops_mm(model)
    head = model.head
    claws = _claws(head.claws, seen, top) if seen.claws and seen.sawn else None
    vees = None if head.vees is None or not seen.claws else replace(head.vees, profile=_upright(head.vees, seen, top))
    shape = replace(
        head,
        claws=claws,
        vees=vees,
        rings=tuple(ring for place, ring in enumerate(head.rings) if seen.rings[min(place, 1)]),
        walls=_walls(head, seen, top) if seen.wall else (),
        hooks=None if claws is None else head.hooks,
    )
    clawed = claws or vees
    return replace(
        model,
        head=shape,
        plan=model.plan if seen.cut else replace(model.plan, joinery=Joinery()),
        gap=model.gap if seen.cut else None,
        claw_reach=None if clawed is None else reach_by_height(clawed.profile),
        sees_stone=seen.stone,
        sees_band=seen.band,
    )


def tops_mm(model: SheetModel) -> float:
    """Height in mm over the seat of levelled tops."""
    figures = model.plan.figures
    if seats.line_from_top_mm not in figures:
        return max(float(profile[:, 1].max()) for profile in model.head.profiles)
    lean = np.radians(figures[basket.splay_deg].value) if basket.splay_deg in figures else 0.0
    return float(figures[seats.line_from_top_mm].value * np.cos(lean))


def _claws(claws: Claws | None, seen: StageView, top: float) -> Claws | None:
    if claws is None:
        return None
    return replace(
        claws, profile=_upright(claws, seen, top), tip_cover_mm=claws.tip_cover_mm if seen.tips == CLOSED else 0.0
    )


def _upright(part: Claws | Vees | Wall, seen: StageView, top: float) -> Polygon:
    """The section as it stands: straight to its top; with its seat; leaning onto the stone; or closed."""
    profile = part.profile
    if seen.tips == CLOSED:
        return profile
    foot, lip, outer_foot, outer = profile[0], profile[1], profile[-1], profile[-2]
    lean = (outer[0] - outer_foot[0]) / max(outer[1] - outer_foot[1], 1e-9)
    over = (outer[0] + lean * (top - outer[1]), top)
    inner = lip[0] + lean * (top - lip[1])
    if seen.tips == STRAIGHT:
        return np.array([foot, (inner, top), over, outer_foot])
    girdle = profile[3]
    inner_top = np.array([girdle[0] + lean * (top - girdle[1]), top])
    if seen.tips != LEANING:
        return np.array([foot, lip, profile[2], girdle, inner_top, over, outer_foot])
    bend = np.array([outer[0] + lean * (girdle[1] - outer[1]), girdle[1]])
    return np.array([foot, lip, profile[2], *_leaning(girdle, inner_top, profile[4], bend), outer_foot])


def _leaning(girdle: Polygon, top: Polygon, crown: Polygon, bend: Polygon) -> list[Polygon]:
    """A claw's part above the girdle half-way between as it stood and as it lies on the crown, as long and as wide as
    before: from the girdle inside to where it is bent outside."""
    length = float(np.hypot(*(top - girdle)))
    stood, lies = (top - girdle) / length, (crown - girdle) / np.hypot(*(crown - girdle))
    along = (stood + lies) / np.hypot(*(stood + lies))
    width = float((bend - girdle)[0] * stood[1])
    tip = girdle + along * length
    return [girdle, tip, tip + width * np.array([along[1], -along[0]]), bend]


def _walls(head: HeadShape, seen: StageView, top: float) -> tuple[Wall, ...]:
    """Walls as they stand; of a collet that is to be sawn the whole cone, until it is."""
    if head.claws is not None and head.walls and not seen.sawn:
        wall, claws = head.walls[0], head.claws.profile
        foot, outer_foot = wall.profile[0], wall.profile[-1]
        lean = (claws[-2][0] - outer_foot[0]) / max(claws[-2][1] - outer_foot[1], 1e-9)
        up = lean * (top - foot[1])
        return (Wall(wall.name, np.array([foot, (foot[0] + up, top), (outer_foot[0] + up, top), outer_foot])),)
    if head.claws is not None or seen.tips == CLOSED:
        return head.walls
    return tuple(Wall(wall.name, _upright(wall, seen, top)) if len(wall.profile) > 6 else wall for wall in head.walls)
