"""The work in order, with the plan's figures in it, the cautions at their step, and the checks before release."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from yarvel.heads import cast_claw
from yarvel.heads.places import numbers
from yarvel.heads.style import Making
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import ALLOYS, alloy_of, head_mass_g
from yarvel.metals.joints import SHANK_SEAM
from yarvel.planning.closing import closing_lines, notch_lines
from yarvel.planning.compute import choice_of, species_of
from yarvel.planning.job import FitJob
from yarvel.planning.material import balance_text, down_text, material, piece_text
from yarvel.planning.plan import HEAD_VOLUME, Plan
from yarvel.planning.soldering import solder_lines
from yarvel.shanks import hanging
from yarvel.shanks.methods import METHODS, PENDANT
from yarvel.shanks.shoulders import FLUSH

DEFER = "Local codes and the advice of licensed practice come before anything said here."
SOLDER_CAUTION = (
    "Torch and block: eyes covered, hair and sleeves tied back, gas checked, flux fumes drawn off, fluoride flux above "
    "all; the block stays hot after the glow has gone. Pickle: acid into water, copper or plastic tongs; steel in it "
    "plates copper onto the work. Old solder may hold cadmium. Laser: closed, or with the eyewear of its class."
)
_MAKE = (
    "Saw, file and drill: eyes covered, work clamped, hair and sleeves away from the motor; anneal behind a "
    "shield and let the block cool before you reach over it."
)
_BURS = (
    "Burs: eye protection, hands braced, hair and sleeves away from the motor; let the bur stop before you lay it down."
)
CLOSE_CAUTION = (
    "Support the head; never close across two neighbours at once; a slipping tool chips the stone and the hand."
)
_POLISH = (
    "Polishing: extraction on, eyes covered, nothing loose near the wheel; hold so that the wheel can take the "
    "work away from you. Nickel alloys: ask about allergy. Plating baths: fumes drawn off, gloves and "
    "goggles, acid never near cyanide; for those trained to it."
)
_CAST = " Casting media: its dust holds silica; damp or masked, never swept dry."


_BEARS = {"bears": "is borne", "care": "with care", "never": "never"}


@dataclass(frozen=True)
class Step:
    """One step of the work: its name, what to do line by line, the caution that belongs to it."""

    name: str
    lines: tuple[str, ...]
    caution: str = ""


def work_steps(plan: Plan, with_metal: bool = True) -> tuple[Step, ...]:
    """The steps from making the head to finishing; without the cutting list where the plan need not be weighed."""
    clawed = bool(plan.claw_azimuths_deg)
    finish = "Round the tips against a safe edge; snag test." if clawed else "Burnish the rim bright; snag test."
    species = species_of(plan.job)
    cleaning = (
        f"With the {species.label.lower()} in: pickle {_BEARS[species.acid]}, ultrasonic "
        f"{_BEARS[species.ultrasonic]}, steam {_BEARS[species.steam]}."
    )
    fitting, cast = _fitting_lines(plan), plan.job.head.style == cast_claw.STYLE
    steps = [
        Step("Cut the metal", metal_lines(plan) if with_metal else (), _MAKE),
        Step("Make the head", _making_lines(plan), _MAKE + (_CAST if cast else "")),
    ]
    if fitting:
        steps.append(Step("Hang it" if plan.job.shank is None else "Fit head and shank", fitting, _MAKE))
    steps += [
        Step("Solder", solder_lines(plan), SOLDER_CAUTION),
        Step("Clean", ("Polish what will be out of reach.",)),
        Step("Cut the seat", (*_seat_lines(plan), *_shoulder_lines(plan)), _BURS),
        Step("Close", closing_lines(plan), CLOSE_CAUTION),
        Step("Finish", (finish, *_wheels(plan), cleaning), _POLISH),
    ]
    return tuple(step for step in steps if step.lines)


def _wheels(plan: Plan) -> tuple[str, ...]:
    species = species_of(plan.job)
    if species.hardness >= plan.rules.coarse_wheel_mohs:
        return ()
    return (f"Wheels beside the {species.label.lower()}: the finest rubber only, no steel; coarse ones scratch it.",)


def metal_lines(plan: Plan) -> tuple[str, ...]:
    """Cutting list, drawing and rolling, the balance."""
    made = material(plan)
    lines = [piece_text(piece) for piece in made.pieces]
    lines += [down_text(down) for down in made.downs]
    if made.pieces:
        lines.append(balance_text(made, plan))
    return tuple(lines)


def _fitting_lines(plan: Plan) -> tuple[str, ...]:
    """The fit method's own steps, an old slot's, a resizing's, a pendant's."""
    fit = plan.job.fit
    if plan.job.shank is None:
        return _told(plan, hanging.making()) if fit is not None and fit.method == PENDANT else ()
    lines: tuple[str, ...] = _told(plan, METHODS[(fit or FitJob()).method].making())
    alloy = alloy_of(plan.job.shank.metal, plan.rules)
    if lines and not plan.job.ring_exists and plan["shank.bend_strain"] > alloy.elongation_drawn:
        closed = any(joint.group == SHANK_SEAM for joint in plan.joints)
        then = "; then solder its seam, pickle, round it up. Look: no crack, the ring on size." if closed else "."
        lines = (f"Anneal the blank before it is bent round: rolled hard, it cracks on its outside{then}", *lines)
    if not lines:
        lines = ("It cannot be fitted like this: settle the stop among the calls first.",)
    if "slot.spare" in plan.figures:
        spare = plan["slot.spare"]
        fitted = "open the slot to it" if spare > 0 else "close the slot onto it; solder bridges no gap"
        lines = (  # the slot is there: nothing is marked, nothing sawn out
            "Old head out first: unsolder or saw it free, clear the old solder, level both ends by the finger, measure "
            f"the slot; the new foot is {abs(spare):.2f} mm {'wider' if spare > 0 else 'narrower'} than it: {fitted}. "
            "Look: no light between head and ends, the head's foot flush with the inside.",
        )
    if "resize.change" in plan.figures:
        change = plan["resize.change"]
        what = "put in a piece of" if change > 0 else "take out"
        lines += (
            f"Size at the back: {what} {abs(change):.2f} mm; round up beside the head, never through it; look at "
            "every seat afterwards.",
        )
    return lines


def _making_lines(plan: Plan) -> tuple[str, ...]:
    """The style's own order of making."""
    return _told(plan, STYLES[plan.job.head.style].making(choice_of(plan.job)))


