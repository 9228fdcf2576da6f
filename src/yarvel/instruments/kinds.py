"""The register of instruments: a new kind is one module and one line here."""

from __future__ import annotations

from yarvel.instruments import carat_scale, gauge, gram_scale, scanner
from yarvel.instruments.kind import InstrumentKind

KINDS: dict[str, InstrumentKind] = {
    one.KIND.key: one.KIND
    for one in (
        gauge,
        carat_scale,
        gram_scale,
        scanner,
    )
}
