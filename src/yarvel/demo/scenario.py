"""A made-up workshop under a bridge: its customers, its rings, its stones. Nobody and nothing in it exists."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

from yarvel.demo.drawer import drawer
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import FORMAT, from_document
from yarvel.planning.plan import plan
from yarvel.workshop.money.estimate import tasks_of
from yarvel.workshop.people.customers import Customer
from yarvel.workshop.store import Store
from yarvel.workshop.work.standards import skill_of


def _job(
    stone: dict[str, Any],
    head: dict[str, Any] | None = None,
    shank: dict[str, Any] | None = None,
    fit: dict[str, Any] | None = None,
) -> dict[str, Any]:
    parts = {"stone": {"cut": stone.get("cut", "round"), **stone}, "head": head, "shank": shank, "fit": fit}
    return {"format": FORMAT, **{name: part for name, part in parts.items() if part}}


DOCKETS: tuple[tuple[str, str, int, str, dict[str, Any]], ...] = (
    (
        "Ferry Lane Pawn & Loan",
        "Pendant collet, peridot",
        21,
        "taken in",
        _job(
            {"species": "peridot", "diameters_mm": [4.62, 4.65], "depth_mm": 2.96},
            {"style": "tapered-collet", "cut": "claws", "claws": 6, "orientation": "square", "metal": "9k-yellow"},
            None,
            {"method": "pendant", "bail": {"inside_mm": 3.6, "wire_mm": 0.8, "chain_end_mm": 2.9}},
        ),
    ),
    (
        "Mrs Oduya-Lindqvist",
        "Grandmother's ring, loose stone",
        3,
        "on hold",
        _job(
            {"species": "zircon", "diameters_mm": [5.31, 5.48, 5.36], "depth_mm": 3.42, "declared_ct": 0.9},
            {
                "style": "bought",
                "made_for_mm": 5.0,
                "claws": 4,
                "claw_mm": 0.9,
                "height_mm": 4.6,
                "metal": "14k-yellow",
            },
            {"size": {"system": "US", "value": "5 3/4"}, "width_mm": 2.2, "thickness_mm": 1.5, "metal": "14k-yellow"},
            {"method": "on-flat", "height": "lowest"},
        ),
    ),
    (
        "Tillerman's Corner",
        "Cocktail ring, wide band",
        9,
        "planned",
        _job(
            {"species": "aquamarine", "diameters_mm": [9.38, 9.41], "depth_mm": 5.9, "table_percent": 55},
            {"style": "applied-collet", "claws": 6, "metal": "18k-white", "orientation": "in-line"},
            {
                "size": {"system": "UK", "value": "P"},
                "width_mm": 6.4,
                "thickness_mm": 1.9,
                "profile": "court",
                "metal": "18k-white",
                "shoulder": {"diameter_mm": 1.7, "count": 3},
            },
            {"method": "inset", "height": "lowest"},
        ),
    ),
    (
        "Brass Heron Jewellers",
        "Tube ring, sapphire",
        12,
        "in work",
        _job(
            {"species": "sapphire", "diameters_mm": [3.87, 3.9], "depth_mm": 2.4},
            {"style": "tube", "metal": "platinum-950", "wall_mm": 0.75},
            {
                "size": {"system": "ISO", "value": "51"},
                "width_mm": 3.1,
                "thickness_mm": 1.7,
                "head_width_mm": 4.3,
                "metal": "platinum-950",
            },
            {"method": "split-shoulder", "height": "lowest"},
        ),
    ),
    (
        "Quillon & Daughter",
        "New six-claw head, tourmaline",
        5,
        "planned",
        _job(
            {
                "species": "tourmaline",
                "diameters_mm": [7.63, 7.71],
                "depth_mm": 4.88,
                "crown_height_mm": 1.24,
                "resolution_mm": 0.01,
                "declared_ct": 1.55,
            },
            {"claws": 6, "orientation": "in-line", "metal": "18k-yellow"},
            {
                "size": {"system": "ISO", "value": "55.5"},
                "width_mm": 3.4,
                "thickness_mm": 2.1,
                "profile": "half-round",
                "metal": "18k-yellow",
            },
            {"method": "inset", "height": "lowest"},
        ),
    ),
    (
        "Tillerman's Corner",
        "Square stud turned ring, rhodolite",
        16,
        "planned",
        _job(
            {
                "cut": "princess",
                "species": "rhodolite",
                "length_mm": 5.58,
                "width_mm": 5.51,
                "depth_mm": 3.94,
                "declared_ct": 1.12,
            },
            {"style": "v-claw", "claw_mm": 1.0, "metal": "14k-yellow"},
            {"size": {"system": "UK", "value": "N"}, "width_mm": 2.7, "thickness_mm": 1.8, "metal": "14k-yellow"},
            {"method": "on-flat", "height": "lowest"},
        ),
    ),
    (
        "Quillon & Daughter",
        "Step-cut tanzanite, new gallery",
        8,
        "planned",
        _job(
            {
                "cut": "emerald",
                "species": "tanzanite",
                "length_mm": 8.34,
                "width_mm": 6.07,
                "depth_mm": 4.02,
                "corner_mm": 1.61,
            },
            {"style": "paired-corner", "claw_mm": 0.85, "metal": "18k-yellow"},
            {
                "size": {"system": "ISO", "value": "53"},
                "width_mm": 3.0,
                "thickness_mm": 1.9,
                "profile": "court",
                "metal": "18k-yellow",
            },
            {"method": "inset", "height": "lowest"},
        ),
    ),
    (
        "Ferry Lane Pawn & Loan",
        "Silver dress ring, labradorite",
        27,
        "taken in",
        _job(
            {"cut": "oval-cabochon", "species": "labradorite", "length_mm": 13.4, "width_mm": 9.7, "depth_mm": 4.6},
            {"style": "cast-claw", "claws": 4, "claw_mm": 1.3, "metal": "sterling-silver"},
            {
                "size": {"system": "US", "value": "7 1/4"},
                "width_mm": 4.2,
                "thickness_mm": 2.0,
                "profile": "half-round",
                "metal": "sterling-silver",
            },
            {"method": "on-flat", "height": "lowest"},
        ),
    ),
    (
        "Mrs Oduya-Lindqvist",
        "Pear morganite, five claws",
        14,
        "in work",
        _job(
            {"cut": "pear", "species": "morganite", "length_mm": 9.12, "width_mm": 6.24, "depth_mm": 3.88},
            {"claws": 5, "metal": "18k-white"},
            {
                "size": {"system": "UK", "value": "L½"},
                "width_mm": 2.4,
                "thickness_mm": 1.8,
                "profile": "court",
                "metal": "18k-white",
            },
            {"method": "inset", "height": "lowest"},
        ),
    ),
    (
        "Brass Heron Jewellers",
        "Four-claw solitaire, spinel",
        2,
        "in work",
        _job(
            {"species": "spinel", "diameters_mm": [6.84, 6.79], "depth_mm": 4.21, "girdle_mm": 0.19},
            {"claws": 4, "notch_ratio": 0.46, "metal": "18k-yellow"},
            {
                "size": {"system": "UK", "value": "K½"},
                "width_mm": 2.6,
                "thickness_mm": 1.9,
                "profile": "court",
                "metal": "18k-yellow",
            },
            {"method": "on-flat", "height": "lowest"},
        ),
    ),
)


BEGINS = datetime(2027, 3, 9, 8, 40)
"""When the made-up workshops begin, on the clock of whatever machine they are shown on: an ordinary Tuesday morning.
They live on from where they were left, and never by the machine's date."""

