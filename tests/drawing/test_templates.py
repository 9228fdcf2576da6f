"""Templates at 1:1, read back from PDF by pdfplumber, from SVG by lxml and from DXF by ezdxf, to 0.02 mm."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pdfplumber
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from lxml import etree
from PySide6.QtWidgets import QApplication
from shapely.geometry import LineString, box

from tests.pdf_text import texts
from yarvel.drawing.painters.pdf import write_pdf
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.templates import template_pages, templates
from yarvel.drawing.tiling import OVERLAP_MM, Printer, clipped, corrected, tiles
from yarvel.exchange.drawing_file import write_templates
from yarvel.figures.figure import FigureKey
from yarvel.heads.rings import pieces_mm
from yarvel.planning.plan import Plan

MM = 72 / 25.4
WALL = {"style": "tube", "claw_mm": None, "notch_ratio": None}
PlanMaker = Callable[..., Plan]


def read_back(plan: Plan, path: Path, printer: Printer) -> list[Any]:
    """Pages as an independent reader sees them."""
    write_pdf(template_pages(plan, printer, "Templates"), path, "")
    with pdfplumber.open(path) as pdf:
        return [
            (said, [*page.curves, *page.lines, *page.rects]) for said, page in zip(texts(path), pdf.pages, strict=True)
        ]


def sizes(shapes: list[Any]) -> list[tuple[float, float]]:
    return [((shape["x1"] - shape["x0"]) / MM, (shape["bottom"] - shape["top"]) / MM) for shape in shapes]


def has(shapes: list[Any], width: float, height: float | None = None) -> bool:
    return any(
        abs(wide - width) <= 0.02 and (height is None or abs(high - height) <= 0.02) for wide, high in sizes(shapes)
    )


def test_a_fish_mouth_is_as_wide_as_the_tube_is_round(planned: PlanMaker, tmp_path: Path, qapp: QApplication) -> None:
    made = planned(samples=0, head=WALL, fit={"method": "fish-mouth"})
    text, shapes = read_back(made, tmp_path / "t.pdf", Printer())[0]
    assert "Fish-mouth, unrolled" in text
    around = math.pi * made[FigureKey("head.tube_outer")]
    curve = max(
        (shape for shape in shapes if abs((shape["x1"] - shape["x0"]) / MM - around) <= 0.02),
        key=lambda shape: len(shape["pts"]),
    )
    points = np.array([(x / MM, y / MM) for x, y in curve["pts"]])
    low = points[points[:, 1] > points[:, 1].min() + 3]
    assert np.ptp(low[:, 1]) == pytest.approx(made[FigureKey("shank.saddle_depth")], abs=0.02)
    assert has(shapes, made[FigureKey("shank.blank_length")]) and has(shapes, 50.0) and has(shapes, 0.0, 50.0)


def test_marks_of_a_gap_are_arcs_laid_flat(planned: PlanMaker, tmp_path: Path, qapp: QApplication) -> None:
    made = planned(samples=0, fit={"method": "inset"})
    _, shapes = read_back(made, tmp_path / "t.pdf", Printer())[0]
    for radius, gap in (
        (made[FigureKey("shank.inside_diameter")] / 2, 2 * made[FigureKey("shank.mark_half")]),
        (made[FigureKey("shank.inside_diameter")] / 2 + 2.0, 2 * made[FigureKey("shank.mark_half_outside")]),
    ):
        assert has(shapes, 2 * radius * math.asin(gap / 2 / radius))


@pytest.mark.parametrize(
    ("cut", "size", "count"),
    [
        ("round", {"diameters_mm": [6.2]}, 3),
        ("round", {"diameters_mm": [8.4]}, 7),
        ("oval", {"diameters_mm": None, "length_mm": 9.3, "width_mm": 6.6}, 6),
        ("pear", {"diameters_mm": None, "length_mm": 9.3, "width_mm": 6.1}, 5),
    ],
)
def test_chords_between_claws_for_any_count_and_outline(
    cut: str, size: dict[str, Any], count: int, planned: PlanMaker, tmp_path: Path, qapp: QApplication
) -> None:
    """The circles' middles on the printed page, by an independent reader: their distances are the chords told."""
    made = planned(
        samples=0,
        stone={"cut": cut, "depth_mm": None, **size},
        head={"claws": count, "claw_mm": 0.9},
        shank=None,
        fit=None,
    )
    text, shapes = read_back(made, tmp_path / "t.pdf", Printer())[0]
    rounds = [
        shape
        for shape in shapes
        if abs((shape["x1"] - shape["x0"]) / MM - 0.9) <= 0.02
        and abs((shape["bottom"] - shape["top"]) / MM - 0.9) <= 0.02
    ]
    middles = {
        (round((shape["x0"] + shape["x1"]) / 2 / MM, 1), round((shape["top"] + shape["bottom"]) / 2 / MM, 1)): (
            (shape["x0"] + shape["x1"]) / 2 / MM,
            (shape["top"] + shape["bottom"]) / 2 / MM,
        )
        for shape in rounds
    }
    points = np.array(list(middles.values()))
    plain = sum(place.kind != "point" for place in made.shape.places)
    assert len(points) == plain
    told = _chords(text)
    assert len(told) == count
    apart = np.hypot(*(points[:, None] - points[None]).transpose(2, 0, 1))
    near = sorted(told)[: max(plain - 1, 1)]
    assert all(np.min(np.abs(apart - chord)) <= 0.03 for chord in near if plain == count)
    if plain == count and cut == "round":
        assert told[0] == pytest.approx(
            2 * np.hypot(*(points[0] - points.mean(axis=0))) * math.sin(math.pi / count), abs=0.03
        )


