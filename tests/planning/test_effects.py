"""Fields that would do nothing: refused in a job file, dropped by the window, left behind in what is written out."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given

from tests.strategies import jobs
from yarvel.cli import main
from yarvel.desk.session.edits import method_patch, rings_patch, style_patch
from yarvel.exchange.job_file import checked_job
from yarvel.figures.rules import HouseRules
from yarvel.heads.styles import STYLES
from yarvel.planning.effects import effective, without_effect
from yarvel.planning.job import Job, merge_patch, to_document
from yarvel.shanks.methods import METHODS

RULES = HouseRules()
RING: dict[str, Any] = {
    "format": "yarvel-job/1",
    "stone": {"cut": "round", "species": "zircon", "diameters_mm": [5.46, 5.5]},
    "head": {"style": "wire-basket", "claws": 4},
    "shank": {"size": {"system": "ISO", "value": "54"}, "width_mm": 2.7},
}


@pytest.mark.parametrize(
    ("patch", "path"),
    [
        ({"head": {"wall_mm": 0.6}}, "head.wall_mm"),
        ({"head": {"seated": True}}, "head.seated"),
        ({"head": {"included_angle_deg": 17}}, "head.included_angle_deg"),
        ({"head": {"style": "tube", "claws": None, "claw_mm": 1.0}}, "head.claw_mm"),
        ({"head": {"rings": 1, "ring_lift_mm": 0.4}}, "head.ring_lift_mm"),
        ({"head": {"peg_mm": 1.0}}, "head.peg_mm"),
        ({"head": {"ring_section": "square", "ring_high_mm": 1.2}}, "head.ring_high_mm"),
        ({"head": {"rings": 0, "ring_high_mm": 1.2}}, "head.ring_high_mm"),
        ({"fit": {"method": "inset", "below_ring_mm": 6.0}}, "fit.below_ring_mm"),
        ({"fit": {"method": "on-flat", "split_mm": 5.0}}, "fit.split_mm"),
        ({"fit": {"method": "on-flat", "hole": "through"}}, "fit.hole"),
        ({"fit": {"method": "on-flat", "bail": {"wire_mm": 0.8}}}, "fit.bail"),
        ({"head": {"rings": 1}, "fit": {"method": "basket-point", "height": 8.0}}, "fit.height"),
        ({"shank": None, "fit": {"method": "pendant", "height": 8.0}}, "fit.height"),
    ],
)
def test_a_job_file_with_a_field_that_does_nothing_is_refused(
    patch: dict[str, Any], path: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "job.json"
    file.write_text(json.dumps(merge_patch(RING, patch)))
    assert main(["plan", str(file)]) == 2
    told = capsys.readouterr()
    assert told.out == "" and [line.split(": ")[0] for line in told.err.splitlines()] == [path]
    checked_job(merge_patch(RING, patch), RULES)  # a docket that holds it still opens


@given(jobs())
def test_without_them_nothing_is_left_to_refuse(job: Job) -> None:
    assert without_effect(effective(job)) == []


@given(jobs())
def test_a_change_of_style_fit_or_rings_leaves_nothing_behind(job: Job) -> None:
    """Whatever the window is changed to, the job that it holds could be read from a file."""
    document = to_document(effective(job))
    for style in STYLES:
        changed = merge_patch(document, style_patch(document, style))
        assert not [key for key in changed["head"] if key in document["head"] and f"head.{key}" in unread(changed)]
    if job.shank is not None:
        for method in METHODS:
            assert not unread(merge_patch(document, method_patch(document, method)))
    if "rings" in STYLES[job.head.style].FIELDS:
        assert not unread(merge_patch(document, rings_patch(document, 1)))


def unread(document: dict[str, Any]) -> list[str]:
    """Paths of the fields that do nothing; none where it could not be a job at all."""
    from yarvel.planning.job import from_document

    return [problem.path for problem in without_effect(from_document(document))]
