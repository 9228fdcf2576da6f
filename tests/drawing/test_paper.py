"""Paper read back by independent readers: SVG as XML, PDF by pdfplumber, PDFium and pypdf."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from pathlib import Path
from xml.etree import ElementTree

import pdfplumber
import pypdf
import pytest
from hypothesis import given
from pdfplumber.page import Page
from PySide6.QtWidgets import QApplication

from tests.pdf_text import texts, whole_text
from tests.strategies import BUILT, jobs
from yarvel.drawing.bench_sheet import Heading, bench_sheet
from yarvel.drawing.painters.pdf import write_pdf
from yarvel.drawing.painters.svg import svg_text
from yarvel.drawing.paper import A4
from yarvel.drawing.primitives import Path as Drawn
from yarvel.drawing.sheet import sheet
from yarvel.drawing.styles import shaded
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.figures.working import value_text
from yarvel.metals.joints import groups
from yarvel.operations.joint_groups import name_of
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan
from yarvel.route.card import sections
from yarvel.route.checks import checks
from yarvel.route.running import route_of

MM = 72 / 25.4
HEADING = Heading("31-0007", "Saltmarsh Rings", "four claws", "2031-05-02", "2031-04-09")


@pytest.fixture
def bench_plan(planned: Callable[..., Plan]) -> Plan:
    return planned(fit={"method": "inset"}, head={"notch_ratio": 0.45})


@pytest.fixture
def pages(bench_plan: Plan, tmp_path: Path, qapp: QApplication) -> Iterator[list[Page]]:
    target = tmp_path / "bench.pdf"
    write_pdf(bench_sheet(bench_plan, HEADING), target, "Bench sheet 31-0007")
    with pdfplumber.open(target) as pdf:
        yield pdf.pages


def words(pages: list[Page]) -> str:
    return whole_text(Path(pages[0].pdf.path))


def test_pages_are_a4(pages: list[Page]) -> None:
    for page in pages:
        assert (page.width / MM, page.height / MM) == pytest.approx(A4, abs=0.4)


def test_the_ruler_bar_is_fifty_millimetres(pages: list[Page]) -> None:
    bars = [line for line in pages[0].lines if abs(line["x1"] - line["x0"]) / MM == pytest.approx(50, abs=0.5)]
    assert len(bars) == 1
    assert (bars[0]["x1"] - bars[0]["x0"]) / MM == pytest.approx(50, abs=0.02)


def test_the_true_size_drawing_is_true(pages: list[Page], bench_plan: Plan) -> None:
    shapes = [*pages[0].curves, *pages[0].lines]
    low = [shape for shape in shapes if 195 * MM < shape["top"] < 232 * MM]
    across = {round((shape["x1"] - shape["x0"]) / MM, 2) for shape in low}
    for width in (6.5, bench_plan[FigureKey("shank.width")]):
        assert any(abs(width - seen) <= 0.02 for seen in across), (width, sorted(across))


@pytest.mark.parametrize("angle", [4, 17, 28, 60])
def test_a_collets_pattern_is_true(
    angle: float, planned: Callable[..., Plan], tmp_path: Path, qapp: QApplication
) -> None:
    """The printed sector's corners, read back: chord and breadth by closed form, to 0.02 mm."""
    made = planned(head={"style": "tapered-collet", "claw_mm": None, "notch_ratio": None, "included_angle_deg": angle})
    target = tmp_path / "collet.pdf"
    write_pdf(bench_sheet(made, HEADING), target, "")
    with pdfplumber.open(target) as pdf:
        page = pdf.pages[next(place for place, said in enumerate(texts(target)) if "Pattern of the collet" in said)]
        sector = max(page.curves, key=lambda curve: len(curve["pts"]))
    points = [(x / MM, y / MM) for x, y in sector["pts"]]
    half = math.radians(made[FigureKey("collet.pattern_angle_deg")]) / 2
    outer, inner = made[FigureKey("collet.pattern_outer_radius")], made[FigureKey("collet.pattern_inner_radius")]
    wide = 2 * outer * math.sin(half)
    high = outer - inner * math.cos(half)
    assert max(x for x, _ in points) - min(x for x, _ in points) == pytest.approx(wide, abs=0.02)
    assert max(y for _, y in points) - min(y for _, y in points) == pytest.approx(high, abs=0.02)


def test_a_head_without_pattern_has_no_pattern_page(pages: list[Page]) -> None:
    assert "Pattern" not in words(pages)


