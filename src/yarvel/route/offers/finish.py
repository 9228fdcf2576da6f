"""The end of every route: polished by what the stone bears, looked at, released."""

from __future__ import annotations

from yarvel.operations.piece import MADE
from yarvel.planning.compute import species_of
from yarvel.route.offer import FINISH, RELEASE, Offers

_BEARS = {"bears": "is borne", "care": "with care", "never": "never"}


def offer(offers: Offers) -> None:
    """Polish, look, release."""
    grip, species = (offers.grip,), species_of(offers.plan.job, offers.plan.rules)
    closing_kinds = ("round-tips-claws", "cup-tips-claws", "burnish-rim", "burnish-claws", "close-claws-tighten")
    soft, where = "", "every tip" if offers.plan.shape.places else "the rim, all round"
    if species.hardness < offers.plan.rules.coarse_wheel_mohs:
        soft = f" Wheels beside the {species.label.lower()}: the finest rubber only, no steel; coarse ones scratch it."
    offers.add(
        "polish",
        "piece",
        grip,
        f"Polish. With the {species.label.lower()} in: pickle {_BEARS[species.acid]}, ultrasonic "
        f"{_BEARS[species.ultrasonic]}, steam {_BEARS[species.steam]}.{soft}",
        "no marks under the loupe",
        stage=FINISH,
        after=closing_kinds,
        leaves=_finished(offers),
    )
    offers.add(
        "look-three-ways",
        "piece",
        grip,
        f"Look from the front, from the side and straight down; draw a thread over {where}.",
        "straight, level, nothing catches",
        stage=FINISH,
        after=("polish-piece",),
    )
    offers.add(
        "release", "piece", grip, "Checks ticked, weighed, signed.", stage=RELEASE, after=("look-three-ways-piece",)
    )


def _finished(offers: Offers) -> dict[tuple[str, ...], float]:
    """To what the whole piece is worked, mm³ by parts; nothing while the plan is not weighed."""
    volumes = offers.volumes
    if not volumes:
        return {}
    heads_g: dict[tuple[str, ...], float] = {} if offers.head_there else {offers.head_parts: volumes["head"]}
    if "bail" in volumes and "hanging ring" in offers.parts and offers.parts["hanging ring"].origin == MADE:
        heads_g[("hanging ring",)] = volumes["bail"]
    if "shank" in volumes and not offers.exists:
        heads_g[("shank",)] = volumes["shank"]
    return heads_g
