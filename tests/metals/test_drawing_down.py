"""Wire, rolling and bending: volume kept, anneals in time, common-practice values."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules, changed_rules, rules_from
from yarvel.metals.alloys import ALLOYS, HOUSE, alloy_of
from yarvel.metals.bending import (
    ANNEAL,
    AS_IT_IS,
    NOTCH_FIRST,
    TOO_THICK,
    band_strain,
    notch_strain,
    verdict,
    whole_strain,
)
from yarvel.metals.drawing_down import (
    PLATE_MM,
    holes,
    passes,
    rod_length_mm,
    roll_from_length_mm,
    rolled,
)


def test_rolling_two_and_a_half_square_to_sixty() -> None:
    """Handbook check value: 2.5 × 2.5 × 45 rolled to 60 has a mean section of 4.69, 2.17 square."""
    section = 2.5**2 * 45 / 60
    assert section == pytest.approx(4.69, abs=0.005)
    assert math.sqrt(section) == pytest.approx(2.17, abs=0.005)
    assert float(roll_from_length_mm(section, 60, 2.5)) == pytest.approx(45)


def test_a_usual_plate_takes_about_a_tenth_a_hole() -> None:
    """Common practice: about 10 % of the area a hole."""
    losses = [1 - (after / before) ** 2 for before, after in zip(PLATE_MM[:-1], PLATE_MM[1:], strict=True)]
    assert all(0.06 <= loss <= 0.15 for loss in losses)
    assert sum(losses) / len(losses) == pytest.approx(0.1, abs=0.01)


@given(st.floats(0.5, 1.9), st.floats(0.2, 0.6))
def test_wire_is_drawn_a_touch_over_and_annealed_in_time(wire: float, anneal: float) -> None:
    sizes = holes(2.5, wire, PLATE_MM, 1.03)
    assert sizes[0] == 2.5 and sizes == sorted(sizes, reverse=True)
    assert all(size >= wire - 1e-9 for size in sizes)
    made = passes(sizes, anneal, 2)
    assert all(one.worked <= max(anneal, one.loss) + 1e-9 for one in made)
    kept = math.prod(1 - one.loss for one in made)
    assert kept == pytest.approx((sizes[-1] / 2.5) ** 2)
    volume = math.pi / 4 * wire**2 * 900
    assert volume == pytest.approx(math.pi / 4 * 2.5**2 * float(rod_length_mm(volume, 2.5, 0.0)))
    assert float(rod_length_mm(volume, 2.5, 1e4)) == 1e4, "never a stub"


@given(st.floats(1.5, 6), st.floats(0.3, 0.95), st.floats(0.05, 0.2))
def test_rolling_ends_at_the_thickness_wanted(start: float, share: float, loss: float) -> None:
    sizes = rolled(start, start * share, loss)
    assert sizes[0] == start and sizes[-1] == pytest.approx(start * share)
    assert all(1 - after / before <= loss + 1e-9 for before, after in zip(sizes[:-1], sizes[1:], strict=True))


def test_the_workshops_own_plate_counts() -> None:
    assert holes(2.0, 1.0, (1.8, 1.5, 1.2, 1.02), 1.03) == [2.0, 1.8, 1.5, 1.2, 1.02]
    assert holes(2.0, 1.0, (1.5,), 1.03) == [2.0, 1.5]


def test_what_bends_and_what_is_notched_first() -> None:
    """The four verdicts, by strains on either side of what 18k yellow bears drawn (0.04) and annealed (0.38)."""
    gold = ALLOYS["18k-yellow"]
    assert verdict(0.03, 0.02, gold).verdict == AS_IT_IS
    assert verdict(0.2, 0.1, gold).verdict == ANNEAL
    assert verdict(0.42, 0.3, gold).verdict == NOTCH_FIRST
    assert verdict(0.6, 0.45, gold).verdict == TOO_THICK
    assert verdict(0.2, 0.1, gold, cast=True).verdict == AS_IT_IS


@given(st.floats(0.4, 3), st.floats(0.05, 0.9), st.floats(0.2, 3))
def test_a_notch_always_eases_the_bend(claw: float, share: float, radius: float) -> None:
    assert float(notch_strain(claw, share * claw, radius)) < float(whole_strain(claw, radius)) < 1


def test_a_band_rounds_up_on_its_outside() -> None:
    """Outer length over middle length, less one: a 2 mm blank round a rod of 17 mm."""
    assert float(band_strain(2.0, 17.0)) == pytest.approx((17 + 4) / (17 + 2) - 1)


def test_an_alloys_numbers_can_be_the_workshops_own() -> None:
    rules = rules_from({"alloys": {"18k-yellow": {"density": 15.2, "flow_medium_c": 770}}, "notch_target": 0.3})
    mine = alloy_of("18k-yellow", rules)
    assert (mine.density, mine.flow("medium"), mine.flow("hard"), mine.origin) == (15.2, 770, 825, HOUSE)
    assert alloy_of("platinum-950", rules) is ALLOYS["platinum-950"]
    assert rules_from(changed_rules(rules)) == rules
    assert changed_rules(HouseRules()) == {}


@pytest.mark.parametrize("wrong", [{"18k-yellow": {"density": 150}}, {"18k-yellow": {"colour": 3}}])
def test_an_impossible_number_is_refused_with_what_is_accepted(wrong: dict[str, dict[str, float]]) -> None:
    with pytest.raises(JobError) as caught:
        rules_from({"alloys": wrong})
    assert "4 to 23" in str(caught.value) or "density" in str(caught.value)
