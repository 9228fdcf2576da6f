"""How a head in for repair is put right, claw by claw: the lines of each way out, with its figures and its caution."""

from __future__ import annotations

from yarvel.heads.places import numbers
from yarvel.heads.wear import NEW_CLAW, RE_TIP, TIGHTEN, ClawFound, judge_claw
from yarvel.planning.closing import closing_order
from yarvel.planning.plan import Plan
from yarvel.planning.repair import before_heat, claw_width_mm
from yarvel.planning.work import CLOSE_CAUTION, SOLDER_CAUTION, Step, work_steps

_HEAD_BY_HAND = ("Cut the metal", "Make the head", "Fit head and shank", "Hang it")


def mending_step(plan: Plan, found: tuple[ClawFound, ...], way: str) -> Step | None:
    """The step of one way out (a name of ``repair.WayOut``); None for another name. ``found`` has one entry a claw."""
    work = [judge_claw(claw, claw_width_mm(plan), plan.rules).work for claw in found]
    lines = {
        "Tighten": _tighten,
        "Re-tip": _re_tip,
        "New claws": _new_claws,
        "New head from the drawer": _bought,
        "New head by hand": _by_hand,
    }
    if way not in lines:
        return None
    caution = CLOSE_CAUTION if way == "Tighten" else SOLDER_CAUTION
    return Step(way, lines[way](plan, work), caution)


def _at(plan: Plan, work: list[str], wanted: str) -> str:
    """The claws of one verdict, as somebody looks for them."""
    places = [
        str(number) for number, verdict in zip(numbers(plan.shape.places), work, strict=False) if verdict == wanted
    ]
    return f"claw{'s' if len(places) > 1 else ''} {', '.join(places)}" if places else ""


def _named(plan: Plan, work: list[str], wanted: str, doing: str) -> tuple[str, ...]:
    places = _at(plan, work, wanted)
    return (f"{doing}: {places}.",) if places else ()


def _tighten(plan: Plan, work: list[str]) -> tuple[str, ...]:
    return (
        *_named(plan, work, TIGHTEN, "Tighten"),
        "Clean first: dirt under the girdle feels like a tight stone. Look at eye level, front and side, and say "
        "which side sits low.",
        f"Ease nothing that holds: a little on each in turn, {closing_order(plan)}; the ones across take part.",
        "No light between claw and crown; the stone does not tick under the nail.",
        "Snag test: draw a thread or stocking over every tip.",
    )


def _re_tip(plan: Plan, work: list[str]) -> tuple[str, ...]:
    return (
        before_heat(plan),
        *_named(plan, work, RE_TIP, "Re-tip"),
        f"File the worn tips bright; a piece of {plan.figures['head.claw'].text()} wire of the same metal on each, "
        "as wide as the others."
        if "head.claw" in plan.figures
        else "File the worn rim bright; lay on metal.",
        "Solder easier than every joint that stays; shield those next to it; pickle; look at each joint under the "
        "loupe: no pit, no gap.",
        "Round the tips to match, recut the seats, set again.",
        *_named(plan, work, TIGHTEN, "Tighten"),
    )


def _new_claws(plan: Plan, work: list[str]) -> tuple[str, ...]:
    wire = plan.figures["head.claw"].text() if "head.claw" in plan.figures else plan.figures["head.wall"].text()
    return (
        before_heat(plan),
        *_named(plan, work, NEW_CLAW, "New claws"),
        f"Saw them out at the gallery, file the notch true; {wire} of the same metal, fitted without play before "
        "any solder.",
        "Solder easier than every joint that stays, the head held so that spacing and height cannot move; pickle; "
        "look from straight above: evenly spaced.",
        *_named(plan, work, RE_TIP, "Re-tip"),
        "Cut the new seats to the old ones' height, set again.",
        *_named(plan, work, TIGHTEN, "Tighten"),
    )


def _bought(plan: Plan, _work: list[str]) -> tuple[str, ...]:
    return (
        f"Choose it in the drawer against the stone itself: {plan.figures['stone.depth'].text()} deep; before the "
        "old head comes out.",
        before_heat(plan),
        "Old head out: unsolder or saw it free, clear the old solder, measure the slot.",
        "Trim the base level; fit without play; look from front and side: upright, before any solder.",
    )


def _by_hand(plan: Plan, _work: list[str]) -> tuple[str, ...]:
    lines = [line for step in work_steps(plan) if step.name in _HEAD_BY_HAND for line in step.lines]
    return (before_heat(plan), *lines)
