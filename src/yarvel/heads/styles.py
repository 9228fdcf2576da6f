"""The register of head styles: one module a style, one line here."""

from __future__ import annotations

from yarvel.heads import applied_collet, bought, cast_claw, paired_corner, tapered_collet, tube, v_claw, wire_basket
from yarvel.heads.field import HeadField
from yarvel.heads.fields import FIELDS
from yarvel.heads.style import HeadStyle
from yarvel.stones.cut import Cut

STYLES: dict[str, HeadStyle] = {
    wire_basket.STYLE: wire_basket,
    v_claw.STYLE: v_claw,
    paired_corner.STYLE: paired_corner,
    tapered_collet.STYLE: tapered_collet,
    applied_collet.STYLE: applied_collet,
    tube.STYLE: tube,
    bought.STYLE: bought,
    cast_claw.STYLE: cast_claw,
}


def head_fields() -> dict[str, HeadField]:
    """Every field of a head that some style reads, by name, in the order in which they are shown."""
    return {**FIELDS, **{field.name: field for style in STYLES.values() for field in style.OWN}}


def styles_for(cut: Cut) -> list[str]:
    """Styles that can hold a stone of this cut, in the register's order."""
    return [key for key, style in STYLES.items() if style.suits(cut)]
