"""Alloys and species of the workshop's own: kept as they were put in, refused where they cannot be."""

from __future__ import annotations

import re
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.conftest import BASE
from yarvel.exchange.job_file import accepted, checked_job
from yarvel.exchange.job_file import schema as job_schema
from yarvel.figures.custom import TREATMENT, CustomAlloy, CustomSpecies, own_key
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules, WorkshopData, changed_rules, rules_from
from yarvel.metals.alloys import ALLOYS, HOUSE, alloy_of, alloys_of, head_mass_g
from yarvel.metals.elements import DENSITIES, mixture_density, shares_of
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import HEAD_VOLUME, plan
from yarvel.planning.weighing import weighed
from yarvel.stones import weight
from yarvel.stones.species import SPECIES, species_named

GREEN = CustomAlloy("own-green-gold", "Green gold", "18k-yellow", (("Ag", 0.25), ("Au", 0.75)))
BENITOITE = CustomSpecies(
    key="own-benitoite", label="Benitoite", hardness=6.25, gravity=3.65, acid="care", note="no cleavage to speak of"
)
RULES = HouseRules(custom=WorkshopData(metals=(GREEN,), species=(BENITOITE,)))


def job_with(stone: dict[str, Any] | None = None, head: dict[str, Any] | None = None) -> dict[str, Any]:
    return merge_patch(BASE, {"stone": stone or {}, "head": head or {}})


names = st.text(st.characters(codec="utf-8", exclude_categories=("C",)), min_size=1, max_size=40).filter(str.strip)
shares = st.dictionaries(st.sampled_from(sorted(DENSITIES)), st.floats(0.01, 1), min_size=1, max_size=5)


@given(names, shares, st.sampled_from(sorted(ALLOYS)), st.floats(1, 10), st.floats(0.9, 8), st.sampled_from(TREATMENT))
def test_what_is_put_in_is_read_again(
    name: str, parts: dict[str, float], like: str, hardness: float, gravity: float, heat: str
) -> None:
    whole = sum(parts.values())
    metal = CustomAlloy(
        own_key(name, ALLOYS), name, like, tuple(sorted((key, part / whole) for key, part in parts.items()))
    )
    species = CustomSpecies(key=own_key(name, SPECIES), label=name, hardness=hardness, gravity=gravity, heat=heat)
    rules = HouseRules(custom=WorkshopData(metals=(metal,), species=(species,)))
    assert rules_from(changed_rules(rules)) == rules
    alloy = alloy_of(metal.key, rules)
    assert alloy.label == name and alloy.flow_c == ALLOYS[like].flow_c and alloy.origin == HOUSE
    densities = [DENSITIES[element] for element in parts]
    assert min(densities) - 0.01 <= alloy.density <= max(densities) + 0.01


def test_keys_of_the_same_name_differ() -> None:
    assert own_key("Green gold", ()) == "own-green-gold"
    assert own_key("Green  gold!", ("own-green-gold",)) == "own-green-gold-2"
    assert own_key("Ω", ()) == "own-one"


def test_a_suppliers_sheet_is_read_in_hundredths_or_thousandths() -> None:
    """750 ‰ gold and 250 ‰ silver are 15.9 g/cm³ by the rule of mixtures: 1/(0.75/19.3 + 0.25/10.5)."""
    assert shares_of("Au 75, Ag 25") == shares_of("Au750 Ag: 250") == {"Au": 0.75, "Ag": 0.25}
    assert mixture_density(shares_of("Au 75; Ag 25")) == pytest.approx(1 / (0.75 / 19.3 + 0.25 / 10.5))
    assert shares_of("Au 58,5 Ag 41,5") == pytest.approx({"Au": 0.585, "Ag": 0.415})


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "an element and a number"),
        ("gold 75", "an element and a number"),
        ("Au 75", "they make up 75"),
        ("Au 50, Au 50", "twice"),
        ("Xx 100", "nothing is known of Xx"),
        ("Au 75, Ag 25, and luck", "an element and a number"),
    ],
)
def test_parts_that_are_none_are_refused(text: str, told: str) -> None:
    with pytest.raises(ValueError, match=told):
        shares_of(text)


