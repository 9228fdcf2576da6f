"""What the parts of a stone are called: a dome has no table, girdle, culet or crown."""

from __future__ import annotations

from msgspec import Struct

from yarvel.stones.cut import Cut


class StoneWords(Struct, frozen=True, kw_only=True):
    """Words for the ``top``, the ``low`` point, the ``side`` that claws close over and the ``edge`` that they hold; how
    it lies ``level``, and is ``down``."""

    top: str
    low: str
    side: str
    edge: str
    level: str
    down: str


_FACETED = StoneWords(
    top="table",
    low="culet",
    side="crown",
    edge="girdle",
    level="the table level",
    down="the girdle down in every seat",
)
_DOMED = StoneWords(
    top="top",
    low="base",
    side="dome",
    edge="edge",
    level="the base level",
    down="the edge down all round",
)


def words_of(cut: Cut) -> StoneWords:
    """The words for a cut."""
    return _DOMED if cut.domed else _FACETED
