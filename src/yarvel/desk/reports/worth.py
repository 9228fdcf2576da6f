"""What customers are worth: what they brought, and what it comes to."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from msgspec import Struct

from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import HANDED_OVER
from yarvel.workshop.money.amounts import with_currency
from yarvel.workshop.money.pricing import bill_of
from yarvel.workshop.reports.report_store import BroughtDocket, Reported

_MOST_BARS = 10


class Worth(Struct, frozen=True):
    """One customer: dockets, how many of them have left, how many have a price, and what those come to before tax, in
    smallest units."""

    customer: str
    dockets: int
    left: int
    priced: int
    net: int


def worth_of(brought: Iterable[BroughtDocket], rules: HouseRules) -> list[Worth]:
    """Customers by what they brought, the worth of what is priced first, then by number."""
    by_customer: dict[str, list[BroughtDocket]] = {}
    for brought_docket in brought:
        by_customer.setdefault(brought_docket.customer, []).append(brought_docket)
    values = []
    for customer, mine in by_customer.items():
        bills = [bill for bill in (bill_of(brought_docket, rules) for brought_docket in mine) if bill is not None]
        left = sum(brought_docket.state == HANDED_OVER for brought_docket in mine)
        values.append(Worth(customer, len(mine), left, len(bills), sum(bill.net for bill in bills)))
    return sorted(values, key=lambda one: (-one.net, -one.dockets, one.customer))


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Every customer; a bar each for the first ones, by worth where anything has a price, else by dockets."""
    worth = worth_of(found.brought, rules)
    money = any(customer_worth.net for customer_worth in worth)
    bars = tuple(
        LeadingBar(_bar(customer_worth, money, rules), customer=customer_worth.customer)
        for customer_worth in worth[:_MOST_BARS]
    )
    return Answer(tuple(ReportLine(_texts(one, rules), customer=one.customer) for one in worth), bars)


def _bar(one: Worth, money: bool, rules: HouseRules) -> Bar:
    if money:
        return Bar(one.customer, one.net, _amount(one.net, rules))
    return Bar(one.customer, one.dockets, str(one.dockets))


def _texts(one: Worth, rules: HouseRules) -> tuple[str, ...]:
    mean = _amount(round(one.net / one.priced), rules) if one.priced else ""
    net = _amount(one.net, rules) if one.priced else ""
    return (one.customer, str(one.dockets), str(one.left), str(one.priced), net, mean)


def _amount(count: int, rules: HouseRules) -> str:
    return with_currency(count, rules.custom.currency)


REPORT = Report(
    key="worth",
    title="What customers bring",
    heads=("Customer", "Dockets", "Handed over", "With a price", "Come to, before tax", "On average"),
    empty="No docket names a customer.",
    picture="Who brings most",
    answer=answer,
)
