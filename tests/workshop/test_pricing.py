"""What a docket comes to: one sum, to the penny, for the window and for every paper."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, datetime
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtWidgets import QApplication

from tests.pdf_text import texts
from tests.planning.test_check_pieces import JOBS
from yarvel.desk.papers.letterhead import with_letterhead
from yarvel.desk.papers.money_acts import bill_page, receipt_page
from yarvel.drawing.metrics import box
from yarvel.drawing.painters.pdf import write_pdf
from yarvel.drawing.paper import A4
from yarvel.drawing.primitives import Drawing
from yarvel.figures.rules import HouseRules, WorkshopData, changed_rules, rules_from
from yarvel.planning.job import from_document
from yarvel.planning.plan import Plan, plan
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.money.amounts import amount_of, decimals_of, units, written
from yarvel.workshop.money.done import done_words
from yarvel.workshop.money.estimate import price_text
from yarvel.workshop.money.pricing import approval, approved_words, bill_of

AT = datetime(2031, 4, 9, 8, 30)
DAY = date(2031, 4, 9)
RULES = with_letterhead(
    HouseRules(metal_loss_percent=5, markup_percent=30, tax_percent=20),
    "The Bridge Workshop\nUnder the arches",
    "cr",
    "",
)


def docket(**more: Any) -> Docket:
    estimate = {"minutes": 125.0, "labour": 125.0, "metal": 210.0, "unpriced": [], "on": "2031-04-09"}
    held = {"estimate": estimate, "stones_price": 80.0, "outside_price": 12.5, "deposit": 100.0, **more}
    job = {"stone": {"cut": "round", "species": "spinel", "diameters_mm": [5.21]}}
    return Docket(
        id=1,
        number="31-0007",
        customer="Saltmarsh Rings",
        item="Six claws",
        promised_on=DAY,
        state="taken in",
        job_document=job,
        drafts={},
        ticks=(),
        version=1,
        created_at=AT,
        updated_at=AT,
        **held,
    )


def read(page: Drawing, tmp_path: Path) -> str:
    target = tmp_path / "paper.pdf"
    write_pdf([page], target, "Paper")
    said = texts(target)
    assert len(said) == 1
    return said[0]


def test_the_sum_worked_by_hand() -> None:
    """125 work; 210 of metal with 5 % lost is 220.50; 80 of stones, 12.50 outside; 30 % on 313.00 is 93.90; together
    531.90, 20 % tax 106.38, in all 638.28, of which 100 is paid."""
    bill = bill_of(docket(), RULES)
    assert bill is not None
    assert bill.lines == (("Work", 12_500), ("Metal", 28_665), ("Stones", 10_400), ("Outside work", 1_625))
    assert (bill.net, bill.tax, bill.total, bill.due) == (53_190, 10_638, 63_828, 53_828)
    assert bill_of(docket(estimate={}), RULES) is None and price_text(docket(estimate={}), RULES) == ""
    assert bill_of(docket(stones_price=None), RULES).open == ("the stones",)  # type: ignore[union-attr]


@pytest.mark.parametrize(("price", "percent"), [(1.1, 5.0), (0.1, 15.0), (0.18, 25.0), (4.1, 15.0)])
def test_percentages_are_exact(price: float, percent: float) -> None:
    """1.10 with 5 % is 1.155, which people round to 1.16: as binary numbers it may fall short of the half."""
    held = docket(estimate={"labour": 0.0, "metal": 0.0, "minutes": 0.0}, stones_price=price, deposit=None)
    bill = bill_of(held, HouseRules(markup_percent=percent))
    exactly = Decimal(str(price)) * (100 + Decimal(str(percent)))
    assert bill is not None and dict(bill.lines)["Stones"] == int(exactly.to_integral_value(ROUND_HALF_UP))


@given(st.decimals(-10_000, 10_000, places=4), st.sampled_from(["EUR", "cr", "", "JPY", "₩", "KWD", "in OMR"]))
def test_amounts_are_rounded_once_as_people_count(amount: Decimal, currency: str) -> None:
    """Held against decimal arithmetic, halves away from zero, to what the currency has (ISO 4217)."""
    places = {"JPY": 0, "₩": 0, "KWD": 3, "in OMR": 3}.get(currency, 2)
    expected = amount.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP)
    count = units(float(amount), currency)
    assert Decimal(written(count, currency).replace(",", "")) == expected and units(expected, currency) == count
    assert units(amount_of(count, currency), currency) == count, "what is kept is what was written"


AMOUNTS = st.floats(0, 5000)


@settings(max_examples=500)
@given(
    st.tuples(AMOUNTS, AMOUNTS, AMOUNTS, AMOUNTS, AMOUNTS),
    st.floats(0, 30),
    st.floats(0, 60),
    st.sampled_from(["EUR", "JPY", "KWD"]),
)
def test_a_bill_adds_up_to_the_smallest_unit_as_it_is_printed(
    amounts: tuple[float, ...], tax: float, marked: float, currency: str
) -> None:
    """Lines, net, tax, total, deposit and what is left, read back from their texts: of what the window and every paper
    say."""
    labour, metal, stones, outside, deposit = amounts
    rules = HouseRules(tax_percent=tax, markup_percent=marked, custom=WorkshopData(currency=currency))
    estimate = {"labour": labour, "metal": metal, "minutes": 60.0}
    held = docket(estimate=estimate, stones_price=stones, outside_price=outside, deposit=deposit)
    bill = bill_of(held, rules)
    assert bill is not None

    def read_back(count: int) -> Decimal:
        return Decimal(bill.money(count).replace(",", "").removesuffix(f" {currency}"))

    lines = [read_back(amount) for _, amount in bill.lines]
    assert sum(lines) == read_back(bill.net)
    exact = read_back(bill.net) * Decimal(repr(tax)) / 100
    assert abs(read_back(bill.tax) - exact) <= Decimal(1).scaleb(-decimals_of(currency)) / 2
    assert sum(lines) + read_back(bill.tax) == read_back(bill.total)
    left = read_back(bill.total) - read_back(bill.deposit)
    assert read_back(bill.due) - read_back(bill.overpaid) == left and 0 in (bill.due, bill.overpaid)
    told = price_text(held, rules)
    assert f"= {written(bill.net, currency)}" in told
    assert all(f"{word} {written(amount, currency)}" in told for word, amount in bill.lines)


def test_hours_and_mark_up_are_the_houses_to_know(tmp_path: Path, qapp: QApplication) -> None:
    """On the screen they stand; on no paper that a customer reads."""
    bill = bill_of(docket(), RULES)
    assert bill is not None and "(2.1 h, mark-up 30 % in all but work)" in price_text(docket(), RULES)
    for title in ("Estimate", "Invoice"):
        page = read(bill_page(title, docket(), bill, RULES, DAY), tmp_path)
        assert "Work 125.00 cr" in page and "30 %" not in page and "2.1 h" not in page and "ark-up" not in page


def test_who_paid_too_much_gets_it_back(tmp_path: Path, qapp: QApplication) -> None:
    over = docket(deposit=700.0)
    bill = bill_of(over, RULES)
    assert bill is not None and bill.due == 0 and bill.overpaid == 70_000 - 63_828
    page = read(bill_page("Invoice", over, bill, RULES, DAY), tmp_path)
    assert "To give back 61.72 cr" in page and "Left to pay" not in page and "-61" not in page


def test_window_and_papers_say_one_number(tmp_path: Path, qapp: QApplication) -> None:
    told = price_text(docket(), RULES)
    assert "= 531.90, with 20 % tax 638.28" in told
    bill = bill_of(docket(), RULES)
    assert bill is not None
    for title in ("Estimate", "Invoice"):
        page = read(bill_page(title, docket(), bill, RULES, DAY), tmp_path)
        assert "approved" not in page.casefold()
        for words in (title, "The Bridge Workshop", "31-0007", "638.28 cr", "Left to pay 538.28 cr", "spinel, round"):
            assert words in page, words


def test_a_receipt_says_what_came_in(tmp_path: Path, qapp: QApplication) -> None:
    came = docket(metal="18k white, tested", mark="750", weight_in_g=4.21, condition="two claws worn " * 12)
    page = receipt_page(came, RULES, DAY)
    told = read(page, tmp_path)
    for words in ("Receipt", "18k white, tested", "750", "4.21 g", "two claws worn", "Handed in by", "100.00 cr"):
        assert words in told, words
    assert "638" not in told, "no price on a receipt"
    for text in page.texts():
        left, top, right, bottom = box(text)
        assert left >= 0 and top >= 0 and right <= A4[0] and bottom <= A4[1]


def test_what_was_approved_and_what_changed_since() -> None:
    bill = bill_of(docket(), RULES)
    held = docket(approved={"total": 638.28, "on": "2031-04-09", "by": "Tove"})
    assert approval(held, bill) == "638.28 approved by Tove on 2031-04-09."
    assert bill is not None and approved_words(held, bill) == "Approved on 2031-04-09: 638.28 cr."
    dearer = replace(held, stones_price=90.0)
    assert "since then 15.60 more: ask again" in approval(dearer, bill_of(dearer, RULES))
    other = bill_of(dearer, RULES)
    assert other is not None and approved_words(dearer, other) == "", "no paper shows a price that was not approved"
    assert approval(docket(), bill) == "" and "approved by Tove" in price_text(held, RULES)


def test_letterhead_and_currency_are_kept_with_the_house() -> None:
    assert rules_from(changed_rules(RULES)) == RULES


def test_papers_say_what_is_done(planned: Callable[..., Plan], tmp_path: Path, qapp: QApplication) -> None:
    """A new ring as it is made, a repair by the way that was chosen; not the workshop's own words for its steps."""
    made = planned(samples=0)
    new = done_words(made, docket())
    assert new == "Shank made, head made, head and shank joined, stone set, finished and polished."
    worn = docket(claw_chart={"1": {"tip_mm": 0.1}, "chosen": "re-tip"})
    mended = done_words(made, worn)
    assert mended.startswith("Worn claws re-tipped") and "head made" not in mended and "shank made" not in mended
    bill = bill_of(worn, RULES)
    assert bill is not None
    page = read(bill_page("Invoice", worn, bill, RULES, DAY, done=mended), tmp_path)
    assert "The work" in page and "Worn claws re-tipped" in page
    assert done_words(None, docket()) == ""


@pytest.mark.parametrize(
    ("piece", "told"),
    [
        ("B", "Bought head, head and shank joined, stone set, finished and polished."),
        ("E", "Shank cast with its head, stone set, finished and polished."),
        ("J", "Head made, made to hang, stone set, finished and polished."),
        ("O", "Stone set, finished and polished."),
    ],
)
def test_nothing_is_told_as_made_that_is_there_or_bought(piece: str, told: str) -> None:
    """A bought head in an old ring, a cast ring, a pendant, a ready mount."""
    made = plan(from_document({"format": "yarvel-job/1", **JOBS[piece]}), HouseRules(), samples=0)
    assert done_words(made, docket()) == told
