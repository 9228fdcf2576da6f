"""Kinds of operations: whole, findable, cautioned; and what they do to a piece."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from yarvel.operations import joint_states
from yarvel.operations.operation import BEND, DRAW, HEAT, SKILLS, STATIONS, Operation
from yarvel.operations.piece import (
    ANNEALED,
    CAST,
    HARD,
    SPRUNG,
    WORKED,
    Metal,
    Piece,
    as_cast,
    wrought,
)
from yarvel.operations.register import REGISTER
from yarvel.operations.stone_state import ABSENT, CENTRE, HELD, HOME, IN_SEAT, LONG, LOOSE, SHOULDERS, StoneState, Tips

GOLD = Metal(drawn=0.04, annealed=0.38, cast=0.25)


def operation(kind: str, *on: str, strain: float = 0.0, melts: tuple[str, ...] = ()) -> Operation:
    return Operation(kind=REGISTER[kind], key=f"{kind}-it", on=on, text="Do it.", strain=strain, melts=melts)


@pytest.mark.parametrize("key", sorted(REGISTER))
def test_every_kind_is_whole(key: str) -> None:
    kind = REGISTER[key]
    assert kind.key == key and kind.label[0].isupper()
    assert kind.station in STATIONS and kind.skills and set(kind.skills) <= set(SKILLS)
    assert kind.minutes + kind.each_minutes > 0 and kind.wait_minutes >= 0
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
    assert len(REGISTER) == 84


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
    piece = Piece({"claws": wrought(GOLD, "claws")}, stones={CENTRE: StoneState(stone)})
    assert any("torch" in line for line in operation("solder", "claws").unmet(piece))
    assert not any("torch" in line for line in operation("tack", "claws").unmet(piece))


def test_a_heat_that_opens_a_joint_says_which() -> None:
    piece = Piece({"shank": wrought(GOLD, "closed")}, joints={"shank-seam": joint_states.LOOKED})
    assert operation("solder", "shank", melts=("shank-seam",)).unmet(piece) == ("this heat opens shank seam",)
    assert operation("solder", "shank", melts=("Collet seam",)).unmet(piece) == ()


def test_nothing_is_done_to_a_part_that_is_not_there() -> None:
    assert operation("saw-claws", "collet").unmet(Piece()) == ("there is no collet yet",)
    assert operation("saw-claws", "collet").apply(Piece()) == Piece()


def test_small_rounds_in_the_shoulders_are_stones_too() -> None:
    """A torch meets every stone that is in the piece, not only the one that the head is for."""
    piece = Piece({"shank": wrought(GOLD, "closed")}, stones={CENTRE: StoneState(), SHOULDERS: StoneState(HELD)})
    assert any("torch" in line for line in operation("solder", "shank").unmet(piece)) and piece.stone == ABSENT


@pytest.mark.parametrize(
    ("kind", "lost"), [("file-to-shape", True), ("polish", True), ("anneal", True), ("drill", False)]
)
def test_a_mark_is_lost_by_file_heat_and_polish(kind: str, lost: bool) -> None:
    """Common practice, no source: what is scribed is gone once it was filed, heated or polished over."""
    piece = Piece({"shank": replace(wrought(GOLD, "closed").with_facts(("closed",), (), ""), temper=ANNEALED)})
    piece = operation(kind, "shank").apply(operation("mark-out", "shank").apply(piece))
    assert (operation("saw-gap", "shank").unmet(piece) != ()) == lost
    assert not operation("saw-gap", "shank").apply(piece).parts["shank"].marks, "sawn out with the gap"


def test_a_joint_goes_from_mark_to_look_and_never_back_by_a_file() -> None:
    """Marked, cut, fitted, held, soldered, looked at; common practice."""
    piece = Piece({"shank": wrought(GOLD, "open")})
    seen = []
    for kind in ("mark-out", "fit-ends", "offer-part", "set-up", "solder", "pickle", "fit-ends", "unsolder"):
        piece = replace(operation(kind, "shank"), joints=("head-to-shank",)).apply(piece)
        seen.append(piece.state_of("head-to-shank"))
    assert seen == ["marked", "cut", "fits", "held", "soldered", "looked-at", "looked-at", "open"]


def test_seats_stays_and_claws_wait_for_the_look() -> None:
    """No bur and no saw before a joint was pickled and looked at; common practice."""
    piece = Piece({"claws": wrought(GOLD, "claws")}, joints={"claws-to-upper-ring": joint_states.SOLDERED})
    for kind in ("saw-off-stays", "guide-cut", "cut-seat"):
        assert any("looked at" in line for line in operation(kind, "claws").unmet(piece)), kind
    looked = replace(operation("pickle", "claws"), joints=("claws-to-upper-ring",)).apply(piece)
    assert not any("looked at" in line for line in operation("cut-seat", "claws").unmet(looked))


def test_a_zone_is_bent_by_itself_and_heated_with_its_host() -> None:
    """Claws sawn from a collet are one piece with it: what they were bent is theirs, a torch anneals both."""
    sawn = replace(operation("saw-claws", "collet"), zones=(("claws", "collet"),))
    piece = sawn.apply(Piece({"collet": wrought(GOLD, "collet").with_facts(("soldered",), (), "")}))
    assert piece.zones_of("collet") == ("claws",) and "soldered" in piece.facts_of("claws")
    piece = operation("lean-claws", "claws", strain=0.3).apply(piece)
    assert (piece.parts["claws"].left, piece.parts["collet"].left) == (pytest.approx(0.08), 0.38)
    assert operation("anneal", "collet").apply(piece).parts["claws"].left == 0.38


def test_what_is_left_on_purpose_is_gone_before_release() -> None:
    stay = Piece({"claws": replace(wrought(GOLD, "u-pieces"), spares=frozenset({"stay"})), "head": wrought(GOLD, "x")})
    assert operation("release", "head").unmet(stay) == ("claws: stay still on",)
    long = {CENTRE: StoneState(HELD, tips=Tips(length=LONG, lean=HOME))}
    assert operation("release", "head").unmet(Piece({"head": wrought(GOLD, "x")}, stones=long)) == ("tips left long",)
    trimmed = operation("trim-tips", "head").apply(Piece({"head": wrought(GOLD, "x")}, stones=long))
    assert operation("release", "head").unmet(trimmed) == ()


def test_a_ring_under_tension_is_neither_sawn_nor_heated() -> None:
    """An open C closed over its head springs; common practice."""
    piece = Piece({"shank": replace(wrought(GOLD, "joined"), tension=SPRUNG)})
    for kind, words in (("anneal", "heated"), ("saw-gap", "sawn")):
        assert any(words in line for line in operation(kind, "shank").unmet(piece)), kind
