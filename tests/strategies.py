"""Hypothesis strategies for jobs that the window's fields allow, and for documents that nothing allows."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st

from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import FORMAT, Job, check, from_document

_RULES = HouseRules()


def _maybe(values: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
    return st.none() | values


@st.composite
def documents(draw: st.DrawFn) -> dict[str, Any]:
    """Job documents within every field's range; some contradict themselves."""
    diameter = draw(st.floats(0.9, 38))
    stone = {"cut": "round", "diameters_mm": [round(diameter * draw(st.floats(0.97, 1.03)), 2)
                                              for _ in range(draw(st.integers(1, 4)))],
             "depth_mm": draw(_maybe(st.floats(0.45, 0.8).map(lambda share: round(share * diameter, 2)))),
             "table_percent": draw(_maybe(st.floats(40, 80))), "species": draw(st.sampled_from(["ruby", "opal"])),
             "girdle_mm": draw(_maybe(st.floats(0.01, 0.08).map(lambda share: round(share * diameter + 0.01, 2))))}
    head = {"style": draw(st.sampled_from(["wire-basket", "tube", "tapered-collet", "bought"])),
            "claws": draw(st.integers(3, 8)),
            "claw_mm": draw(_maybe(st.floats(0.3, 1.6))), "notch_ratio": draw(_maybe(st.floats(0.05, 0.9))),
            "orientation": draw(st.sampled_from(["in-line", "square"])), "splay_deg": draw(_maybe(st.floats(0, 30))),
            "ring_drop_mm": draw(_maybe(st.floats(0.2, 3))), "height_mm": draw(_maybe(st.floats(1, 20))),
            "cut": draw(st.sampled_from(["bezel", "claws"])), "included_angle_deg": draw(_maybe(st.floats(4, 60))),
            "made_for_mm": draw(_maybe(st.floats(0.8, 1.25).map(lambda share: round(share * diameter, 1)))),
            "opening_mm": draw(_maybe(st.floats(0.65, 1.1).map(lambda share: round(share * diameter, 2)))),
            "trim_mm": draw(_maybe(st.floats(0, 1)))}
    document: dict[str, Any] = {"format": FORMAT, "stone": _kept(stone), "head": _kept(head)}
    if draw(st.booleans()):
        document["shank"] = {"size": {"system": "mm", "value": f"{draw(st.floats(13, 23)):.2f}"},
                             "width_mm": draw(st.floats(1, 15)), "thickness_mm": draw(st.floats(0.8, 5)),
                             "profile": draw(st.sampled_from(["flat", "half-round", "court", "square"]))}
        document["fit"] = {"method": draw(st.sampled_from(["inset", "on-flat"])),
                           "height": draw(st.just("lowest") | st.floats(1, 25))}
    return document


def _kept(part: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in part.items() if value is not None}


def _possible(document: dict[str, Any]) -> bool:
    try:
        check(from_document(document), _RULES)
    except JobError:
        return False
    return True


def jobs() -> st.SearchStrategy[Job]:
    """Jobs that are possible."""
    return documents().filter(_possible).map(from_document)


json_values = st.recursive(
    st.none() | st.booleans() | st.integers(-10**9, 10**9) | st.floats(allow_nan=True) | st.text(max_size=12),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=8), inner, max_size=4), max_leaves=12)
