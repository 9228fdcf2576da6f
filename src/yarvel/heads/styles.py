"""The register of head styles: one module a style, one line here."""

from __future__ import annotations

from yarvel.heads import bought, tapered_collet, tube, wire_basket
from yarvel.heads.style import HeadStyle

STYLES: dict[str, HeadStyle] = {
    wire_basket.STYLE: wire_basket,
    tapered_collet.STYLE: tapered_collet,
    tube.STYLE: tube,
    bought.STYLE: bought,
}
