"""A made-up workshop under a bridge: its customers, its rings, its stones. Nobody and nothing in it exists."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from yarvel.planning.job import FORMAT
from yarvel.workshop.store import Store


def _job(stone: dict[str, Any], head: dict[str, Any] | None = None, shank: dict[str, Any] | None = None,
         fit: dict[str, Any] | None = None) -> dict[str, Any]:
    parts = {"stone": {"cut": "round", **stone}, "head": head, "shank": shank, "fit": fit}
    return {"format": FORMAT, **{name: part for name, part in parts.items() if part}}


_DOCKETS: tuple[tuple[str, str, int, str, dict[str, Any]], ...] = (
    ("Ferry Lane Pawn & Loan", "Pendant collet, peridot", 21, "taken in",
     _job({"species": "peridot", "diameters_mm": [4.62, 4.65], "depth_mm": 2.96},
          {"style": "tapered-collet", "cut": "claws", "claws": 6, "metal": "9k-yellow"})),
    ("Mrs Oduya-Lindqvist", "Grandmother's ring, loose stone", 3, "on hold",
     _job({"species": "zircon", "diameters_mm": [5.31, 5.48, 5.36], "depth_mm": 3.42, "declared_ct": 0.9},
          {"style": "bought", "made_for_mm": 5.0, "claws": 4, "claw_mm": 0.9, "height_mm": 4.6, "metal": "14k-yellow"},
          {"size": {"system": "US", "value": "5 3/4"}, "width_mm": 2.2, "thickness_mm": 1.5, "metal": "14k-yellow"},
          {"method": "on-flat", "height": "lowest"})),
    ("Tillerman's Corner", "Cocktail ring, wide band", 9, "planned",
     _job({"species": "aquamarine", "diameters_mm": [9.38, 9.41], "depth_mm": 5.9, "table_percent": 55},
          {"claws": 6, "metal": "18k-white", "orientation": "in-line"},
          {"size": {"system": "UK", "value": "P"}, "width_mm": 6.4, "thickness_mm": 1.9, "profile": "court",
           "metal": "18k-white"}, {"method": "inset", "height": "lowest"})),
    ("Brass Heron Jewellers", "Tube ring, sapphire", 12, "in work",
     _job({"species": "sapphire", "diameters_mm": [3.87, 3.9], "depth_mm": 2.4},
          {"style": "tube", "metal": "platinum-950", "wall_mm": 0.75},
          {"size": {"system": "ISO", "value": "51"}, "width_mm": 3.1, "thickness_mm": 1.7, "metal": "platinum-950"},
          {"method": "inset", "height": "lowest"})),
    ("Quillon & Daughter", "New six-claw head, tourmaline", 5, "planned",
     _job({"species": "tourmaline", "diameters_mm": [7.63, 7.71], "depth_mm": 4.88, "crown_height_mm": 1.24,
           "resolution_mm": 0.01, "declared_ct": 1.55},
          {"claws": 6, "orientation": "in-line", "metal": "18k-yellow"},
          {"size": {"system": "ISO", "value": "55.5"}, "width_mm": 3.4, "thickness_mm": 2.1, "profile": "half-round",
           "metal": "18k-yellow"}, {"method": "inset", "height": "lowest"})),
    ("Brass Heron Jewellers", "Four-claw solitaire, spinel", 2, "in work",
     _job({"species": "spinel", "diameters_mm": [6.84, 6.79], "depth_mm": 4.21, "girdle_mm": 0.19},
          {"claws": 4, "notch_ratio": 0.46, "metal": "18k-yellow"},
          {"size": {"system": "UK", "value": "K½"}, "width_mm": 2.6, "thickness_mm": 1.9, "profile": "court",
           "metal": "18k-yellow"}, {"method": "on-flat", "height": "lowest"})),
)


def fill(store: Store, today: date) -> None:
    """Fill an empty store with the made-up workshop's dockets; the last one is opened first."""
    for customer, item, days, state, job in _DOCKETS:
        store.new_docket(customer, item, today + timedelta(days=days), job, state)
