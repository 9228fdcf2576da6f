"""Metal: cutting lists by closed forms, the balance, what goes to whom."""

from __future__ import annotations

import math
from collections.abc import Callable

import pytest
from hypothesis import given

from tests.strategies import BUILT, jobs
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.job import Job
from yarvel.planning.material import MELT, down_text, material
from yarvel.planning.plan import Plan, plan
from yarvel.planning.soldering import solder_lines
from yarvel.planning.weighing import weighed
from yarvel.planning.work import work_steps

WALL = {"style": "tube", "claw_mm": None, "notch_ratio": None}


@BUILT
@given(jobs())
def test_every_job_has_a_whole_balance(job: Job) -> None:
    made = material(plan(job, HouseRules(), samples=0))
    assert set(made.issued) >= {piece.metal for piece in made.pieces}
    for piece in made.pieces:
        assert piece.mass_g > 0 and piece.count >= 1 and math.isfinite(piece.mass_g), piece
        assert (piece.length_mm > 0) != (piece.form == MELT), piece
    assert all(mass >= 0 for mass in made.back.values())
    for down in made.downs:
        sizes = [one.size for one in down.passes]
        assert sizes == sorted(sizes, reverse=True) and down_text(down).endswith(".")


def test_the_cutting_list_of_a_four_claw_ring(planned: Callable[..., Plan]) -> None:
    """Common practice: U-pieces, two claws each; rings of wire; the shank from bar. Saw allowance 0.3 a piece."""
    made = planned(samples=0, head={"claw_mm": 1.0, "ring_mm": 0.9})
    pieces = {piece.part: piece for piece in material(made).pieces}
    assert pieces["Claws as U-pieces"].count == 2
    assert pieces["Claws as U-pieces"].length_mm == pytest.approx(made["head.u_piece_length"] + 0.3)
    assert pieces["Upper ring"].length_mm == pytest.approx(made["head.upper_ring_wire_length"] + 0.3)
    volume = math.pi / 4 * 0.9**2 * pieces["Lower ring"].length_mm
    assert pieces["Lower ring"].mass_g == pytest.approx(volume * ALLOYS["18k-yellow"].density / 1000)
    assert pieces["Shank"].mass_g == pytest.approx(2.8 * 2.0 * pieces["Shank"].length_mm * 15.5 / 1000)


def test_two_metals_are_two_balances(planned: Callable[..., Plan]) -> None:
    made = material(planned(samples=0, head={"metal": "platinum-950"}))
    assert set(made.issued) == {"platinum-950", "18k-yellow"}
    assert made.back["platinum-950"] == pytest.approx(made.issued["platinum-950"] - made.finished["platinum-950"])


def test_a_bought_head_is_issued_as_it_is(planned: Callable[..., Plan]) -> None:
    made = weighed(planned(samples=0, head={"style": "bought"}, shank=None, fit=None))
    balance = material(made)
    assert balance.pieces == () and balance.issued["18k-yellow"] == pytest.approx(made["head.mass"])
    assert balance.back["18k-yellow"] == pytest.approx(0)


@pytest.mark.parametrize(
    ("parts", "names"),
    [
        ({"head": WALL}, ["Tube", "Shank"]),
        ({"head": {**WALL, "style": "tapered-collet"}}, ["Collet, driven from tube", "Shank"]),
        ({"head": {"claws": 3}, "shank": None, "fit": {"method": "pendant", "height": None}}, ["Hanging ring"]),
        (
            {"shank": {"width_mm": 4, "shoulder": {"diameter_mm": 1.5, "count": 2, "setting": "bezel"}}},
            ["Little bezels"],
        ),
        (
            {
                "stone": {"cut": "pear", "diameters_mm": None, "length_mm": 8.4, "width_mm": 5.7, "depth_mm": None},
                "head": {"claws": 5, "claw_mm": None},
            },
            ["Vs", "Claws"],
        ),
        ({"fit": {"method": "basket-point"}}, ["Claws"]),
    ],
)
def test_every_head_brings_its_own_pieces(
    parts: dict[str, dict[str, object]], names: list[str], planned: Callable[..., Plan]
) -> None:
    found = [piece.part for piece in material(planned(samples=0, **parts)).pieces]
    assert all(any(part.startswith(name) for part in found) for name in names), found


@pytest.mark.parametrize(("was", "change"), [("52", 2.0), ("57", -3.0), (None, 0.0)])
def test_nothing_is_issued_for_a_ring_that_is_there(
    was: str | None, change: float, planned: Callable[..., Plan]
) -> None:
    """Only the piece that another size lets in, or takes out: band's section × the change of the formed length × 15.5
    g/cm³, worked out here by hand from the band's rectangle; one ISO step is one millimetre of finger."""
    resized = None if was is None else {"system": "ISO", "value": was}
    slot = {"method": "inset", "height": None, "slot": {"inside_mm": 4.6}} if was is None else {"method": "on-flat"}
    head = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None}
    plan = planned(samples=0, head=head, shank={"resized_from": resized}, fit=slot)
    made = material(plan)
    assert [piece.part for piece in made.pieces] == (["Piece for the size"] if change > 0 else [])
    mass = 2.8 * 2.0 * change * 15.5 / 1000
    head_mass = weighed(plan)["head.mass"]
    assert made.finished["18k-yellow"] == pytest.approx(head_mass + mass, abs=0.005)
    if change > 0:
        assert made.issued["18k-yellow"] == pytest.approx(head_mass + mass + 2.8 * 2.0 * 0.3 * 15.5 / 1000, abs=0.005)
    else:
        assert made.issued["18k-yellow"] == pytest.approx(head_mass)
        assert made.back["18k-yellow"] == pytest.approx(-mass, abs=0.005)


