"""What a year leaves behind in the larger made-up workshop: prices, metal weighed out and back, heads that came back
and what was found on them."""

from __future__ import annotations

import random
from collections.abc import Iterable, Sequence
from datetime import date, datetime, timedelta
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.heads.wear import BENT, LIFTED, LOOSE, MISSING, NEIGHBOUR, SOUND, THIN_SIDE, WORN_TIP, ClawFound
from yarvel.metals.alloys import alloy_of
from yarvel.planning.job import from_document
from yarvel.planning.plan import Plan, plan
from yarvel.planning.repair import KNOCKED, NEIGHBOUR_BAND, TOO_SMALL, WORN
from yarvel.route.balance import RouteBalance, added_g, balances
from yarvel.route.running import route_of
from yarvel.workshop.dockets.claw_chart import chart_with
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.metal.fine_book import BOUGHT, FILINGS, ISSUED, OFFCUTS, RETURNED, USED
from yarvel.workshop.money.estimate import Estimate, tasks_of
from yarvel.workshop.people.customers import Customer
from yarvel.workshop.storage.schema import AlloyRow, FineRow
from yarvel.workshop.store import Store
from yarvel.workshop.work.tasks import Wanted

_PRICES = {
    "18k-yellow": 57.0,
    "18k-white": 63.0,
    "14k-yellow": 43.5,
    "9k-yellow": 27.5,
    "sterling-silver": 1.05,
    "platinum-950": 34.0,
}
"""Price a gram, in the demo's own money."""
RULES = HouseRules().but(
    hour_rate=46.0,
    metal_loss_percent=4.0,
    markup_percent=35.0,
    custom=WorkshopData(currency="cr", alloys=tuple((key, "price_per_g", price) for key, price in _PRICES.items())),
)
"""House rules of the demo: prices; all else as usual."""


class DemoJob(Struct, frozen=True, kw_only=True):
    """A piece that is made again and again: its job, its tasks, the grams that its route moves by alloy and what its
    metal comes to; how many claws it has."""

    item: str
    job: dict[str, Any]
    wanted: tuple[Wanted, ...]
    metal: dict[str, RouteBalance]
    worth: float
    claws: int

    def estimate(self, on: date) -> dict[str, Any]:
        """The estimate that was worked out for it on a day."""
        minutes = sum(wanted_task.minutes for wanted_task in self.wanted)
        return Estimate(minutes=minutes, labour=minutes / 60 * RULES.hour_rate, metal=self.worth, unpriced=()).kept(on)


def bare_docket(chart: dict[str, Any] | None = None) -> Docket:
    """A docket of nobody, with what was found on the claws of its head."""
    at = datetime(2000, 1, 1)
    return Docket(
        id=0,
        number="",
        customer="",
        item="",
        promised_on=None,
        state="",
        job_document={},
        drafts={},
        ticks=(),
        version=1,
        created_at=at,
        updated_at=at,
        claw_chart=chart or {},
    )


def template(item: str, job: dict[str, Any]) -> DemoJob:
    """A piece worked out by its job (JobError where that size does not go with that head)."""
    plan_made = plan(from_document(job), HouseRules(), samples=0)
    route = route_of(plan_made)
    worth = sum(grams * alloy_of(key, RULES).price_per_g for key, grams in added_g(route).items())
    return DemoJob(
        item=item,
        job=job,
        wanted=tuple(tasks_of(plan_made, bare_docket(), HouseRules())),
        metal=balances(route),
        worth=worth,
        claws=_claws(plan_made),
    )


def _claws(made: Plan) -> int:
    return len(made.shape.places)


# --- customers -------------------------------------------------------------------------------------------------------

_STREETS = ("Slack Quay", "Millrace Lane", "Cooper's Steps", "Upper Weir", "Tallow Row", "Old Ropewalk")
_TERMS = ("Payable in thirty days.", "Payable on collection.", "Half at intake, half on collection.")


def shop_records(names: Iterable[str]) -> list[Customer]:
    """Records of the shops: how they are reached, and what was agreed with them."""
    customers = []
    for number, name in enumerate(sorted(set(names))):
        street = f"{_STREETS[number % len(_STREETS)]} {3 + 2 * number}"
        contact = f"{street}\n555 0{100 + 7 * number:03d}"
        customers.append(
            Customer(key=f"shop-{number}", name=name, kind="shop", contact=contact, terms=_TERMS[number % len(_TERMS)])
        )
    return customers


def keep_records(store: Store, records: Sequence[Customer], first: datetime) -> None:
    """Keep them as of the year's begin; with every fourth of them other terms were agreed half a year later."""
    store.customers.put(records, (None,) * len(records), first)
    changed = [replace(record, terms="Payable in fourteen days, two in the hundred off.") for record in records[::4]]
    store.customers.put(changed, records[::4], first + timedelta(days=180))


# --- metal -----------------------------------------------------------------------------------------------------------

_LOSS = {"sterling-silver": (0.02, 0.07), "platinum-950": (0.004, 0.02)}
_USUAL_LOSS = (0.006, 0.03)
_SPARE = (1.08, 1.4)
"""``_LOSS``, ``_USUAL_LOSS``, ``_SPARE``: how much of what was issued was never found again, share of what was
worked, between these two; how much more than the route wants is weighed out."""


