"""The work in order, with the plan's figures in it, the cautions at their step, and the checks before release."""

from __future__ import annotations

from dataclasses import dataclass

from yarvel.metals.joints import groups
from yarvel.planning.compute import species_of
from yarvel.planning.plan import Plan

DEFER = "Local codes and the advice of licensed practice come before anything said here."
_SOLDER = ("Torch and block: eyes covered, hair and sleeves tied back, gas checked, flux fumes drawn off; the block "
           "stays hot after the glow has gone. Pickle: acid into water, copper or plastic tongs. Old solder may hold "
           "cadmium.")
_BURS = ("Burs: eye protection, hands braced, hair and sleeves away from the motor; let the bur stop before you lay it "
         "down.")
_CLOSE = "Support the head; never close across two neighbours at once; a slipping tool chips the stone and the hand."
_POLISH = ("Polishing: extraction on, eyes covered, nothing loose near the wheel; hold so that the wheel can take the "
           "work away from you. Nickel alloys: ask about allergy.")


_BEARS = {"bears": "is borne", "care": "with care", "never": "never"}


@dataclass(frozen=True)
class Step:
    """One step of the work: its name, what to do line by line, the caution that belongs to it."""

    name: str
    lines: tuple[str, ...]
    caution: str = ""


def work_steps(plan: Plan) -> tuple[Step, ...]:
    """The steps from soldering to finishing."""
    clawed = bool(plan.claw_azimuths_deg)
    close = ("Thin the tips, close opposite pairs little by little, look at eye level between rounds."
             if clawed else "Press the rim over at 12, 6, 3 and 9, then between, little by little.")
    finish = "Round the tips against a safe edge; snag test." if clawed else "Burnish the rim bright; snag test."
    species = species_of(plan.job)
    cleaning = (f"With the {species.label.lower()} in: pickle {_BEARS[species.acid]}, ultrasonic "
                f"{_BEARS[species.ultrasonic]}, steam {_BEARS[species.steam]}.")
    return (Step("Solder", _solder_lines(plan), _SOLDER), Step("Clean", ("Polish what will be out of reach.",)),
            Step("Cut the seat", _seat_lines(plan), _BURS), Step("Close", (close,), _CLOSE),
            Step("Finish", (finish, cleaning), _POLISH))


def _solder_lines(plan: Plan) -> tuple[str, ...]:
    lines = []
    for joint, count in groups(plan.joints):
        many = f" × {count}" if count > 1 else ""
        shield = f"; {joint.shield}" if joint.shield else ""
        lines.append(f"{joint.group}{many}: {joint.grade}, flows {joint.flow_c:.0f} °C{shield}.")
    return tuple(lines) or ("This head has no joint of its own.",)


def _seat_lines(plan: Plan) -> tuple[str, ...]:
    figures, clawed = plan.figures, bool(plan.claw_azimuths_deg)
    lines = ["Scribe one line at the girdle's height on all claws." if clawed else
             "Narrow-lipped end up: it is the seat."]
    if "seat.first_cut" in figures:
        lines.append(f"First cut {figures['seat.first_cut'].text()}, then a little at a time to "
                     f"{figures['seat.depth'].text()}; {figures['seat.remaining'].text()} stays outside the girdle.")
    if plan.bur_steps_mm and not plan.job.head.seated:
        burs = " → ".join(f"{size:.1f}" for size in plan.bur_steps_mm)
        push = figures["seat.push_to_claw"]
        where = "each claw" if clawed else "the wall all round"
        last = f"; push the last {push.text()} towards {where} in turn" if push.value > 0 else ""
        lines.append(f"Burs: {burs} mm{last}.")
    lines.append(f"Open the seat to {figures['seat.opening'].text()}.")
    return tuple(lines)


def checks(plan: Plan) -> tuple[str, ...]:
    """What to tick before release, with the plan's values."""
    figures, count = plan.figures, len(plan.claw_azimuths_deg)
    found = [f"Stone measured again: {figures['stone.mean_diameter'].text()} across, {figures['stone.depth'].text()} "
             "deep", "Straight from the front, the side and straight above"]
    if count:
        found += ["Stone level; no gap under any claw", f"Claws evenly spaced, {360 / count:g}° apart",
                  f"Notch {figures['seat.notch_ratio'].text()} of the claw, never past half",
                  "Upper ring hidden under the stone"]
    else:
        found.append("Stone level; rim closed all round")
    if "shank.inside_circumference" in figures:
        found.append(f"Size: {figures['shank.inside_circumference'].text()} round the inside")
    if "seat.culet_clearance" in figures:
        found.append(f"Culet clear by {figures['seat.culet_clearance'].text()}")
    return (*found, "Joints without gaps or pits", "Nothing catches cloth", "Loose test, loupe, polished out")
