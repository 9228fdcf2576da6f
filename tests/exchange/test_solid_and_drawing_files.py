"""STL, 3MF, SVG and DXF read back by libraries that did not write them."""

from __future__ import annotations

import json
import locale
import subprocess
import sys
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
import trimesh

from tests.conftest import BASE, job_with
from tests.patience import GIVE_UP_S
from yarvel.cli import main
from yarvel.drawing.painters.dxf import dxf_document
from yarvel.drawing.sheet import sheet
from yarvel.exchange.body_server import answer, report_from, unpacked
from yarvel.exchange.drawing_file import write_drawing
from yarvel.exchange.job_file import checked_job, job_text
from yarvel.exchange.solid_file import parted, write_solid
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.planning.bodies import bodies
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import plan

RULES = HouseRules()
EMERALD = {
    "stone": {"cut": "emerald", "diameters_mm": None, "length_mm": 8.2, "width_mm": 6.1},
    "head": {"style": "paired-corner", "claws": None, "claw_mm": 0.85},
    "fit": {"method": "inset"},
}
MADE = plan(job_with(**EMERALD), RULES, samples=0)


def test_3mf_holds_one_closed_body_a_part_in_mm(tmp_path: Path) -> None:
    """Read by trimesh."""
    target = tmp_path / "ring.3mf"
    write_solid(MADE, target)
    scene = trimesh.load(target)
    assert set(scene.geometry) == {"stone", "head", "shank"}
    for name, body in bodies(MADE).parts.items():
        read = scene.geometry[name]
        assert read.is_watertight and read.units == "millimeter"
        assert read.volume == pytest.approx(body.volume(), rel=1e-3)
    assert [path.name for path in tmp_path.iterdir()] == ["ring.3mf"]


def test_writing_leaves_the_locale_as_it_was(tmp_path: Path) -> None:
    held = locale.setlocale(locale.LC_ALL)
    write_solid(MADE, tmp_path / "ring.3mf")
    assert locale.setlocale(locale.LC_ALL) == held


@pytest.mark.parametrize("part", ["stone", "head", "shank", "all"])
def test_stl_is_closed(tmp_path: Path, part: str) -> None:
    target = tmp_path / "part.stl"
    write_solid(MADE, target, part)
    read = trimesh.load_mesh(target)
    assert read.is_watertight and read.is_winding_consistent
    whole = bodies(MADE).parts
    expected = sum(body.volume() for body in whole.values()) if part == "all" else whole[part].volume()
    assert read.volume == pytest.approx(expected, rel=1e-3)
    assert read.extents[0] < 40


def test_a_part_that_is_not_there_is_told(tmp_path: Path) -> None:
    bare = plan(job_with(shank=None, fit=None), RULES, samples=0)
    with pytest.raises(JobError, match="this job has no shank: one of stone, head, all"):
        write_solid(bare, tmp_path / "x.stl", "shank")


def test_points_that_touch_are_parted() -> None:
    points = np.zeros((5, 3))
    made = parted(points)
    apart = np.linalg.norm(made[:, None] - made[None], axis=2)
    assert apart[~np.eye(5, dtype=bool)].min() > 1.9e-5
    assert np.abs(made).max() < 2e-3


def test_dxf_is_whole_and_at_scale(tmp_path: Path) -> None:
    """Read and audited by ezdxf: mm, a layer a role, the stone's outline in its true size times the scale."""
    target = tmp_path / "sheet.dxf"
    write_drawing(MADE, target)
    read = ezdxf.readfile(target)
    assert not read.audit().errors
    assert read.units == ezdxf.units.MM
    layers = {entity.dxf.layer for entity in read.modelspace()}
    assert {"outline", "stone-edge", "dimension", "figure"} <= layers
    texts = {entity.dxf.text for entity in read.modelspace().query("TEXT")}
    assert "8.20" in texts and "6.10" in texts
    scale = sheet(MADE, 186, 168, grips=False).scale
    edges = [np.array(entity.get_points("xy")) for entity in read.modelspace().query("LWPOLYLINE[layer=='stone-edge']")]
    sizes = {tuple(np.round(np.ptp(edge, axis=0) / scale, 2)) for edge in edges}
    assert (6.1, 8.2) in sizes


