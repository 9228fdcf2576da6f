"""What a job says of how the work begins and by which school: refused where it would do nothing."""

from __future__ import annotations

from typing import Any

from yarvel.figures.errors import Problem
from yarvel.heads import cast_claw, crossed, tapered_collet, wire_basket
from yarvel.heads import tube as straight
from yarvel.heads.style import BENT_IN, CAST, CLAWS, FLUSH, OF_WIRE, PEG_LEGS, POINT_LEGS
from yarvel.heads.styles import STYLES
from yarvel.heads.wear import FINDINGS
from yarvel.operations.stone_state import ABSENT
from yarvel.planning.job import LOWEST, FitJob, HeadJob, Job, usual_claws_of
from yarvel.planning.work_methods import (
    BLOCK,
    DRILLED,
    OPEN_RING,
    PLIERS_PUSHER,
    PUNCH,
    ROCKER,
    TIPS_AFTER,
    WITH_PLIERS,
)
from yarvel.shanks import basket_point, cast_on, inset, on_flat, peg
from yarvel.shanks.methods import METHODS, PENDANT, methods_for
from yarvel.stones.cuts import CUTS

_LEAST_NOTCH = 0.05
_LEAST_TAPER_MM, _MOST_OPENED = 0.05, 1.4

_LEAST_LIP_MM, _LEAST_LEDGE_MM = 0.05, 0.02
"""Less wall round a stone, or less ledge under it, is no tube for it at all."""
"""A collet whose foot is hardly narrower than its top is a tube."""


def start_problems(job: Job) -> list[Problem]:
    """What of it contradicts the rest of the job, each with what is accepted."""
    if job.head.style not in STYLES or job.stone.cut not in CUTS:
        return []
    return [
        *_uncut(job),
        *_existing(job),
        *_crossed(job),
        *_legs(job),
        *_one_piece(job),
        *_made(job),
        *_tube(job),
        *_straight_tube(job),
        *_ring(job),
        *_schools(job),
        *_repair(job),
        *_accepted(job),
    ]


def fields_of(head: HeadJob) -> tuple[str, ...]:
    """The fields that this head reads: its style's, less those that follow from what was measured on it."""
    follow = tapered_collet.BY_MEASURE if head.made is not None else ()
    follow = (*follow, *(tapered_collet.BY_TUBE if head.tube is not None else ()))
    follow = (*follow, *(RINGS_OWN if head.rings == 0 else ()))
    follow = (*follow, *(straight.BY_TUBE if head.outside_mm is not None else ()))
    return tuple(name for name in STYLES[head.style].FIELDS if name not in follow)


def fits_of(style: str) -> tuple[str, ...]:
    """Methods that take heads of this style: those of its foot; a peg only where legs can close on it, a ring in one
    piece only where the head is cast."""
    style_kind = STYLES[style]
    methods = methods_for(style_kind.STANDS_ON)
    closes = style_kind.STANDS_ON != CLAWS or "legs" in style_kind.FIELDS
    without = {*(() if closes else (peg.METHOD,)), *(() if style_kind.COMES == CAST else (cast_on.METHOD,))}
    return tuple(method for method in methods if method not in without)


def legs_of(job: Job) -> str:
    """How the head's claws end below: as the job says, or as its fit asks."""
    if job.head.legs is not None and "legs" in STYLES[job.head.style].FIELDS:
        return job.head.legs
    method = None if job.fit is None else job.fit.method
    if method == basket_point.METHOD:
        return POINT_LEGS
    return PEG_LEGS if method == peg.METHOD and "legs" in STYLES[job.head.style].FIELDS else FLUSH


def on_bent_legs(job: Job) -> bool:
    """Whether its only ring stands on legs that are bent in below: the ring's drop and the height decide each other."""
    return job.head.rings == 1 and legs_of(job) in BENT_IN


def seat_at(job: Job, height_mm: float) -> dict[str, Any] | None:
    """The patch that brings the seat to this height above the finger; None where claws run to a point decide it."""
    if (job.fit or FitJob()).method == basket_point.METHOD and job.head.rings == 1:
        return None
    patch: dict[str, Any] = {"fit": {"height": height_mm}}
    if on_bent_legs(job) and job.head.ring_drop_mm is not None:
        patch["head"] = {"ring_drop_mm": None}
    return patch


