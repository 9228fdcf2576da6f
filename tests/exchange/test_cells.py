"""Cells that no spreadsheet runs, whatever it parts them by; and back again."""

from __future__ import annotations

import csv
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.exchange.cells import plain, safe
from yarvel.exchange.report_file import write_report
from yarvel.exchange.stock_file import read_stock
from yarvel.figures.errors import JobError

RUNS = re.compile(r"(^|[;,|\t\r\n]) *[=+\-@\t\r\n]")
"""Where a cell may begin in the dialects that spreadsheets read, and what begins a formula (common practice)."""
_SIGNS = st.text(st.sampled_from("=+-@;,|\t\r\n' ax1"), max_size=14)


@given(_SIGNS)
def test_no_cell_begins_as_a_formula_does_and_texts_come_back(text: str) -> None:
    made = safe(text)
    try:
        float(text)
    except ValueError:
        assert not RUNS.search(made)
        assert plain(made) == text
    else:
        assert float(made) == float(text)


@pytest.mark.parametrize("text", ["x;=1+1", "\n=1+1", "=cmd|' /C calc'!A0", "a\t@SUM(1)", " +1+1"])
def test_a_report_holds_no_formula_for_any_separator(text: str, tmp_path: Path) -> None:
    target = tmp_path / "report.csv"
    write_report(["Docket"], [[text, "-3.5"]], target)
    raw = target.read_text(encoding="utf-8-sig")
    with target.open(encoding="utf-8-sig", newline="") as file:
        rows = list(csv.reader(file))
    assert plain(rows[1][0]) == text and rows[1][1] == "-3.5"
    for separator in ";\t|":
        for line in raw.splitlines():
            for cell in line.split(separator):
                assert not cell.strip('"').lstrip().startswith(("=", "+", "@"))


@pytest.mark.parametrize("claws", ["inf", "nan", "1e400", "4.5", "−4"])
def test_claws_that_are_no_count_get_a_clear_line(claws: str, tmp_path: Path) -> None:
    path = tmp_path / "stock.csv"
    path.write_text(f"code,made_for_mm,claw_mm,claws,height_mm\nA,5.7,0.9,{claws},4.4\n")
    with pytest.raises(JobError, match=r"row 2 column claws: .* is not accepted: a whole number"):
        read_stock(path)
