"""Sixteen pieces of the trade, planned as their makers made them: no stop, no stand-in, and what they did is what the
route says. Common practice throughout, no source; measures that nobody told are filled in as a maker might have."""

from __future__ import annotations

import re
from typing import Any

import pytest

from tests.told import said
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, tapered_collet
from yarvel.heads.claws import u_piece_length_mm
from yarvel.planning.job import from_document, merge_patch
from yarvel.planning.plan import HEAD_MASS, SHANK_MASS, Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.checks import checks
from yarvel.route.running import route_of
from yarvel.shanks import inset

JOBS: dict[str, dict[str, Any]] = {
    "A": {
        "stone": {"diameters_mm": [4.0], "depth_mm": 2.45, "species": "sapphire"},
        "head": {"style": "tube", "metal": "9k-yellow", "seated": True, "height_mm": 3.6},
        "shank": {
            "size": {"system": "ISO", "value": "54"},
            "width_mm": 3.0,
            "thickness_mm": 1.8,
            "metal": "9k-yellow",
        },
        "fit": {"method": "inset"},
    },
    "B": {
        "stone": {"diameters_mm": [5.9], "declared_ct": 0.76, "state": "absent"},
        "head": {
            "style": "bought",
            "made_for_mm": 6.0,
            "claws": 4,
            "claw_mm": 0.9,
            "height_mm": 4.6,
            "metal": "18k-white",
        },
        "shank": {
            "size": {"system": "ISO", "value": "54"},
            "width_mm": 2.4,
            "thickness_mm": 1.8,
            "metal": "18k-white",
            "exists": True,
        },
        "fit": {
            "method": "inset",
            "slot": {"inside_mm": 4.1, "outside_mm": 4.6, "left_mm": 1.5, "right_mm": 1.8},
            "height": 4.0,
        },
        "setting": {"tack": "tack"},
    },
    "C": {
        "stone": {"diameters_mm": [5.0]},
        "head": {"claws": 4, "rings": 1, "metal": "18k-yellow"},
        "shank": {"size": {"system": "ISO", "value": "53"}, "width_mm": 2.4, "metal": "18k-yellow"},
        "fit": {"method": "on-flat"},
    },
    "D": {
        "stone": {"diameters_mm": [5.0]},
        "head": {
            "style": "tapered-collet",
            "cut": "claws",
            "claws": 4,
            "orientation": "in-line",
            "included_angle_deg": 17,
        },
        "shank": {"size": {"system": "ISO", "value": "53"}, "width_mm": 2.4, "metal": "18k-yellow"},
        "fit": {"method": "inset"},
    },
    "E": {
        "stone": {"cut": "oval-cabochon", "length_mm": 18, "width_mm": 13, "depth_mm": 6, "species": "amethyst"},
        "head": {"style": "cast-claw", "claws": 4, "metal": "sterling-silver", "notch_ratio": 0},
        "shank": {
            "size": {"system": "ISO", "value": "56"},
            "width_mm": 5,
            "thickness_mm": 2,
            "metal": "sterling-silver",
        },
        "fit": {"method": "cast-on"},
    },
    "F": {
        "stone": {"cut": "princess", "length_mm": 4.2, "width_mm": 4.1, "depth_mm": 3.0},
        "head": {"style": "v-claw", "metal": "18k-white", "school": "fold"},
        "shank": {"size": {"system": "ISO", "value": "53"}, "metal": "18k-white"},
        "fit": {"method": "on-flat"},
        "setting": {"corner": "bud", "seat": "hart-sideways"},
    },
    "G": {
        "stone": {"diameters_mm": [6.0]},
        "head": {"claws": 4, "rings": 2},
        "shank": {"size": {"system": "ISO", "value": "53"}},
        "fit": {"method": "on-flat"},
    },
    "H": {
        "stone": {"diameters_mm": [6.0]},
        "head": {"claws": 4, "claw_mm": 1.0, "rings": 2, "splay_deg": 20, "metal": "18k-white"},
        "shank": {"size": {"system": "ISO", "value": "54"}, "width_mm": 2.4, "metal": "18k-white", "exists": True},
        "fit": {"method": "inset", "slot": {"inside_mm": 4.2, "outside_mm": 4.9}},
    },
    "I": {
        "stone": {"diameters_mm": [8.3], "declared_ct": 2.1},
        "head": {"style": "applied-collet", "claws": 4, "claw_mm": 1.1},
        "shank": {
            "size": {"system": "UK", "value": "M½"},
            "width_mm": 4.2,
            "thickness_mm": 2.0,
            "shoulder": {"diameter_mm": 2.0, "count": 2, "setting": "flush"},
        },
        "fit": {"method": "inset"},
        "joints": {"grades": {"head-to-shank": "hard", "claws-to-collet": "medium"}},
    },
    "J": {
        "stone": {"cut": "pear", "length_mm": 9.0, "width_mm": 6.0, "species": "aquamarine"},
        "head": {"rings": 1, "ring_section": "square", "posts": "drilled", "claw_mm": 1.3},
        "fit": {"method": "pendant", "bail": {"inside_mm": 3.0, "wire_mm": 0.8}},
    },
    "K": {
        "stone": {"diameters_mm": [5.2]},
        "head": {
            "style": "bought",
            "made_for_mm": 5.2,
            "claws": 4,
            "metal": "platinum-950",
            "peg_mm": 1.0,
            "claw_mm": 1.0,
        },
        "shank": {"size": {"system": "ISO", "value": "52"}, "metal": "platinum-950"},
        "fit": {"method": "peg"},
        "setting": {"tack": "tack"},
    },
    "L": {
        "stone": {"cut": "oval", "length_mm": 6.2, "width_mm": 4.7, "declared_ct": 0.59},
        "head": {"rings": 1, "legs": "under"},
        "shank": {
            "size": {"system": "UK", "value": "M½"},
            "width_mm": 3.6,
            "thickness_mm": 1.3,
            "stock": {"across_mm": 2.5, "down_mm": 2.5, "length_mm": 45},
        },
        "fit": {"method": "split-shoulder", "split_mm": 5},
    },
    "M": {
        "stone": {"diameters_mm": [6.0]},
        "head": {"rings": 1, "claws": 4},
        "shank": {"size": {"system": "ISO", "value": "53"}, "width_mm": 2.6},
        "fit": {"method": "basket-point", "below_ring_mm": 6.0},
    },
    "N": {
        "stone": {"cut": "emerald", "length_mm": 7.0, "width_mm": 5.0, "species": "emerald"},
        "head": {"style": "paired-corner", "rings": 1, "ring_section": "square"},
        "shank": {"size": {"system": "ISO", "value": "53"}, "width_mm": 3},
        "fit": {"method": "on-flat"},
    },
    "O": {
        "stone": {"diameters_mm": [6.0], "species": "opal", "cut": "round-cabochon", "depth_mm": 3.0},
        "head": {
            "style": "bought",
            "made_for_mm": 6.0,
            "claws": 4,
            "metal": "sterling-silver",
            "notched": True,
            "exists": True,
            "height_mm": 3.5,
        },
        "shank": {"size": {"system": "ISO", "value": "54"}, "metal": "sterling-silver", "exists": True},
        "fit": {"method": "on-flat"},
        "setting": {"closing": "pliers-pusher"},
    },
    "P": {
        "stone": {"diameters_mm": [4.0]},
        "head": {
            "style": "tapered-collet",
            "cut": "claws",
            "claws": 4,
            "orientation": "in-line",
            "tube": {"outside_mm": 4.8, "wall_mm": 0.45, "length_mm": 4.0, "foot_mm": 4.06},
        },
        "shank": {"size": {"system": "ISO", "value": "53"}, "width_mm": 2.6, "thickness_mm": 1.8},
        "fit": {"method": "inset"},
    },
}
SAYS: dict[str, tuple[str, ...]] = {
    "A": ("Narrow-lipped end up", "Medium solder", "Saw the whole piece out", "tube of 4.80 mm"),
    "B": ("made for 6.00 mm", "level both ends by the finger", "Tack the head", "Trim the base by 0.33 mm"),
    "C": ("Claws to the ring. Hard solder", "4 joints", "Ring seam. Hard solder", "Head to shank. Medium solder"),
    "D": ("Drive it into the block", "Only now: saw the claws", "no deeper", "V with a three-square file"),
    "E": ("No notch", "sprue", "Anneal: cast metal is brittle", "Anneal once more", "Curve every claw"),
    "F": (
        "bud bur",
        "Hart bur of 1.3",
        "Fold each V over its point whole",
        "no more",
        "Anneal the strip of the Vs",
        "face down between the Vs",
        "Lean the Vs out",
        "two Vs at a time",
    ),
    "G": ("2 pieces of", "bend each to a U", "the seam will lie under a claw"),
    "H": ("measure the slot at both", "cut 77 mm off, anneal and stretch it straight to 1.00", "→ 1.02;"),
    "I": ("The stone hides all of it", "Hard solder", "every 3.00 mm", "Each in its groove", "Anneal the claws' wire"),
    "J": ("mitred to", "then 1.30 mm", "and the strip of the Vs", "Before the stone is set", "centre of mass"),
    "K": ("pilot 0.90 mm, then 1.00 mm", "round bur of 2.30 mm", "by laser", "leave them thick"),
    "L": ("2.50 by 2.50", "to 5.00 mm from the head's middle", "1.65 mm wide before filing", "its foot"),
    "M": ("Leave 6.00 mm below the ring", "bevel the insides 45.0°", "sharp cone", "above the ring's underside"),
    "N": ("Skim the gallery behind each corner", "corner by corner"),
    "O": ("level", "Pliers to contact", "notched pusher over each claw", "Burnish every claw"),
    "P": ("foot is 4.06 mm", "limit that hollowing may reach", "Saw the whole piece out", "Only now: saw the claws"),
}
NEVER: dict[str, tuple[str, ...]] = {
    "F": ("claws' wire", "cup bur or beader", "Round the tips"),
    "J": ("the shank held",),
    "A": ("sprung open",),
    "E": ("Draw wire", "Cut a seat"),
    "H": ("Blank", "Roll"),
    "K": ("Thin and round the tips",),
    "O": ("Burs:", "bur of", "Band of", "Cut each claw", "solder,", "cadmium", "Plating", "girdle", "table"),
}


