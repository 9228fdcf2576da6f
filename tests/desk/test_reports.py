"""Reports in their window: what is late, opened by a double press, written as CSV and as a calendar."""

from __future__ import annotations

import csv
import shutil
from collections.abc import Callable
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog

from tests import stated
from tests.desk.conftest import Hand
from tests.stated import MOMENT
from yarvel.clock import now, today
from yarvel.demo.large import fill_large
from yarvel.desk.papers.table_out import texts_of
from yarvel.desk.reports import calls
from yarvel.desk.reports.register import REPORTS
from yarvel.desk.reports.report import ReportLine
from yarvel.desk.reports.rows import in_order
from yarvel.desk.reports.window import ReportsWindow
from yarvel.desk.reports.worth import worth_of
from yarvel.desk.widgets.kept_widths import keep_widths
from yarvel.desk.widgets.plain_table import WIDTHS_KEPT, choose_row, plain_table
from yarvel.drawing.listing import bar_span, list_pages
from yarvel.figures.rules import HouseRules
from yarvel.planning.repair import CAUSES
from yarvel.workshop.dockets.records import HANDED_OVER, DocketEdit
from yarvel.workshop.reports.report_store import BroughtDocket, ChartedDocket, Reported, dockets_behind, reported
from yarvel.workshop.store import Store

EMPTY = Reported(open=[], charted=[], work=[], learnt={}, standards={}, benches=1)


@pytest.fixture
def reports(hand: Hand) -> ReportsWindow:
    hand.window.board.open_reports()
    made = hand.window.board.reports
    assert made is not None
    hand.bot.waitUntil(lambda: made.pages["late"].table.rowCount() == 10 and not made._stale)
    return made


