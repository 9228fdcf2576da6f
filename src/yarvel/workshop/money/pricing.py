"""What a docket comes to: one sum for the window and for every paper."""

from __future__ import annotations

from typing import Any, Protocol

from msgspec import Struct

from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import Docket


class Bill(Struct, frozen=True):
    """``lines`` what it is made of, in the workshop's money; ``deposit`` what is paid already, ``open`` what has no
    price yet."""

    lines: tuple[tuple[str, float], ...]
    tax_percent: float
    deposit: float
    open: tuple[str, ...]
    currency: str

    @property
    def net(self) -> float:
        """Before tax."""
        return cents(sum(cents(amount) for _, amount in self.lines))

    @property
    def tax(self) -> float:
        """Tax on it."""
        return cents(self.net * self.tax_percent / 100)

    @property
    def total(self) -> float:
        """With tax."""
        return cents(self.net + self.tax)

    @property
    def due(self) -> float:
        """What is left to pay."""
        return cents(self.total - self.deposit)

    def money(self, amount: float) -> str:
        """An amount as it is written."""
        return f"{amount:,.2f} {self.currency}".strip()


def cents(amount: float) -> float:
    """An amount in whole hundredths, halves away from zero as people count."""
    return float(int(abs(amount) * 100 + 0.5 + 1e-9)) / 100 * (1 if amount >= 0 else -1)


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

    Labour is the workshop's hour; metal has its loss, and metal, stones and outside work have the mark-up (common
    practice; both are 0 until the workshop sets them).
    """
    estimate = docket.estimate
    labour, metal, minutes = (_number(estimate, name) for name in ("labour", "metal", "minutes"))
    if labour is None or metal is None or minutes is None:
        return None
    metal *= 1 + rules.metal_loss_percent / 100
    bought = metal + (docket.stones_price or 0.0) + (docket.outside_price or 0.0)
    lines = [(f"Work ({minutes / 60:.1f} h)", labour), ("Metal", metal)]
    lines += [("Stones", docket.stones_price)] if docket.stones_price else []
    lines += [("Outside work", docket.outside_price)] if docket.outside_price else []
    if rules.markup_percent:
        lines.append((f"Mark-up {rules.markup_percent:g} %", bought * rules.markup_percent / 100))
    unpriced = estimate.get("unpriced")
    missing = [str(name) for name in unpriced] if isinstance(unpriced, list) else []
    missing += ["the stones"] if docket.stones_price is None and not estimate.get("own_stone") else []
    return Bill(tuple(lines), rules.tax_percent, docket.deposit or 0.0, tuple(missing), rules.custom.currency)


def approval(docket: Docket, bill: Bill | None) -> str:
    """Who approved which price and when, and what has changed since; "" where nobody did."""
    approved = docket.approved
    total = _number(approved, "total")
    if total is None:
        return ""
    by, on = str(approved.get("by", "")), str(approved.get("on", ""))
    text = f"{total:,.2f} approved{f' by {by}' if by else ''}{f' on {on}' if on else ''}"
    if bill is not None and abs(bill.total - total) >= 0.01:
        more = bill.total - total
        text += f"; since then {abs(more):,.2f} {'more' if more > 0 else 'less'}: ask again"
    return f"{text}."


def approved_words(docket: Docket, bill: Bill) -> str:
    """The approval as a customer reads it; "" where there is none, or another price was approved."""
    total = _number(docket.approved, "total")
    if total is None or abs(bill.total - total) >= 0.01:
        return ""
    return f"Approved on {docket.approved.get('on', '')}: {bill.money(total)}."


def _number(held: dict[str, Any], name: str) -> float | None:
    value = held.get(name)
    return float(value) if isinstance(value, int | float) and not isinstance(value, bool) else None
