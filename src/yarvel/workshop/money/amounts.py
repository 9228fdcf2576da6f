"""Money in whole smallest units: rounded once, where it becomes a line; whatever is added up afterwards is exact."""

from __future__ import annotations

import re
from decimal import ROUND_HALF_UP, Decimal

_DECIMALS = {
    **dict.fromkeys(("BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX"), 0),
    **dict.fromkeys(("UYI", "VND", "VUV", "XAF", "XOF", "XPF", "₩", "₫"), 0),
    **dict.fromkeys(("BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND"), 3),
}
"""Minor units of currencies by ISO 4217, where they are not two; quoted from memory."""


def decimals_of(currency: str) -> int:
    """How many decimals a currency has, by its code or sign as it stands on papers; two where nothing else is known."""
    known = (_DECIMALS.get(word) for word in re.findall(r"[A-Z]{3}|[₩₫]", currency.upper()))
    return next((places for places in known if places is not None), 2)


def exact(number: float) -> Decimal:
    """A number as it is written (2.675), not its binary neighbour."""
    return Decimal(repr(float(number)))


def with_percent(amount: Decimal, percent: float) -> Decimal:
    """An amount with so many per cent on it, exactly."""
    return amount * (1 + exact(percent) / 100)


def whole(amount: Decimal) -> int:
    """Rounded, halves away from zero as people count."""
    return int(amount.to_integral_value(ROUND_HALF_UP))


def units(amount: float | Decimal, currency: str) -> int:
    """An amount in whole smallest units of its currency."""
    of_it = amount if isinstance(amount, Decimal) else exact(amount)
    return whole(of_it.scaleb(decimals_of(currency)))


def amount_of(count: int, currency: str) -> float:
    """Smallest units as the number that people type."""
    return float(Decimal(count).scaleb(-decimals_of(currency)))


def written(count: int, currency: str) -> str:
    """Smallest units as they stand on the screen and on papers, without the currency's name."""
    places = decimals_of(currency)
    return f"{Decimal(count).scaleb(-places):,.{places}f}"


def with_currency(count: int, currency: str) -> str:
    """Smallest units with the currency's name behind them."""
    return f"{written(count, currency)} {currency}".strip()