def ring_at(job: Job, drop_mm: float) -> dict[str, Any]:
    """The patch that brings the upper ring this far below the girdle."""
    patch: dict[str, Any] = {"head": {"ring_drop_mm": drop_mm}}
    if on_bent_legs(job) and job.fit is not None and job.fit.height != LOWEST:
        patch["fit"] = {"height": LOWEST}
    return patch


def goes_uncut(head: HeadJob) -> bool:
    """Whether no notch is cut into its claws: cast ones, curved over a dome."""
    return head.notch_ratio == 0


def is_clawed(style: str, cut: str) -> bool:
    """Whether a head of this style (and cut, of a collet) holds its stone by claws, not by a rim."""
    return STYLES[style].clawed(cut)


def _uncut(job: Job) -> list[Problem]:
    """Claws without a notch hold nothing but a dome that they are curved over."""
    ratio = job.head.notch_ratio
    if ratio is None or ratio >= _LEAST_NOTCH or (ratio == 0 and job.head.style == cast_claw.STYLE):
        return []
    more = " (0, no notch, is for cast claws)" if ratio == 0 else ""
    return [Problem("head.notch_ratio", f"{ratio:g} holds nothing{more}", f"{_LEAST_NOTCH:g} to 0.9")]


def _legs(job: Job) -> list[Problem]:
    """Legs that end otherwise than their fit takes them; a V is not bent in; a chosen drop decides the height."""
    legs, method = legs_of(job), None if job.fit is None else job.fit.method
    if "legs" not in STYLES[job.head.style].FIELDS:
        return []
    wanted = {basket_point.METHOD: POINT_LEGS, peg.METHOD: PEG_LEGS}
    path = "head.legs" if job.head.legs is not None else "fit.method"
    if method in wanted and legs != wanted[method]:
        return [Problem("head.legs", f"{legs}: {METHODS[method].LABEL.lower()} takes no such legs", wanted[method])]
    fits = {legs: name for name, legs in wanted.items()}
    if legs in fits and method != fits[legs]:
        return [Problem("head.legs", f"{legs}: only into a hole", f"flush or under, or {fits[legs]} as the fit")]
    if legs not in BENT_IN:
        return []
    if CUTS[job.stone.cut].pointed:
        return [Problem(path, "a V over a point of the stone is not bent in below", "flush legs, another fit")]
    chosen = on_bent_legs(job) and job.head.ring_drop_mm is not None
    if chosen and job.fit is not None and job.fit.height != LOWEST:
        return [Problem("fit.height", "the ring's drop and the legs under it decide", f"{LOWEST}, or no ring_drop_mm")]
    return []


RINGS_OWN = ("ring_section", "posts", "ring_mm", "ring_high_mm", "ring_drop_mm", "ring_lift_mm", "legs")
"""Fields of a head that only one with rings reads."""


def _crossed(job: Job) -> list[Problem]:
    """Two U's that cross have four claws and no ring; only what is faceted, without points, lies in them."""
    head, cut = job.head, CUTS[job.stone.cut]
    if head.rings != 0 or "rings" not in STYLES[head.style].FIELDS:
        return []
    if head.style != wire_basket.STYLE:
        return [Problem("head.rings", f"crossed wires: not for {STYLES[head.style].LABEL.lower()}", "1 or 2")]
    if cut.pointed or cut.domed:
        why = "a V over a point has no second claw" if cut.pointed else "a dome needs a ring to lie on"
        return [Problem("head.rings", f"crossed wires: {why}", "1 or 2")]
    if usual_claws_of(job) != crossed.CLAWS:
        return [Problem("head.claws", "two U's that cross have four claws", "4, or 1 or 2 rings")]
    method = None if job.fit is None else job.fit.method
    if job.shank is not None and method not in (None, inset.METHOD, on_flat.METHOD):
        return [Problem("fit.method", "crossed wires stand in a gap or on a flat", "inset, on-flat")]
    return []


