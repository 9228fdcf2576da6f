"""What a customer gets on paper, and what they approve: receipt, estimate, invoice; the workshop's letterhead."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from yarvel import clock
from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.drawing.docket_papers import AmountLines, PaperHead, money_paper, receipt
from yarvel.drawing.primitives import Drawing
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import STATES, TAKEN_IN, Docket
from yarvel.workshop.money.amounts import amount_of, units, with_currency
from yarvel.workshop.money.done import done_words
from yarvel.workshop.money.pricing import Bill, approved_words, bill_of
from yarvel.workshop.people.customers import Customer
from yarvel.workshop.work.snapshot import stone_words

_NO_DOCKET = "There is no docket in hand: take one in first."
_NOT_BEGUN = (TAKEN_IN, "planned")
_NO_PRICE = "No price was worked out yet: press “Work out the price” under Take in."


class MoneyActs(QObject):
    """Answers the actions about papers with money on them, and the receipt that has none."""

    told = Signal(str)

    def __init__(self, window: QWidget, session: Session, dockets: DocketStore) -> None:
        super().__init__(window)
        self._window, self._session, self._dockets = window, session, dockets

    def receipt(self) -> None:
        """What was taken in, as it was found."""
        docket = self._docket()
        if docket is not None:
            rules, today, title = self._session.rules, clock.today(), f"Receipt {docket.number}"
            self._of(docket, lambda whose: self._preview([receipt_page(docket, rules, today, whose)], title))

    def estimate(self) -> None:
        """What it will come to."""
        self._money("Estimate")

    def invoice(self) -> None:
        """What it comes to, and what is left to pay: for work that was begun, not for what was only taken in."""
        docket = self._session.docket
        if docket is not None and docket.state in _NOT_BEGUN:
            self.told.emit(
                f"{docket.number} is only {STATES[docket.state]}: an invoice is for work that was done. The estimate "
                "says what it will come to."
            )
            return
        self._money("Invoice")

    def approve(self) -> None:
        """The customer approves the price as it is: who took it down, and when, stands on the docket."""
        docket = self._docket()
        bill = None if docket is None else bill_of(docket, self._session.rules)
        if docket is None:
            return
        if bill is None:
            self.told.emit(_NO_PRICE)
            return
        if bill.open:
            self.told.emit(f"{docket.number} cannot be approved yet: no price for {', '.join(bill.open)}.")
            return
        store = self._dockets.gateway.store
        by = "" if store is None else store.by
        self._session.set_column(
            "approved", {"total": amount_of(bill.total, bill.currency), "on": clock.today().isoformat(), "by": by}
        )
        self.told.emit(f"{docket.number}: {bill.money(bill.total)} approved. Undo takes it back.")

    def letterhead(self) -> None:
        """The lines at the head of papers, and the currency."""
        from yarvel.desk.papers.letterhead import LetterheadDialog

        dialog = LetterheadDialog(self._session.rules, self._window)
        if dialog.exec() and dialog.result_rules is not None:
            self._dockets.rules.keep_rules(dialog.result_rules)

    def _money(self, title: str) -> None:
        docket = self._docket()
        if docket is None:
            return
        bill = bill_of(docket, self._session.rules)
        if bill is None:
            self.told.emit(_NO_PRICE)
            return
        rules, today, done = self._session.rules, clock.today(), done_words(self._session.plan, docket)
        self._of(
            docket,
            lambda whose: self._preview(
                [bill_page(title, docket, bill, rules, today, whose, done)], f"{title} {docket.number}"
            ),
        )

    def _of(self, docket: Docket, then: Callable[[Customer | None], None]) -> None:
        """Whose a docket is, by their record; a paper does not wait for a store that is away."""
        if self._dockets.gateway.store is None or not docket.customer:
            then(None)
        else:
            self._dockets.ask(lambda store: store.customers.of(docket.customer), then)

    def _preview(self, pages: list[Drawing], title: str) -> None:
        from yarvel.desk.papers.papers import preview_and_print

        preview_and_print(self._window, pages, title)

    def _docket(self) -> Docket | None:
        if self._session.docket is None:
            self.told.emit(_NO_DOCKET)
        return self._session.docket


def _head(docket: Docket, rules: HouseRules, today: date, whose: Customer | None) -> PaperHead:
    contact = () if whose is None else tuple(line.strip() for line in whose.contact.splitlines() if line.strip())
    return PaperHead(
        letterhead=rules.custom.letterhead_lines,
        number=docket.number,
        customer=docket.customer,
        item=docket.item,
        day=today.isoformat(),
        contact=contact,
    )


def _paid(deposit: float, rules: HouseRules) -> str:
    currency = rules.custom.currency
    return with_currency(units(deposit, currency), currency)


def receipt_page(docket: Docket, rules: HouseRules, today: date, whose: Customer | None = None) -> Drawing:
    """The receipt of a docket."""
    facts = (
        ("Stone", stone_words(docket.job_document)),
        ("Metal, as tested", docket.metal),
        ("Its mark", docket.mark),
        ("Weight", "" if docket.weight_in_g is None else f"{docket.weight_in_g:g} g"),
        ("What was reported", docket.reported),
        ("As it was found", docket.condition),
        ("Promised", "" if docket.promised_on is None else docket.promised_on.isoformat()),
        ("Deposit paid", "" if not docket.deposit else _paid(docket.deposit, rules)),
    )
    return receipt(
        _head(docket, rules, today, whose), facts, ("Please bring this receipt when you collect the piece.",)
    )


def bill_page(
    title: str,
    docket: Docket,
    bill: Bill,
    rules: HouseRules,
    today: date,
    whose: Customer | None = None,
    done: str = "",
) -> Drawing:
    """The estimate or the invoice of a docket: what is ``done``, and with the terms agreed with its customer, where
    there are any."""
    facts = (
        ("Stone", stone_words(docket.job_document)),
        ("The work", done),
        ("Promised", "" if docket.promised_on is None else docket.promised_on.isoformat()),
    )
    lines = [(word, bill.money(amount)) for word, amount in bill.lines]
    if bill.tax_percent:
        lines += [("Net", bill.money(bill.net)), (f"Tax {bill.tax_percent:g} %", bill.money(bill.tax))]
    after: list[tuple[str, str]] = []
    if bill.deposit:
        left = ("To give back", bill.overpaid) if bill.overpaid else ("Left to pay", bill.due)
        after = [("Deposit paid", bill.money(-bill.deposit)), (left[0], bill.money(left[1]))]
    words = [f"Not in it yet: {', '.join(bill.open)}."] if bill.open else []
    words += [approved_words(docket, bill)]
    words += [] if whose is None else [line.strip() for line in whose.terms.splitlines() if line.strip()]
    sums = AmountLines(tuple(lines), ("Total", bill.money(bill.total)), tuple(after))
    return money_paper(_head(docket, rules, today, whose), title, facts, sums, words)
