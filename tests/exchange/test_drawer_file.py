"""The drawer as CSV: in whole or not at all, out and back in the same."""

from __future__ import annotations

import csv
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.demo.drawer import drawer
from yarvel.exchange.drawer_file import COLUMNS, read_drawer, write_drawer
from yarvel.exchange.stock_file import read_stock
from yarvel.figures.errors import JobError
from yarvel.workshop.drawer.stock import BUR, HEAD, MOUNT, SETTING, WIRE, StockItem, bur_sizes


def written(path: Path, text: str) -> Path:
    path.write_text(text, encoding="utf-8")
    return path


def test_the_demos_drawer_comes_back_as_it_went_out(tmp_path: Path) -> None:
    target = tmp_path / "drawer.csv"
    write_drawer(drawer(), target)
    assert read_drawer(target) == drawer()
    with target.open(encoding="utf-8", newline="") as file:
        assert tuple(next(csv.reader(file))) == COLUMNS


def test_heads_of_a_drawer_are_a_stock_to_match(tmp_path: Path) -> None:
    target = tmp_path / "drawer.csv"
    write_drawer(drawer(), target)
    heads = [item for item in drawer() if item.kind in (HEAD, MOUNT)]
    assert read_stock(target).codes == tuple(head.code for head in heads)


@given(st.text(st.characters(codec="utf-8", exclude_characters="\x00", exclude_categories=("Cs", "Cc")), max_size=20))
def test_a_note_survives_whatever_it_begins_with(tmp_path_factory: pytest.TempPathFactory, note: str) -> None:
    """Also what a spreadsheet would take for a formula; spaces at the ends are not kept."""
    target = tmp_path_factory.mktemp("csv") / "drawer.csv"
    item = StockItem(WIRE, "RD1", size_mm=1.0, note=note.strip())
    write_drawer([item], target)
    assert read_drawer(target) == [item]
    with target.open(encoding="utf-8", newline="") as file:
        assert not list(csv.reader(file))[1][-1].startswith(("=", "+", "-", "@"))


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("code,colour\nA,red\n", "row 1: these columns are not a drawer's"),
        (
            "kind,code,size_mm\nbur,A,2\nbrush,B,2\n",
            "row 3 column kind: unknown kind 'brush': one of head, mount",
        ),
        ("kind,code,size_mm\nwire,A,thick\n", "row 2 column size_mm: 'thick' is not accepted: 0.2 to 8"),
        ("kind,code,size_mm,metal\nwire,A,1,tin\n", "row 2 column metal: unknown metal 'tin': one of 18k-yellow"),
        (
            "code,made_for_mm,claws,claw_mm,height_mm\nA,6,4.5,1,4\n",
            "row 2 column claws: '4.5' is not accepted: a whole number, 3 to 8",
        ),
        (
            "code,made_for_mm,claws,claw_mm,height_mm\nA,,4,1,4\n",
            "row 2 column made_for_mm: nothing given: made_for_mm or label_ct",
        ),
        (
            "kind,code,size_mm,shape\nbur,A,2,round\n",
            "row 2 column shape: 'round' is not accepted: one of setting, hart",
        ),
        ("kind,code,size_mm\nbur,A\n", "row 2: 2 cells: 3, as in the first row"),
    ],
)
def test_a_problem_is_told_by_row_and_column(tmp_path: Path, text: str, told: str) -> None:
    with pytest.raises(JobError) as refused:
        read_drawer(written(tmp_path / "d.csv", text))
    assert told in str(refused.value)


def test_one_bad_row_keeps_all_out(tmp_path: Path) -> None:
    rows = "".join(f"bur,B{place},2.{place}\n" for place in range(9))
    with pytest.raises(JobError, match="row 11 column size_mm"):
        read_drawer(written(tmp_path / "d.csv", f"kind,code,size_mm\n{rows}bur,X,99\n"))


@given(st.text(max_size=80))
def test_no_text_is_thrown_at(tmp_path_factory: pytest.TempPathFactory, text: str) -> None:
    path = tmp_path_factory.mktemp("csv") / "any.csv"
    path.write_bytes(text.encode("utf-8", "surrogatepass"))
    try:
        read_drawer(path)
    except JobError as error:
        assert error.problems


def test_a_missing_file_says_so(tmp_path: Path) -> None:
    with pytest.raises(JobError, match="No such file"):
        read_drawer(tmp_path / "none.csv")


def test_only_setting_burs_count_for_seats() -> None:
    items = [
        StockItem(BUR, size_mm=5.1, shape=SETTING),
        StockItem(BUR, size_mm=1.3, shape="hart"),
        StockItem(BUR, size_mm=4.2),
    ]
    assert bur_sizes(items) == (4.2, 5.1)
