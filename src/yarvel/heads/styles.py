"""The register of head styles: one module a style, one line here."""

from __future__ import annotations

from types import ModuleType

from yarvel.heads import tube, wire_basket

STYLES: dict[str, ModuleType] = {
    wire_basket.STYLE: wire_basket,
    tube.STYLE: tube,
}
