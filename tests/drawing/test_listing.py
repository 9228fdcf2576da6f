"""Lists to print and bars: nothing outside the paper, no column over another, every row on some page."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.drawing.listing import Bar, bars, list_pages
from yarvel.drawing.metrics import box
from yarvel.drawing.paper import MARGIN

CELLS = st.text(st.characters(categories=["Lu", "Ll", "Nd"]), max_size=60)


@given(st.lists(st.tuples(CELLS, CELLS, CELLS), max_size=130))
def test_every_row_is_on_a_page_and_no_text_leaves_its_place(rows: list[tuple[str, str, str]]) -> None:
    pages = list_pages("A list", ("One", "Two", "Three"), rows, "2031-04-09")
    numbers = [text.text for page in pages for text in page.texts() if "page" in text.text and " of " in text.text]
    assert len(numbers) == len(pages)
    lines: list[float] = []
    for page in pages:
        boxes = [box(text) for text in page.texts() if text.text]
        assert all(
            left >= MARGIN - 0.01 and right <= page.width - MARGIN + 0.5 and bottom < page.height
            for left, _, right, bottom in boxes
        )
        for at, first in enumerate(boxes):
            for second in boxes[at + 1 :]:
                apart = (
                    first[2] <= second[0] + 0.5
                    or second[2] <= first[0] + 0.5
                    or first[3] <= second[1] + 0.5
                    or second[3] <= first[1] + 0.5
                )
                assert apart
        lines += sorted({text.at[1] for text in page.texts() if 27.0 < text.at[1] < page.height - 12.0})
    assert len(lines) >= sum(any(row) for row in rows)


def test_a_wide_table_lies() -> None:
    rows = 3
    wide = list_pages("A list", ("One", "Two"), [("x" * 70, "y" * 60)] * rows, "2031-04-09")[0]
    narrow = list_pages("A list", ("One", "Two"), [("x", "y")] * rows, "2031-04-09")[0]
    assert wide.width > wide.height and narrow.width < narrow.height
    assert "x" * 70 in [text.text for text in wide.texts()], "nothing is left out that has room"


@pytest.mark.parametrize("limit", [None, 1.0, 40.0])
def test_bars_are_as_long_as_their_values(limit: float | None) -> None:
    rows = [Bar("Solder", 10.0, "10"), Bar("Cut the seat", 20.0, "20", marked=True), Bar("Nothing", 0.0, "0")]
    made = bars(rows, 180.0, limit, "a limit")
    wide = [
        float(item.points[:, 0].max() - item.points[:, 0].min())
        for item in made.items
        if getattr(item, "closed", False)
    ]
    assert wide[1] == pytest.approx(2 * wide[0]) and wide[2] == pytest.approx(0.0)
    assert all(box(text)[0] >= 0 and box(text)[2] <= 180.5 for text in made.texts())
    assert not bars([], 180.0).items