def metal_lines(
    chance: random.Random, piece: DemoJob, docket_id: int, person_id: int, began: datetime, ended: datetime | None
) -> list[FineRow]:
    """The fine book's lines of one piece: weighed out as it began, and back when it ``ended`` (None: not yet)."""
    fine_rows = []
    for alloy, held in piece.metal.items():
        if held.issue_g < 0.05:
            continue
        issued = round(held.issue_g * chance.uniform(*_SPARE), 2)
        shares = {ISSUED: issued} if ended is None else _back(chance, alloy, held, issued)
        for kind, grams in shares.items():
            if grams >= 0.01:
                at = began if kind == ISSUED or ended is None else ended
                row = FineRow(at=at, by="Orla", kind=kind, alloy=alloy, mass_g=round(grams, 2), note="")
                row.person_id, row.docket_id = person_id, docket_id
                fine_rows.append(row)
    return fine_rows


def _back(chance: random.Random, alloy: str, held: RouteBalance, issued: float) -> dict[str, float]:
    """What became of so many grams issued: in the piece, back whole, as offcuts, as filings; the rest is lost."""
    lost = (held.finished_g + held.filings_g) * chance.uniform(*_LOSS.get(alloy, _USUAL_LOSS))
    filings = max(held.filings_g * chance.uniform(0.7, 1.0) - lost, 0.0)
    used = min(max(held.finished_g, 0.0), issued)
    offcuts = min(held.back_g, max(issued - used - filings - lost, 0.0))
    returned = max(issued - used - offcuts - filings - lost, 0.0)
    return {ISSUED: issued, USED: used, OFFCUTS: offcuts, FILINGS: filings, RETURNED: returned}


def bought(lines: Iterable[FineRow], first: datetime) -> list[FineRow]:
    """Metal bought into the safe before the year, so that it never held less than nothing."""
    issued: dict[str, float] = {}
    for line in lines:
        if line.kind == ISSUED:
            issued[line.alloy] = issued.get(line.alloy, 0.0) + line.mass_g
    return [
        FineRow(at=first, by="Yusra", kind=BOUGHT, alloy=alloy, mass_g=round(grams * 1.1), note="for the year")
        for alloy, grams in issued.items()
        if round(grams * 1.1)
    ]


def know_alloys(store: Store) -> None:
    """Let the fine book know the alloys of the demo."""
    with store.transaction() as session:
        for key in _PRICES:
            session.merge(AlloyRow(key=key))


# --- heads that came back --------------------------------------------------------------------------------------------

_CAUSES = (NEIGHBOUR_BAND,) * 8 + (WORN,) * 6 + (KNOCKED,) * 4 + (TOO_SMALL,) * 3
_FOUND: dict[str, Sequence[str]] = {
    NEIGHBOUR_BAND: (NEIGHBOUR, NEIGHBOUR, WORN_TIP),
    WORN: (WORN_TIP, WORN_TIP, LOOSE),
    KNOCKED: (BENT, LIFTED, LOOSE),
    TOO_SMALL: (THIN_SIDE, THIN_SIDE, MISSING),
}
_WAYS = {NEIGHBOUR_BAND: "re-tip", WORN: "re-tip", KNOCKED: "tighten", TOO_SMALL: "new-claws"}
_SOUND_MM, _WORN_MM = (0.7, 0.95), (0.22, 0.5)


class CameBack(Struct, frozen=True):
    """A head that came back: its piece, what was found on its claws, and the tasks of the way that was chosen."""

    piece: DemoJob
    chart: dict[str, Any]
    wanted: tuple[Wanted, ...]


def came_back(chance: random.Random, piece: DemoJob, seen: date) -> CameBack:
    """A claw head some years on: one cause, on some of its claws, and what was done about it."""
    cause = chance.choice(_CAUSES)
    plan_made = plan(from_document(piece.job), HouseRules(), samples=0)
    chart = {**_chart(chance, piece.claws, cause, seen), "cause": cause, "chosen": _WAYS[cause]}
    return CameBack(piece, chart, tuple(tasks_of(plan_made, bare_docket(chart), HouseRules())))


def _chart(chance: random.Random, count: int, cause: str, seen: date) -> dict[str, Any]:
    hit = chance.sample(range(count), chance.randrange(1, max(count // 2, 1) + 1))
    claws = []
    for place in range(count):
        finding = _FOUND[cause][0] if place == hit[0] else chance.choice(_FOUND[cause]) if place in hit else SOUND
        worn = finding in (WORN_TIP, NEIGHBOUR)
        tip = None if finding == MISSING else round(chance.uniform(*(_WORN_MM if worn else _SOUND_MM)), 2)
        claws.append(ClawFound(finding, tip=tip))
    return chart_with({}, tuple(claws), seen)


def went_again(at: datetime, chance: random.Random) -> datetime:
    """When a repair that was taken in at a time was handed over."""
    return at + timedelta(days=chance.choice((2, 3, 4, 5)))
