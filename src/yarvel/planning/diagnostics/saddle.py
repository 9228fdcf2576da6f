"""Hollowing a made head's base to the band: its ring must not be cut through."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.shanks import fish_mouth

CODE = "base-cut-through"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Depth of the hollow against the base ring's wire."""
    if not situation.has(fish_mouth.saddle_depth_mm) or not situation.shape.rings:
        return []
    hooks, wire = situation.shape.hooks, situation.shape.rings[-1].high_mm
    wire = wire if hooks is None else min(wire, hooks.wire_mm)
    what = "the base ring" if hooks is None else "the legs that close on the peg"
    deep, limit = situation[fish_mouth.saddle_depth_mm], situation.rules.base_cut_share * wire
    level = OK if deep <= limit else STOP if deep >= wire else CAUTION
    remedy = {"fit": {"method": "on-flat"}, "head": {"legs": None, "peg_mm": None}} if level != OK else None
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Base on the curve",
            message=f"The band's curve takes most of {what}: put the head on a flat instead."
            if level != OK
            else f"What is hollowed to the band leaves {what} sound.",
            figure=deep,
            limit=limit,
            unit="mm",
            about="band",
            of=fish_mouth.saddle_depth_mm,
            remedy=remedy,
            remedy_label="Head on a flat" if remedy else "",
        )
    ]
