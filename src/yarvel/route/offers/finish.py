"""The end of every route: polished by what the stone bears, looked at, released."""

from __future__ import annotations

from yarvel.planning.compute import species_of
from yarvel.route.offer import FINISH, RELEASE, Offers

_BEARS = {"bears": "is borne", "care": "with care", "never": "never"}


def offer(offers: Offers) -> None:
    """Polish, look, release."""
    grip, species = (offers.grip,), species_of(offers.plan.job)
    held = ("round-tips-claws", "burnish-rim")
    offers.add(
        "polish",
        "piece",
        grip,
        f"Polish with the {species.label.lower()} in: ultrasonic {_BEARS[species.ultrasonic]}, steam "
        f"{_BEARS[species.steam]}, pickle {_BEARS[species.acid]}.",
        "no marks under the loupe",
        stage=FINISH,
        after=held,
    )
    offers.add(
        "look-three-ways",
        "piece",
        grip,
        "Look from the front, from the side and straight down; draw a thread over every tip.",
        "straight, level, nothing catches",
        stage=FINISH,
        after=("polish-piece",),
    )
    offers.add(
        "release", "piece", grip, "Checks ticked, weighed, signed.", stage=RELEASE, after=("look-three-ways-piece",)
    )
