"""The register of head styles: one module a style, one line here."""

from __future__ import annotations

from types import ModuleType

from yarvel.heads import bought, tapered_collet, tube, wire_basket

STYLES: dict[str, ModuleType] = {
    wire_basket.STYLE: wire_basket,
    tapered_collet.STYLE: tapered_collet,
    tube.STYLE: tube,
    bought.STYLE: bought,
}
