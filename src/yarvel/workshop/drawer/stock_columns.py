"""What lies in the drawer as columns, to be judged all at once for a stone."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from yarvel.planning.job import StoneJob
from yarvel.planning.match import Stock
from yarvel.planning.match_bails import Bails
from yarvel.planning.match_tubes import Tubes
from yarvel.workshop.drawer.stock import BEZEL, MOUNT, TUBE, StockItem


def heads_of(items: Sequence[StockItem]) -> Stock:
    """Heads and ready mounts as columns."""
    return Stock(
        codes=tuple(item.code for item in items),
        made_for=column(items, "size_mm"),
        claw=column(items, "claw_mm"),
        claws=column(items, "claws"),
        opening=column(items, "opening_mm"),
        height=column(items, "height_mm"),
        cuts=tuple(item.cut or StoneJob.cut for item in items),
        width=column(items, "made_for_width_mm"),
        tip=column(items, "height_tip_mm"),
        foot=column(items, "foot_mm"),
        rail=column(items, "rail_mm"),
        held=column(items, "quantity"),
        label=column(items, "label_ct"),
        inside=np.where([item.kind == MOUNT for item in items], column(items, "inside_mm"), np.nan),
    )


def tubes_of(items: Sequence[StockItem]) -> Tubes:
    """Tubes and bezels as columns: a bezel has its height, a tube so much length as is counted."""
    cut = np.array([item.kind == BEZEL for item in items], dtype=bool)
    counted = column(items, "quantity")
    return Tubes(
        codes=tuple(item.code for item in items),
        outside=column(items, "size_mm"),
        wall=column(items, "wall_mm"),
        height=np.where(cut, column(items, "height_mm"), np.nan),
        length=np.where(cut, np.nan, counted),
        held=counted,
    )


def bails_of(items: Sequence[StockItem]) -> Bails:
    """Bails as columns."""
    return Bails(
        tuple(item.code for item in items),
        column(items, "size_mm"),
        column(items, "thickness_mm"),
        column(items, "mass_g"),
        column(items, "quantity"),
    )


def is_tube(item: StockItem) -> bool:
    """Whether it is a length of tube or a bezel."""
    return item.kind in (TUBE, BEZEL)


def column(items: Sequence[StockItem], name: str) -> NDArray[np.float64]:
    """A measure of all items, (n,); NaN where it is not known."""
    values = [getattr(item, name) for item in items]
    return np.array([np.nan if value is None else value for value in values], dtype=float)
