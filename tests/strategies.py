"""Hypothesis strategies for jobs that the window's fields allow, and for documents that nothing allows."""

from __future__ import annotations

from typing import Any

from hypothesis import settings
from hypothesis import strategies as st

from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads.styles import styles_for
from yarvel.planning.checking import check
from yarvel.planning.compatibility import fits_of
from yarvel.planning.job import FORMAT, Job, from_document
from yarvel.stones.cut import Cut
from yarvel.stones.cuts import CUTS

_RULES = HouseRules()


def _maybe(values: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
    return st.none() | values


@st.composite
def stones(draw: st.DrawFn, cut: Cut) -> dict[str, Any]:
    """A stone of this cut within every field's range, its measures taken or not."""
    width = draw(st.floats(0.9, 30))
    found: dict[str, Any] = {"cut": cut.key, "species": draw(st.sampled_from(["ruby", "opal"]))}
    if cut.is_round:
        found["diameters_mm"] = [round(width * draw(st.floats(0.97, 1.03)), 2) for _ in range(draw(st.integers(1, 4)))]
    else:
        found["width_mm"] = round(width, 2)
        low, high = cut.aspect
        found["length_mm"] = round(found["width_mm"] * draw(st.floats(low + 0.01, min(high - 0.01, 110 / width))), 2)
        for name in cut.measures:
            found[name] = draw(_maybe(st.floats(0.3, 0.45).map(lambda share: round(share * width + 0.02, 2))))
    found["depth_mm"] = draw(_maybe(st.floats(0.45, 0.8).map(lambda share: round(share * width, 2))))
    found["girdle_mm"] = draw(_maybe(st.floats(0.01, 0.08).map(lambda share: round(share * width + 0.01, 2))))
    if not cut.domed:
        found["table_percent"] = draw(_maybe(st.floats(40, 80)))
    return found


@st.composite
def fits(draw: st.DrawFn, methods: tuple[str, ...]) -> dict[str, Any]:
    """A fit within every field's range."""
    fit = {
        "method": draw(st.sampled_from(methods)),
        "height": draw(st.just("lowest") | st.floats(1, 25)),
        "below_ring_mm": draw(_maybe(st.floats(2, 15))),
        "hole": draw(st.sampled_from(["blind", "through"])),
        "split_mm": draw(_maybe(st.floats(2, 15))),
        "beside_mm": draw(_maybe(st.floats(0.5, 8))),
    }
    if fit["method"] == "inset" and draw(st.booleans()):
        fit["slot"] = {
            "inside_mm": draw(st.floats(0.5, 20)),
            "left_mm": draw(st.floats(0.3, 10)),
            "right_mm": draw(st.floats(0.3, 10)),
        }
    return _kept(fit)


@st.composite
def made_collets(draw: st.DrawFn, size: float) -> dict[str, float]:
    """A collet as it was measured, for a stone of this size in mm."""
    top = size * draw(st.floats(1.0, 1.35)) + 0.3
    wall = draw(st.floats(0.3, 1.2))
    foot = max(top * draw(st.floats(0.6, 0.98)), 2 * wall + 0.3, 0.5)
    height = size * draw(st.floats(0.4, 1.0)) + 1
    return {
        name: min(value, 28.0) for name, value in zip(_MADE, (foot, max(top, foot + 0.1), height, wall), strict=True)
    }


@st.composite
def tubes(draw: st.DrawFn, size: float) -> dict[str, float]:
    """A length of tube to drive a collet from, for a stone of this size in mm; driven to a foot, to a rim, or as the
    seat asks."""
    outside = min(size * draw(st.floats(1.0, 1.4)) + 0.2, 35.0)
    tube = {
        "outside_mm": outside,
        "wall_mm": max(min(outside * draw(st.floats(0.05, 0.25)), 3.0), 0.2),
        "length_mm": min(size * draw(st.floats(0.4, 1.3)) + 1, 29.0),
    }
    driven = draw(st.sampled_from(["", "foot_mm", "rim_mm"]))
    if driven:
        tube[driven] = outside * draw(st.floats(0.6, 0.97) if driven == "foot_mm" else st.floats(1.0, 1.2))
    return tube


_MADE = ("foot_mm", "top_mm", "height_mm", "wall_mm")


@st.composite
def documents(draw: st.DrawFn, cuts: tuple[str, ...] = tuple(CUTS)) -> dict[str, Any]:
    """Job documents within every field's range; some contradict themselves."""
    cut = CUTS[draw(st.sampled_from(cuts))]
    stone = draw(stones(cut))
    size = stone["diameters_mm"][0] if cut.is_round else stone["width_mm"]
    head = {
        "style": draw(st.sampled_from(styles_for(cut))),
        "claws": draw(_maybe(st.integers(3, 8))),
        "claw_mm": draw(_maybe(st.floats(0.3, 1.6))),
        "notch_ratio": draw(_maybe(st.floats(0.05, 0.9))),
        "orientation": draw(st.sampled_from(["in-line", "square"])),
        "splay_deg": draw(_maybe(st.floats(0, 30))),
        "stone_axis": draw(st.sampled_from(["along-finger", "along-band"])),
        "school": draw(st.sampled_from(["fold", "tabs"])),
        "v_from": draw(st.sampled_from(["folded", "solid"])),
        "v_foot_mm": draw(_maybe(st.floats(0.3, 0.6))),
        "rings": draw(st.sampled_from([2, 1])),
        "ring_section": draw(st.sampled_from(["round", "square", "strip"])),
        "ring_high_mm": draw(_maybe(st.floats(0.4, 4))),
        "posts": draw(st.sampled_from(["grooved", "drilled"])),
        "legs": draw(st.sampled_from([None, None, "under", "flush"])),
        "ring_drop_mm": draw(_maybe(st.floats(0.2, 3))),
        "ring_lift_mm": draw(_maybe(st.floats(0, 2))),
        "height_mm": draw(_maybe(st.floats(1, 20))),
        "cut": draw(st.sampled_from(["bezel", "claws"])),
        "included_angle_deg": draw(_maybe(st.floats(4, 60))),
        "made_for_mm": draw(_maybe(st.floats(0.8, 1.25).map(lambda share: round(share * size, 1)))),
        "opening_mm": draw(_maybe(st.floats(0.65, 1.1).map(lambda share: round(share * size, 2)))),
        "trim_mm": draw(_maybe(st.floats(0, 1))),
    }
    if head["style"] == "tapered-collet" and draw(st.booleans()):
        if draw(st.booleans()):
            head |= {"notch_ratio": None, "included_angle_deg": None, "made": draw(made_collets(size))}
        else:
            head |= {"notch_ratio": None, "wall_mm": None, "tube": draw(tubes(size))}
    if head["v_from"] != "solid" or head["claw_mm"] is None:
        head["v_foot_mm"] = None
    elif head["v_foot_mm"] is not None:
        head["v_foot_mm"] = min(head["v_foot_mm"], head["claw_mm"])
    if head["ring_section"] == "strip":
        head["posts"] = "grooved"
    else:
        head["ring_high_mm"] = None
    document: dict[str, Any] = {"format": FORMAT, "stone": _kept(stone), "head": _kept(head)}
    if draw(st.booleans()):
        document["shank"] = {
            "size": {"system": "mm", "value": f"{draw(st.floats(13, 23)):.2f}"},
            "width_mm": draw(st.floats(1, 15)),
            "thickness_mm": draw(st.floats(0.8, 5)),
            "profile": draw(st.sampled_from(["flat", "half-round", "court", "square"])),
        }
        if draw(st.booleans()):
            document["shank"]["shoulder"] = {
                "diameter_mm": draw(st.floats(0.8, 3)),
                "count": draw(st.integers(1, 4)),
                "setting": draw(st.sampled_from(["flush", "bezel", "carved"])),
            }
        if draw(st.booleans()):
            document["shank"]["head_width_mm"] = draw(st.floats(1, 15))
            document["shank"]["head_thickness_mm"] = draw(st.floats(0.8, 5))
        if draw(st.booleans()):
            document["shank"]["head_profile"] = draw(st.sampled_from(["flat", "half-round", "court"]))
            turns = sorted(draw(st.lists(st.integers(1, 17).map(lambda part: part * 10), max_size=3, unique=True)))
            document["shank"]["stations"] = [
                {"turn_deg": turn, "width_mm": draw(st.floats(1, 15)), "thickness_mm": draw(st.floats(0.8, 5))}
                for turn in turns
            ] or None
        if draw(st.booleans()):
            document["shank"]["resized_from"] = {"system": "mm", "value": f"{draw(st.floats(13, 23)):.2f}"}
            if draw(st.booleans()):
                document["shank"]["resize_by"] = draw(st.sampled_from(["piece", "stretch"]))
        document["shank"] = _kept(document["shank"])
        document["fit"] = draw(fits(fits_of(head["style"])))
        if head.get("made") or (head.get("tube") or {}).get("foot_mm"):
            document["fit"]["height"] = "lowest"
    elif draw(st.booleans()):
        bail = {
            "inside_mm": draw(st.floats(0.8, 12)),
            "wire_mm": draw(st.floats(0.4, 3)),
            "chain_end_mm": draw(_maybe(st.floats(0.3, 10))),
            "place": draw(_maybe(st.just("behind"))),
        }
        document["fit"] = {"method": "pendant", "bail": _kept(bail)}
    document["joints"] = {"school": draw(st.sampled_from(["step-down", "one-grade"]))}
    document["setting"] = {
        "closing": draw(st.sampled_from(["pusher", "pliers"])),
        "seat": draw(st.sampled_from(["bur-down", "hart-sideways", "file-first"])),
    }
    return document


def _kept(part: dict[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in part.items() if value is not None}


def _possible(document: dict[str, Any]) -> bool:
    try:
        check(from_document(document), _RULES)
    except JobError:
        return False
    return True


BUILT = settings(max_examples=12)
"""For properties whose every example builds closed bodies: about half a second each."""


def jobs(cuts: tuple[str, ...] = tuple(CUTS)) -> st.SearchStrategy[Job]:
    """Jobs that are possible."""
    return documents(cuts).filter(_possible).map(from_document)


json_values = st.recursive(
    st.none() | st.booleans() | st.integers(-(10**9), 10**9) | st.floats(allow_nan=True) | st.text(max_size=12),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=8), inner, max_size=4),
    max_leaves=12,
)