OPENED_FIRST = len(DOCKETS)
"""Number of the docket that is open when the demo starts."""


_PEOPLE = (
    ("Orla", "bench", ("mounting",)),
    ("Benno", "bench", ("setting", "polishing")),
    ("Yusra", "owner", ("checking", "setting")),
    ("Tove", "front desk", ()),
)
_HANDS = {"mounting": "Orla", "setting": "Benno", "polishing": "Benno", "checking": "Yusra"}


_CUSTOMERS = (
    Customer(
        key="brass-heron",
        name="Brass Heron Jewellers",
        kind="shop",
        contact="Slack Quay 11\nback door by the crane\n555 0117",
        terms="Payable in thirty days.",
        note="Wants every label on the left shoulder of the bag.",
        other_names=("Brass Heron",),
    ),
    Customer(
        key="oduya",
        name="Mrs Oduya-Lindqvist",
        kind="person",
        contact="555 0162, after six",
        terms="",
        note="Wears it beside a flat band.",
    ),
)


def fill(store: Store, today: date) -> None:
    """Fill an empty store with the made-up workshop's dockets, people and tasks; the last docket is opened first."""
    store.drawer.add(drawer())
    store.customers.put(_CUSTOMERS, (None,) * len(_CUSTOMERS))
    people = {name: store.people.add(name, role, skills) for name, role, skills in _PEOPLE}
    for customer, item, days, state, job in DOCKETS:
        docket = store.new_docket(customer, item, today + timedelta(days=days), job, state)
        if state == "in work":
            wanted = tasks_of(plan(from_document(job), HouseRules(), samples=0), docket, HouseRules())
            for task in store.tasks.plan_tasks(docket.id, wanted):
                store.tasks.give(task.id, people[_HANDS[skill_of(task.operation)]].id)