def _told(plan: Plan, making: Making) -> tuple[str, ...]:
    """Steps with the plan's figures in them; a line whose figures this plan does not have is left out."""
    texts = {key: figure.text() for key, figure in plan.figures.items()}
    lines = []
    for do, look in making:
        keys = re.findall(r"{([^}]+)}", do + look)
        if all(key in texts for key in keys) and _worth(plan, do, keys):
            lines.append(_filled(f"{do} Look: {look}.", texts))
    return tuple(lines)


def _worth(plan: Plan, line: str, keys: list[str]) -> bool:
    """Not what takes off nothing, and one way only where round and long stones differ."""
    figures = plan.figures
    if ("{head.countersink}" in line or "{head.gallery_skim}" in line) and all(
        figures[key].value < 0.005 for key in ("head.countersink", "head.gallery_skim") if f"{{{key}}}" in line
    ):
        return False
    if line.startswith("Cut {head.tube_length} of tube"):
        return plan.facts.cut.is_round
    if any(figures[key].value < -0.005 for key in keys if figures[key].unit == "mm"):
        return False  # what is less than nothing cannot be made: its call says so
    return not line.startswith("Round up the upper ring") or plan.facts.cut.is_round


def _filled(line: str, texts: dict[str, str]) -> str:
    return re.sub(r"{([^}]+)}", lambda found: texts[found.group(1)], line)


def _shoulder_lines(plan: Plan) -> tuple[str, ...]:
    """How the small rounds beside the head are seated, where there are any."""
    figures, shank = plan.figures, plan.job.shank
    if "shoulder.first" not in figures or shank is None or shank.shoulder is None:
        return ()
    mark = (
        f"Mark the middles {figures['shoulder.first'].text()} from the ring's middle on both sides, then every "
        f"{figures['shoulder.pitch'].text()}; drill {figures['shoulder.pilot'].text()}."
    )
    if shank.shoulder.setting == FLUSH:
        return (
            mark,
            f"Setting bur of {figures['shoulder.diameter'].text()}: sink it "
            f"{figures['shoulder.sink'].text()}, its "
            "teeth just hidden seen from the side; push the edge over all round with a polished point.",
        )
    return (
        mark,
        f"Little bezels of {figures['shoulder.outer'].text()}: let into the band, soldered hard before the "
        f"head, "
        "seats cut after; no gap under their rims.",
    )


def _seat_lines(plan: Plan) -> tuple[str, ...]:
    figures, clawed = plan.figures, bool(plan.claw_azimuths_deg)
    lines = [_scribed(plan)] if clawed else ["Narrow-lipped end up: it is the seat.", _scribed(plan)]
    if plan.job.head.seated:
        return (lines[0], "The seat is cut already: try the stone in it, level and without force.")
    cuts = bur_cuts(plan)
    if "seat.first_cut" in figures and figures["seat.depth"].value > 0:
        first = f"First cut {figures['seat.first_cut'].text()}"
        touching = [(size, cut) for size, cut in cuts if cut > 0]
        if touching:
            size, cut = touching[0]
            first = f"First cut with the bur of {size:.1f}, the first that touches: it takes {cut:.2f} mm a side"
            if cut > figures["seat.first_cut"].value + 0.02:
                first += f", more than {figures['seat.first_cut'].text()}: let it touch lightly, look, go on"
        goal, stays = figures["seat.depth"], figures["seat.remaining"].text()
        cut_to = f"{first}; then a little at a time to {goal.text()}"
        if not touching and figures["seat.first_cut"].text() == goal.text():
            cut_to = f"Cut to {goal.text()}, a little at a time"
        lines.append(f"{cut_to}; {stays} stays outside the girdle.")
    if cuts:
        burs = " → ".join(
            f"{size:.1f} ({f'{cut:.2f} a side' if cut > 0 else 'touches nothing yet'})" for size, cut in cuts
        )
        push = figures["seat.push_to_claw"]
        where = "each claw" if clawed else "the wall all round"
        worth = push.value > plan.rules.bur_slack_mm / 2
        last = f"; push the last {push.text()} towards {where} in turn" if worth else ""
        lines.append(f"Burs: {burs}{last}.")
    lines += notch_lines(plan)
    lines.append(f"Open the seat to {figures['seat.opening'].text()}.")
    return tuple(lines)


