"""The register of instruments: a new kind is one module and one line here."""

from __future__ import annotations

from yarvel.instruments import carat_scale, gauge, gram_scale, scanner
from yarvel.instruments.kind import InstrumentKind

KINDS: dict[str, InstrumentKind] = {
    instrument.KIND.key: instrument.KIND
    for instrument in (
        gauge,
        carat_scale,
        gram_scale,
        scanner,
    )
}
