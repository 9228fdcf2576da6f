"""Who offers what: one module a subject; none knows of another. Each takes the :class:`~yarvel.route.offer.Offers` of a
plan and adds its operations to it."""

from __future__ import annotations

from collections.abc import Callable

from yarvel.route.offer import Offers
from yarvel.route.offers import (
    applied_claws,
    collets,
    existing,
    finish,
    fits,
    made_heads,
    pendant,
    repairs,
    setting,
    shank,
    shoulders,
    stock,
    wire_heads,
)

CONTRIBUTORS: tuple[Callable[[Offers], None], ...] = (
    existing.offer,
    shank.offer,
    wire_heads.offer,
    collets.offer,
    applied_claws.offer,
    made_heads.offer,
    shoulders.offer,
    fits.offer,
    pendant.offer,
    repairs.offer,
    setting.offer,
    finish.offer,
    stock.offer,
    repairs.stones_out,
)
