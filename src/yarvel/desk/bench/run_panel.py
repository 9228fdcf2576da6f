"""The run: the stations in working order, each with its state and telling figure, opening its inputs in place."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QFrame, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.stations.station import MISSING, Station
from yarvel.desk.theme import BODY_PX, TITLE_PX
from yarvel.desk.widgets.level_mark import paint_level
from yarvel.drawing.painters.qt import font
from yarvel.planning.diagnostics.diagnostic import OK

_HEIGHT = 46


class StationHead(QAbstractButton):
    """Name, telling figure and state of a station; pressing it opens the station."""

    def __init__(self, title: str, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._telling, self._state = "", MISSING
        self.setText(title)
        self.setCheckable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_state(self, telling: str, state: str, colours: dict[str, str]) -> None:
        """Set what is told under the name, and the state's shape and word."""
        self._telling, self._state, self._colours = telling, state, colours
        self.setAccessibleName(f"{self.text()}: {telling}, {_WORDS.get(state, state)}")
        self.update()

    def sizeHint(self) -> QSize:
        """One station's head."""
        return QSize(240, _HEIGHT)

    def paintEvent(self, event: QPaintEvent) -> None:
        """A strip with the state's shape, name, word and telling figure."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = self._colours
        painter.fillRect(self.rect(), QColor(colours["raised" if self.isChecked() else "panel"]))
        painter.fillRect(0, self.height() - 1, self.width(), 1, QColor(colours["line"]))
        if self.isChecked() or self.underMouse():
            painter.fillRect(0, 0, 4, self.height() - 1, QColor(colours["accent"]))
        self._paint_state(painter)
        painter.setPen(QColor(colours["text"]))
        painter.setFont(font(TITLE_PX, bold=True))
        painter.drawText(34, 19, self.text())
        painter.setFont(font(BODY_PX))
        painter.setPen(QColor(colours["text"] if self._state != MISSING else colours["text-quiet"]))
        metrics = painter.fontMetrics()
        painter.drawText(34, 38, metrics.elidedText(self._telling, Qt.TextElideMode.ElideRight, self.width() - 44))
        if self.hasFocus():
            painter.setPen(QColor(colours["accent"]))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -2, -3))
        painter.end()

    def _paint_state(self, painter: QPainter) -> None:
        colours = self._colours
        if self._state == MISSING:
            painter.setPen(QColor(colours["text-quiet"]))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(14, 9, 10, 10)
        else:
            paint_level(painter, self._state, 19, 14, colours)
        word = _WORDS.get(self._state, self._state)
        painter.setFont(font(12))
        painter.setPen(QColor(colours["text-quiet" if self._state in (MISSING, OK) else self._state]))
        corner = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop
        painter.drawText(self.rect().adjusted(0, 6, -10, 0), corner, word)


_WORDS = {OK: "good", "note": "open"}


class RunPanel(QScrollArea):
    """All stations; one is open at a time."""

    def __init__(
        self, session: Session, stations: list[Station], colours: dict[str, str], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.session = session
        self.stations = stations
        self.heads: list[StationHead] = []
        self._colours = colours
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("The run")
        inside = QWidget(self)
        inside.setProperty("panel", True)
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for place, station in enumerate(stations):
            head = StationHead(station.TITLE, colours, inside)
            head.clicked.connect(lambda _checked, place=place: self.open_station(place, toggle=True))
            self.heads.append(head)
            column.addWidget(head)
            column.addWidget(station)
            station.setVisible(False)
        column.addStretch(1)
        self.setWidget(inside)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.refresh)
        for changed in (session.plan_changed, session.job_changed, session.docket_changed):
            changed.connect(self._on_changed)
        session.problems_changed.connect(self._on_problems)

    @property
    def open_place(self) -> int:
        """Which station is open; −1 for none."""
        return next((place for place, head in enumerate(self.heads) if head.isChecked()), -1)

    def open_station(self, place: int, toggle: bool = False, focus: bool = True) -> None:
        """Open one station and close the others; again closes it where ``toggle``."""
        self.stations[place].ensure_built()
        closing = toggle and self.stations[place].isVisibleTo(self)
        for other, (head, station) in enumerate(zip(self.heads, self.stations, strict=True)):
            opened = other == place and not closing
            head.setChecked(opened)
            station.setVisible(opened)
        if not closing:
            self.stations[place].refresh()
            self.stations[place].show_problems()
            field = self.stations[place].first_field()
            if field is not None and focus:
                field.setFocus(Qt.FocusReason.ShortcutFocusReason)
            self._on_changed()
            # Once everything is laid out anew: the station in hand begins at the top.
            QTimer.singleShot(0, lambda: self.verticalScrollBar().setValue(self.heads[place].y()))

    def set_colours(self, colours: dict[str, str]) -> None:
        """Another theme."""
        self._colours = colours
        self.refresh()

    def refresh(self) -> None:
        """All heads, and the open station's fields."""
        for head, station in zip(self.heads, self.stations, strict=True):
            head.show_state(station.telling(), station.state(), self._colours)
            if head.isChecked():
                station.refresh()

    def _on_changed(self) -> None:
        """Several changes at once, one refresh."""
        if not self._soon.isActive():
            self._soon.start(0)

    def _on_problems(self) -> None:
        for head, station in zip(self.heads, self.stations, strict=True):
            if head.isChecked():
                station.show_problems()