def _one_piece(job: Job) -> list[Problem]:
    """A ring that is cast with its head: of one metal, from no bar, and not there before."""
    if job.fit is None or job.fit.method != cast_on.METHOD or job.shank is None:
        return []
    problems = []
    if job.shank.metal != job.head.metal:
        problems.append(Problem("shank.metal", "one casting is of one metal", job.head.metal))
    if job.shank.stock is not None:
        problems.append(Problem("shank.stock", "no bar becomes a cast band", "no stock"))
    if job.ring_exists != job.head_exists:
        problems.append(Problem("shank.exists", "head and band come from one mould", "both there, or none"))
    if job.setting is not None and job.setting.tack is not None:
        problems.append(Problem("setting.tack", "no head goes into a shank here", "no setting.tack"))
    return problems


def _existing(job: Job) -> list[Problem]:
    problems = []
    if job.stone.state != ABSENT and not job.head.exists and not job.way:
        problems.append(
            Problem("stone.state", "no stone can be in a head that is still to be made", "absent, or head.exists")
        )
    if job.head.exists and job.way not in ("", "tighten", "re-tip", "new-claws"):
        problems.append(Problem("head.exists", f"{job.way} makes another head", "no head.exists with this way out"))
    if job.shank is not None and job.ring_exists and job.shank.stock is not None:
        problems.append(Problem("shank.stock", "a ring that is there takes no stock", "no stock, or a ring to be made"))
    return problems


def _made(job: Job) -> list[Problem]:
    """What was measured on a made collet stands for what it would be made by."""
    head = job.head
    if head.made is None:
        return []
    if "made" not in STYLES[head.style].FIELDS:
        return [
            Problem("head.made", f"not for {STYLES[head.style].LABEL.lower()}", "a tapered collet, or no head.made")
        ]
    problems = [
        Problem(f"head.{name}", "the collet is made, and this follows from its measures", "no value, or no head.made")
        for name in tapered_collet.BY_MEASURE
        if getattr(head, name) is not None
    ]
    most = head.made.top_mm - _LEAST_TAPER_MM
    if head.made.foot_mm > most:
        problems.append(Problem("head.made.foot_mm", "not narrower than the top", f"up to {most:g} mm"))
    if 2 * head.made.wall_mm >= head.made.foot_mm:
        problems.append(
            Problem("head.made.wall_mm", "leaves no opening at the foot", f"less than {head.made.foot_mm / 2:g} mm")
        )
    return problems


def _tube(job: Job) -> list[Problem]:
    """A tube in hand decides wall and ledge, and, driven to a foot, the height."""
    head, tube = job.head, job.head.tube
    if tube is None or "tube" not in STYLES[head.style].FIELDS:
        return []
    if head.made is not None:
        return [Problem("head.tube", "the collet is made already", "head.tube or head.made")]
    problems = [
        Problem(f"head.{name}", "follows from the tube in hand", "no value, or no head.tube")
        for name in tapered_collet.BY_TUBE
        if getattr(head, name) is not None
    ]
    if 2 * tube.wall_mm >= tube.outside_mm:
        problems.append(Problem("head.tube.wall_mm", "leaves no bore", f"less than {tube.outside_mm / 2:g} mm"))
    if tube.foot_mm is not None and tube.rim_mm is not None:
        problems.append(Problem("head.tube", "driven to a foot and to a rim", "foot_mm or rim_mm, the other follows"))
    if tube.foot_mm is not None and tube.foot_mm >= tube.outside_mm - _LEAST_TAPER_MM:
        problems.append(
            Problem("head.tube.foot_mm", "the block only closes a tube", f"less than {tube.outside_mm:g} mm")
        )
    if tube.rim_mm is not None and not tube.outside_mm <= tube.rim_mm <= tube.outside_mm * _MOST_OPENED:
        most = tube.outside_mm * _MOST_OPENED
        problems.append(Problem("head.tube.rim_mm", "no punch opens it so", f"{tube.outside_mm:g} to {most:.2f} mm"))
    if tube.foot_mm is not None and job.fit is not None and job.fit.height != LOWEST:
        problems.append(Problem("fit.height", "the foot is given, and the height follows", "lowest, or no foot_mm"))
    return problems