@pytest.mark.parametrize(
    ("held", "place"),
    [
        ({"metals": {"green": {"label": "Green", "like": "18k-yellow", "parts": {"Au": 1}}}}, "rules.metals.green"),
        ({"metals": {"own-g": {"label": " ", "like": "18k-yellow", "parts": {"Au": 1}}}}, "rules.metals.own-g.label"),
        ({"metals": {"own-g": {"label": "G", "like": "18k-yellow", "parts": {"Au": 0.9}}}}, "rules.metals.own-g.parts"),
        ({"metals": {"own-g": {"label": "G", "like": "18k-yellow", "parts": {"Au": "x"}}}}, "rules.metals.own-g.parts"),
        ({"metals": {"own-g": None}}, "rules.metals.own-g.label"),
        ({"species": {"own-b": {"label": "B", "hardness": 11, "gravity": 3}}}, "rules.species.own-b.hardness"),
        ({"species": {"own-b": {"label": "B", "hardness": 6, "gravity": True}}}, "rules.species.own-b.gravity"),
        (
            {"species": {"own-b": {"label": "B", "hardness": 6, "gravity": 3, "heat": "a bit"}}},
            "rules.species.own-b.heat",
        ),
        ({"species": {"own-b": {"label": "B", "hardness": 6, "gravity": 3, "colour": "blue"}}}, "rules.species.own-b"),
    ],
)
def test_what_cannot_be_is_refused_with_its_place(held: dict[str, Any], place: str) -> None:
    with pytest.raises(JobError) as caught:
        rules_from(held)
    assert caught.value.problems[0].path == place


@pytest.mark.parametrize(
    ("metal", "told"),
    [
        (replace(GREEN, parts=(("Xx", 1.0),)), "nothing is known of Xx"),
        (replace(GREEN, like="tin"), "unknown alloy 'tin'"),
    ],
)
def test_an_alloy_that_nothing_is_known_of_is_told(metal: CustomAlloy, told: str) -> None:
    with pytest.raises(JobError, match=told):
        alloys_of(HouseRules(custom=WorkshopData(metals=(metal,))))


def test_a_head_in_an_own_alloy_weighs_by_its_elements() -> None:
    """What the same head weighs in another metal goes as the densities: a fact of arithmetic."""
    made = weighed(plan(checked_job(job_with(head={"metal": GREEN.key}), RULES), RULES))
    usual = weighed(plan(checked_job(job_with(), RULES), RULES))
    density = alloy_of(GREEN.key, RULES).density
    assert density == pytest.approx(1 / (0.75 / 19.3 + 0.25 / 10.5), abs=0.006)
    assert made[head_mass_g] == pytest.approx(made[HEAD_VOLUME] * density / 1000)
    assert made[head_mass_g] / usual[head_mass_g] == pytest.approx(density / 15.5)
    assert {call.code: call.level for call in made.diagnostics}["alloy-density"] == "ok"


def test_an_own_species_weighs_and_is_warned_of() -> None:
    job = checked_job(job_with({"species": BENITOITE.key}), RULES)
    made, spinel = plan(job, RULES), plan(checked_job(job_with(), RULES), RULES)
    ratio = 3.65 / SPECIES["spinel"].gravity
    for key in (weight.WEIGHT_FORMULA, weight.weight_model_ct):
        assert made[key] == pytest.approx(spinel[key] * ratio)
    assert {call.code: call.level for call in made.diagnostics}["soft-stone"] != "ok"
    assert species_named(BENITOITE.key, RULES).heat == "never", "what is not known is never borne"


@pytest.mark.parametrize(
    ("document", "path"),
    [
        (job_with(head={"metal": "own-green-gold"}), "head.metal"),
        (job_with({"species": "own-benitoite"}), "stone.species"),
    ],
)
def test_another_workshop_is_told_what_it_does_not_know(document: dict[str, Any], path: str) -> None:
    with pytest.raises(JobError) as caught:
        checked_job(document, HouseRules())
    problem = caught.value.problems[0]
    known = "18k-yellow" if path == "head.metal" else "spinel"
    assert problem.path == path and "unknown" in problem.wrong and known in problem.accepted
    assert "the workshop's own" in accepted(path)


def test_the_schema_leaves_room_for_an_own_alloy() -> None:
    known, own = job_schema()["$defs"]["HeadJob"]["properties"]["metal"]["anyOf"]
    assert "18k-yellow" in known["enum"]
    assert re.match(own["pattern"], GREEN.key) and not any(re.match(own["pattern"], key) for key in ALLOYS)
