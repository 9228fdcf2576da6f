"""The bodies, shaded, to be turned by hand: painted by software, so that it needs no graphics card."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from yarvel.desk.theme import BODY_PX
from yarvel.drawing.painters.qt import font
from yarvel.planning.documents import Document

_LIGHT = np.array([-0.35, 0.45, 0.82])
_STEP_DEG = 10.0
_LOOKS = {Qt.Key.Key_1: (0.0, 0.0), Qt.Key.Key_2: (90.0, 0.0), Qt.Key.Key_3: (0.0, 90.0)}
_START = (28.0, 32.0)
_TONES = 24


class TurningView(QWidget):
    """Drag or arrow keys turn, the wheel or + and − bring nearer, 1, 2 and 3 are front, side and straight down."""

    def __init__(self, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._points: NDArray[np.float64] = np.empty((0, 3))
        self._triangles: NDArray[np.int64] = np.empty((0, 3), dtype=np.int64)
        self._roles: NDArray[np.int64] = np.empty(0, dtype=np.int64)
        self.yaw, self.pitch = _START
        self.nearness = 1.0
        self._held: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setObjectName("turning")
        self.setAccessibleName("Head and stone, shaded; arrow keys turn them")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setToolTip("Drag to turn. 1 front, 2 side, 3 straight down.")

    def sizeHint(self) -> QSize:
        """Enough to see a head."""
        return QSize(280, 230)

    @property
    def triangle_count(self) -> int:
        """How many triangles are shown."""
        return len(self._triangles)

    def set_colours(self, colours: dict[str, str]) -> None:
        """Another theme."""
        self._colours = colours
        self.update()

    def clear(self) -> None:
        """Show nothing until other bodies come."""
        self._points = np.empty((0, 3))
        self._triangles = np.empty((0, 3), dtype=np.int64)
        self._roles = np.empty(0, dtype=np.int64)
        self.update()

    def show_bodies(self, meshes: Document) -> None:
        """Show packed bodies; the shank only where it is near the head."""
        from yarvel.exchange.body_server import unpacked

        points, triangles, roles = [], [], []
        start = 0
        for name, packed in meshes.items():
            corners, faces = unpacked(packed)
            points.append(corners.astype(np.float64))
            triangles.append(faces.astype(np.int64) + start)
            roles.append(np.full(len(faces), 0 if name == "stone" else 1))
            start += len(corners)
        self._points, self._triangles, self._roles = np.vstack(points), np.vstack(triangles), np.concatenate(roles)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Faces that look this way, from the farthest to the nearest."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._colours["paper"]))
        if len(self._triangles) == 0:
            painter.setFont(font(BODY_PX))
            painter.setPen(QColor(self._colours["text-quiet"]))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "The bodies come when the hand rests.")
        else:
            self._paint_faces(painter)
        if self.hasFocus():
            painter.setPen(QPen(QColor(self._colours["accent"]), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def _turned(self) -> NDArray[np.float64]:
        """Points as seen: x right, y up, z towards the eye."""
        yaw, pitch = math.radians(self.yaw), math.radians(self.pitch)
        about = np.array([[math.cos(yaw), math.sin(yaw), 0], [-math.sin(yaw), math.cos(yaw), 0], [0, 0, 1]])
        level = np.array([[1, 0, 0], [0, math.sin(pitch), math.cos(pitch)], [0, -math.cos(pitch), math.sin(pitch)]])
        seen: NDArray[np.float64] = (self._points @ about.T) @ level.T
        return seen

    def _paint_faces(self, painter: QPainter) -> None:
        seen = self._turned()
        a, b, c = (seen[self._triangles[:, place]] for place in range(3))
        normal = np.cross(b - a, c - a)
        size = np.linalg.norm(normal, axis=1)
        facing = (normal[:, 2] > 1e-12) & (size > 1e-9)
        shade = np.clip((normal[facing] / size[facing, None]) @ _LIGHT, 0.0, 1.0)
        depth = np.maximum(np.maximum(a[facing, 2], b[facing, 2]), c[facing, 2]) + (a + b + c)[facing, 2] / 3
        stone = self._points[np.unique(self._triangles[self._roles == 0])]
        scale = self.nearness * 0.36 * min(self.width(), self.height()) / max(float(np.abs(stone[:, :2]).max()), 0.1)
        corners = np.stack([a[facing], b[facing], c[facing]], axis=1)[:, :, :2] * (scale, -scale)
        corners += (self.width() / 2, self.height() * 0.46)
        tones = self._tones()
        roles, levels = self._roles[facing], np.round(shade * (_TONES - 1)).astype(int)
        for place in np.argsort(depth).tolist():
            colour = tones[int(roles[place])][int(levels[place])]
            painter.setPen(QPen(colour, 0.6))
            painter.setBrush(colour)
            painter.drawPolygon(QPolygonF([QPointF(x, y) for x, y in corners[place].tolist()]))

    def _tones(self) -> list[list[QColor]]:
        """Colours of each role from shadow to light."""
        tones = []
        for role in ("stone", "metal"):
            base = QColor(self._colours[role])
            tones.append([_mixed(base, 0.42 + 0.68 * tone / (_TONES - 1)) for tone in range(_TONES)])
        return tones

    # --- the hand --------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold."""
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self._held = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Turn with the hand."""
        if self._held is not None:
            moved = event.position() - self._held
            self._held = event.position()
            self.turn(-moved.x() * 0.6, moved.y() * 0.6)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go."""
        self._held = None

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Nearer and farther."""
        self._come(1.0015 ** event.angleDelta().y())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows turn, + and − come nearer and go away, 1, 2, 3 are the three looks."""
        key = Qt.Key(event.key())
        ways = {
            Qt.Key.Key_Left: (-_STEP_DEG, 0.0),
            Qt.Key.Key_Right: (_STEP_DEG, 0.0),
            Qt.Key.Key_Up: (0.0, _STEP_DEG),
            Qt.Key.Key_Down: (0.0, -_STEP_DEG),
        }
        if key in ways:
            self.turn(*ways[key])
        elif key in _LOOKS:
            self.yaw, self.pitch = _LOOKS[key]
            self.update()
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self._come(1.15 if key == Qt.Key.Key_Plus else 1 / 1.15)
        else:
            super().keyPressEvent(event)

    def turn(self, yaw: float, pitch: float) -> None:
        """Turn by so many degrees."""
        self.yaw = (self.yaw + yaw) % 360
        self.pitch = min(max(self.pitch + pitch, -90.0), 90.0)
        self.update()

    def _come(self, factor: float) -> None:
        self.nearness = min(max(self.nearness * factor, 0.4), 4.0)
        self.update()


def _mixed(base: QColor, light: float) -> QColor:
    """A colour in shadow (light < 1) or in full light, towards white above 1."""
    if light <= 1:
        return QColor(round(base.red() * light), round(base.green() * light), round(base.blue() * light))
    share = light - 1
    return QColor(*(round(part + (255 - part) * share) for part in (base.red(), base.green(), base.blue())))
