"""Kinds of operations: whole, findable, cautioned; and what they do to a piece."""

from __future__ import annotations

from dataclasses import replace

import pytest

from yarvel.operations.operation import BEND, DRAW, HEAT, SKILLS, STATIONS, Operation
from yarvel.operations.piece import (
    ABSENT,
    ANNEALED,
    CAST,
    HARD,
    HELD,
    IN_SEAT,
    LOOSE,
    WORKED,
    Metal,
    Piece,
    as_cast,
    wrought,
)
from yarvel.operations.register import REGISTER

GOLD = Metal(drawn=0.04, annealed=0.38, cast=0.25)


def operation(kind: str, *on: str, strain: float = 0.0, melts: tuple[str, ...] = ()) -> Operation:
    return Operation(REGISTER[kind], f"{kind}-it", on, "Do it.", strain=strain, melts=melts)


@pytest.mark.parametrize("key", sorted(REGISTER))
def test_every_kind_is_whole(key: str) -> None:
    kind = REGISTER[key]
    assert kind.key == key and kind.label[0].isupper()
    assert kind.station in STATIONS and kind.skills and set(kind.skills) <= set(SKILLS)
    assert kind.minutes + kind.each > 0 and kind.wait >= 0
    assert kind.temper in ("", BEND, DRAW, HEAT) and kind.stone in ("", ABSENT, LOOSE, IN_SEAT, HELD)
    assert (kind.temper == HEAT) <= (kind.station == "torch"), "all torch work has the torch's station"


def test_what_can_hurt_is_cautioned() -> None:
    """Torch, laser, pickle, plating and rolls: common practice of every workshop's safety sheet."""
    told = {key: kind.hazard.lower() for key, kind in REGISTER.items()}
    for key, word in (
        ("solder", "fume"),
        ("anneal", "eyes"),
        ("tack", "eyewear"),
        ("pickle", "acid into water"),
        ("plate", "fume"),
        ("roll", "fingers"),
        ("draw-wire", "whips"),
        ("unsolder", "cadmium"),
        ("cast-part", "dust"),
    ):
        assert word in told[key], key
    assert len(REGISTER) == 83


def test_temper_is_what_the_last_heat_or_work_left() -> None:
    """Drawn metal is hard, a torch anneals, a bend uses up what is left, cast metal is its own; common practice."""
    wire, casting = wrought(GOLD, "stock"), as_cast(GOLD)
    assert (wire.temper, casting.temper) == (ANNEALED, CAST)
    piece = Piece({"claws": wire})
    piece = operation("draw-wire", "claws").apply(piece)
    assert (piece.parts["claws"].temper, piece.parts["claws"].left) == (HARD, 0.04)
    bend = replace(operation("bend-u", "claws", strain=0.2))
    assert any("20% where hard metal bears 4%" in line for line in bend.unmet(piece))
    piece = operation("anneal", "claws").apply(piece)
    assert not [line for line in bend.unmet(piece) if "anneal first" in line]
    piece = bend.apply(piece)
    assert piece.parts["claws"].temper == WORKED and piece.parts["claws"].left == pytest.approx(0.18)
    assert any("bears 18%" in line for line in bend.unmet(piece)), "the second bend finds what the first has left"


@pytest.mark.parametrize("stone", [LOOSE, IN_SEAT, HELD])
def test_no_stone_is_in_the_heat_unseen(stone: str) -> None:
    """Loose, seated or held: the torch meets it; a laser does not."""
    piece = Piece({"claws": wrought(GOLD, "claws")}, stone)
    assert any("torch" in line for line in operation("solder", "claws").unmet(piece))
    assert not any("torch" in line for line in operation("tack", "claws").unmet(piece))


def test_a_heat_that_opens_a_joint_says_which() -> None:
    piece = Piece({"shank": wrought(GOLD, "closed")}, joined=("Shank seam",))
    assert operation("solder", "shank", melts=("Shank seam",)).unmet(piece) == ("this heat opens Shank seam",)
    assert operation("solder", "shank", melts=("Collet seam",)).unmet(piece) == ()


def test_nothing_is_done_to_a_part_that_is_not_there() -> None:
    assert operation("saw-claws", "collet").unmet(Piece()) == ("there is no collet yet",)
    assert operation("saw-claws", "collet").apply(Piece()) == Piece()
