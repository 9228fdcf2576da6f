"""Wide band: it wears tighter than its size."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation
from yarvel.shanks.sizes import SYSTEMS, inside_diameter_mm

CODE = "wide-band-size"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Band width against the house's limit; settled once the size allows for it."""
    shank = situation.job.shank
    if shank is None:
        return []
    limit = situation.rules.wide_band_mm
    level = OK if shank.width_mm < limit or shank.size.eased_for_width else NOTE
    remedy, label = None, ""
    if level != OK:
        system = SYSTEMS[shank.size.system]
        easier = system.name(inside_diameter_mm(system.key, shank.size.value) + system.wide_step_mm)
        remedy = {"shank": {"size": {"value": easier, "eased_for_width": True}}}
        label = f"Size {system.label} {easier}"
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Wide band",
            message="A wide band wears tight: a quarter to half a US size more is usual.",
            figure=shank.width_mm,
            limit=limit,
            unit="mm",
            about="band",
            of=None,
            remedy=remedy,
            remedy_label=label,
        )
    ]
