"""Cautions where the work can hurt someone, in the words of docs/safety.md: by station, and of what is in the work."""

from __future__ import annotations

from msgspec import Struct

from yarvel.operations.operation import Operation

DEFER = "Local codes and the advice of licensed practice come before anything said here."
MAKE = "Saw, file and drill: eyes covered, work clamped, hair and sleeves away from the motor."
DRAW = (
    "Rolls and draw plate: fingers away from the rolls, face away from the wire's end; anneal behind a shield and let "
    "the block cool before you reach over it."
)
CAST = "Molten metal: face and hands covered, dry moulds. Casting media: its dust holds silica; damp or masked."
TORCH = (
    "Torch and block: eyes covered, hair and sleeves tied back, gas checked, flux fumes drawn off, fluoride flux above "
    "all; the block stays hot after the glow has gone. Pickle: acid into water, copper or plastic tongs; steel in it "
    "plates copper onto the work."
)
OLD_SOLDER = "Old solder may hold cadmium."
LASER = "Laser: closed, or with the eyewear of its class."
BURS = (
    "Burs: eye protection, hands braced, hair and sleeves away from the motor; let the bur stop before you lay it down."
)
CLOSE = "Support the head; never close across two neighbours at once; a slipping tool chips the stone and the hand."
POLISH = (
    "Polishing: extraction on, eyes covered, nothing loose near the wheel; hold so that the wheel can take the work "
    "away from you."
)
NICKEL = "Where the alloy holds nickel: ask about allergy."
PLATING = "Plating baths: fumes drawn off, gloves and goggles, acid never near cyanide; for those trained to it."
_BY_STATION = {
    "bench": MAKE,
    "motor": MAKE,
    "mill": DRAW,
    "draw-bench": DRAW,
    "torch": TORCH,
    "pickle": TORCH,
    "laser": LASER,
    "polishing": POLISH,
    "plating": POLISH,
    "outside": CAST,
}
_CLOSING = ("lean-claws", "close-claws", "fold-vs", "press-bezel", "push-edge", "burnish", "trim-tips", "cup-tips")
_CUTTING = ("guide-cut", "cut-seat", "relieve-corner", "clear-keel", "skim-gallery")

_BY_EYE = (
    "measure-part",
    "check-size",
    "mark-out",
    "offer-part",
    "offer-stone",
    "level-tops",
    "lay-out-stones",
    "look-three-ways",
)
"""At the bench, with nothing that turns, cuts or burns."""


class InTheWork(Struct, frozen=True):
    """What of a hazard's causes is in the work at all: joints that somebody else made, nickel, a bath to be plated in.
    All of it, unless it is known that it is not."""

    old_solder: bool = True
    nickel: bool = True
    plating: bool = True


_ALL = InTheWork()


def caution_of(operation: Operation, work: InTheWork = _ALL) -> str:
    """What can hurt at this operation; "" where nothing does."""
    key = operation.kind.key
    if key in _CLOSING:
        return CLOSE
    if key in _CUTTING:
        return BURS
    if key in _BY_EYE:
        return ""
    said = _BY_STATION.get(operation.kind.station, "")
    plating = work.plating or operation.kind.station == "plating"
    more = {TORCH: ((OLD_SOLDER, work.old_solder),), POLISH: ((NICKEL, work.nickel), (PLATING, plating))}
    return " ".join([said, *(words for words, there in more.get(said, ()) if there)])