def _straight_tube(job: Job) -> list[Problem]:
    """A straight tube in hand takes a round stone that goes into it, and does not fall through."""
    head, outside = job.head, job.head.outside_mm
    if outside is None or straight.OUTSIDE not in STYLES[head.style].FIELDS or not job.stone.diameters_mm:
        return []
    path = f"head.{straight.OUTSIDE}"
    if head.notch_ratio is not None:
        return [Problem("head.notch_ratio", "follows from the tube in hand", f"no value, or no {path}")]
    largest, smallest = max(job.stone.diameters_mm), min(job.stone.diameters_mm)
    if outside < largest + 2 * _LEAST_LIP_MM:
        return [Problem(path, "no wall is left round the stone", f"{largest + 2 * _LEAST_LIP_MM:.2f} mm or more")]
    wall = head.wall_mm
    if wall is None:
        return [Problem("head.wall_mm", "a tube in hand has a wall", "the wall that was measured")]
    if outside - 2 * wall > smallest - 2 * _LEAST_LEDGE_MM:
        most = smallest - 2 * _LEAST_LEDGE_MM + 2 * wall
        return [Problem(path, "the stone falls through its bore", f"up to {most:.2f} mm with this wall")]
    return []


def _ring(job: Job) -> list[Problem]:
    fit = job.fit
    if fit is None or fit.ring != OPEN_RING:
        return []
    if fit.method != inset.METHOD or job.shank is None:
        return [Problem("fit.ring", "only an inset's ring can be an open C", "closed, or inset as the method")]
    if job.ring_exists:
        return [Problem("fit.ring", "a ring that is there is closed", "closed")]
    return []


def _schools(job: Job) -> list[Problem]:
    setting = job.setting
    if setting is None:
        return []
    clawed = is_clawed(job.head.style, job.head.cut)
    problems = []
    if setting.closing in (ROCKER, PUNCH) and clawed:
        problems.append(
            Problem("setting.closing", f"{setting.closing}: for rims, and this head has claws", "pusher, pliers")
        )
    if setting.closing in (PLIERS_PUSHER, BLOCK) and not clawed:
        tool_is = "a wood block is" if setting.closing == BLOCK else "pliers are"
        problems.append(Problem("setting.closing", f"{tool_is} for claws, and this head has a rim", "pusher, rocker"))
    if setting.jaws is not None and not (clawed and setting.closing in WITH_PLIERS):
        problems.append(
            Problem("setting.jaws", "no pliers close it", f"no value, or closing {' or '.join(WITH_PLIERS)}")
        )
    if setting.closing == PUNCH and not clawed and not CUTS[job.stone.cut].is_round:
        problems.append(Problem("setting.closing", "a hollow punch closes round tubes only", "pusher, rocker"))
    if setting.tips == TIPS_AFTER and not clawed:
        problems.append(Problem("setting.tips", "a rim has no tips", "before"))
    if setting.corner != DRILLED and not _has_points(job):
        problems.append(Problem("setting.corner", "no corner of this stone lies in a V", "no setting.corner"))
    if setting.tack is not None and (job.shank is None or (job.fit is not None and job.fit.method == PENDANT)):
        problems.append(Problem("setting.tack", "no head goes into a shank here", "no setting.tack"))
    return problems


def _has_points(job: Job) -> bool:
    """Whether a V holds some point of the stone: a sharp one, where the style has Vs there."""
    return CUTS[job.stone.cut].pointed and STYLES[job.head.style].COMES == OF_WIRE


def _repair(job: Job) -> list[Problem]:
    if job.repair is None:
        return []
    count = usual_claws_of(job) if "claws" in STYLES[job.head.style].FIELDS else 12
    problems = []
    for number, findings in job.repair.claws.items():
        if not number.isascii() or not number.isdigit() or not 1 <= int(number) <= count:
            problems.append(Problem(f"repair.claws.{number}", "no claw has this number", f"1 to {count}"))
        unknown = [finding for finding in findings if finding not in FINDINGS]
        problems += [
            Problem(f"repair.claws.{number}", f"unknown finding {finding!r}", f"one of {', '.join(FINDINGS)}")
            for finding in unknown
        ]
    return problems


def _accepted(job: Job) -> list[Problem]:
    return [
        Problem(f"accepted.{place}", "nobody accepts a call without a name and a reason", "by and why, in words")
        for place, acceptance in enumerate(job.accepted or ())
        if not acceptance.by.strip() or not acceptance.why.strip()
    ]
