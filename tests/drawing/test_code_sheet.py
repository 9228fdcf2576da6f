"""The sheet of codes: what a scanner reads of it is what the board understands; nothing runs off the paper."""

from __future__ import annotations

import pytest

from yarvel.drawing.code_sheet import code_sheets
from yarvel.drawing.label import MARK, modules
from yarvel.drawing.metrics import box
from yarvel.drawing.paper import A4, MARGIN
from yarvel.drawing.primitives import Drawing, Path
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.deed_codes import DeedCode, all_codes, read_code

PEOPLE = [Person(key, f"Hands of the workshop's {key}th bench", "bench", ("setting",)) for key in range(1, 41)]


def bars(page: Drawing) -> list[Path]:
    return [item for item in page.items if isinstance(item, Path) and item.points.shape[0] > 2]


def test_every_code_is_read_as_what_it_says() -> None:
    for one in all_codes(PEOPLE):
        assert read_code(one.code) == one
    assert len({one.code for one in all_codes(PEOPLE)}) == 4 + len(PEOPLE)
    assert (
        DeedCode("to", 3).words(PEOPLE).endswith("3th bench") and DeedCode("to", 999).words([]) == "Hand on to nobody"
    )


@pytest.mark.parametrize("text", ["31-0004", "31-0004/2", "", "finish", "to-", "to-x", "done-3", "START", "to-1234567"])
def test_what_is_no_deed_is_none(text: str) -> None:
    assert read_code(text) is None


def test_all_of_them_are_on_paper() -> None:
    codes = [(one.words(PEOPLE), one.code) for one in all_codes(PEOPLE)]
    pages = code_sheets(codes)
    assert len(pages) == 4, "fourteen a page"
    for page in pages:
        for text in page.texts():
            left, top, right, bottom = box(text)
            assert left >= MARGIN - 0.2 and right <= A4[0] - MARGIN + 0.2 and top >= 0 and bottom <= A4[1]
        assert max(float(bar.points[:, 1].max()) for bar in bars(page)) <= A4[1] - MARGIN
    drawn = sum(float(bar.points[:, 0].max() - bar.points[:, 0].min()) for page in pages for bar in bars(page)) / 0.4
    assert drawn == pytest.approx(sum(sum(modules(f"{MARK}{code}")) for _, code in codes))