def bur_cuts(plan: Plan) -> tuple[tuple[float, float], ...]:
    """Each setting bur with what it cuts a side, mm: half of what it is wider than the opening."""
    if plan.job.head.seated or "head.inner_opening" not in plan.figures:
        return ()
    opening = plan["head.inner_opening"]
    return tuple((size, max((size - opening) / 2, 0.0)) for size in plan.bur_steps_mm)


def _scribed(plan: Plan) -> str:
    """How the girdle's line is scribed: every seat starts with it."""
    figures = plan.figures
    where = "on all claws, inside and outside" if plan.claw_azimuths_deg else "inside the wall, all round"
    tops, along = ("tops", "along the claw") if plan.claw_azimuths_deg else ("rim", "up the wall")
    foot = f"{figures['seat.line_from_foot'].text()} from the foot, {along}"
    if "seat.line_from_top" not in figures:
        return f"Scribe one line at the girdle {where}: {foot}."
    return (
        f"Level the {tops}. Dividers to {figures['seat.line_from_top'].text()}: scribe the girdle's line from the "
        f"{tops} {where}; it lies {foot}."
    )


def masses_text(plan: Plan) -> str:
    """The head's mass in every other metal, in one line; "" until the plan is weighed."""
    if HEAD_VOLUME not in plan.figures:
        return ""
    volume = plan[HEAD_VOLUME]
    others = [alloy_of(key, plan.rules) for key in ALLOYS if key != plan.job.head.metal]
    return ", ".join(f"{alloy.label} {head_mass_g(volume, alloy.density):.2f} g" for alloy in others)


def spacing_text(plan: Plan) -> str:
    """Where the claws are to stand: evenly round a circle, else by the chords from each to the next at the seat."""
    places = plan.shape.places
    azimuths = sorted(place.azimuth_deg for place in places)
    steps = [(after - before) % 360 for before, after in zip(azimuths, [*azimuths[1:], azimuths[0]], strict=True)]
    if plan.facts.cut.is_round and max(steps) - min(steps) < 0.1:
        return f"Claws evenly spaced, {360 / len(places):g}° apart"
    by_number = [place for _, place in sorted(zip(numbers(places), places, strict=True), key=lambda pair: pair[0])]
    out = 0.0 if plan.shape.claws is None else plan.shape.claws.width / 2 - plan["seat.depth"]
    spots = [(place.x + out * place.normal[0], place.y + out * place.normal[1]) for place in by_number]
    chords = [
        f"{here}–{here % len(spots) + 1} {math.dist(spots[here - 1], spots[here % len(spots)]):.2f}"
        for here in range(1, len(spots) + 1)
    ]
    return f"Claws where they are planned, middle to middle at the seat: {', '.join(chords)} mm"


def checks(plan: Plan) -> tuple[str, ...]:
    """What to tick before release, with the plan's values."""
    figures, count = plan.figures, len(plan.claw_azimuths_deg)
    across = (
        f"{figures['stone.mean_diameter'].text()} across"
        if "stone.mean_diameter" in figures
        else f"{figures['stone.length'].text()} by {figures['stone.width'].text()}"
    )
    found = [
        f"Stone measured again: {across}, {figures['stone.depth'].text()} deep",
        "Straight from the front, the side and straight above",
    ]
    if count:
        found += [
            "Stone level; no gap under any claw",
            spacing_text(plan),
        ]
        if figures["seat.notch_ratio"].value <= plan.rules.notch_stop:
            found.append(f"Notch {figures['seat.notch_ratio'].text()} of the claw, never past half")
        if "head.ring_hidden_by" in figures and figures["head.ring_hidden_by"].value > 0:
            found.append("Upper ring hidden under the stone")
    else:
        found.append("Stone level; rim closed all round")
    if "shank.inside_circumference" in figures:
        found.append(f"Size: {figures['shank.inside_circumference'].text()} round the inside")
    if "seat.culet_clearance" in figures and figures["seat.culet_clearance"].value > 0:
        found.append(f"Culet clear by {figures['seat.culet_clearance'].text()}")
    return (*found, "Joints without gaps or pits", "Nothing catches cloth", "Loose test, loupe, polished out")
