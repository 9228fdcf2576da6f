"""A small picture of something found: a docket's newest photograph or its head, a bought head with the stone that it is
made for; worked out off the GUI thread."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from yarvel.drawing.primitives import Drawing
from yarvel.figures.errors import YarvelError
from yarvel.figures.rules import HouseRules
from yarvel.planning.documents import Document
from yarvel.workshop.dockets.records import Docket, Photograph
from yarvel.workshop.drawer.stock import BEZEL, HEAD, MOUNT, TUBE, StockItem

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

WIDE_MM, HIGH_MM = 84.0, 84.0


class Picture(Struct, frozen=True):
    """A photograph, or a drawing; neither where there is nothing to see yet. Of a docket also where it is, in words."""

    photograph: Photograph | None = None
    drawing: Drawing | None = None
    where: str = ""


def of_docket(store: Store, docket: Docket, rules: HouseRules) -> Picture:
    """Its newest photograph, else what its job makes; and where it is."""
    from yarvel.workshop.whereabouts import whereabouts

    photographs, where = store.photographs.of(docket.id), whereabouts(store, docket)
    if photographs:
        return Picture(photographs[-1], where=where)
    return Picture(drawing=_drawn(docket.job_document, rules), where=where)


def of_stock(item: StockItem, rules: HouseRules) -> Picture:
    """A head, a mount or a bezel with the stone that it is made for, by the cut's usual proportions."""
    from yarvel.desk.drawer.ranking import patch_for
    from yarvel.desk.session.edits import style_patch
    from yarvel.planning.job import FORMAT, merge_patch

    if item.kind not in (HEAD, MOUNT, BEZEL, TUBE) or item.size_mm is None:
        return Picture()
    size = item.size_mm if item.kind in (HEAD, MOUNT) else item.size_mm - (item.wall_mm or 0.5)
    stone: Document = {"diameters_mm": [round(size, 2)]}
    if item.cut and item.made_for_width_mm:
        stone = {"cut": item.cut, "length_mm": size, "width_mm": item.made_for_width_mm}
    document: Document = {"format": FORMAT, "stone": stone, "head": {}}
    patch = patch_for(item, document, lambda style: style_patch(document, style))
    return Picture(drawing=_drawn(merge_patch(document, patch), rules))


def _drawn(document: Document, rules: HouseRules) -> Drawing | None:
    from yarvel.drawing.small import small_picture
    from yarvel.exchange.job_file import checked_job
    from yarvel.planning.job import is_measured
    from yarvel.planning.plan import plan

    if not is_measured(document.get("stone") or {}):
        return None
    try:
        return small_picture(plan(checked_job(document, rules), rules, samples=0), WIDE_MM, HIGH_MM)
    except (YarvelError, ValueError, KeyError):
        return None