def test_an_old_seam_is_shielded_and_not_made(planned: Callable[..., Plan]) -> None:
    slot = {"method": "inset", "height": None, "slot": {"inside_mm": 4.6}}
    told = " ".join(solder_lines(planned(samples=0, fit=slot)))
    assert "Shank seam: there already, its solder unknown" in told and "Shank seam: hard" not in told


def test_a_basket_points_claws_are_cut_longer(planned: Callable[..., Plan]) -> None:
    short, long = (
        next(
            piece.length_mm
            for piece in material(planned(samples=0, fit={"method": "basket-point", "below_ring_mm": length})).pieces
            if piece.part == "Claws"
        )
        for length in (5.0, 8.0)
    )
    assert long - short == pytest.approx(3.0, abs=0.5)


def test_steps_carry_cautions_where_they_can_hurt(planned: Callable[..., Plan]) -> None:
    """Torch, saw, burs, wheels: each with its caution at the step."""
    steps = {step.name: step for step in work_steps(planned(samples=0, fit={"method": "inset"}))}
    assert list(steps)[:4] == ["Cut the metal", "Make the head", "Fit head and shank", "Solder"]
    for name, word in (
        ("Solder", "fumes"),
        ("Fit head and shank", "eyes covered"),
        ("Cut the seat", "eye protection"),
        ("Finish", "extraction"),
        ("Cut the metal", "sleeves"),
    ):
        assert word in steps[name].caution, name
    assert any(
        "Scribe" in line and "limit that hollowing may reach" in line for line in steps["Fit head and shank"].lines
    )


def test_the_workshops_plate_is_drawn_through(planned: Callable[..., Plan]) -> None:
    house = HouseRules(plate_mm=(2.2, 1.9, 1.6, 1.3, 1.02), draw_from_mm=2.5)
    made = planned(samples=0, house=house, head={"claw_mm": 1.0, "ring_mm": 1.0})
    text = next(down_text(down) for down in material(made).downs if down.part.startswith("Wire"))
    assert "2.20 → 1.90 – anneal – 1.60" in text
    assert "1.02; cut" in text and "stretch it straight to 1.00" in text


@pytest.mark.parametrize("claw", [0.8, 0.95, 1.15, 1.2])
@pytest.mark.parametrize("metal", ["18k-yellow", "platinum-950", "sterling-silver"])
def test_wire_is_drawn_as_hands_can(claw: float, metal: str, planned: Callable[..., Plan]) -> None:
    """The last stretch by lengths (volume kept): beyond what drawn metal bears it is annealed first; the rod is never a
    stub, and holds all that is cut from it."""
    made = planned(samples=0, head={"claw_mm": claw, "ring_mm": 0.85, "metal": metal})
    down = next(down for down in material(made).downs if down.drawn)
    bears = ALLOYS[metal].elongation_drawn
    size = None
    for one in down.drawn:
        size = one.passes[-1].size if one.passes else size
        assert size is not None and size >= one.size - 1e-9
        longer = (math.pi / 4 * size**2) / (math.pi / 4 * one.size**2) - 1
        assert one.anneal_before == (longer > bears + 1e-9)
        assert ("anneal and stretch" in down_text(down)) or not one.anneal_before
    rod = down.figures[0].value
    start = float(down.start.split()[-1])
    volume = sum(math.pi / 4 * one.size**2 * one.length for one in down.drawn)
    spare = down.figures[1].value * math.pi / 4 * down.drawn[-1].size ** 2
    assert rod >= 40 and math.pi / 4 * start**2 * rod >= volume + spare - 1e-6


def test_a_thick_rod_is_rolled_square_first(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, house=HouseRules(draw_from_mm=4.0))
    down = next(down for down in material(made).downs if down.drawn)
    assert down.square[0] == pytest.approx(4.0 * math.sqrt(math.pi) / 2), "a square of the same section"
    assert "rolled square to" in down_text(down)


def test_the_steps_of_a_repair(planned: Callable[..., Plan]) -> None:
    made = planned(
        samples=0,
        head={"style": "bought", "made_for_mm": 6.5},
        fit={"method": "inset", "slot": {"inside_mm": 4.0}},
        shank={"resized_from": {"system": "ISO", "value": "52"}},
    )
    text = " ".join(next(step.lines for step in work_steps(made) if step.name == "Fit head and shank"))
    assert "Old head out" in text and "put in a piece of 2.00 mm" in text
    smaller = planned(samples=0, shank={"resized_from": {"system": "ISO", "value": "57"}})
    assert "take out 3.00 mm" in " ".join(
        next(step.lines for step in work_steps(smaller) if step.name == "Fit head and shank")
    )
