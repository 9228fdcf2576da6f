"""The bench card, read back: one sheet of paper for a usual ring, with what is used at the bench and nothing twice."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pdfplumber
import pytest
from hypothesis import given
from PySide6.QtWidgets import QApplication

from tests.pdf_text import whole_text
from tests.strategies import BUILT, jobs
from yarvel.drawing.bench_card import bench_card
from yarvel.drawing.bench_sheet import Heading, open_calls
from yarvel.drawing.label import MARK, modules
from yarvel.drawing.metrics import box
from yarvel.drawing.painters.pdf import write_pdf
from yarvel.drawing.paper import A4, A5, MARGIN
from yarvel.drawing.primitives import Path as Drawn
from yarvel.exchange.bench_pdf import write_bench_pdf
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, seats
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.card import sections
from yarvel.route.checks import checks
from yarvel.route.running import route_of

MM = 72 / 25.4
HEADING = Heading("31-0007", "Saltmarsh Rings", "four claws", "2031-05-02", "2031-04-09")
USUAL: list[dict[str, Any]] = [
    {"fit": {"method": "inset"}},
    {"head": {"rings": 1}, "fit": {"method": "on-flat"}},
    {"head": {"style": "tube", "claw_mm": None, "notch_ratio": None, "claws": None}, "fit": {"method": "fish-mouth"}},
    {"shank": None, "fit": None},
]


def read(pages: Any, tmp_path: Path) -> str:
    target = tmp_path / "card.pdf"
    write_pdf(pages, target, "Bench card")
    return whole_text(target)


@pytest.mark.parametrize("parts", USUAL)
def test_a_usual_ring_is_one_sheet_of_paper(
    parts: dict[str, Any], planned: Callable[..., Plan], qapp: QApplication
) -> None:
    pages = bench_card(planned(**parts), HEADING)
    assert len(pages) == 2 and all((page.width, page.height) == A4 for page in pages)


@pytest.mark.parametrize("paper", [A4, A5])
@pytest.mark.parametrize("parts", USUAL)
def test_no_heading_ends_a_page(
    parts: dict[str, Any], paper: tuple[float, float], planned: Callable[..., Plan], qapp: QApplication
) -> None:
    """Nor a caution: what it is about stands below it on the same page."""
    for page in bench_card(planned(**parts), HEADING, paper)[:-1]:
        last = max(page.texts(), key=lambda text: text.at[1])
        assert not last.bold and (last.role != "text-quiet" or last.text == "burs"), "on A5 the facts may end a page"


@pytest.mark.parametrize("parts", USUAL)
def test_on_paper_of_half_the_size_it_takes_two_leaves(
    parts: dict[str, Any], planned: Callable[..., Plan], qapp: QApplication, tmp_path: Path
) -> None:
    """ISO 216: two A5 leaves have the surface of one A4; every line of the A4 card is there, as large."""
    made = planned(**parts)
    pages, large = bench_card(made, HEADING, A5), bench_card(made, HEADING)
    assert len(pages) == 4 and all((page.width, page.height) == A5 for page in pages)
    assert 2 * A5[0] * A5[1] == pytest.approx(A4[0] * A4[1], rel=0.01)
    words = [" ".join(" ".join(text.text for page in some for text in page.texts()).split()) for some in (pages, large)]
    for line in (line for section in sections(route_of(weighed(made)), made) for line in section.lines):
        told = " ".join(line.text[:30].split())
        assert (told in words[0]) == (told in words[1]), told
    sizes = [{text.size for page in some for text in page.texts() if text.size >= 2.5} for some in (pages, large)]
    assert min(sizes[0]) == min(sizes[1]), "read from as far"
    scales = [next(text.text for text in some[0].texts() if " : 1" in text.text) for some in (pages, large)]
    drawn = [float(scale.split(" : ")[0]) for scale in scales]
    assert drawn[0] >= 0.75 * drawn[1], "drawn nearly as large"


def test_it_carries_what_the_bench_uses(planned: Callable[..., Plan], tmp_path: Path, qapp: QApplication) -> None:
    """Species, carat, size, its cautions, metals, seat, dividers, burs, every open call, the route with a box a line,
    each caution once, the checks."""
    made = weighed(planned(stone={"declared_ct": 1.1}, head={"notch_ratio": 0.45}, fit={"method": "inset"}))
    text = read(bench_card(made, HEADING), tmp_path)
    figures = made.figures
    for told in (
        "31-0007",
        "Saltmarsh Rings",
        "promised 2031-05-02",
        "Spinel, round brilliant",
        "6.50 × 3.97 mm",
        "1.10 ct as declared",
        "18k yellow gold",
        "ISO 54",
        figures[notches.SEAT_DEPTH].text(),
        figures[seats.line_from_top_mm].text(),
        " → ".join(f"{size:.1f}" for size in made.bur_steps_mm),
        "Checked by",
        "Local codes",
    ):
        assert told in text, told
    route = route_of(made)
    for call in open_calls(made, route):
        assert call[:60] in text
    for section in sections(route, made):
        assert section.name in text
        for line in section.lines:
            assert " ".join(line.text[:36].split()) in text
        if section.caution:
            assert text.count(section.caution[:50]) == 1
    for check in checks(made):
        assert check.text in text


def test_its_code_opens_the_docket(planned: Callable[..., Plan], qapp: QApplication) -> None:
    """The bars are those of the label's code, in modules of a third of a millimetre."""
    page = bench_card(planned(), HEADING)[0]
    bars = [
        item for item in page.items if isinstance(item, Drawn) and item.fill == "outline" and item.points[0, 1] < 17
    ]
    dark = sum(round(float(item.points[:, 0].max() - item.points[:, 0].min()) / 0.33) for item in bars)
    assert dark == sum(modules(f"{MARK}31-0007"))
    bare = bench_card(planned(), Heading())[0]
    assert not [
        item for item in bare.items if isinstance(item, Drawn) and item.fill == "outline" and item.points[0, 1] < 17
    ]


