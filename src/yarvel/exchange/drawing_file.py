"""The drawing of a plan as an SVG or DXF file, in mm."""

from __future__ import annotations

from pathlib import Path

from yarvel.drawing.paper import A4, MARGIN
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.sheet import sheet
from yarvel.planning.plan import Plan

KINDS = (".svg", ".dxf")
HEIGHT_MM = 168.0


def write_drawing(plan: Plan, target: Path) -> None:
    """Write the dimensioned drawing, as its name's ending says; whole or not at all (OSError where it cannot be)."""
    _write(sheet(plan, A4[0] - 2 * MARGIN, HEIGHT_MM, grips=False), target, "Yarvel bench sheet")


def write_templates(plan: Plan, target: Path) -> None:
    """Write all templates at 1:1, as its name's ending says; whole or not at all (OSError where it cannot be)."""
    from yarvel.drawing.templates import template_drawing

    _write(template_drawing(plan), target, "Yarvel templates, 1 : 1")


def _write(drawing: Drawing, target: Path, title: str) -> None:
    part = target.with_name(target.name + ".part")
    if target.suffix.lower() == ".dxf":
        from yarvel.drawing.painters.dxf import dxf_document

        dxf_document(drawing).saveas(part)
    else:
        from yarvel.drawing.painters.svg import svg_text

        part.write_text(svg_text(drawing, title=title), encoding="utf-8")
    part.replace(target)
