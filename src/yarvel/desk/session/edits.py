"""Figures that can be typed over: which change of the job makes a figure take the value typed."""

from __future__ import annotations

from collections.abc import Callable

from yarvel.figures.figure import FigureKey
from yarvel.figures.lookup import first_of
from yarvel.heads import basket, cast_claw, claws, crossed, heights, notches, tapered_collet, tube
from yarvel.heads.rings import DRILLED, SQUARE, STRIP
from yarvel.heads.style import HEAD_WALL, INNER_OPENING, PEG_LEGS, POINT_LEGS
from yarvel.heads.styles import STYLES, head_fields, styles_for
from yarvel.heads.vees import SOLID
from yarvel.planning.checking import MEASURES
from yarvel.planning.compatibility import RINGS_OWN, fields_of, fits_of, is_clawed
from yarvel.planning.documents import Document
from yarvel.planning.effects import OF_METHODS, read_by
from yarvel.planning.job import FitJob, HeadJob, ShankJob, StoneJob
from yarvel.planning.plan import Plan
from yarvel.planning.work_methods import closings_for
from yarvel.shanks import basket_point, blanks, fitting, inset, on_flat, peg
from yarvel.shanks.methods import METHODS, PENDANT
from yarvel.stones import stone as stones
from yarvel.stones.cuts import CUTS

Patch = Document
_Maker = Callable[[Plan, float], Patch]


def _stone(name: str) -> _Maker:
    return lambda plan, value: {"stone": {name: value}}


def _shank(name: str) -> _Maker:
    return lambda plan, value: {"shank": {name: value}}


def _head(name: str) -> _Maker:
    return lambda plan, value: {"head": {name: value}}


def _metal(plan: Plan) -> float:
    """What the notch is cut into: the claw, or the wall as it is met at the girdle, in mm."""
    return first_of(plan[key] for key in (claws.CLAW, tapered_collet.wall_across_mm, HEAD_WALL) if key in plan.figures)


def _across(plan: Plan) -> float:
    """The stone's width."""
    return float(plan.stone.width_mm)


def _reads(plan: Plan, field: str) -> bool:
    return field in fields_of(plan.job.head)


def _opening(plan: Plan, value: float) -> Patch:
    """A bought head's opening is what it is; any other follows from its notch."""
    if _reads(plan, "opening_mm"):
        return {"head": {"opening_mm": value}}
    return _notch((_across(plan) - value) / 2 / _metal(plan))


def _outer_of_tube(plan: Plan, value: float) -> Patch:
    """A tube in hand is what it is; any other is as wide as its ledge leaves it."""
    if plan.job.head.outside_mm is not None:
        return {"head": {tube.OUTSIDE: value}}
    return _notch(1 - (value - _across(plan)) / 2 / _metal(plan))


def _notch(ratio: float) -> Patch:
    return {"head": {"notch_ratio": round(ratio, 4)}}


def _raise_seat(key: FigureKey) -> _Maker:
    """The seat's height that brings another height to the value typed."""
    return lambda plan, value: {"fit": {"height": round(plan[fitting.PLANE_ABOVE_FINGER] + value - plan[key], 4)}}