def made(name: str, patch: dict[str, Any] | None = None) -> Plan:
    job = merge_patch({"format": "yarvel-job/1", **JOBS[name]}, patch or {})
    return plan(from_document(job), HouseRules(), samples=0)


def keys(found: Plan) -> list[str]:
    return [step.operation.key for step in route_of(found).steps]


@pytest.mark.parametrize("name", JOBS)
def test_a_piece_of_the_trade_is_planned_as_it_was_made(name: str) -> None:
    found = weighed(made(name))
    assert [call.code for call in found.diagnostics if call.level == "stop"] == []
    told = said(found)
    for words in SAYS[name]:
        assert words in told, words
    for words in NEVER.get(name, ()):
        assert words not in told, words


def test_what_their_makers_measured_agrees() -> None:
    """The handbook's facts of the pieces, each with the room that it leaves."""
    assert 0.27 <= made("B")[notches.notch_ratio] <= 0.28, "what a head made for 6.0 leaves a stone of 5.9"
    assert any(call.level == "stop" for call in made("B", {"stone": {"diameters_mm": [5.5]}}).diagnostics), (
        "5.5 is refused"
    )
    basket = made("G")
    assert len([joint for joint in basket.joints if "upper" in joint.what or "lower" in joint.what]) == 10
    assert basket[u_piece_length_mm] == pytest.approx(40, abs=2)
    spots = made("D").shape.places
    assert all(min(abs(place.x_mm), abs(place.y_mm)) < 1e-6 for place in spots), "in line"
    split = made("L")
    assert "stock-short" not in {call.code for call in split.diagnostics if call.level != "ok"}
    rolled = re.search(
        r"Band of 3.60 by 1.30, ([0-9.]+) mm: the stock in hand, 2.50 by 2.50, ([0-9.]+) mm", said(split)
    )
    assert rolled is not None
    band, stock = (float(one) for one in rolled.groups())
    assert band / stock == pytest.approx(60 / 45, abs=0.01), "45 of it become 60"
    driven = made("P")
    assert driven[inset.hollow_limit_mm] == pytest.approx(4.06 / 2)
    assert driven[tapered_collet.collet_height_mm] == pytest.approx(3.1, abs=0.06)
    order = keys(driven)
    assert order.index("solder-head-to-shank") < order.index("saw-claws-collet"), "soldered, then sawn to claws"
    order = keys(made("J"))
    assert order.index("solder-hanging-ring") < order.index("seat-stone-stone"), "bail closed before the stone"
    hidden = {name: [one.text for one in checks(made(name)) if one.key == "ring-hidden"] for name in "CGI"}
    assert hidden == {
        "C": ["Ring hidden under the stone"],
        "G": ["Upper ring hidden under the stone"],
        "I": ["Collet hidden under the stone"],
    }
    order = keys(made("I"))
    assert order.index("solder-head-to-shank") < order.index("solder-claws-to-collet"), "claws after the collet"
    assert said(weighed(made("E")), "metal").count("clean metal") == 1, "a ring cast in one piece is one melt"


def test_a_formula_is_never_shown_without_its_numbers() -> None:
    found = weighed(made("I"))
    masses = [found.figures[key] for key in (HEAD_MASS, SHANK_MASS)]
    for held in masses:
        volume, density = (number for _symbol, number in held.inputs)
        assert held.value == pytest.approx(volume * density / 1000)
    told = [held for name in JOBS for held in made(name).figures.values()] + list(found.figures.values())
    assert [held.key for held in told if re.search(r"[_·²√/]", held.formula) and not held.inputs] == []


def test_a_v_is_tried_before_it_is_cut_and_finished_last() -> None:
    """Handbook, section 11: face down first, leaned out until the stone goes in, folded, filed in pairs."""
    order = ("offer-stone-vs", "level-tops-head", "cut-seat-stone", "lean-out-vs", "seat-stone-stone", "fold-vs-claws")
    assert "Lean the V out" in said(made("J")) and "Vs out" not in said(made("J")), "one V, at the point"
    for name in ("F", "J"):
        places = [keys(made(name)).index(key) for key in (*order, "cut-bright-vs")]
        assert places == sorted(places), name
