"""The register of fit methods: one module a method, one line here."""

from __future__ import annotations

from types import ModuleType

from yarvel.shanks import inset, on_flat

METHODS: dict[str, ModuleType] = {
    inset.METHOD: inset,
    on_flat.METHOD: on_flat,
}