def _chords(text: str) -> list[float]:
    return [float(chord) for chord in re.findall(r"° +to +\d+: +(\d+\.\d+)", text)]


@pytest.mark.parametrize(("across", "down"), [(50.0, 50.0), (48.7, 49.5), (51.2, 50.6)])
def test_a_printer_that_scales_is_put_right(
    across: float, down: float, planned: PlanMaker, tmp_path: Path, qapp: QApplication
) -> None:
    """What the page holds, times what the printer makes of it, is true again."""
    made = planned(samples=0, head=WALL, fit={"method": "fish-mouth"})
    _, shapes = read_back(made, tmp_path / "t.pdf", Printer(across, down))[0]
    bar = 50.0 * 50.0 / across
    assert has(shapes, bar) and bar * across / 50 == pytest.approx(50)
    assert has(shapes, made[FigureKey("shank.blank_length")] * 50 / across)
    assert has(shapes, 0.0, 50.0 * 50.0 / down)


def test_a_split_shoulder_and_a_point_have_theirs(planned: PlanMaker) -> None:
    split = planned(samples=0, head=WALL, fit={"method": "split-shoulder"}, shank={"width_mm": 4.2})
    assert "Split shoulders, straight down" in [template.title for template in templates(split)]
    point = planned(samples=0, fit={"method": "basket-point"})
    assert "Bevels and the point" in [template.title for template in templates(point)]
    assert templates(planned(samples=0, head={"style": "bought"}, shank=None, fit=None)) != []


@pytest.mark.parametrize("kind", [".svg", ".dxf"])
def test_templates_as_svg_and_dxf_are_true(kind: str, planned: PlanMaker, tmp_path: Path) -> None:
    made = planned(samples=0, head=WALL, fit={"method": "fish-mouth"})
    target = tmp_path / f"t{kind}"
    write_templates(made, target)
    around = math.pi * made[FigureKey("head.tube_outer")]
    if kind == ".svg":
        runs = [
            np.array([[float(value) for value in point.split(",")] for point in shape.get("points").split()])
            for shape in etree.parse(target).iter("{*}polygon", "{*}polyline")
        ]
    else:
        read = ezdxf.readfile(target)
        assert read.units == ezdxf.units.MM
        runs = [np.array([point[:2] for point in line.get_points()]) for line in read.modelspace().query("LWPOLYLINE")]
    widths = [float(np.ptp(run[:, 0])) for run in runs]
    for wanted in (around, made[FigureKey("shank.blank_length")]):
        assert min(abs(width - wanted) for width in widths) <= 0.02


@given(st.lists(st.tuples(st.floats(-50, 450), st.floats(-50, 450)), min_size=2, max_size=7))
def test_clipping_is_that_of_an_independent_library(points: list[tuple[float, float]]) -> None:
    """shapely: the length of the run inside a box."""
    run = np.array(points)
    if np.hypot(*np.diff(run, axis=0).T).min() < 1e-6:
        return
    area = (20.0, 30.0, 200.0, 280.0)
    mine = sum(float(np.hypot(*np.diff(piece, axis=0).T).sum()) for piece in clipped(run, False, area))
    pieces = [LineString(run[place : place + 2]).intersection(box(*area)).length for place in range(len(run) - 1)]
    assert mine == pytest.approx(sum(pieces), abs=1e-6)


def test_tiles_overlap_and_hold_everything() -> None:
    drawing = Drawing(430.0, 300.0)
    drawing.line([(0.0, 10.0), (430.0, 10.0)], "cut")
    made = tiles(drawing, 186.0, 215.0)
    assert len(made) == 3 * 2
    lengths = [
        sum(
            float(np.hypot(*np.diff(item.points, axis=0).T).sum())
            for item in tile.items  # type: ignore[union-attr]
            if getattr(item, "stroke", "") == "cut"
        )
        for tile in made
    ]
    assert sum(lengths) == pytest.approx(430 + 2 * OVERLAP_MM)
    assert tiles(corrected(drawing, Printer()), 500, 500) == [drawing]


