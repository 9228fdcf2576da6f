"""A shop and a plan as documents, for the process that plans."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from msgspec import to_builtins
from msgspec.structs import asdict

from yarvel.day.axis import USUAL_WEEK, Axis, Hours, Week
from yarvel.day.shop import Assignment, Hands, Order, Schedule, Shop, Step


def shop_document(shop: Shop) -> dict[str, Any]:
    """A shop in JSON's terms."""
    axis = shop.axis
    return {
        "hours": hours_document(axis.hours),
        "first": axis.days[0].isoformat(),
        "days": len(axis.days),
        "hands": [{**asdict(hand), "skills": sorted(hand.skills)} for hand in shop.hands],
        "orders": [to_builtins(order) for order in shop.orders],
        "stations": dict(shop.stations),
        "shut": {name: [list(span) for span in spans] for name, spans in shop.shut.items()},
    }


def shop_from(held: Mapping[str, Any]) -> Shop:
    """The shop of a document."""
    axis = Axis(hours_from(held["hours"]), date.fromisoformat(held["first"]), int(held["days"]))
    hands = tuple(
        Hands(
            hand_document["key"],
            hand_document["name"],
            frozenset(hand_document["skills"]),
            tuple((a, b) for a, b in hand_document["away"]),
        )
        for hand_document in held["hands"]
    )
    orders = tuple(
        Order(
            **{
                **order_document,
                "steps": tuple(Step(**{**step, "people": tuple(step["people"])}) for step in order_document["steps"]),
            }
        )
        for order_document in held["orders"]
    )
    shut = {name: tuple((a, b) for a, b in spans) for name, spans in held.get("shut", {}).items()}
    return Shop(axis, hands, orders, dict(held["stations"]), shut)


def plan_document(plan: Schedule) -> list[list[int]]:
    """A plan in JSON's terms: task, piece, person, start."""
    return [[*key, place.person, place.start] for key, place in sorted(plan.items())]


def plan_from(held: list[list[int]]) -> Schedule:
    """The plan of a document."""
    return {(task, piece): Assignment(person, start) for task, piece, person, start in held}


def hours_document(hours: Hours) -> dict[str, Any]:
    """Opening hours as they are kept."""
    return {
        "week": week_document(hours.week),
        "holidays": sorted(day.isoformat() for day in hours.holidays),
    }


def week_document(week: Week) -> list[list[list[int]]]:
    """A week's blocks as they are kept."""
    return [[list(block) for block in day] for day in week]


def week_from(held: Sequence[Sequence[Sequence[int]]]) -> Week:
    """A week's blocks as kept."""
    return tuple(tuple((int(begin), int(end)) for begin, end in day) for day in held)


def hours_from(held: Mapping[str, Any]) -> Hours:
    """Opening hours as kept; the usual ones where none are."""
    week = held.get("week")
    blocks = week_from(week) if isinstance(week, list) and len(week) == 7 else USUAL_WEEK
    return Hours(blocks, frozenset(date.fromisoformat(str(day)) for day in held.get("holidays", ())))