def test_every_stroke_of_the_sheet_is_in_the_dxf() -> None:
    drawing = sheet(MADE, 186, 168, grips=False)
    written = len(dxf_document(drawing).modelspace())
    assert written >= len([item for item in drawing.items if getattr(item, "stroke", "")])


def test_the_command_line_writes_bodies_and_drawings(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job = tmp_path / "job.json"
    job.write_text(json.dumps(BASE), encoding="utf-8")
    for command, name in (
        (["solid"], "a.3mf"),
        (["solid", "--part", "head"], "b.stl"),
        (["sheet"], "c.dxf"),
        (["sheet"], "d.svg"),
    ):
        assert main([command[0], str(job), "-o", str(tmp_path / name), *command[1:]]) == 0
        assert (tmp_path / name).stat().st_size > 1000
    assert main(["solid", str(job), "-o", str(tmp_path / "x.obj")]) == 2
    assert "a name that ends in .stl or .3mf" in capsys.readouterr().err
    assert main(["solid", str(job), "-o", str(tmp_path / "no" / "x.stl")]) == 2
    assert main(["solid", str(job), "-o", str(tmp_path / "x.stl"), "--part", "box"]) == 2
    assert "one of stone, head, shank, all" in capsys.readouterr().err
    assert not (tmp_path / "x.obj").exists()


def test_the_plan_on_the_command_line_has_the_bodies_calls(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job = tmp_path / "job.json"
    job.write_text(job_text(checked_job(merge_patch(BASE, EMERALD), HouseRules())), encoding="utf-8")
    assert main(["plan", str(job)]) == 0
    document = json.loads(capsys.readouterr().out)
    codes = {call["code"] for call in document["calls"]}
    assert {"gallery-cut-away", "pavilion-in-lower-ring", "stone-in-band", "corner-touches-metal"} - codes <= {
        "corner-touches-metal"
    }
    assert document["head"]["mass"]["unit"] == "g"
    assert document["stone"]["length"]["value"] == 8.2


def test_the_body_server_answers_what_it_is_asked() -> None:
    request: dict[str, Any] = {"id": 7, "job": BASE, "rules": {}, "fine": True, "mesh": True}
    found = json.loads(json.dumps(answer(request)))
    assert found["id"] == 7 and set(found["mesh"]) == {"stone", "head", "shank"}
    points, triangles = unpacked(found["mesh"]["head"])
    assert triangles.max() < len(points)
    report = report_from(found)
    assert {"head.mass", "seat.contact"} <= {figure.key for figure in report.figures}
    coarse = answer({**request, "fine": False})
    assert "calls" not in coarse and len(coarse["mesh"]["head"]["points"]) < len(found["mesh"]["head"]["points"])


def test_the_body_server_runs_until_its_input_ends() -> None:
    """A real process: a whole job, an impossible one, then the end of the input."""
    impossible = merge_patch(BASE, {"stone": {"depth_mm": 30}})
    asked = [
        {"id": 1, "job": BASE, "rules": {"contact_mm2": 0.4}, "fine": True, "mesh": False},
        {"id": 2, "job": impossible, "rules": {}, "fine": True, "mesh": False},
    ]
    done = subprocess.run(
        [sys.executable, "-m", "yarvel.exchange.body_server"],
        text=True,
        capture_output=True,
        check=True,
        input="".join(json.dumps(request) + "\n" for request in asked),
        timeout=GIVE_UP_S,
    )
    first, second = (json.loads(line) for line in done.stdout.splitlines())
    assert first["id"] == 1 and {call["code"] for call in first["calls"]} >= {"little-contact", "gallery-cut-away"}
    assert next(call["limit"] for call in first["calls"] if call["code"] == "little-contact") == 0.4
    assert second["id"] == 2 and "stone.depth_mm" in second["problem"]
    assert done.stderr == ""
