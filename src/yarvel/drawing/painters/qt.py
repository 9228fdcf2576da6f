"""A drawing painted by Qt: the same for the screen, the printer and PDF."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path as FilePath

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import (
    QBrush,
    QColor,
    QFont,
    QFontDatabase,
    QFontMetricsF,
    QPainter,
    QPainterPath,
    QPen,
    QPolygonF,
)

from yarvel.drawing.primitives import Drawing, Facets, Path, Text
from yarvel.drawing.styles import LINES, shaded

FONT_FOLDER = FilePath(__file__).parents[1] / "fonts"
FAMILIES = ("B612", "DejaVu Sans")
_HATCH_STEP = 1.1


def load_fonts() -> None:
    """Make the shipped fonts known to Qt; once is enough, again does no harm."""
    if FAMILIES[0] not in QFontDatabase.families():
        for name in ("B612-Regular.otf", "B612-Bold.otf", "DejaVuSans.ttf"):
            QFontDatabase.addApplicationFont(str(FONT_FOLDER / name))


def font(pixels: int, bold: bool = False) -> QFont:
    """The shipped font at a height in pixels, with its stand-in for letters that it lacks."""
    font_made = QFont()
    font_made.setFamilies(list(FAMILIES))
    font_made.setPixelSize(max(pixels, 1))
    font_made.setBold(bold)
    return font_made


def paint(
    painter: QPainter,
    drawing: Drawing,
    palette: dict[str, str],
    per_mm: float,
    origin: tuple[float, float] = (0.0, 0.0),
) -> None:
    """Paint a drawing with its top left at ``origin`` in device pixels, ``per_mm`` pixels to the mm."""
    x, y = origin
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for item in drawing.items:
        if isinstance(item, Text):
            _paint_text(painter, item, palette, per_mm, x, y)
        elif isinstance(item, Facets):
            _paint_facets(painter, item, palette, per_mm, x, y)
        else:
            _paint_path(painter, item, palette, per_mm, x, y)


def _paint_path(painter: QPainter, path: Path, palette: dict[str, str], per_mm: float, x: float, y: float) -> None:
    polygon = QPolygonF([QPointF(px * per_mm + x, py * per_mm + y) for px, py in path.points.tolist()])
    painter.setPen(_pen(palette[path.stroke], path.stroke, per_mm) if path.stroke in LINES else Qt.PenStyle.NoPen)
    if not path.closed:
        painter.drawPolyline(polygon)
        return
    painter.setBrush(_brush(palette[path.fill], round(path.shade, 2)) if path.fill else Qt.BrushStyle.NoBrush)
    painter.drawPolygon(polygon)
    if path.hatch:
        _paint_hatch(painter, polygon, path.hatch, palette["hatch"], per_mm)


def _paint_facets(
    painter: QPainter, facets: Facets, palette: dict[str, str], per_mm: float, x: float, y: float
) -> None:
    points = [QPointF(px * per_mm + x, py * per_mm + y) for px, py in facets.points.tolist()]
    painter.setPen(Qt.PenStyle.NoPen)
    fill = palette[facets.fill]
    for loop, shade in zip(facets.loops, facets.shades, strict=True):
        painter.setBrush(_brush(fill, shade))
        painter.drawPolygon(QPolygonF([points[corner] for corner in loop]))
    painter.setPen(_pen(palette[facets.stroke], facets.stroke, per_mm))
    painter.drawLines([QLineF(points[a], points[b]) for a, b in facets.edges])


@lru_cache(maxsize=512)
def _pen(colour: str, role: str, per_mm: float) -> QPen:
    style = LINES[role]
    pen = QPen(QColor(colour), max(style.weight * per_mm, 0.7))
    pen.setCapStyle(Qt.PenCapStyle.FlatCap if style.dash else Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if style.dash:
        pen.setDashPattern([max(part * per_mm / pen.widthF(), 0.1) for part in style.dash])
    return pen


@lru_cache(maxsize=1024)
def _brush(colour: str, shade: float) -> QBrush:
    return QBrush(QColor(shaded(colour, shade) if shade else colour))


def _paint_hatch(painter: QPainter, polygon: QPolygonF, way: str, colour: str, per_mm: float) -> None:
    clip = QPainterPath()
    clip.addPolygon(polygon)
    clip.closeSubpath()
    painter.save()
    painter.setClipPath(clip, Qt.ClipOperation.IntersectClip)
    painter.setPen(_pen(colour, "hatch", per_mm))
    box = polygon.boundingRect()
    step, high = _HATCH_STEP * per_mm * 1.4142, box.height()
    start = box.left() - high
    lines = []
    while start < box.right():
        top, bottom = (start + high, start) if way == "slant" else (start, start + high)
        lines.append(QLineF(top, box.top(), bottom, box.bottom()))
        start += step
    painter.drawLines(lines)
    painter.restore()


@lru_cache(maxsize=64)
def _font_at(pixels: int, bold: bool) -> tuple[QFont, QFontMetricsF]:
    font_made = font(pixels, bold)
    return font_made, QFontMetricsF(font_made)


def _paint_text(painter: QPainter, text: Text, palette: dict[str, str], per_mm: float, x: float, y: float) -> None:
    font_made, metrics = _font_at(round(text.size * per_mm), text.bold)
    left = text.at[0] * per_mm + x
    if text.anchor != "start":
        width = metrics.horizontalAdvance(text.text)
        left -= width if text.anchor == "end" else width / 2
    painter.setFont(font_made)
    painter.setPen(QColor(palette[text.role]))
    painter.drawText(QPointF(left, text.at[1] * per_mm + y), text.text)


def text_box(text: Text, per_mm: float) -> QRectF:
    """Where a text lies in device pixels, with a little room, for the pointer to hit."""
    _, metrics = _font_at(round(text.size * per_mm), text.bold)
    width = metrics.horizontalAdvance(text.text)
    left = text.at[0] * per_mm - {"start": 0.0, "middle": width / 2, "end": width}[text.anchor]
    return QRectF(left - 3, text.at[1] * per_mm - metrics.ascent(), width + 6, metrics.height() + 2)