def test_open_dockets_stand_by_their_promise(hand: Hand, reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    standings = [table.item(row, 5).text() for row in range(table.rowCount())]
    assert set(standings) <= {"late", "at risk", "in time", "no date"}
    promised = [table.item(row, 3).text() for row in range(table.rowCount()) if standings[row] == "in time"]
    assert promised == sorted(promised)
    number = table.item(1, 0).text()
    table.cellDoubleClicked.emit(1, 0)
    hand.bot.waitUntil(lambda: hand.window.session.docket.number == number)  # type: ignore[union-attr]


def test_a_table_and_the_promises_are_written(
    hand: Hand, reports: ReportsWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for button, name, word in (
        (reports.csv, "late.csv", "Docket"),
        (reports.calendar, "promised.ics", "BEGIN:VCALENDAR"),
    ):
        target = tmp_path / name
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, target=target, **_kwargs: (str(target), ""))
        hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
        assert word in target.read_text(encoding="utf-8-sig") and str(target) in hand.window.banner.text()
    with (tmp_path / "late.csv").open(encoding="utf-8-sig", newline="") as file:
        assert len(list(csv.reader(file))) == 11


def test_bars_show_what_the_tables_say(hand: Hand, reports: ReportsWindow) -> None:
    bars = reports.pages["late"].bars
    assert bars.isVisibleTo(reports.tabs.widget(0))
    rows = [line.texts for line in reports.pages["late"].answer.lines]
    left = sum(float(texts[7]) for texts in rows if texts[3] and texts[7] != "–") / 60
    shown = [text.text for text in bars.drawing(200.0).texts()]
    hours = [float(text.removesuffix(" h")) for text in shown if text.endswith(" h")]
    assert sum(hours) == pytest.approx(left, abs=0.06 * len(hours)) and any("h a week" in text for text in shown)
    assert not reports.pages["pace"].bars.isVisibleTo(reports.tabs.widget(2)), "nothing to look at yet"


def test_standard_minutes_are_typed_into_the_table(hand: Hand, reports: ReportsWindow, demo_path: Path) -> None:
    table = reports.pages["pace"].table
    row = next(row for row in range(table.rowCount()) if table.item(row, 0).text() == "Solder")
    assert not table.item(row, 0).flags() & Qt.ItemFlag.ItemIsEditable
    table.item(row, 2).setText("112,5 %")
    store = Store(demo_path)
    hand.bot.waitUntil(lambda: store.tasks.standards()["solder"].pace == 112.5)
    for wrong, said in (("soon", "is no share"), ("0", "10 to 1000 per cent")):
        table.item(row, 2).setText(wrong)
        hand.bot.waitUntil(lambda said=said: said in hand.window.banner.text())
        hand.bot.waitUntil(lambda: table.item(row, 2).text() == "112.5")
    store.close()


def test_a_table_prints_as_a_list(reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    pages = list_pages(reports.pages["late"].report.title, *texts_of(table), date(2031, 4, 9).isoformat())
    texts = [text.text for text in pages[0].texts()]
    assert len(pages) == 1 and "Late and at risk" in texts and "page 1 of 1" in " ".join(texts)
    for row in range(table.rowCount()):
        assert table.item(row, 0).text() in texts


def test_a_docket_is_found_by_stone_metal_and_person(hand: Hand, reports: ReportsWindow) -> None:
    found: list[list[str]] = []
    for words in ("tanzanite", "sterling labradorite", "Orla spinel"):
        hand.window.dockets.gateway.look(
            lambda store, words=words: store.dockets(words),
            lambda dockets: found.append([docket.item for docket in dockets]),
        )
    hand.bot.waitUntil(lambda: len(found) == 3)
    assert found == [
        ["Step-cut tanzanite, new gallery"],
        ["Silver dress ring, labradorite"],
        ["Four-claw solitaire, spinel"],
    ]


def test_a_table_that_is_filled_anew_still_fills_its_window(hand: Hand, reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    for width in (1280, 1600):
        reports.resize(width, 800)
        hand.settle()
        reports.reload()
        hand.settle()
        columns = range(table.columnCount())
        assert sum(table.columnWidth(column) for column in columns) >= table.viewport().width()


def shown(reports: ReportsWindow, key: str, column: int) -> list[str]:
    table = reports.pages[key].table
    return [table.item(row, column).text() for row in range(table.rowCount())]


def test_rows_are_sorted_by_a_press_on_a_head_and_filtered_by_words(hand: Hand, reports: ReportsWindow) -> None:
    """Minutes as numbers, what says nothing last; a row leads to its own docket wherever it stands."""
    page = reports.pages["late"]
    head = page.table.horizontalHeader()

    def press(column: int) -> None:
        middle = head.sectionViewportPosition(column) + head.sectionSize(column) // 2
        hand.bot.mouseClick(head.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(middle, head.height() // 2))

    press(7)
    rising = [float(text) for text in shown(reports, "late", 7) if text != "–"]
    assert rising == sorted(rising) and len(rising) > 1
    assert set(shown(reports, "late", 7)[len(rising) :]) <= {"–"}
    press(7)
    assert [float(text) for text in shown(reports, "late", 7) if text != "–"] == sorted(rising, reverse=True)
    customer = shown(reports, "late", 1)[0]
    hand.bot.keyClicks(reports.words, customer.split()[0].lower())
    assert 0 < page.table.rowCount() < 10 and set(shown(reports, "late", 1)) == {customer}
    number = shown(reports, "late", 0)[0]
    page.table.cellDoubleClicked.emit(0, 0)
    hand.bot.waitUntil(lambda: hand.window.session.docket.number == number)  # type: ignore[union-attr]
    hand.bot.keyClicks(reports.words, " zzz")
    assert page.table.rowCount() == 0 and page.rows._empty.text() == "No row holds these words."


def test_what_is_chosen_is_copied_with_its_heads(hand: Hand, reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    choose_row(table, 1)
    table.setFocus()
    hand.bot.keyClick(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    heads, row = QGuiApplication.clipboard().text().split("\n")
    assert heads.split("\t")[0] == "Docket" and row.split("\t")[0] == table.item(1, 0).text()


def test_widths_that_a_hand_has_drawn_are_kept(hand: Hand, reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    head = table.horizontalHeader()
    edge = head.sectionViewportPosition(2) + head.sectionSize(2) - 1
    before, y = head.sectionSize(2), head.height() // 2
    hand.bot.mousePress(head.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(edge, y))
    hand.bot.mouseMove(head.viewport(), QPoint(edge - 40, y))
    head.resizeSection(2, before - 40)  # what the pointer does; its move does not arrive offscreen
    table.setProperty(WIDTHS_KEPT, True)
    hand.bot.mouseRelease(head.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(edge - 40, y))
    reports.reload()
    hand.settle()
    assert head.sectionSize(2) == before - 40


def test_widths_are_there_at_the_next_start(open_hand: Callable[[Path], Hand], demo_path: Path) -> None:
    """Kept with the window's other settings, and only for a table with the same columns."""
    first = open_hand(demo_path)
    first.window.board.open_reports()
    assert first.window.board.reports is not None
    table = first.window.board.reports.pages["late"].table
    table.setColumnWidth(1, 217)
    keep_widths(table, table.accessibleName())
    first.window.close()
    second = open_hand(demo_path)
    second.window.board.open_reports()
    assert second.window.board.reports is not None
    again = second.window.board.reports.pages["late"].table
    second.settle()
    assert again.columnWidth(1) == 217 and again.property(WIDTHS_KEPT)
    other = plain_table(second.window, ("one", "two"), table.accessibleName())
    assert not other.property(WIDTHS_KEPT), "another table's widths are not taken"


def test_customers_and_metal_over_a_time(hand: Hand, reports: ReportsWindow) -> None:
    """What is older than the time chosen does not count; a customer's row leads to their window."""
    store = hand.window.dockets.gateway.store
    assert store is not None
    person, number = store.people.all()[0].id, store.docket(1).number
    old = now() - timedelta(days=40)
    store.fine.add("issued", "18k-yellow", 10.0, person, "", "", old)
    store.fine.add("used", "18k-yellow", 9.0, person, number, "", old)
    store.fine.add("issued", "sterling-silver", 5.0, person)
    store.fine.add("returned", "sterling-silver", 4.0, person)
    store.fine.add("used", "sterling-silver", 1.0, person, number)
    reports.reload()
    hand.bot.waitUntil(lambda: reports.pages["metal"].table.rowCount() == 2)
    assert shown(reports, "metal", 0) == ["18k yellow gold", "Sterling silver"]
    assert shown(reports, "metal", 6) == ["10.0%", "0.0%"]
    assert shown(reports, "metal", 7) == ["over the allowance", "within it"]
    reports.period.setCurrentIndex(reports.period.findData(28))
    reports.period.activated.emit(reports.period.currentIndex())
    hand.bot.waitUntil(lambda: reports.pages["metal"].table.rowCount() == 1)
    assert sum(int(text) for text in shown(reports, "worth", 1)) == 10
    customer = shown(reports, "worth", 0)[0]
    reports.pages["worth"].table.cellDoubleClicked.emit(0, 0)
    opened = hand.window.customers.window
    assert opened is not None
    hand.bot.waitUntil(lambda: bool(opened.selected) and opened.selected[0].name == customer)


@given(st.lists(st.tuples(st.floats(-1e6, 1e6), st.text("abc", max_size=3)), max_size=20), st.booleans())
def test_rows_stand_in_order_of_their_numbers(rows: list[tuple[float, str]], falling: bool) -> None:
    lines = [ReportLine((f"{number:,.2f}", word)) for number, word in rows]
    found = [float(line.texts[0].replace(",", "")) for line in in_order(lines, 0, falling)]
    assert found == sorted(found, reverse=falling)
    words = [line.texts[1] for line in in_order(lines, 1, falling=False)]
    said = [word for word in words if word]
    assert said == sorted(said) and not any(words[len(said) :])


def test_the_worth_of_a_customer_is_that_of_their_bills() -> None:
    priced = {"labour": 40.0, "metal": 10.0, "minutes": 60.0}
    brought = [
        BroughtDocket(
            customer="Tarn", state="ready", estimate=priced, stones_price=5.0, outside_price=None, deposit=None
        ),
        BroughtDocket(
            customer="Tarn", state="handed over", estimate={}, stones_price=None, outside_price=None, deposit=None
        ),
        BroughtDocket(
            customer="Alder", state="ready", estimate={}, stones_price=None, outside_price=None, deposit=None
        ),
    ]
    first, second = worth_of(brought, HouseRules())
    assert (first.customer, first.dockets, first.left, first.priced, first.net) == ("Tarn", 2, 1, 1, 5500)
    assert (second.customer, second.dockets, second.priced) == ("Alder", 1, 0)


def charted(number: str, seen: str, tip: float, state: str = HANDED_OVER, before: str = "") -> ChartedDocket:
    chart = {"seen": seen, "claws": [{"finding": "worn-tip", "tip": tip}, {"finding": "sound"}]}
    at = datetime.fromisoformat(seen)
    place = int(number[-1])
    return ChartedDocket(
        claw_chart=chart,
        job_document={"head": {"claw_mm": 1.1}},
        id=place,
        number=number,
        customer="Tarn",
        item="ring",
        state=state,
        earlier_number=before,
        created_at=at,
    )


def test_heads_come_back_as_calls_before_their_tips_are_gone() -> None:
    """A year after they were looked at, sooner where they wear fast; one that is in the house, or came back, does
    not; whoever was told stands last."""
    looked = [
        charted("29-0001", "2029-03-01", 0.95),
        charted("30-0002", "2030-03-01", 0.75, before="29-0001"),
        charted("30-0003", "2030-04-20", 0.9),
        charted("31-0004", "2031-01-05", 0.9, state="in work"),
        charted("30-0005", "2030-03-20", 0.9),
    ]
    found = replace(EMPTY, looked=looked, told={5: "2031-03-22"}, contacts={"Tarn": "555 0100"})
    rows = calls.again(found, HouseRules())
    assert [row.docket.number for row in rows] == ["30-0002", "30-0003", "30-0005"]
    fast = rows[0].by
    assert date(2030, 3, 1) < fast < date(2031, 3, 1), "0.2 a year, 0.35 left over the least: half of the way there"
    told = calls.answer(found, HouseRules(), date(2031, 4, 1))
    assert [line.texts[3] for line in told.lines] == ["30-0002", "30-0003", "30-0005"]
    assert told.lines[0].texts[2] == "555 0100" and told.lines[2].texts[5] == "2031-03-22"
    assert sum(held.bar.value for held in told.bars) == 2 and told.bars[0].bar.marked
    early = calls.answer(found, HouseRules(), date(2030, 3, 2))
    assert len(early.lines) < 3


def test_somebody_was_told_and_it_stands_there(hand: Hand, reports: ReportsWindow) -> None:
    """Typed in the report, by whoever takes in; taken back by nothing."""
    store = hand.window.dockets.gateway.store
    assert store is not None
    chart = {"seen": "2020-01-01", "claws": [{"finding": "worn-tip", "tip": 0.8}]}
    fields = {"claw_chart": chart, "released_by": "me", "release_reason": "x", "state": HANDED_OVER}
    for name, value in fields.items():
        store.edit(3, DocketEdit(job_patches=(), fields={name: value}))
    reports.reload()
    page = reports.pages["calls"]
    hand.bot.waitUntil(lambda: page.table.rowCount() == 1)
    page.table.item(0, 5).setText("today")
    hand.bot.waitUntil(lambda: store.customers.told() == {3: today().isoformat()})
    hand.bot.waitUntil(lambda: page.table.item(0, 5).text() == today().isoformat())
    page.table.item(0, 5).setText("99.99")
    hand.bot.waitUntil(lambda: "is no day" in hand.window.banner.text())
    page.table.item(0, 5).setText("")
    hand.bot.waitUntil(lambda: store.customers.told() == {})


def test_what_was_done_is_told_by_act_and_leads_to_its_docket(hand: Hand, reports: ReportsWindow) -> None:
    """One line an act, the newest first; by a person or a docket where their words are typed."""
    store = hand.window.dockets.gateway.store
    assert store is not None
    number = store.edit(4, DocketEdit(job_patches=(), fields={"item": "sleeper hoop"})).number
    reports.reload()
    hand.bot.waitUntil(lambda: shown(reports, "done", 2)[0] == number)
    page = reports.pages["done"]
    when = shown(reports, "done", 0)
    assert when == sorted(when, reverse=True) and len(when) >= 11
    reports.tabs.setCurrentWidget(page)
    hand.bot.keyClicks(reports.words, "sleeper")
    assert page.table.rowCount() == 1 and "→ sleeper hoop" in shown(reports, "done", 5)[0]
    page.table.cellDoubleClicked.emit(0, 0)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 4)
    assert sum(held.bar.value for held in page.answer.bars) == len(page.answer.lines)


def pressed_bar(hand: Hand, page: object, number: int) -> None:
    """A bar is pressed where it is painted."""
    canvas = page.bars.canvas  # type: ignore[attr-defined]
    top, bottom = bar_span(number, page.answer.limit)  # type: ignore[attr-defined]
    at = QPoint(canvas.width() // 2, round((top + bottom) / 2 * 4.4))
    hand.bot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=at)


def test_a_bar_leads_to_the_dockets_that_it_counts(hand: Hand, reports: ReportsWindow) -> None:
    """Pressed with the pointer or by key; sorted, filtered and written like any rows; and back again."""
    page = reports.pages["late"]
    held = page.answer.bars[0]
    assert held.behind and held.bar.label.startswith("week of")
    pressed_bar(hand, page, 0)
    hand.bot.waitUntil(lambda: page.front is page.behind)
    assert {line.docket_id for line in page.behind.shown} == set(held.behind)
    count = len(held.behind)
    assert page._of.text() == f"{held.bar.label}: {count} docket{'s' if count > 1 else ''}"
    assert not page.rows.isVisibleTo(page) and page.behind.table.hasFocus()
    number = page.behind.table.item(0, 0).text()
    hand.bot.keyClick(page.behind.table, Qt.Key.Key_Return)
    hand.bot.waitUntil(lambda: hand.window.session.docket.number == number)  # type: ignore[union-attr]
    hand.bot.keyClick(page.behind.table, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    assert page.front is page.rows and page.table.hasFocus()
    page.bars.canvas.setFocus(Qt.FocusReason.TabFocusReason)
    hand.bot.keyClick(page.bars.canvas, Qt.Key.Key_Down)
    hand.bot.keyClick(page.bars.canvas, Qt.Key.Key_Up)
    hand.bot.keyClick(page.bars.canvas, Qt.Key.Key_Return)
    hand.bot.waitUntil(lambda: page.front is page.behind)
    hand.bot.mouseClick(page.back, Qt.MouseButton.LeftButton)
    assert page.front is page.rows


def test_the_dockets_behind_a_bar_are_what_is_written(
    hand: Hand, reports: ReportsWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = reports.pages["late"]
    pressed_bar(hand, page, 0)
    hand.bot.waitUntil(lambda: page.front is page.behind)
    target = tmp_path / "behind.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, **_kwargs: (str(target), ""))
    hand.bot.mouseClick(reports.csv, Qt.MouseButton.LeftButton)
    with target.open(encoding="utf-8-sig", newline="") as file:
        rows = list(csv.reader(file))
    assert rows[0] == ["Docket", "Promised", "State", "Customer", "Item"] and len(rows) == 1 + len(page.behind.shown)


@pytest.fixture(scope="module")
def large(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The larger workshop, with a year behind it."""
    path = tmp_path_factory.mktemp("large") / "large.sqlite"
    stated.begin(MOMENT - timedelta(hours=1))
    store = Store(path)
    fill_large(store, today())
    store.close()
    stated.begin()
    return path


def test_a_customers_bar_opens_the_customer_and_a_row_its_dockets(
    large: Path, tmp_path: Path, open_hand: Callable[[Path], Hand]
) -> None:
    """What counts several dockets leads to them by a double press, too."""
    shutil.copy(large, tmp_path / "large.sqlite")
    hand = open_hand(tmp_path / "large.sqlite")
    hand.window.board.open_reports()
    made = hand.window.board.reports
    assert made is not None
    worth, back = made.pages["worth"], made.pages["back"]
    hand.bot.waitUntil(lambda: back.table.rowCount() > 3)
    wanted: list[str] = []
    made.tabs.setCurrentWidget(worth)
    made.customer_wanted.connect(wanted.append)
    pressed_bar(hand, worth, 0)
    assert wanted == [worth.answer.bars[0].bar.label]
    made.tabs.setCurrentWidget(back)
    back.table.cellDoubleClicked.emit(0, 0)
    hand.bot.waitUntil(lambda: back.front is back.behind)
    assert len(back.behind.shown) == len(back.shown[0].behind) == int(back.shown[0].texts[2])


def test_every_row_and_bar_that_counts_dockets_leads_to_them(large: Path, tmp_path: Path) -> None:
    """On a workshop with a year of history every report has its answer; what it counts is what stands behind it."""
    shutil.copy(large, tmp_path / "large.sqlite")
    store = Store(tmp_path / "large.sqlite")
    found, rules = reported(store), store.house.rules()
    for key, report in REPORTS.items():
        told = report.answer(found, rules, today())
        assert told.lines and told.bars, key
        for line in told.lines:
            untimed = key == "pace" and not line.texts[5]
            assert line.docket_id is not None or line.customer or line.behind or untimed, (key, line.texts)
            if key == "back":
                assert len(line.behind) == int(line.texts[2])
        for held in told.bars:
            assert held.behind or held.customer or not held.bar.value, (key, held.bar.label)
            if held.behind and key in ("back", "calls"):
                assert len(held.behind) == held.bar.value
            assert {one.id for one in dockets_behind(store, held.behind)} <= set(held.behind)
    store.close()


def test_the_larger_workshops_year_adds_up(large: Path, tmp_path: Path) -> None:
    """No piece has more metal than was weighed out for it; a head that came back says why, and is mended for it."""
    shutil.copy(large, tmp_path / "large.sqlite")
    store = Store(tmp_path / "large.sqlite")
    metal = {one.alloy: one for one in reported(store).metal}
    assert len(metal) > 4
    for one in metal.values():
        assert one.issued > one.used > 0 and 0 < one.loss_share() < 0.25, one
    charted = reported(store).charted
    assert len(charted) > 20
    for docket in charted:
        hit = [claw for claw in docket.claw_chart["claws"] if claw["finding"] != "sound"]
        assert hit and docket.claw_chart["cause"] in CAUSES and docket.claw_chart["chosen"]
    store.close()
