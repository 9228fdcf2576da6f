"""Plans: what must hold for every job that the fields allow, and the calls one by one."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from msgspec.structs import asdict

from tests.conftest import job_with
from tests.strategies import jobs
from tests.told import parts, said
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning import sampling
from yarvel.planning.compute import compute
from yarvel.planning.diagnostics.diagnostic import LEVELS, OK, Diagnostic
from yarvel.planning.job import Job, from_document, merge_patch, to_document
from yarvel.planning.plan import Plan, plan
from yarvel.route.checks import checks

RULES = HouseRules()


@given(jobs())
def test_every_possible_job_has_a_whole_plan(job: Job) -> None:
    made = plan(job, RULES, samples=60)
    for figure in made.figures.values():
        assert math.isfinite(figure.value), figure.key
        assert math.isfinite(figure.plus_minus), figure.key
        assert figure.plus_minus >= 0
    assert FigureKey("head.mass") not in made.figures, "masses are those of the bodies"
    assert made[FigureKey("head.inner_opening")] > 0
    assert [LEVELS.index(call.level) for call in made.diagnostics] == sorted(
        LEVELS.index(call.level) for call in made.diagnostics
    )
    assert all((call.remedy is None) == (not call.remedy_label) for call in made.diagnostics)
    assert [joint.order for joint in made.joints] == list(range(1, len(made.joints) + 1))
    assert len(checks(made)) >= 5
    names = list(parts(made))
    assert names[-4:] == ["seat", "set", "finish", "release"]
    assert (made.band is not None) <= ("fit" in names)


@given(jobs())
def test_remedies_are_jobs_too_and_settle_their_call(job: Job) -> None:
    for call in plan(job, RULES, samples=0).diagnostics:
        if call.remedy is None:
            continue
        try:
            after = plan(from_document(merge_patch(to_document(job), call.remedy)), RULES, samples=0)
        except JobError as error:
            pytest.fail(f"{call.code}: its remedy is refused: {error}")
        then = next((other for other in after.diagnostics if other.code == call.code), None)
        better = then is None or LEVELS.index(then.level) > LEVELS.index(call.level)
        nearer = (
            then is not None
            and call.figure is not None
            and then.figure is not None
            and call.limit is not None
            and abs(then.figure - call.limit) < abs(call.figure - call.limit) + 1e-6
        )
        assert better or nearer, f"{call.code} {call.level} {call.figure} → {then}"


@given(jobs())
def test_arrays_of_samples_and_single_plans_agree(job: Job) -> None:
    readings = sampling.sampled(job.stone, RULES, 5)
    mean = job.stone.across_mm
    made = compute(job, RULES, sampling.nominal(job.stone), mean).shape
    many = compute(job, RULES, readings, mean, made).ledger.entries
    for place in range(5):

        def one(value: Any, place: int = place) -> Any:
            return value if value is None or np.ndim(value) == 0 else float(value[place])

        single = sampling.Readings(
            **{
                name: tuple(one(each) for each in value) if name == "diameters_mm" else one(value)
                for name, value in asdict(readings).items()
            }
        )
        for key, entry in compute(job, RULES, single, mean, made).ledger.entries.items():
            wire = any(
                word in key.key
                for word in ("wire_length", "ring_cut_length", "former", "ring_turn", "ring_mitre", "volume", "mass")
            )
            near = 5e-2 if wire else 1e-6  # an edge that a ring's offset swallows is that of the mean
            assert one(np.broadcast_to(many[key].value, (5,))) == pytest.approx(
                float(entry.value), rel=near, abs=1e-7
            ), key


def test_samples_are_even_and_always_the_same() -> None:
    job = job_with(stone={"resolution_mm": 0.1})
    first, again = (sampling.sampled(job.stone, RULES, 2000) for _ in range(2))
    assert np.array_equal(first.diameters_mm[0], again.diameters_mm[0])
    off = np.asarray(first.diameters_mm[0]) - 6.5
    assert np.abs(off).max() <= 0.1
    assert abs(off.mean()) < 0.0005
    assert np.histogram(off, 10)[0].std() < 10
    assert abs(np.corrcoef(first.diameters_mm[0], first.depth_mm)[0, 1]) < 0.05


def called(plan: Plan, code: str) -> Diagnostic:
    return next(call for call in plan.diagnostics if call.code == code)


BOUGHT = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None}
# Each call: parts that bring it about, the level, and whether it offers a change.
CALLS: list[tuple[str, str, bool, dict[str, Any]]] = [
    ("notch-too-deep", "stop", True, {"head": {"notch_ratio": 0.55}}),
    ("notch-too-deep", "caution", True, {"head": {"notch_ratio": 0.45}}),
    ("notch-too-shallow", "stop", True, {"head": {"notch_ratio": 0.15}}),
    ("claw-too-thin", "caution", True, {"head": {"claw_mm": 0.6}}),
    (
        "claws-crowd",
        "caution",
        True,
        {"head": {"claws": 8, "claw_mm": 1.4}, "stone": {"diameters_mm": [4.4], "depth_mm": None}},
    ),
    ("ring-shows-from-above", "caution", True, {"head": {"splay_deg": 0, "notch_ratio": 0.2}}),
    ("culet-reaches-finger", "stop", True, {"fit": {"method": "inset", "height": 2.6}}),
    ("culet-reaches-finger", "caution", True, {"fit": {"method": "inset", "height": 2.87}}),
    ("pavilion-touches-gallery", "caution", True, {"head": {"ring_drop_mm": 0.2, "ring_mm": 1.2, "splay_deg": 30}}),
    ("wall-too-low", "stop", True, {"head": {"style": "tube", "height_mm": 3.0}}),
    ("out-of-round", "caution", False, {"stone": {"diameters_mm": [6.3, 6.6]}}),
    ("weight-mismatch", "caution", False, {"stone": {"declared_ct": 1.8}}),
    ("proportions-disagree", "caution", True, {"stone": {"crown_height_mm": 1.2, "pavilion_depth_mm": 2.9}}),
    ("claw-loss", "note", True, {}),
    ("claw-loss", "ok", False, {"head": {"claws": 6}}),
    ("band-thinned", "stop", True, {"shank": {"thickness_mm": 0.8}, "head": {"splay_deg": 0}}),
    ("band-over-seat", "stop", True, {"fit": {"method": "inset", "height": 3.2}, "shank": {"thickness_mm": 4.5}}),
    ("size-changes-if-sprung", "ok", False, {"fit": {"method": "inset"}}),
    ("anneal-before-sawing", "ok", False, {"fit": {"method": "inset"}}),
    ("anneal-before-bending", "ok", False, {}),
    ("anneal-before-bending", "note", False, {"head": BOUGHT, "shank": None, "fit": None}),
    ("anneal-before-bending", "caution", False, {"head": {"claw_mm": 1.9, "metal": "palladium-950"}}),
    ("solder-order", "ok", False, {}),
    ("remove-stone-before-heat", "ok", False, {"stone": {"species": "opal"}}),
    (
        "remove-stone-before-heat",
        "note",
        False,
        {"stone": {"species": "opal"}, "shank": {"resized_from": {"system": "ISO", "value": "52"}}},
    ),
    ("soft-stone", "caution", False, {"stone": {"species": "opal"}}),
    ("bur-between-sizes", "ok", False, {"stone": {"diameters_mm": [6.38], "depth_mm": None}}),
    ("bur-between-sizes", "ok", False, {"stone": {"diameters_mm": [6.5], "depth_mm": None}}),
    ("mind-cleavage", "ok", False, {"stone": {"species": "topaz"}}),
    ("mind-cleavage", "ok", False, {"stone": {"species": "spinel"}}),
    ("wheel-against-stone", "ok", False, {"stone": {"species": "ruby"}}),
    ("wheel-against-stone", "ok", False, {"stone": {"species": "quartz"}}),
    ("bur-angle-gap", "ok", False, {"head": {"notch_ratio": 0.3}}),
    ("bur-angle-gap", "note", False, {"head": {"notch_ratio": 0.45, "claw_mm": 1.2}}),
    ("wide-band-size", "note", True, {"shank": {"width_mm": 7.0}}),
    ("wide-band-size", "ok", False, {"shank": {"width_mm": 7.0, "size": {"eased_for_width": True}}}),
    ("top-heavy", "note", True, {"fit": {"height": 9}}),
]


@pytest.mark.parametrize(("code", "level", "remedied", "parts"), CALLS)
def test_calls(code: str, level: str, remedied: bool, parts: dict[str, Any], planned: Callable[..., Plan]) -> None:
    call = called(planned(samples=0, **parts), code)
    assert (call.level, call.remedy is not None) == (level, remedied)
    if call.figure is not None and call.limit is not None and code not in ("size-changes-if-sprung",):
        assert math.isfinite(call.figure)
    if remedied:
        after = planned(samples=0, **merge_patch(parts, call.remedy or {}))
        assert all(other.level in (OK, "note") for other in after.diagnostics if other.code == code)


@pytest.mark.parametrize("metal", ["18k-yellow", "18k-white", "9k-yellow", "sterling-silver", "platinum-950"])
@pytest.mark.parametrize("across", [4.4, 5.3, 6.2, 7.3])
@pytest.mark.parametrize("method", ["on-flat", "inset"])
def test_a_usual_sound_piece_is_quiet(metal: str, across: float, method: str, planned: Callable[..., Plan]) -> None:
    """Defaults, common sizes, every kind of metal: at most two open calls, notes included; what always holds is told by
    the step that it belongs to."""
    made = planned(
        samples=0,
        stone={"diameters_mm": [across], "depth_mm": round(0.61 * across, 2)},
        head={"claw_mm": None, "metal": metal},
        shank={"metal": metal},
        fit={"method": method},
    )
    opened = [call.code for call in made.diagnostics if call.level != OK]
    foot = (
        {"foot-cut-by-finger"} if method == "inset" else set()
    )  # where the finger cuts the foot, the piece is not sound
    assert len(set(opened) - foot) <= 2, opened


def test_what_is_no_call_any_more_stands_at_its_step(planned: Callable[..., Plan]) -> None:
    made = planned(
        samples=0, stone={"species": "topaz", "diameters_mm": [6.38], "depth_mm": None}, fit={"method": "inset"}
    )
    whole = said(made)
    assert whole.index("Anneal: rolled hard, it cracks on its outside") < whole.index("Bend it round")
    assert whole.index("Shank seam. Hard solder") < whole.index("Saw the whole piece"), "closed before it is sawn"
    assert "Scribe" in said(made, "fit") and "whole piece out" in said(made, "fit")
    assert "Countersink the upper ring" in said(made, "head")
    assert "push the last 0.09 mm towards each claw" in said(made, "seat")
    assert "Topaz cleaves: light pressure" in said(made, "set")
    assert "All joints before the topaz" in said(made, "shank")
    assert "Wheels beside the topaz: the finest rubber only" in said(made, "finish")


def test_all_that_was_examined_is_there(planned: Callable[..., Plan]) -> None:
    codes = {call.code for call in planned(fit={"method": "inset"}).diagnostics}
    assert codes >= {
        "notch-too-deep",
        "notch-too-shallow",
        "claw-too-thin",
        "ring-shows-from-above",
        "culet-reaches-finger",
        "pavilion-touches-gallery",
        "weight-mismatch",
        "open-arc",
        "claw-loss",
        "size-changes-if-sprung",
        "anneal-before-sawing",
        "anneal-before-bending",
        "solder-order",
        "remove-stone-before-heat",
        "soft-stone",
        "bur-between-sizes",
        "wide-band-size",
    }


def test_solders_that_flow_too_close_are_called(planned: Callable[..., Plan]) -> None:
    house = HouseRules(solder_step_c=60)
    call = called(planned(house=house), "solder-order")
    assert (call.level, call.figure, call.limit) == ("caution", 45, 60)


def test_wide_band_asks_for_a_quarter_to_a_half_us_size_more(planned: Callable[..., Plan]) -> None:
    """Common practice: ¼ to ½ US size."""
    for system, value in (("ISO", "54"), ("US", "6"), ("UK", "M"), ("JP", "12"), ("CH", "13"), ("mm", "17")):
        parts = {"shank": {"width_mm": 7.0, "size": {"system": system, "value": value}}}
        before = planned(samples=0, **parts)
        call = called(before, "wide-band-size")
        assert call.remedy is not None
        after = planned(samples=0, **merge_patch(parts, call.remedy))
        steps = (after[FigureKey("shank.inside_diameter")] - before[FigureKey("shank.inside_diameter")]) / 0.8128
        assert 0.24 <= steps <= 0.51, system


@pytest.mark.parametrize(
    ("step", "words"),
    [
        (
            "shank",
            (
                "stays hot",
                "gas checked",
                "eyes covered",
                "hair and sleeves",
                "acid into water",
                "copper or plastic",
                "plates copper",
                "fluoride",
            ),
        ),
        ("solder", ("Laser: closed, or with the eyewear of its class",)),
        ("stock", ("silica", "eyes covered")),
        ("seat", ("Burs", "let the bur stop")),
        ("finish", ("extraction",)),
        ("set", ("slipping tool",)),
    ],
)
def test_every_hazard_of_the_handbook_is_told_at_its_step(
    planned: Callable[..., Plan], step: str, words: tuple[str, ...]
) -> None:
    """The handbook's list of safety, section 9, over a cabochon in cast claws."""
    made = planned(
        stone={"cut": "round-cabochon", "diameters_mm": [7.0], "depth_mm": 3.4},
        head={"style": "cast-claw", "orientation": None},
    )
    found = parts(made)
    for word in words:
        assert word in found[step].caution, word
    assert all("silica" not in section.caution for section in parts(planned()).values()), "nothing is cast for a basket"


