"""Metal: what a route takes, gives back and files off adds up to the piece's bodies."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import assume, given

from tests.strategies import BUILT, jobs
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.operations.lot import MELT, SOLDER
from yarvel.planning.bodies import bodies, seating_of
from yarvel.planning.diagnostics.diagnostic import STOP
from yarvel.planning.job import FORMAT, Job, from_document
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import balances, given_back, taken
from yarvel.route.running import Route, route_of
from yarvel.shanks.band import Band
from yarvel.solids.bodies import FINE
from yarvel.solids.measure import volume_mm3
from yarvel.solids.shank import round_about

RULES = HouseRules()
PlanMaker = Callable[..., Plan]
WALL: dict[str, Any] = {"claw_mm": None, "notch_ratio": None}
BOUGHT: dict[str, Any] = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None}
PENDANT: dict[str, Any] = {"shank": None, "fit": {"method": "pendant", "height": None}}
PIECES: dict[str, dict[str, Any]] = {
    "two U-pieces, two rings, inset": {"fit": {"method": "inset"}},
    "a driven collet, sawn to claws": {
        "head": {**WALL, "style": "tapered-collet", "cut": "claws", "claws": 4},
        "fit": {"method": "inset"},
    },
    "Vs over a princess": {
        "stone": {"cut": "princess", "diameters_mm": None, "length_mm": 4.6, "width_mm": 4.5, "depth_mm": 3.2},
        "head": {"style": "v-claw", "claw_mm": None, "notch_ratio": 0.25},
    },
    "cast claws over a dome": {
        "stone": {
            "cut": "oval-cabochon",
            "species": "moonstone",
            "diameters_mm": None,
            "length_mm": 14.6,
            "width_mm": 10.9,
            "depth_mm": 6.2,
        },
        "head": {"style": "cast-claw", "claw_mm": 1.4, "notch_ratio": None, "metal": "sterling-silver"},
        "shank": {"metal": "sterling-silver", "width_mm": 4.0},
    },
    "a bought head, trimmed": {"head": {**BOUGHT, "trim_mm": 0.4}},
    "a tube let into split shoulders": {"head": {**WALL, "style": "tube"}, "fit": {"method": "split-shoulder"}},
    "claws to a point": {"fit": {"method": "basket-point"}},
    "a court ring that tapers": {"shank": {"profile": "court", "head_width_mm": 3.4, "head_thickness_mm": 1.6}},
    "a pendant on its ring": PENDANT,
    "platinum on gold": {"head": {"metal": "platinum-950"}},
}


def built(made: Plan) -> tuple[Plan, Route]:
    heavy = weighed(made)
    return heavy, route_of(heavy)


@pytest.mark.parametrize("name", PIECES)
def test_metal_adds_up_to_the_bodies(name: str, planned: PlanMaker) -> None:
    """Issue less offcuts less dust is what the closed bodies weigh, metal by metal; solder is in it."""
    made, route = built(planned(samples=0, **PIECES[name]))
    found = balances(route)
    wanted: dict[str, float] = {made.job.head.metal: made[FigureKey("head.mass")]}
    if made.job.shank is not None:
        wanted[made.job.shank.metal] = wanted.get(made.job.shank.metal, 0.0) + made[FigureKey("shank.mass")]
    assert set(found) == set(wanted)
    for metal, balance in found.items():
        assert balance.open == pytest.approx(0, abs=1e-9)
        assert balance.finished_g == pytest.approx(wanted[metal], abs=0.01)
        assert balance.issue_g > balance.finished_g and balance.back_g >= 0 and balance.filings_g > 0


@pytest.mark.parametrize("name", PIECES)
def test_dust_is_made_where_saw_and_file_are(name: str, planned: PlanMaker) -> None:
    _, route = built(planned(samples=0, **PIECES[name]))
    filed = {
        "cut-length", "fit-seam", "file-to-shape", "cut-grooves", "saw-off-stays", "offer-part", "cut-seat", "polish",
        "saw-gap", "fit-ends", "file-flat", "level-tops", "narrow-claws", "make-v-claw", "bevel-legs", "cast-part",
        "trim-base", "drill", "notch-shoulders",
    }  # fmt: skip
    for step in route.steps:
        assert all(grams >= 0 for grams in step.lost_g.values())
        assert not sum(step.lost_g.values()) or step.operation.kind.key in filed, step.operation.key
    polished = next(step for step in route.steps if step.operation.kind.key == "polish")
    total = sum(balance.finished_g for balance in balances(route).values())
    assert sum(polished.lost_g.values()) < 0.05 * total, "a wheel is no file: what it takes is a few per cent"


def test_stock_is_told_with_its_sections(planned: PlanMaker) -> None:
    """Worked out here: π/4·d²·l·ρ for wire, w·t·l·ρ for bar, ρ = 15.5 g/cm³ for 18k yellow."""
    made, route = built(planned(samples=0, head={"claw_mm": 1.0, "ring_mm": 0.9}, fit={"method": "inset"}))
    lots = {lot.piece: lot for lot in taken(route)}
    shank, us, ring = lots["Shank"], lots["Claws as U-pieces"], lots["Upper ring"]
    assert (shank.across_mm, shank.down_mm) == (2.8, 2.0)
    assert shank.length_mm == pytest.approx(made[FigureKey("shank.cut_length")])
    assert shank.grams == pytest.approx(2.8 * 2.0 * shank.length_mm * 15.5 / 1000)
    assert us.count == 2 and us.length_mm == pytest.approx(made[FigureKey("head.u_piece_length")] + 0.3)
    assert us.grams == pytest.approx(2 * 0.785398 * us.length_mm * 15.5 / 1000, rel=1e-5)
    assert ring.grams == pytest.approx(0.785398 * 0.81 * ring.length_mm * 15.5 / 1000, rel=1e-5)
    assert "rod of" in us.source and "square stock of" in shank.source
    assert [lot.piece for lot in given_back(route)] == ["Bottoms of the U's", "Piece sawn out with its seam"]


def test_ten_chips_of_solder_weigh_three_to_five_hundredths(planned: PlanMaker) -> None:
    """Common practice, no source: some 0.03 to 0.05 g for ten."""
    _, route = built(planned(samples=0, fit={"method": "inset"}))
    chips = [lot for lot in taken(route) if lot.form == SOLDER]
    assert len(chips) >= 4
    assert 0.03 <= 10 * sum(lot.grams for lot in chips) / sum(lot.count for lot in chips) <= 0.05


def test_a_melt_is_half_as_much_again_and_its_sprue_comes_back(planned: PlanMaker) -> None:
    _, route = built(planned(samples=0, **PIECES["cast claws over a dome"]))
    melt = next(lot for lot in taken(route) if lot.form == MELT)
    sprue = next(lot for lot in given_back(route) if lot.piece == "Sprue and button")
    assert sprue.grams / melt.grams == pytest.approx((1.5 - 1) / 1.5 - 0.01, abs=1e-6)


@pytest.mark.parametrize(("was", "change"), [("51", 3.0), ("57", -3.0)])
def test_of_a_ring_that_is_there_only_the_change_counts(was: str, change: float, planned: PlanMaker) -> None:
    """One ISO step is a millimetre of finger; three up or down are 3 · 2.8 · 2.0 mm³ of 15.5 g/cm³, and the solder."""
    resized = {"resized_from": {"system": "ISO", "value": was}}
    _, route = built(planned(samples=0, head=BOUGHT, shank=resized, fit={"method": "on-flat"}))
    head = next(lot for lot in taken(route) if lot.piece == "Bought head")
    found = balances(route)["18k-yellow"]
    solder = sum(lot.grams for lot in taken(route) if lot.form == SOLDER)
    band = 2.8 * 2.0 * change * 15.5 / 1000
    done = sum(part.volume_mm3 for name, part in route.done.parts.items() if name == "shank") * 15.5 / 1000
    assert done == pytest.approx(band + solder, abs=0.005)
    if change > 0:
        piece = next(lot for lot in taken(route) if lot.piece == "Piece for the size")
        assert piece.length_mm == pytest.approx(change + 0.3, abs=0.01)
        assert found.issue_g == pytest.approx(head.grams + piece.grams + solder)
    else:
        assert found.back_g == pytest.approx(-band - 2 * 0.25 * 2.8 * 2.0 * 15.5 / 1000, abs=0.005)


def test_a_new_head_in_an_old_slot_takes_the_head_and_solder_only(planned: PlanMaker) -> None:
    slot = {"method": "inset", "height": None, "slot": {"inside_mm": 4.6, "outside_mm": 4.9}}
    _, route = built(planned(samples=0, head=BOUGHT, fit=slot))
    assert {lot.piece.split(",")[0] for lot in taken(route)} == {"Bought head", "Solder"}


def test_the_document_tells_what_the_route_tells(planned: PlanMaker) -> None:
    made = weighed(planned(samples=0, head={"metal": "platinum-950"}, fit={"method": "inset"}))
    document = plan_document(made)
    balance = document["balance"]
    assert balance["issue_g"] == pytest.approx(sum(line["mass_g"] for line in document["stock"]))
    assert balance["filings_g"] == pytest.approx(sum(line["loss_g"] for line in document["route"]))
    assert balance["back_g"] == pytest.approx(sum(lot["mass_g"] for line in document["route"] for lot in line["gives"]))
    assert document["stock"] == [lot for line in document["route"] for lot in line["takes"]]
    rest = balance["issue_g"] - balance["finished_g"] - balance["back_g"] - balance["filings_g"]
    assert abs(rest) < 0.01
    assert [line["metal"] for line in document["balance_by_metal"]] == ["18k-yellow", "platinum-950"]
    for line in document["balance_by_metal"]:
        lots = [lot["mass_g"] for lot in document["stock"] if lot["metal"] == line["metal"]]
        assert line["issue_g"] == pytest.approx(sum(lots))


@BUILT
@given(jobs())
def test_metal_is_conserved_over_random_jobs(job: Job) -> None:
    made = plan(job, RULES, samples=0)
    assume(not any(call.level == STOP for call in made.diagnostics))
    assume((job.head.notch_ratio or 1.0) >= 0.15)  # a lip as thick as its wall has more metal in its mitred corners
    made, route = built(made)
    assume(not any(call.level == STOP for call in made.diagnostics))
    for metal, balance in balances(route).items():
        assert balance.open == pytest.approx(0, abs=1e-9)
        if job.ring_exists:
            continue
        wanted = made[FigureKey("head.mass")] if job.head.metal == metal else 0.0
        if job.shank is not None and job.shank.metal == metal:
            wanted += made[FigureKey("shank.mass")]  # with its little bezels, as they stand in the body
        assert balance.finished_g == pytest.approx(wanted, abs=0.01, rel=0.002), metal


@pytest.mark.parametrize("profile", ["flat", "half-round", "court"])
@pytest.mark.parametrize("tapers", [False, True])
def test_a_bands_volume_is_its_bodys(profile: str, tapers: bool, planned: PlanMaker) -> None:
    """Pappus against the closed body, which is made of flat faces: 1 % at most below."""
    wide = {"head_width_mm": 5.5, "head_thickness_mm": 1.4} if tapers else {}
    made = planned(samples=0, shank={"profile": profile, **wide}, fit={"method": "on-flat"})
    band, seating = made.band, seating_of(made)
    assert isinstance(band, Band) and seating is not None
    body = volume_mm3(round_about(seating, FINE))
    assert body == pytest.approx(band.volume_mm3, rel=2e-3) and bodies(made) is not None


def test_a_v_has_no_more_metal_than_its_strip() -> None:
    """Also over the corners of a very large stone, where legs reach farther than their strip is wide."""
    for length, width in ((9.0, 4.5), (44.0, 22.0)):
        stone = {"cut": "baguette", "length_mm": length, "width_mm": width}
        job = from_document({"format": FORMAT, "stone": stone, "head": {"notch_ratio": 0.22}})
        made, route = built(plan(job, RULES, samples=0))
        strips = [lot for step in route.steps for lot in step.operation.takes if lot.piece == "Vs"]
        assert sum(lot.volume_mm3 for lot in strips) >= made.volumes["claws"]
        (balance,) = balances(route).values()
        assert balance.finished_g == pytest.approx(made[FigureKey("head.mass")], rel=0.002)


def test_a_collet_has_no_more_metal_than_its_tube() -> None:
    """Its rim closes over a thick girdle."""
    stone = {"cut": "round", "species": "ruby", "diameters_mm": [12.93], "girdle_mm": 0.83}
    made, route = built(
        plan(from_document({"format": FORMAT, "stone": stone, "head": {"style": "tapered-collet"}}), RULES)
    )
    (balance,) = balances(route).values()
    assert balance.finished_g == pytest.approx(made[FigureKey("head.mass")], rel=0.002) and balance.open < 1e-9