def test_a_long_ring_wire_is_tiled(planned: PlanMaker) -> None:
    """A big cabochon's ring is longer than a page is wide."""
    made = planned(
        samples=0,
        stone={"cut": "oval-cabochon", "diameters_mm": None, "length_mm": 90.0, "width_mm": 39.0, "depth_mm": 12.0},
        head={"style": "wire-basket", "claw_mm": 1.5},
        shank=None,
        fit=None,
    )
    assert made[FigureKey("head.upper_ring_wire_length")] > 186
    pages = template_pages(made, Printer(), "")
    texts = [text.text for page in pages for text in page.texts()]
    assert any(text.startswith("tile 1.2") for text in texts)
    for page in pages:
        for item in page.items:
            points = getattr(item, "points", None)
            if points is not None:
                assert points.min() >= -1e-6 and points[:, 0].max() <= 210 and points[:, 1].max() <= 297


@pytest.mark.parametrize(
    ("cut", "length", "corners"), [("princess", 4.3, 4), ("emerald", 6.4, 8), ("pear", 6.6, 1), ("square-step", 4.6, 8)]
)
def test_a_ring_with_corners_is_cut_as_long_as_its_outside(
    cut: str, length: float, corners: int, planned: Callable[..., Plan]
) -> None:
    """Geometry: scored from inside and folded, a square wire's sides are those of its outside; bent where it is round,
    its middle keeps its length. Against the outside's own perimeter (shapely)."""
    stone = {"cut": cut, "diameters_mm": None, "depth_mm": None, "length_mm": length, "width_mm": 4.3}
    made = planned(samples=0, stone=stone, head={"claws": None, "ring_section": "square", "claw_mm": None})
    ring = made.shape.rings[0]
    cut_mm = made[FigureKey("head.upper_ring_cut_length")]
    outside = shapely.Polygon(made.shape.outline.inset(ring.inset_mm - ring.across_mm / 2)).length
    middle = made[FigureKey("head.upper_ring_wire_length")]
    found = [template for template in templates(made) if template.title == "Rings with corners, flat"]
    if corners == 1:
        assert middle < cut_mm < outside and not found, "bent round the head, mitred at the point"
        return
    assert cut_mm == pytest.approx(outside, rel=2e-3) and cut_mm > middle + 2 * ring.across_mm
    texts = [text.text for text in found[0].drawing.texts()]
    marks = [float(text) for text in texts if text.replace(".", "", 1).isdigit()]
    assert len(marks) == 2 * (corners - 1), "scored at all corners but the one where the ends meet, both rings"
    assert marks[: corners - 1] == sorted(marks[: corners - 1]) and marks[corners - 2] < cut_mm
    pieces = np.diff([0.0, *marks[: corners - 1], cut_mm])
    assert pieces.min() > 0


@pytest.mark.parametrize(
    ("cut", "length", "width"), [("marquise", 9.4, 4.7), ("trillion", 6.1, 6.2), ("pear", 7.7, 5.3)]
)
def test_a_ring_turns_at_its_corners_as_its_own_middle_does(
    cut: str, length: float, width: float, planned: Callable[..., Plan]
) -> None:
    """Geometry: curves beside a corner are swallowed as the outline moves inwards, so that the ring turns more there
    than the stone does, the lower one most. Against an outline moved inwards by shapely."""
    stone = {"cut": cut, "diameters_mm": None, "depth_mm": None, "length_mm": length, "width_mm": width}
    made = planned(samples=0, stone=stone, head={"claws": None, "claw_mm": None, "rings": 2})
    told = []
    for ring, name in zip(made.shape.rings, ("upper_", "lower_"), strict=True):
        middle = shapely.Polygon(made.shape.outline.points).buffer(-ring.inset_mm, join_style="mitre", mitre_limit=20.0)
        edges = np.diff(np.asarray(middle.exterior.coords), axis=0)
        edges = edges[np.hypot(*edges.T) > 1e-4]
        ways = np.degrees(np.arctan2(edges[:, 1], edges[:, 0]))
        turn = np.abs((np.roll(ways, -1) - ways + 180.0) % 360.0 - 180.0).max()
        told.append(made[FigureKey(f"head.{'' if name == 'upper_' else name}ring_turn")])
        assert told[-1] == pytest.approx(turn, abs=1.5)
        mitre = made[FigureKey(f"head.{'' if name == 'upper_' else name}ring_mitre")]
        assert mitre == pytest.approx((180.0 - told[-1]) / 2)
        assert made[FigureKey(f"head.{name}ring_wire_length")] == pytest.approx(middle.exterior.length, abs=0.02)
        cut_mm = made[FigureKey(f"head.{name}ring_cut_length")]
        sides = pieces_mm(made.shape.outline, ring.inset_mm, ring.across_mm)
        assert cut_mm == pytest.approx(sum(side for side, _ in sides), abs=1e-3), "the card and the template agree"
    outline = made.shape.outline
    stones_own = np.degrees(outline.turning[list(outline.corners)].max())
    assert stones_own < told[0] < told[1] + 0.5