HEAD_FIELDS = {
    FigureKey(head_field.figure): head_field.name
    for head_field in head_fields().values()
    if head_field.figure and head_field.typed
}
"""By a figure of the head: the field that is set by typing over it."""
_MAKERS: dict[FigureKey, _Maker] = {
    stones.MEAN_DIAMETER: lambda plan, value: {"stone": {"diameters_mm": [value]}},
    stones.LENGTH: _stone("length_mm"),
    stones.WIDTH: _stone("width_mm"),
    stones.DEPTH: _stone("depth_mm"),
    stones.GIRDLE: _stone("girdle_mm"),
    stones.CROWN_HEIGHT: _stone("crown_height_mm"),
    stones.PAVILION_DEPTH: _stone("pavilion_depth_mm"),
    **{figure: _head(name) for figure, name in HEAD_FIELDS.items()},
    INNER_OPENING: _opening,
    basket.opening_long_mm: lambda plan, value: _notch((plan[stones.LENGTH] - value) / 2 / _metal(plan)),
    basket.outer_long_mm: lambda plan, value: _notch(1 - (value - plan[stones.LENGTH]) / 2 / _metal(plan)),
    notches.collet_outer_mm: lambda plan, value: _notch(1 - (value - _across(plan)) / 2 / _metal(plan)),
    notches.outer_over_claws_mm: lambda plan, value: _notch(1 - (value - _across(plan)) / 2 / _metal(plan)),
    tube.tube_outer_mm: _outer_of_tube,
    notches.SEAT_DEPTH: lambda plan, value: _notch(value / _metal(plan)),
    notches.REMAINING: lambda plan, value: _notch(1 - value / _metal(plan)),
    notches.notch_ratio: lambda plan, value: _notch(value),
    fitting.PLANE_ABOVE_FINGER: _raise_seat(fitting.PLANE_ABOVE_FINGER),
    heights.table_above_finger_mm: _raise_seat(heights.table_above_finger_mm),
    heights.culet_above_finger_mm: _raise_seat(heights.culet_above_finger_mm),
    fitting.CULET_CLEARANCE: _raise_seat(fitting.CULET_CLEARANCE),
    heights.ring_above_finger_mm: lambda plan, value: {
        "head": {"ring_drop_mm": round(plan[fitting.PLANE_ABOVE_FINGER] - value, 4)}
    },
    blanks.WIDTH: _shank("width_mm"),
    blanks.THICKNESS: _shank("thickness_mm"),
}


_NOTCHES = (
    INNER_OPENING,
    basket.opening_long_mm,
    basket.outer_long_mm,
    notches.outer_over_claws_mm,
    tube.tube_outer_mm,
    notches.collet_outer_mm,
    notches.SEAT_DEPTH,
    notches.REMAINING,
    notches.notch_ratio,
)

NOTCH_RANGE, HEIGHT_RANGE = (0.05, 0.9), (1.0, 25.0)
"""What a job accepts; a drag stops there (a test holds both against the job's own ranges)."""


def dragged_to(plan: Plan, key: FigureKey, value: float) -> Patch:
    """As :func:`typed_over`, but a value beyond what a job accepts goes as far as it may."""
    patch = typed_over(plan, key, value)
    for part, name, (low, high) in (("head", "notch_ratio", NOTCH_RANGE), ("fit", "height", HEIGHT_RANGE)):
        if name in patch.get(part, {}):
            patch[part][name] = min(max(patch[part][name], low), high)
    return patch


def can_type_over(plan: Plan, key: FigureKey) -> bool:
    """Whether a figure of this plan can be typed over."""
    if key in _NOTCHES and not _reads(plan, "notch_ratio"):
        in_hand = key == tube.tube_outer_mm and plan.job.head.outside_mm is not None
        return in_hand or (key == INNER_OPENING and _reads(plan, "opening_mm"))
    if key in HEAD_FIELDS and not _reads(plan, HEAD_FIELDS[key]):
        return False
    raised = key.key.endswith(("_finger", "clearance")) and key != heights.ring_above_finger_mm
    given = plan.job.head.height_mm is not None or plan.job.head.height_tip_mm is not None
    if raised and given and _reads(plan, "height_mm"):
        return False
    if raised and plan.job.head.made is not None:
        return False
    if key == fitting.CULET_CLEARANCE and plan.joinery is not None and plan.joinery.flat:
        return False
    if key.key.startswith("seat.") and key.key.endswith(("_finger", "clearance")):
        return key in _MAKERS and fitting.PLANE_ABOVE_FINGER in plan.figures
    return key in _MAKERS and key in plan.figures