def test_a_hazard_is_told_where_its_cause_is_in_the_work(planned: Callable[..., Plan]) -> None:
    """Old solder in a ring that is there, nickel in an alloy that holds it, a bath for what is often plated; of none of
    them in new yellow gold or silver. Common practice."""

    def told(**more: dict[str, object]) -> str:
        return " ".join(section.caution for section in parts(planned(samples=0, **more)).values())

    words = ("cadmium", "allergy", "Plating baths")
    silver = {"metal": "sterling-silver"}
    for new in (told(), told(head=silver, shank=silver)):
        assert not any(word in new for word in words) and "acid into water" in new
    assert "cadmium" in told(shank={"exists": True}, fit={"method": "on-flat"})
    white = told(head={"metal": "18k-white-nickel"})
    assert "allergy" in white and "Plating baths" in white and "cadmium" not in white
    palladium = told(head={"metal": "18k-white"})
    assert "allergy" not in palladium and "Plating baths" in palladium


def test_a_dome_is_told_of_without_table_girdle_or_crown(planned: Callable[..., Plan]) -> None:
    """A cabochon has an edge, a base and a dome (common practice): no step tells of what it has not."""
    dome = {"cut": "round-cabochon", "diameters_mm": [7.0], "depth_mm": 3.4}
    for head in ({"style": "cast-claw", "orientation": None}, {}):
        made = planned(samples=0, stone=dome, head=head)
        said = " ".join(line.text for section in parts(made).values() for line in section.lines)
        assert re.findall(r".{30}\b(?:crown|culet|girdle|table level)\b.{10}", said) == []
        assert "the edge down all round" in said
        assert not any(check.text.startswith("Culet") for check in checks(made))


def test_cautions_stand_where_they_are_first_needed_once(planned: Callable[..., Plan]) -> None:
    told = [section.caution for section in parts(planned(samples=0, fit={"method": "inset"})).values()]
    for words in ("acid into water", "eye protection", "extraction on", "slipping tool", "work clamped"):
        assert sum(words in caution for caution in told) == 1, words


def test_the_stones_own_cleaning_stands_at_the_finish(planned: Callable[..., Plan]) -> None:
    """Common practice and memory: the species table."""

    def told(species: str) -> str:
        return said(planned(samples=0, stone={"species": species}), "finish")

    assert "With the opal in: pickle never, ultrasonic never, steam never." in told("opal")
    assert "With the chrysoberyl in: pickle is borne, ultrasonic is borne, steam is borne." in told("chrysoberyl")
