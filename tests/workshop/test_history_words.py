"""What a history says of a claw chart and of a job: words and units, never the keys of a format."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from yarvel.shanks.methods import METHODS
from yarvel.workshop.dockets.history_words import told
from yarvel.workshop.dockets.records import Change


def said(before: dict[str, Any], after: dict[str, Any], claws: tuple[int, ...] = ()) -> str:
    return told(Change(datetime(2031, 5, 6, 9, tzinfo=UTC), "claw_chart", before, after), claws)


def test_a_claw_chart_is_told_claw_by_claw() -> None:
    sound = {"finding": "sound"}
    worn = {"finding": "worn-tip", "tip": 0.33}
    both = {"finding": "worn-tip", "also": ["bent"], "tip": 0.3}
    assert said({}, {"claws": [worn, sound, sound, sound]}, (1, 4, 3, 2)) == "claw 1: worn tip and tip 0.33 mm"
    turned = said({"claws": [worn, sound]}, {"claws": [both, {"finding": "missing"}]}, (2, 1))
    assert turned == "claw 2: worn tip and tip 0.33 mm → worn tip and bent and tip 0.3 mm, claw 1: missing"
    assert said({"claws": [worn]}, {"claws": [sound]}) == "one claw: worn tip and tip 0.33 mm → sound"


def test_a_way_and_its_cause_are_told_by_their_names() -> None:
    line = said({"cause": "worn"}, {"chosen": "new-head-bought", "cause": "head-too-small", "minutes": 147.5})
    assert line == "chosen: new head from the drawer, cause: worn tips → head too small for its stone, minutes: 147.5"


def test_what_changed_of_a_job_is_read_with_its_units() -> None:
    before = {"stone": {"diameters_mm": [7.1, 7.2], "depth_mm": None}, "head": {"splay_deg": 12, "notched": False}}
    after = {"stone": {"diameters_mm": [7.1, 7.3], "depth_mm": 4.4}, "head": {"splay_deg": None, "notched": True}}
    change = Change(datetime(2031, 5, 6, 9, tzinfo=UTC), "job", before, after)
    assert told(change).split(", ") == [
        "stone diameters: 7.1 × 7.2 → 7.1 × 7.3 mm",
        "stone depth: 4.4 mm",
        "head splay: 12 → taken away",
        "head notched: no → yes",
    ]


def test_choices_of_a_job_are_told_by_their_names() -> None:
    """What the format calls by a key is told as people call it; what is a workshop's own is its own name."""
    before = {"fit": {"method": "inset"}, "head": {"metal": "9k-yellow"}, "shank": {"size": {"system": "ISO"}}}
    after = {"fit": {"method": "on-flat"}, "head": {"metal": "our-own"}, "shank": {"size": {"system": "mm"}}}
    line = told(Change(datetime(2031, 5, 6, 9, tzinfo=UTC), "job", before, after))
    for key in ("on-flat", "9k-yellow"):
        assert key not in line
    assert METHODS["on-flat"].LABEL.lower() in line.lower()
    assert "9k yellow gold → our-own" in line and "ISO → inside" in line
