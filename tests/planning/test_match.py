"""The match: all heads at once give what plans give one by one."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import BASE, job_with
from yarvel.exchange.stock_file import read_stock
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.match import FITS, LARGE, LOW, OTHER, SMALL, Stock, match, why
from yarvel.planning.plan import plan

RULES = HouseRules()
OWN = (
    "notch-too-deep",
    "notch-too-shallow",
    "head-too-small",
    "head-too-large",
    "culet-reaches-finger",
    "foot-cut-by-finger",
    "base-cut-through",
)
HEAD = "code,made_for_mm,claw_mm,claws,height_mm,opening_mm\n"


def stock_of(rows: list[tuple[float, float, int, float]]) -> Stock:
    made_for, claw, claws, height = (np.array(column, dtype=float) for column in zip(*rows, strict=True))
    return Stock(
        codes=tuple(f"H{row}" for row in range(len(rows))),
        made_for=made_for,
        claw=claw,
        claws=claws,
        opening=made_for - 0.66 * claw,
        height=height,
    )


rows = st.lists(
    st.tuples(st.floats(5.5, 7.5), st.floats(0.6, 1.3), st.integers(3, 8), st.floats(2, 8)), min_size=1, max_size=6
)


@given(rows, st.sampled_from(["on-flat", "inset", "peg"]), st.sampled_from(["in-line", "square"]))
def test_a_match_says_what_plans_say_one_by_one(
    heads: list[tuple[float, float, int, float]], method: str, turned: str
) -> None:
    shank = {"width_mm": 3.0}
    peg = {"style": "bought", "notch_ratio": None} if method == "peg" else {}
    parts: dict[str, Any] = {"fit": {"method": method}, "head": {"orientation": turned, **peg}, "shank": shank}
    found = match(job_with(**parts), RULES, stock_of(heads))
    for row, (made_for, claw, claws, height) in enumerate(heads):
        head = {
            "style": "bought",
            "made_for_mm": made_for,
            "claw_mm": claw,
            "claws": claws,
            "height_mm": height,
            "orientation": turned,
            "notch_ratio": None,
        }
        made = plan(job_with(head=head, fit={"method": method}, shank=shank), RULES, samples=0)
        assert found.notch_ratio[row] == pytest.approx(made[FigureKey("seat.notch_ratio")])
        assert found.culet_clearance[row] == pytest.approx(made[FigureKey("seat.culet_clearance")])
        levels = {call.code: call.level for call in made.diagnostics}
        assert (found.verdict[row] == SMALL) == (levels["head-too-small"] == "stop")
        assert (found.verdict[row] == LARGE) == (levels["head-too-large"] == "stop")
        if found.verdict[row] == FITS:
            taken = {**head, "trim_mm": float(found.trim[row])}
            after = plan(job_with(head=taken, fit={"method": method, "hole": None}, shank=shank), RULES, samples=400)
            wrong = [call.code for call in after.diagnostics if call.code in OWN and call.level in ("stop", "caution")]
            assert not wrong, "a head that fits, taken with its trim, calls for nothing of its own"
            again = next(call for call in after.diagnostics if call.code == "trim-base")
            assert again.level == "ok", "what may come off is told once"


def test_the_best_head_is_the_one_made_for_the_stone() -> None:
    heads = [
        (5.5, 0.9, 4, 4.0),
        (6.5, 0.9, 4, 3.4),
        (7.2, 0.9, 4, 4.0),
        (6.5, 0.9, 4, 1.5),
        (6.6, 0.9, 4, 3.4),
        (6.5, 0.9, 4, 7.0),
    ]
    found = match(job_with(), RULES, stock_of(heads))
    assert found.verdict.tolist() == [SMALL, FITS, LARGE, LOW, FITS, FITS]
    assert found.best(3) == [1, 5, 4] or found.best(3) == [1, 4, 5]
    assert found.best(99)[-1] in (0, 2)
    assert found.trim[5] == pytest.approx(7.0 - 2.811 - 0.3, abs=0.02)
    reasons = [why(found, row, RULES) for row in range(len(heads))]
    assert "overcut" in reasons[0]
    assert "would not hold" in reasons[2]
    assert "too low" in reasons[3]
    assert "taller than it needs" in reasons[5]


def test_heads_are_read_from_csv(tmp_path: Path) -> None:
    path = tmp_path / "stock.csv"
    path.write_text("\ufeff" + HEAD + "A-1,6.5,0.9,4,3.4,\n\nB-2,6,1,6,4,5.2\n", encoding="utf-8")
    stock = read_stock(path)
    assert stock.codes == ("A-1", "B-2")
    assert math.isnan(stock.opening[0]) and stock.opening[1] == 5.2
    assert len(stock) == 2


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "stock.csv row 1: no column code, claw_mm, claws, made_for_mm or label_ct, height_mm or height_tip_mm"),
        ("code,claws\nA,4\n", "row 1: no column claw_mm, made_for_mm or label_ct, height_mm or height_tip_mm"),
        (
            HEAD + "A,6.5,0.9,4,3.4,\nB,x,0.9,4,3.4,\n",
            "stock.csv row 3 column made_for_mm: 'x' is not accepted: 0.5 to 40",
        ),
        (HEAD + "A,6.5,0.9,4.5,3.4,\n", "row 2 column claws: '4.5' is not accepted: a whole number, 3 to 8"),
        (HEAD + "A,6.5,0.9,9,3.4,\n", "row 2 column claws: '9' is not accepted"),
        (HEAD + "A,6.5,nan,4,3.4,\n", "row 2 column claw_mm: 'nan' is not accepted: 0.3 to 3 mm"),
        (HEAD + "A,6.5,0.9,4\n", "row 2: 4 cells: 6, as in the first row"),
        (HEAD + 'A,"6.5,0.9,4,3.4,\n', "not CSV text"),
    ],
)
def test_a_stock_with_a_problem_is_not_half_read(text: str, told: str, tmp_path: Path) -> None:
    path = tmp_path / "stock.csv"
    path.write_text(text)
    with pytest.raises(JobError) as caught:
        read_stock(path)
    assert told in str(caught.value)


@given(st.text(max_size=200))
def test_no_text_breaks_the_reader(tmp_path_factory: pytest.TempPathFactory, text: str) -> None:
    path = tmp_path_factory.mktemp("stock") / "stock.csv"
    path.write_bytes(text.encode("utf-8", "surrogatepass"))
    with pytest.raises(JobError):
        read_stock(path)


def test_problems_are_told_but_not_by_the_thousand(tmp_path: Path) -> None:
    path = tmp_path / "stock.csv"
    path.write_text(HEAD + "A,x,0.9,4,3.4,\n" * 5000)
    with pytest.raises(JobError) as caught:
        read_stock(path)
    assert len(caught.value.problems) == 20


def test_the_command_prints_a_ranking(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    from yarvel.cli import main

    (tmp_path / "stock.csv").write_text(HEAD + "small,5.5,0.9,4,4,\nright,6.5,0.9,4,3.4,\n")
    (tmp_path / "job.json").write_text(json.dumps(BASE))
    assert main(["match", str(tmp_path / "stock.csv"), str(tmp_path / "job.json"), "--top", "2"]) == 0
    heads = json.loads(capsys.readouterr().out)["heads"]
    assert [(head["code"], head["row"], head["verdict"]) for head in heads] == [
        ("right", 3, "fits"),
        ("small", 2, "too small"),
    ]
    assert main(["match", str(tmp_path / "none.csv"), str(tmp_path / "job.json")]) == 2
    assert main(["match", str(tmp_path / "stock.csv"), str(tmp_path / "job.json"), "--top", "0"]) == 2
    assert capsys.readouterr().err.count("\n") == 2


OVAL = {"cut": "oval", "diameters_mm": None, "depth_mm": 3.6, "length_mm": 8.1, "width_mm": 6.0}


def test_heads_for_another_outline_come_last(rules: HouseRules) -> None:
    """A stock that tells no cuts is one of round heads: none of them takes an oval, which is told and not hidden."""
    found = match(job_with(stone=OVAL), rules, stock_of([(6.0, 0.9, 4, 4.0)]))
    assert found.verdict.tolist() == [OTHER] and "another outline" in why(found, 0, rules)


ROWS = st.lists(
    st.tuples(
        st.floats(0.94, 1.06),
        st.floats(0.94, 1.06) | st.none(),
        st.integers(4, 6),
        st.floats(0.7, 1.1),
        st.floats(3, 8),
        st.booleans(),
        st.floats(0.5, 0.9) | st.none(),
    ),
    min_size=1,
    max_size=4,
)


@given(ROWS, st.sampled_from(["oval", "pear", "princess", "emerald", "heart", "oval-cabochon"]))
def test_a_match_says_what_plans_say_in_any_cut(heads: list[tuple[Any, ...]], cut: str) -> None:
    """Length and width, foot to seat or to tip, the foot measured or not: each as the plan of that one head."""
    long = 6.5 if cut in ("princess", "heart") else 8.4
    stone = {"cut": cut, "diameters_mm": None, "depth_mm": 3.8, "length_mm": long, "width_mm": 6.5}
    fit = {"fit": {"method": "inset"}, "shank": {"width_mm": 3.2}}
    names = ("made_for_mm", "made_for_width_mm", "claws", "claw_mm", "height_mm", "height_tip_mm", "foot_mm")
    rows = []
    for by_length, by_width, count, claw, height, to_tip, foot in heads:
        size = round(long * by_length, 2), None if by_width is None else round(6.5 * by_width, 2)
        tall = (None, height + 1.5) if to_tip else (height, None)
        rows.append(dict(zip(names, (*size, count, claw, *tall, foot and 6.5 * foot), strict=True)))

    def column(name: str) -> np.ndarray[Any, np.dtype[np.float64]]:
        return np.array([np.nan if row[name] is None else row[name] for row in rows], dtype=float)

    made_for, claw, claws, height = (column(name) for name in ("made_for_mm", "claw_mm", "claws", "height_mm"))
    width, tip, foot = (column(name) for name in ("made_for_width_mm", "height_tip_mm", "foot_mm"))
    unknown = np.full(len(rows), np.nan)
    stock = Stock(
        codes=("A",) * len(rows),
        made_for=made_for,
        claw=claw,
        claws=claws,
        opening=unknown,
        height=height,
        cuts=(cut,) * len(rows),
        width=width,
        tip=tip,
        foot=foot,
    )
    found = match(job_with(stone=stone, **fit), RULES, stock)
    for number, row in enumerate(rows):
        head = {"style": "bought", "notch_ratio": None, **row}
        made = plan(job_with(stone=stone, head=head, **fit), RULES, samples=0)
        assert found.notch_ratio[number] == pytest.approx(made[FigureKey("seat.notch_ratio")])
        assert found.culet_clearance[number] == pytest.approx(made[FigureKey("seat.culet_clearance")])
        levels = {call.code: call.level for call in made.diagnostics}
        assert (found.verdict[number] == SMALL) == (levels["head-too-small"] == "stop")
        if found.verdict[number] != SMALL:
            assert (found.verdict[number] == LARGE) == (levels["head-too-large"] == "stop")
        if found.verdict[number] == FITS:
            taken = {**head, "trim_mm": float(found.trim[number])}
            after = plan(job_with(stone=stone, head=taken, **fit), RULES, samples=400)
            assert not [call.code for call in after.diagnostics if call.code in OWN and call.level == "stop"]


def test_a_label_by_the_carat_and_an_empty_box(tmp_path: Path) -> None:
    """Common practice: a one-carat round diamond is 6.5 mm across. What is not there comes after what is."""
    path = tmp_path / "stock.csv"
    path.write_text(
        "code,label_ct,made_for_mm,claws,claw_mm,height_tip_mm,quantity,cut\n"
        "none,1,,4,0.9,5.4,0,round\nright,1,,4,0.9,5.4,3,\nlong,,6.5,4,0.9,5.4,9,oval\n"
    )
    found = match(job_with(), RULES, read_stock(path))
    assert [found.best(3)[0], found.verdict[1], found.verdict[2]] == [1, FITS, OTHER]
    assert found.notch_ratio[1] == pytest.approx(RULES.notch_target, abs=0.04)
    assert found.notch_ratio[0] == found.notch_ratio[1]


@pytest.mark.parametrize(
    ("text", "told"),
    [
        (
            "code,made_for_mm,claws,claw_mm,height_mm,cut\nA,6,4,1,4,globe\n",
            "row 2 column cut: 'globe' is not accepted",
        ),
        (
            "code,made_for_mm,label_ct,claws,claw_mm,height_mm\nA,6,1,4,1,4\n",
            "row 2 column made_for_mm: made_for_mm and label_ct given: made_for_mm or label_ct",
        ),
        (
            "code,made_for_mm,claws,claw_mm,height_mm,height_tip_mm\nA,6,4,1,,\n",
            "row 2 column height_mm: nothing given: height_mm or height_tip_mm",
        ),
    ],
)
def test_sizes_and_heights_are_told_in_one_way(text: str, told: str, tmp_path: Path) -> None:
    path = tmp_path / "stock.csv"
    path.write_text(text)
    with pytest.raises(JobError) as caught:
        read_stock(path)
    assert told in str(caught.value)


def test_tips_hide_more_of_the_stone_with_more_and_thicker_claws(rules: HouseRules) -> None:
    """Geometry: claws times their width times what they cover, over the stone's face."""

    def stock(claws: float, claw: float) -> Stock:
        one = np.array([1.0])
        return Stock(
            codes=("A",), made_for=6.5 * one, claw=claw * one, claws=claws * one, opening=5.8 * one, height=5.0 * one
        )

    few, many, thick = (
        float(match(job_with(), rules, stock(claws, claw)).covered[0]) for claws, claw in ((4, 0.9), (6, 0.9), (4, 1.1))
    )
    assert many == pytest.approx(1.5 * few)
    assert thick > few > 0