def typed_over(plan: Plan, key: FigureKey, value: float) -> Patch:
    """The merge patch for the job after which the figure has this value (KeyError where it cannot be typed)."""
    return _MAKERS[key](plan, value)


def cut_patch(document: Document, cut: str) -> Patch:
    """The merge patch that makes a job's stone one of another cut: measures that the cut does not have are dropped, the
    style too where it does not suit, and the claws where they were counted or placed for another outline."""
    cut_kind = CUTS[cut]
    stone: Patch = {"cut": cut, **{name: None for name in MEASURES if name not in cut_kind.fields}}
    if cut_kind.domed:
        stone["table_percent"] = None
    held = {**(document.get("stone") or {}), **stone}
    if not cut_kind.is_round and held.get("length_mm") and held.get("width_mm"):
        low, high = cut_kind.aspect
        if not low <= held["length_mm"] / held["width_mm"] <= high:
            stone["length_mm"] = None
    head = document.get("head") or {}
    change: Patch = {"claws": None, "claw_places_deg": None}
    if not STYLES[head.get("style", HeadJob.style)].suits(cut_kind):
        change.update(style=styles_for(cut_kind)[0], notch_ratio=None, claw_mm=None, wall_mm=None, height_mm=None)
    kept = {name: value for name, value in change.items() if value is not None or name in head}
    if "style" not in kept:
        return {"stone": stone, "head": kept}
    styled = style_patch(document, kept["style"])
    return {"stone": stone, **styled, "head": {**styled["head"], **kept}}


def metal_patch(document: Document, metal: object) -> Patch:
    """The merge patch that makes the head of another metal: one metal for the piece until somebody says otherwise, so a
    band that is to be made, and was of the head's, goes with it."""
    head, shank = document.get("head") or {}, document.get("shank")
    change: Patch = {"head": {"metal": metal}}
    if shank is None or shank.get("exists") or "resized_from" in shank or "slot" in (document.get("fit") or {}):
        return change
    if shank.get("metal", ShankJob.metal) == head.get("metal", HeadJob.metal):
        change["shank"] = {"metal": metal}
    return change


def size_patch(document: Document, size: Document) -> Patch:
    """The merge patch of a finger size; the first one makes a band, which is of the head's metal."""
    band: Document = {"size": size}
    metal = (document.get("head") or {}).get("metal")
    if "shank" not in document and metal is not None:
        band["metal"] = metal
    return {"shank": band}


def style_patch(document: Document, style: str) -> Patch:
    """The merge patch that makes the head one of another style: what only others read is dropped, a fit that it cannot
    have goes back to the usual."""
    fit = document.get("fit") or {}
    method = fit.get("method", FitJob.method)
    read = {*read_by(style, method), "style", "metal", "exists"}
    unread = {name: None for name in document.get("head") or {} if name not in read}
    change: Patch = {"head": {**unread, "style": style}}
    if style == cast_claw.STYLE and (document.get("head") or {}).get("style") != style:
        change["head"]["notch_ratio"] = 0  # over a dome the curved claw holds; a job file's absent notch stays a notch
    elif style != cast_claw.STYLE and (document.get("head") or {}).get("notch_ratio") == 0:
        change["head"]["notch_ratio"] = None
    if method in METHODS and method not in fits_of(style):
        change["fit"] = {"method": FitJob.method, "ring": None, **dict.fromkeys(OF_METHODS)}
    head = document.get("head") or {}
    return {**change, **work_methods_patch(document, style, head.get("cut", HeadJob.cut))}