def test_the_sheet_carries_everything(pages: list[Page], bench_plan: Plan) -> None:
    text = words(pages)
    for figure in bench_plan.figures.values():
        assert figure.text().replace("−", "-").split()[0] in text.replace("−", "-"), figure.key
    for section in sections(route_of(bench_plan), bench_plan):
        for line in section.lines:
            assert line.text.split(":")[0][:40] in text
    for check in checks(bench_plan):
        assert check.text in text
    for joint, _ in groups(bench_plan.joints):
        assert name_of(joint.group)[1:] in text
    for piece in (
        "31-0007",
        "Saltmarsh Rings",
        "promised 2031-05-02",
        "page 1 of",
        "Checked by",
        "Local codes",
        "acid into water",
        "Lay a ruler on this bar",
        "caution: Notch depth",
    ):
        assert piece in text, piece


def test_the_pdf_names_itself_and_carries_its_fonts(bench_plan: Plan, tmp_path: Path, qapp: QApplication) -> None:
    target = tmp_path / "bench.pdf"
    write_pdf(bench_sheet(bench_plan, HEADING), target, "Bench sheet 31-0007")
    reader = pypdf.PdfReader(target)
    assert reader.metadata is not None
    assert reader.metadata.title == "Bench sheet 31-0007"
    fonts = {font for page in reader.pages for font in (page["/Resources"]["/Font"] or {}).values()}
    for font in fonts:
        inner = font.get_object()["/DescendantFonts"][0].get_object()["/FontDescriptor"].get_object()
        assert {"/FontFile", "/FontFile2", "/FontFile3"} & set(inner)


def test_a_folder_that_is_not_there_leaves_nothing_behind(bench_plan: Plan, tmp_path: Path, qapp: QApplication) -> None:
    with pytest.raises(FileNotFoundError):
        write_pdf(bench_sheet(bench_plan, HEADING), tmp_path / "none" / "bench.pdf", "")
    assert list(tmp_path.iterdir()) == []


@BUILT
@given(jobs())
def test_nothing_runs_off_the_first_page(job: Job) -> None:
    """The largest stones on the highest heads still leave the ruler bar on the paper, clear of the drawing."""
    pages = bench_sheet(plan(job, HouseRules(), samples=0), HEADING)
    page = next(page for page in pages if any(text.text.startswith("True size") for text in page.texts()))
    assert max(text.at[1] for text in page.texts()) <= A4[1]
    bar = next(text.at[1] for text in page.texts() if text.text == "50 mm")
    drawn = [
        float(item.points[:, 1].max())
        for item in page.items
        if isinstance(item, Drawn) and item.stroke.startswith("fine")
    ]
    assert max(drawn) < bar - 6


@pytest.mark.parametrize("parts", [{}, {"head": {"style": "tube", "notch_ratio": None}}, {"shank": None, "fit": None}])
def test_every_kind_of_job_has_a_bench_sheet(parts: dict[str, object], planned: Callable[..., Plan]) -> None:
    made = planned(**parts)  # type: ignore[arg-type]
    for page in bench_sheet(made, Heading()):
        assert (page.width, page.height) == A4
        assert all(0 <= text.at[0] <= A4[0] and 0 <= text.at[1] <= A4[1] for text in page.texts())


def test_svg_is_sized_in_millimetres_and_names_its_figures(bench_plan: Plan) -> None:
    drawing = sheet(bench_plan, 186, 168, grips=False)
    root = ElementTree.fromstring(svg_text(drawing))
    assert (root.get("width"), root.get("height"), root.get("viewBox")) == ("186mm", "168mm", "0 0 186 168")
    keyed = {element.get("data-figure"): element.text for element in root.iter() if element.get("data-figure")}
    assert keyed["head.inner_opening"] == f"Ø {value_text(bench_plan[FigureKey('head.inner_opening')], '')}"
    assert all(
        float(x) == float(x)
        for element in root.iter()
        if (points := element.get("points"))
        for x in points.replace(",", " ").split()
    )


@pytest.mark.parametrize(
    ("colour", "shade", "result"),
    [("#808080", 0.0, "#808080"), ("#000000", 0.5, "#808080"), ("#ffffff", -1.0, "#000000"), ("#123456", 2, "#ffffff")],
)
def test_shades(colour: str, shade: float, result: str) -> None:
    assert shaded(colour, shade) == result
