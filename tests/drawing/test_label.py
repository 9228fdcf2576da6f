"""Labels: the code's bars against the published patterns, sizes, and what stands beside them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.drawing.label import HEIGHT_MM, MARK, WIDTH_MM, LabelText, label, modules
from yarvel.drawing.metrics import box
from yarvel.drawing.primitives import Path

# Code 128 patterns, published: ISO/IEC 15417, table 1; quoted from memory.
START_B, STOP = "11010010000", "1100011101011"


@given(st.integers(0, 99), st.integers(1, 99999))
def test_a_code_begins_and_ends_as_published_and_counts(year: int, number: int) -> None:
    """Every symbol is 11 modules wide, the stop 13; dark modules of a symbol are even in number."""
    code = "".join("1" if dark else "0" for dark in modules(f"{MARK}{year:02d}-{number:04d}"))
    assert code.startswith(START_B) and code.endswith(STOP) and (len(code) - 13) % 11 == 0
    symbols = [code[place : place + 11] for place in range(0, len(code) - 13, 11)]
    assert all(symbol.count("1") % 2 == 0 and symbol[0] == "1" and symbol[-1] == "0" for symbol in symbols)


@given(st.text(max_size=60), st.text(max_size=60))
def test_everything_stays_on_the_label(customer: str, item: str) -> None:
    drawing = label(LabelText("31-0042", customer, item, "24.12.31"))
    for text in drawing.texts():
        left, top, right, bottom = box(text)
        assert left >= 0 and right <= WIDTH_MM + 0.2 and top >= 0 and bottom <= HEIGHT_MM
    bars = [item for item in drawing.items if isinstance(item, Path)]
    assert min(float(bar.points[:, 0].min()) for bar in bars) >= 3.2
    assert max(float(bar.points[:, 0].max()) for bar in bars) <= WIDTH_MM - 3.2


def test_narrow_bars_are_a_module_wide() -> None:
    widths = [
        float(item.points[:, 0].max() - item.points[:, 0].min())
        for item in label(LabelText("31-0042", "A", "B", "")).items
        if isinstance(item, Path)
    ]
    assert min(widths) == pytest.approx(0.33) and max(widths) == pytest.approx(4 * 0.33, abs=0.34)
