"""What a job of another cut may not be: each refusal says where, what, and what is accepted."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import BASE, job_with
from tests.strategies import stones
from yarvel.desk.session.edits import cut_patch
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads.styles import styles_for
from yarvel.planning.checking import check
from yarvel.planning.job import from_document, is_measured, merge_patch, stand_in, usual_claws_of
from yarvel.stones.cuts import CUTS

RULES = HouseRules()
OVAL: dict[str, Any] = {"cut": "oval", "diameters_mm": None, "depth_mm": None, "length_mm": 8.0, "width_mm": 6.0}


@pytest.mark.parametrize(
    ("parts", "told"),
    [
        ({"stone": {"cut": "oval"}}, "stone.diameters_mm: not a measure of the oval brilliant: length_mm, width_mm"),
        ({"stone": {**OVAL, "width_mm": None}}, "stone.width_mm: missing: a measure of the oval brilliant in mm"),
        ({"stone": {"length_mm": 7.0}}, "stone.length_mm: not a measure of the round brilliant: diameters_mm"),
        (
            {"stone": {**OVAL, "length_mm": 5.0}},
            "stone.length_mm: 5 mm does not go with a width of 6 mm for this cut: 6.00 to",
        ),
        ({"stone": {**OVAL, "corner_mm": 1.0}}, "stone.corner_mm: not a measure of the oval brilliant"),
        (
            {"stone": {**OVAL, "cut": "emerald", "corner_mm": 5.0}},
            "stone.corner_mm: 5 mm does not go with a width of 6 mm",
        ),
        (
            {"stone": {**OVAL, "cut": "tapered-baguette", "narrow_width_mm": 6.5}},
            "stone.narrow_width_mm: 6.5 mm does not go with a width of 6 mm: 1.80 to 5.82 mm",
        ),
        (
            {"stone": {**OVAL, "cut": "oval-cabochon", "table_percent": 60}},
            "stone.table_percent: a cabochon has no table",
        ),
        ({"stone": {**OVAL, "depth_mm": 6.5}}, "stone.depth_mm: 6.5 mm is more than the stone is wide, 6 mm"),
        (
            {"stone": OVAL, "head": {"style": "v-claw"}},
            "head.style: v-claws: not for the oval brilliant: one of wire-basket",
        ),
        ({"head": {"style": "cast-claw"}}, "head.style: cast claws: not for the round brilliant"),
        (
            {"stone": {**OVAL, "cut": "princess", "length_mm": 6.0}, "head": {"claws": 3}},
            "head.claws: 3 claws leave a point of the stone uncovered: a whole number, 4 to 8",
        ),
        (
            {"head": {"claws": 4, "claw_places_deg": [0, 90, 180]}},
            "head.claw_places_deg: 3 places for 4 claws: a list of 4",
        ),
        (
            {"head": {"claws": None, "claw_places_deg": [0, 90, 180, 184]}},
            "head.claw_places_deg: two claws in one place",
        ),
        ({"head": {"school": "glue"}}, "head.school: unknown school 'glue': one of fold, tabs"),
        (
            {"head": {"stone_axis": "askew"}},
            "head.stone_axis: unknown stone_axis 'askew': one of along-finger, along-band",
        ),
        (
            {"shank": {"shoulder": {"setting": "pave"}}},
            "shank.shoulder.setting: unknown setting 'pave': one of flush, bezel",
        ),
    ],
)
def test_a_refusal_says_where_what_and_what_is_accepted(parts: dict[str, Any], told: str) -> None:
    with pytest.raises(JobError) as refused:
        check(job_with(**parts), RULES)
    assert told in str(refused.value)


@given(st.data())
def test_changing_the_cut_leaves_a_job_that_can_be(data: st.DataObject) -> None:
    """From any cut to any other: what is left is accepted as soon as the stone is measured again."""
    before, after = (CUTS[data.draw(st.sampled_from(tuple(CUTS)))] for _ in range(2))
    stone = {name: value for name, value in data.draw(stones(before)).items() if value is not None}
    style = data.draw(st.sampled_from(styles_for(before)))
    document = merge_patch(
        BASE,
        {
            "stone": {"diameters_mm": None, **stone, "depth_mm": None, "girdle_mm": None},
            "head": {"style": style, "claw_mm": None, "notch_ratio": None, "claws": None},
        },
    )
    changed = merge_patch(document, cut_patch(document, after.key))
    assert changed["head"]["style"] in styles_for(after)
    if not is_measured(changed["stone"]):
        width = changed["stone"].get("width_mm", 6.0)
        changed = merge_patch(
            changed,
            {
                "stone": {
                    key: value
                    for key, value in stand_in({"cut": after.key, "width_mm": width}).items()
                    if key in after.fields
                }
            },
        )
    for name in ("corner_mm", "narrow_width_mm"):
        changed["stone"].pop(name, None)
    check(from_document(changed), RULES)


@pytest.mark.parametrize("key", CUTS)
def test_a_stone_not_measured_yet_has_a_stand_in_of_its_cut(key: str) -> None:
    assert not is_measured({"cut": key})
    whole = {"cut": key, **stand_in({"cut": key})}
    assert is_measured(whole)
    check(from_document({"format": "yarvel-job/1", "stone": whole}), RULES)


def test_claws_left_out_are_those_usual_for_the_cut() -> None:
    """Common practice: three points, three claws; a heart and a pear have one on the point and four that hold it."""

    def usual(**stone: Any) -> int:
        return usual_claws_of(job_with(stone=stone, head={"claws": None}))

    assert (usual(), usual(cut="trillion"), usual(cut="pear"), usual(cut="heart"), usual(cut="marquise")) == (
        4,
        3,
        5,
        5,
        6,
    )
    assert usual_claws_of(job_with(head={"claws": None, "claw_places_deg": [0, 70, 140, 210, 280]})) == 5
