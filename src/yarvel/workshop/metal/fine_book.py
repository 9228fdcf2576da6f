"""The fine book: metal by alloy, between the safe, the benches and the finished pieces.

Entries are added, never edited; a slip is put right by an entry of its own.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from msgspec import Struct

from yarvel.clock import kept

BOUGHT, ISSUED, RETURNED, OFFCUTS, FILINGS, USED, SENT, COUNTED = (
    "bought",
    "issued",
    "returned",
    "offcuts",
    "filings",
    "used",
    "sent to refiner",
    "counted",
)

KINDS: dict[str, str] = {
    ISSUED: "issued",
    RETURNED: "returned",
    OFFCUTS: "offcuts",
    FILINGS: "filings",
    USED: "used",
    BOUGHT: "bought",
    SENT: "sent to refiner",
    COUNTED: "counted",
}
"""What a line of the book is: a key that stays (sealed months name it), and what it is called."""

IN_SAFE = {BOUGHT: 1, RETURNED: 1, OFFCUTS: 1, FILINGS: 1, ISSUED: -1, SENT: -1, COUNTED: 1}
"""How an entry changes what is in the safe."""
AT_BENCH = {ISSUED: 1, RETURNED: -1, OFFCUTS: -1, FILINGS: -1, USED: -1}
"""How an entry changes what is at a bench."""
MOST_G = 20_000.0


class FineEntry(Struct, frozen=True, kw_only=True):
    """One line: ``mass`` in g; whose bench and which docket, "" where none. "counted" may be negative: what a count of
    the safe found more or less than the book. ``reverses`` the line that this one takes back, by as many grams less."""

    id: int
    at: datetime
    by: str
    kind: str
    alloy: str
    mass: float
    person: str = ""
    docket: str = ""
    note: str = ""
    reverses: int | None = None


class Balance(Struct, frozen=True):
    """One alloy of one person or docket, in g: what was issued, came back (whole, as offcuts, as filings), went into
    pieces, and what is open: in work (of dockets under way of which nothing is in a piece yet), or lost."""

    of: str
    alloy: str
    issued: float
    returned: float
    offcuts: float
    filings: float
    used: float
    in_work: float = 0.0

    @property
    def open(self) -> float:
        """Issued and neither back nor in a piece."""
        return self.issued - self.returned - self.offcuts - self.filings - self.used

    @property
    def lost(self) -> float:
        """Open, and not in work."""
        return self.open - self.in_work

    @property
    def worked(self) -> float:
        """Issued less what came back whole, and less what is in work still."""
        return max(self.issued - self.returned - self.in_work, 0.0)

    def loss_share(self) -> float:
        """What is lost as a share of what was worked."""
        return self.lost / self.worked if self.worked > 1e-9 else 0.0


def balances(entries: Iterable[FineEntry], by: str) -> list[Balance]:
    """Balances by "person" or "docket" and alloy, in alphabetical order; entries that name none are left out."""
    sums: dict[tuple[str, str], dict[str, float]] = {}
    for entry in entries:
        of = entry.person if by == "person" else entry.docket
        if of and entry.kind in AT_BENCH:
            bucket = sums.setdefault((of, entry.alloy), dict.fromkeys(AT_BENCH, 0.0))
            bucket[entry.kind] += entry.mass
    return [
        Balance(
            of=of,
            alloy=alloy,
            issued=grams[ISSUED],
            returned=grams[RETURNED],
            offcuts=grams[OFFCUTS],
            filings=grams[FILINGS],
            used=grams[USED],
        )
        for (of, alloy), grams in sorted(sums.items())
    ]


class Month(Struct, frozen=True):
    """One alloy over a month, in g: in the safe at its start and end, and what moved; ``at_benches`` at its end."""

    alloy: str
    opening: float
    moved: dict[str, float]
    closing: float
    at_benches: float


def month_of(year: int, number: int) -> tuple[datetime, datetime]:
    """When a month begins on this machine's clock, and when the next one does, as moments are kept (ValueError for one
    that does not exist)."""
    return kept(datetime(year, number, 1)), kept(datetime(year + number // 12, number % 12 + 1, 1))


def month(entries: Iterable[FineEntry], year: int, number: int) -> list[Month]:
    """The month's end by alloy."""
    start, end = month_of(year, number)
    chosen_entries = [entry for entry in entries if entry.at < end]
    months = []
    for alloy in sorted({entry.alloy for entry in chosen_entries}):
        mine = [entry for entry in chosen_entries if entry.alloy == alloy]
        opening = sum(IN_SAFE.get(entry.kind, 0) * entry.mass for entry in mine if entry.at < start)
        within = [entry for entry in mine if entry.at >= start]
        moved = {kind: sum(entry.mass for entry in within if entry.kind == kind) for kind in KINDS}
        closing = opening + sum(IN_SAFE.get(entry.kind, 0) * entry.mass for entry in within)
        bench = sum(AT_BENCH.get(entry.kind, 0) * entry.mass for entry in mine)
        months.append(Month(alloy, opening, moved, closing, bench))
    return months
