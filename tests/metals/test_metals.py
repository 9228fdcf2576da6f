"""Metals: wire gauge, densities by the rule of mixtures, bending, and the order of joints."""

from __future__ import annotations

from collections.abc import Callable

import periodictable
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.metals.alloys import ALLOYS, GRADES
from yarvel.metals.bending import bend_strain
from yarvel.metals.elements import DENSITIES, mixture_density
from yarvel.metals.joints import Seam, groups, in_order, least_step_c
from yarvel.metals.wire import gauge_number
from yarvel.planning.plan import Plan


@pytest.mark.parametrize(
    ("gauge", "diameter"), [(0, 8.251), (10, 2.588), (18, 1.024), (20, 0.812), (24, 0.511), (36, 0.127)]
)
def test_gauge_numbers_of_astm_b258(gauge: int, diameter: float) -> None:
    """Published: ASTM B258, standard nominal diameters; the table's values quoted from memory."""
    assert float(gauge_number(diameter)) == pytest.approx(gauge, abs=0.02)


@pytest.mark.parametrize("element", list(DENSITIES))
def test_densities_of_elements_are_those_of_an_independent_library(element: str) -> None:
    """periodictable, a general-purpose library of element data."""
    assert DENSITIES[element] == pytest.approx(getattr(periodictable, element).density, rel=0.005)


@pytest.mark.parametrize("key", list(ALLOYS))
def test_densities_by_the_rule_of_mixtures(key: str) -> None:
    """Volumes add: 1/ρ = Σ w/ρ, elements' densities from periodictable. Alloys of one name differ, so within 3 %."""
    alloy = ALLOYS[key]
    assert sum(alloy.parts.values()) == pytest.approx(1)
    volume = sum(share / getattr(periodictable, element).density for element, share in alloy.parts.items())
    assert alloy.density == pytest.approx(1 / volume, rel=0.03)
    assert mixture_density(alloy.parts) == pytest.approx(1 / volume, rel=0.005)


@given(st.floats(0.1, 2), st.floats(0.2, 3))
def test_strain_is_that_of_the_outer_fibre(thickness: float, radius: float) -> None:
    """Outer arc over mid-line arc, less one."""
    middle = radius + thickness / 2
    assert float(bend_strain(thickness, radius)) == pytest.approx((radius + thickness) / middle - 1)


def test_every_solder_flows_below_the_grade_before() -> None:
    for alloy in ALLOYS.values():
        assert list(alloy.flow_c) == sorted(alloy.flow_c, reverse=True)
        assert [alloy.flow(grade) for grade in GRADES] == list(alloy.flow_c)


def test_hottest_first_and_the_lower_metal_decides() -> None:
    gold, silver = ALLOYS["18k-yellow"], ALLOYS["sterling-silver"]
    joints = in_order(
        [
            Seam(what="c", grade="easy", group="C", metals=(gold,)),
            Seam(what="a", grade="hard", group="A", metals=(gold,)),
            Seam(what="b", grade="medium", group="B", metals=(gold, silver)),
        ]
    )
    assert [joint.what for joint in joints] == ["a", "b", "c"]
    assert joints[1].flow_c == silver.flow("medium")
    assert [joint.order for joint in joints] == [1, 2, 3]
    assert least_step_c(joints) == pytest.approx(min(825 - 740, 740 - 715))
    assert least_step_c(joints[:1]) is None


def test_joints_of_a_ring_in_the_order_of_the_work(planned: Callable[..., Plan]) -> None:
    plan = planned(fit={"method": "inset"})
    names = [(joint.group, count) for joint, count in groups(plan.joints)]
    assert names == [
        ("upper-ring-seam", 1),
        ("lower-ring-seam", 1),
        ("claws-to-upper-ring", 4),
        ("claws-to-lower-ring", 4),
        ("shank-seam", 1),
        ("ends-to-head", 2),
    ]
    flows = [joint.flow_c for joint in plan.joints]
    assert flows == sorted(flows, reverse=True)
