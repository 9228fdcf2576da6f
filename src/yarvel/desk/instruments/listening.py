"""Readings that type themselves: what an instrument sends goes into the field that waits for it, as if typed."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QEvent, QObject, QSettings, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication, QLineEdit, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.widgets.fields import GaugeEdit
from yarvel.drawing.label import MARK
from yarvel.instruments.kind import InstrumentKind
from yarvel.instruments.kinds import KINDS
from yarvel.instruments.port import PortEvent, Setting, listen
from yarvel.instruments.reading import LENGTH, MASS, USUAL_PATTERN, NoReadingError, Reading

_GROUP = "instruments"


def waits_for(widget: QWidget | None) -> str:
    """The unit that a field waits for a reading in: as it says of itself, or as its name ends; "" for none."""
    if not isinstance(widget, QLineEdit) or not widget.isEnabled() or widget.isReadOnly():
        return ""
    unit = widget.property("reads") or widget.accessibleName().rpartition(", ")[2]
    return unit if unit in LENGTH or unit in MASS else ""


class Instruments(QObject):
    """One thread a port that is set; ``label`` gets what a scanner reads."""

    told = Signal(str)
    read = Signal(object)
    label = Signal(str)
    _came = Signal(object)

    def __init__(self, window: QWidget, session: Session, settings: QSettings) -> None:
        super().__init__(window)
        self._window, self._session, self._settings = window, session, settings
        self._stops: list[threading.Event] = []
        self._threads: list[threading.Thread] = []
        self._away: set[str] = set()
        self._came.connect(self._on_came)
        self.shut: Callable[[], bool] = lambda: False
        """Whether the windows are locked: nothing is taken then."""

    def setting(self, kind: InstrumentKind) -> Setting:
        """Where an instrument is, as this machine was told."""
        saved = {name: self._settings.value(f"{_GROUP}/{kind.key}/{name}") for name in ("port", "speed", "pattern")}
        speed = str(saved["speed"] or "")
        return Setting(
            str(saved["port"] or ""),
            int(speed) if speed.isdigit() else kind.speed,
            str(saved["pattern"] or USUAL_PATTERN),
        )

    def keep(self, settings: dict[str, Setting]) -> None:
        """Keep where the instruments are, by kind, and listen there."""
        for key, kind_setting in settings.items():
            for name, value in (
                ("port", kind_setting.port),
                ("speed", kind_setting.speed),
                ("pattern", kind_setting.pattern),
            ):
                self._settings.setValue(f"{_GROUP}/{key}/{name}", value)
        self._settings.sync()
        self.begin()

    def begin(self) -> None:
        """Listen at every port that is set."""
        self.finish()
        for kind in KINDS.values():
            setting = self.setting(kind)
            if setting.port:
                stop = threading.Event()
                work = partial(listen, kind, setting, stop, self._came.emit)
                thread = threading.Thread(target=work, name=kind.key, daemon=True)
                self._stops.append(stop)
                self._threads.append(thread)
                thread.start()

    def finish(self) -> None:
        """Listen no more."""
        for stop in self._stops:
            stop.set()
        for thread in self._threads:
            thread.join(1.5)
        self._stops, self._threads = [], []

    def _on_came(self, told: PortEvent) -> None:
        """On the window's own thread: type it where it is waited for, or say what is wrong."""
        self.read.emit(told)
        if self.shut():
            return
        if told.open and told.kind.key in self._away:
            self._away.discard(told.kind.key)
            self.told.emit(f"{told.kind.label} answers again.")
        elif told.problem:
            self._away.add(told.kind.key)
            self.told.emit(told.problem)
        elif told.label:
            self.label.emit(told.label.removeprefix(MARK))
        elif told.reading is not None:
            self._type(told.kind, told.reading)

    def _type(self, kind: InstrumentKind, reading: Reading) -> None:
        field = QApplication.focusWidget()
        unit = waits_for(field)
        name = kind.label.removeprefix("A ").capitalize()
        if not isinstance(field, QLineEdit) or not unit:
            message = f"{name}: {reading.text()} {reading.unit}."
            self.told.emit(f"{message} No field waits for it: go to one, and read again.")
            return
        try:
            mine = reading.into(unit)
        except NoReadingError:
            self.told.emit(
                f"{name}: {reading.text()} {reading.unit}. The field “{field.accessibleName()}” waits for {unit}."
            )
            return
        field.selectAll()
        field.insert(mine.text())
        if isinstance(field, GaugeEdit):
            if field.objectName().startswith("stone.") and unit == "mm":
                self._keep_resolution(mine)
            for kind_of in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
                QApplication.sendEvent(
                    field, QKeyEvent(kind_of, Qt.Key.Key_Return, Qt.KeyboardModifier.NoModifier, "\r")
                )

    def _keep_resolution(self, reading: Reading) -> None:
        """How finely the gauge reads belongs to the stone's readings, where nobody has said it."""
        stone = self._session.document.get("stone") or {}
        resolution = round(reading.resolution, 4)
        shown_resolution = stone.get("resolution_mm")
        usual = self._session.rules.gauge_resolution_mm
        if shown_resolution is None and abs(resolution - usual) > 1e-9 and 0.001 <= resolution <= 0.5:
            self._session.patch({"stone": {"resolution_mm": resolution}}, "The gauge's resolution")