def test_the_true_size_is_true(planned: Callable[..., Plan], tmp_path: Path, qapp: QApplication) -> None:
    made = planned(fit={"method": "inset"})
    target = tmp_path / "card.pdf"
    write_pdf(bench_card(made, HEADING), target, "")
    with pdfplumber.open(target) as pdf:
        page = pdf.pages[0]
        bars = [line for line in page.lines if abs(line["x1"] - line["x0"]) / MM == pytest.approx(50, abs=0.02)]
        assert len(bars) == 1
        bar = bars[0]
        under = [
            shape
            for shape in [*page.curves, *page.lines]
            if bar["top"] < shape["top"] < bar["top"] + 40 * MM and shape["x0"] > bar["x0"] - 2 * MM
        ]
        across = {round((shape["x1"] - shape["x0"]) / MM, 2) for shape in under}
    for width in (6.5, made[FigureKey("shank.width")]):
        assert any(abs(width - seen) <= 0.02 for seen in across), (width, sorted(across))


@BUILT
@given(jobs())
def test_nothing_covers_anything_and_nothing_runs_off(job: Job) -> None:
    """Whatever the job: texts stay on the paper and clear of one another."""
    made = plan(job, HouseRules(), samples=0)
    for page in (*bench_card(made, HEADING), *bench_card(made, HEADING, A5)):
        boxes = [(text.text, box(text)) for text in page.texts() if text.text]
        for text, (left, top, right, bottom) in boxes:
            assert left >= 0 and top >= 0 and right <= page.width + 0.5 and bottom <= page.height, text
        body = sorted((place for _, place in boxes if place[1] > 134), key=lambda place: place[1])
        for one, other in zip(body, body[1:], strict=False):
            apart = one[2] <= other[0] + 0.1 or other[2] <= one[0] + 0.1
            assert apart or other[1] >= one[3] - 1.0, (one, other)


def test_each_sheet_is_asked_for(planned: Callable[..., Plan], tmp_path: Path, qapp: QApplication) -> None:
    """Card, working and ring; a pendant has no ring to draw, and says so."""
    made = planned(fit={"method": "inset"})
    found = {}
    for wanted in ("card", "working", "ring"):
        write_bench_pdf(made, tmp_path / f"{wanted}.pdf", "job", wanted)
        found[wanted] = whole_text(tmp_path / f"{wanted}.pdf")
    assert "Cut the seat" in found["card"] and "Cut the seat" not in found["working"] + found["ring"]
    assert "Notch ratio" in found["working"] and "Whole ring from the front" in found["ring"]
    with pytest.raises(JobError, match="there is no ring to draw"):
        write_bench_pdf(planned(shank=None, fit=None), tmp_path / "none.pdf", "job", "ring")
    assert not (tmp_path / "none.pdf").exists()


@pytest.mark.parametrize("claws", [4, 6])
def test_a_repairs_card_has_its_claw_chart(
    planned: Callable[..., Plan], tmp_path: Path, qapp: QApplication, claws: int
) -> None:
    """Every claw by its number, what each calls for where it is, and what the chosen way leaves as it is."""
    found = {"1": ["worn-tip"], "2": ["bent"], "3": ["missing"]}
    repair = {"repair": {"claws": found, "way": "re-tip"}}
    made = planned(head={"claws": claws}, stone={"state": "held"}, samples=0, **repair)
    page = bench_card(made, HEADING)[0]
    words = [text for text in page.texts() if text.at[0] > MARGIN + 124 and text.at[1] > 60]
    for what in ("re-tip", "tighten", "new claw"):
        assert [text.text for text in words].count(what) == 1, what
    numbers = {text.text for text in words if text.text.isdigit()}
    assert numbers == {str(number) for number in range(1, claws + 1)}
    boxes = [box(text) for text in words]
    for place, one in enumerate(boxes):
        for other in boxes[place + 1 :]:
            assert one[2] <= other[0] or other[2] <= one[0] or one[3] <= other[1] or other[3] <= one[1]
    told = read([page], tmp_path)
    assert "Not answered by this way: claw 3 (new claw)." in told
    assert "Claws, from above" not in read(bench_card(planned(samples=0), HEADING), tmp_path)
