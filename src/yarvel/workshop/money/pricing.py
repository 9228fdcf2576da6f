"""What a docket comes to: one sum for the window and for every paper."""

from __future__ import annotations

from typing import Any, Protocol

from msgspec import Struct

from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.money.amounts import exact, units, whole, with_currency, with_percent, written


class Bill(Struct, frozen=True, kw_only=True):
    """``lines`` what it is made of, each with its share of the mark-up; ``deposit`` what is paid already, ``open`` what
    has no price yet, ``house`` what only the house reads of it. Amounts are whole smallest units of the currency."""

    lines: tuple[tuple[str, int], ...]
    tax_percent: float = 0.0
    deposit: int = 0
    open: tuple[str, ...] = ()
    currency: str = ""
    house: tuple[str, ...] = ()

    @property
    def net(self) -> int:
        """Before tax: the lines as they are printed."""
        return sum(amount for _, amount in self.lines)

    @property
    def tax(self) -> int:
        """Tax on that sum."""
        return whole(self.net * exact(self.tax_percent) / 100)

    @property
    def total(self) -> int:
        """With tax."""
        return self.net + self.tax

    @property
    def due(self) -> int:
        """What is left to pay; 0 where more is paid already."""
        return max(self.total - self.deposit, 0)

    @property
    def overpaid(self) -> int:
        """What is to be given back."""
        return max(self.deposit - self.total, 0)

    def money(self, count: int) -> str:
        """An amount as it is written, with its currency."""
        return with_currency(count, self.currency)


class Priced(Protocol):
    """What a price is made of: the estimate as it was kept, what stones and outside work cost, what is paid already."""

    @property
    def estimate(self) -> dict[str, Any]: ...
    @property
    def stones_price(self) -> float | None: ...
    @property
    def outside_price(self) -> float | None: ...
    @property
    def deposit(self) -> float | None: ...


def bill_of(docket: Priced, rules: HouseRules) -> Bill | None:
    """What a docket comes to by its kept estimate; None while none was worked out.

    Labour is the workshop's hour; metal has its loss, and metal, stones and outside work have the mark-up within them
    (common practice; both are 0 until the workshop sets them). How many hours and which mark-up is the house's to know.
    """
    estimate = docket.estimate
    labour, metal, minutes = (_number(estimate, name) for name in ("labour", "metal", "minutes"))
    if labour is None or metal is None or minutes is None:
        return None
    currency = rules.custom.currency
    bought = {
        "Metal": with_percent(exact(metal), rules.metal_loss_percent),
        "Stones": exact(docket.stones_price or 0.0),
        "Outside work": exact(docket.outside_price or 0.0),
    }
    lines = [("Work", units(labour, currency))]
    lines += [
        (word, units(with_percent(amount, rules.markup_percent), currency))
        for word, amount in bought.items()
        if amount or word == "Metal"
    ]
    unpriced = estimate.get("unpriced")
    missing = [str(name) for name in unpriced] if isinstance(unpriced, list) else []
    missing += ["the stones"] if docket.stones_price is None and not estimate.get("own_stone") else []
    house = [f"{minutes / 60:.1f} h"]
    house += [f"mark-up {rules.markup_percent:g} % in all but work"] if rules.markup_percent else []
    return Bill(
        lines=tuple(lines),
        tax_percent=rules.tax_percent,
        deposit=units(docket.deposit or 0.0, currency),
        open=tuple(missing),
        currency=currency,
        house=tuple(house),
    )


def approved_total(docket: Docket, currency: str) -> int | None:
    """What was approved, in smallest units; None where nothing was."""
    total = _number(docket.approved, "total")
    return None if total is None else units(total, currency)


def approval(docket: Docket, bill: Bill | None) -> str:
    """Who approved which price and when, and what has changed since; "" where nobody did."""
    currency = "" if bill is None else bill.currency
    total = approved_total(docket, currency)
    if total is None:
        return ""
    by, on = str(docket.approved.get("by", "")), str(docket.approved.get("on", ""))
    text = f"{written(total, currency)} approved{f' by {by}' if by else ''}{f' on {on}' if on else ''}"
    if bill is not None and bill.total != total:
        more = bill.total - total
        text += f"; since then {written(abs(more), currency)} {'more' if more > 0 else 'less'}: ask again"
    return f"{text}."


def approved_words(docket: Docket, bill: Bill) -> str:
    """The approval as a customer reads it; "" where there is none, or another price was approved."""
    total = approved_total(docket, bill.currency)
    if total is None or bill.total != total:
        return ""
    return f"Approved on {docket.approved.get('on', '')}: {bill.money(bill.total)}."


def _number(held: dict[str, Any], name: str) -> float | None:
    value = held.get(name)
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None
