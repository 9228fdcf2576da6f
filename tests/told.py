"""What a plan's route says, as somebody reads it on the sheet."""

from __future__ import annotations

from yarvel.planning.plan import Plan
from yarvel.route.card import Section, metal_lines, sections
from yarvel.route.running import route_of


def parts(plan: Plan) -> dict[str, Section]:
    """The route's sections by key."""
    return {section.key: section for section in sections(route_of(plan), plan)}


def said(plan: Plan, *keys: str) -> str:
    """All words of some sections; of the whole route where none is named; "metal" is the cutting list."""
    found = parts(plan)
    lines = [line.text for key in keys or tuple(found) if key in found for line in found[key].lines]
    if "metal" in keys:
        lines += metal_lines(route_of(plan), plan, str)
    return "\n".join(lines)
