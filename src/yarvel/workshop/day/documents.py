"""A shop and a plan as documents, for the process that plans."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from msgspec import to_builtins
from msgspec.structs import asdict

from yarvel.workshop.day.axis import Axis
from yarvel.workshop.day.shop import Hands, Order, Place, Schedule, Shop, Step
from yarvel.workshop.day.snapshot import hours_document, hours_from


def shop_document(shop: Shop) -> dict[str, Any]:
    """A shop in JSON's terms."""
    axis = shop.axis
    return {
        "hours": hours_document(axis.hours),
        "first": axis.days[0].isoformat(),
        "days": len(axis.days),
        "hands": [{**asdict(one), "skills": sorted(one.skills)} for one in shop.hands],
        "orders": [to_builtins(order) for order in shop.orders],
        "stations": dict(shop.stations),
        "shut": {name: [list(span) for span in spans] for name, spans in shop.shut.items()},
    }


def shop_from(held: Mapping[str, Any]) -> Shop:
    """The shop of a document."""
    axis = Axis(hours_from(held["hours"]), date.fromisoformat(held["first"]), int(held["days"]))
    hands = tuple(
        Hands(one["key"], one["name"], frozenset(one["skills"]), tuple((a, b) for a, b in one["away"]))
        for one in held["hands"]
    )
    orders = tuple(
        Order(**{**one, "steps": tuple(Step(**{**step, "people": tuple(step["people"])}) for step in one["steps"])})
        for one in held["orders"]
    )
    shut = {name: tuple((a, b) for a, b in spans) for name, spans in held.get("shut", {}).items()}
    return Shop(axis, hands, orders, dict(held["stations"]), shut)


def plan_document(plan: Schedule) -> list[list[int]]:
    """A plan in JSON's terms: task, piece, person, start."""
    return [[*key, place.person, place.start] for key, place in sorted(plan.items())]


def plan_from(held: list[list[int]]) -> Schedule:
    """The plan of a document."""
    return {(task, piece): Place(person, start) for task, piece, person, start in held}