def rings_patch(document: Document, count: object) -> Patch:
    """The merge patch that gives a basket this many rings: with one there is none to lift, and claws that run on to a
    point from it decide the height."""
    fit = document.get("fit") or {}
    change: Patch = {"head": {"rings": count}}
    if count == 1 and "ring_lift_mm" in (document.get("head") or {}):
        change["head"]["ring_lift_mm"] = None
    if count == 0:
        head = document.get("head") or {}
        if fit.get("method") not in (None, inset.METHOD, on_flat.METHOD, PENDANT):
            change |= method_patch(document, FitJob.method)
        dropped = {name: None for name in RINGS_OWN if name in head}
        own = {"rings": count, "claws": crossed.CLAWS, "claw_places_deg": None}
        change["head"] = {**change["head"], **dropped, **own}
    if count == 1 and fit.get("method") == basket_point.METHOD and "height" in fit:
        change["fit"] = {"height": None}
    return change


def section_patch(document: Document, section: object) -> Patch:
    """The merge patch that gives the rings this section: only a strip has a height of its own, and it is grooved."""
    head = document.get("head") or {}
    dropped = ("posts",) if section == STRIP else ("ring_high_mm",)
    return {"head": {"ring_section": section, **{name: None for name in dropped if name in head}}}


def posts_patch(document: Document, posts: object) -> Patch:
    """The merge patch that stands the claws in the rings so: what is drilled is square wire where it was strip."""
    head = document.get("head") or {}
    strip = posts == DRILLED and head.get("ring_section") == STRIP
    return {"head": {"posts": posts, **({"ring_section": SQUARE, "ring_high_mm": None} if strip else {})}}


def vee_patch(document: Document, made_from: object) -> Patch:
    """The merge patch that makes the Vs so: what is folded of strip has no thinner foot."""
    head = document.get("head") or {}
    dropped = {"v_foot_mm": None} if made_from != SOLID and "v_foot_mm" in head else {}
    return {"head": {"v_from": made_from, **dropped}}


def work_methods_patch(document: Document, style: str, cut: str) -> Patch:
    """The merge patch that drops schools of setting which a head of this style and cut has no use for."""
    setting = document.get("setting") or {}
    clawed, stone = is_clawed(style, cut), document.get("stone") or {}
    cut_kind = CUTS.get(stone.get("cut", StoneJob.cut))
    dropped: Patch = {}
    if "closing" in setting and setting["closing"] not in closings_for(clawed, cut_kind is None or cut_kind.is_round):
        dropped["closing"] = None
    if "jaws" in setting and (not clawed or "closing" in dropped):
        dropped["jaws"] = None
    if not clawed and "tips" in setting:
        dropped["tips"] = None
    return {"setting": dropped} if dropped else {}


def method_patch(document: Document, method: str) -> Patch:
    """The merge patch that fits the head by another method; what only other methods read is dropped."""
    read = METHODS[method].FIELDS if method in METHODS else ()
    fit = document.get("fit") or {}
    change: Patch = {
        "method": method,
        **{name: None for name in OF_METHODS if name in fit and name not in read},
    }
    change.update({name: None for name in ("ring", "slot") if method != "inset" and name in fit})
    head = document.get("head") or {}
    style = head.get("style", HeadJob.style)
    single_ring = head.get("rings") == 1 and "rings" in STYLES[style].FIELDS
    if "height" in fit and (method == PENDANT or (method == basket_point.METHOD and single_ring)):
        change["height"] = None
    dropped = {"peg_mm": None} if "peg_mm" in head and "peg_mm" not in read_by(style, method) else {}
    holes = {basket_point.METHOD: POINT_LEGS, peg.METHOD: PEG_LEGS}
    legs = head.get("legs")
    if legs is not None and (method in holes or legs in holes.values()) and legs != holes.get(method):
        dropped["legs"] = None  # legs as the fit asks
    return {"fit": change, **({"head": dropped} if dropped else {})}


def claw_patch(plan: Plan, number: int, azimuth_deg: float) -> Patch:
    """The merge patch that moves one claw (by its number in ``plan.claw_azimuths_deg``) to another azimuth."""
    places = list(plan.claw_azimuths_deg)
    places[number] = round(azimuth_deg % 360, 1)
    return {"head": {"claw_places_deg": places, "claws": None}}
