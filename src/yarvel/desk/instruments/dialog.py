"""Where the instruments of this machine are: port, speed, the pattern of their lines; and what comes of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QVBoxLayout, QWidget

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.words import LineField, Words
from yarvel.instruments.kinds import KINDS
from yarvel.instruments.port import PortEvent, Setting
from yarvel.instruments.reading import USUAL_PATTERN, NoReadingError, check_pattern

if TYPE_CHECKING:
    from yarvel.desk.instruments.listening import Instruments

_SPEEDS = (1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200)


def ports() -> list[str]:
    """Serial ports that this machine has now."""
    from serial.tools.list_ports import comports

    return sorted(str(port.device) for port in comports())


class InstrumentsDialog(QDialog):
    """One row an instrument; what it sends stands at the end of its row while the dialog is open."""

    def __init__(self, instruments: Instruments, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._instruments = instruments
        self.setWindowTitle("Instruments")
        self.ports: dict[str, Choice] = {}
        self.speeds: dict[str, Choice] = {}
        self.patterns: dict[str, LineField] = {}
        self.came: dict[str, Words] = {}
        grid = self._rows()
        words = Words(
            "A port such as /dev/ttyUSB0; nothing where there is none. Scanners that type like a keyboard need none. "
            "A reading goes into the field that waits for it; docs/instruments.md tells how lines are read.",
            self,
        )
        words.setWordWrap(True)
        words.setProperty("quiet", True)
        self.problem = Words(self)
        self.problem.setProperty("problem", True)
        self.problem.setWordWrap(True)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Apply | QDialogButtonBox.StandardButton.Close, self
        )
        self.buttons.button(QDialogButtonBox.StandardButton.Apply).setText("Listen there")
        self.buttons.button(QDialogButtonBox.StandardButton.Apply).clicked.connect(lambda _checked=False: self.keep())
        self.buttons.rejected.connect(self.reject)
        column_of = QVBoxLayout(self)
        column_of.addLayout(grid)
        for widget in (words, self.problem, self.buttons):
            column_of.addWidget(widget)
        instruments.read.connect(self._on_read, Qt.ConnectionType.DirectConnection)

    def _rows(self) -> QGridLayout:
        """One row an instrument."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        for column, title in enumerate(("", "Port", "Speed", "A line of it", "What came last")):
            grid.addWidget(Words(title, self), 0, column)
        for row, kind in enumerate(KINDS.values(), start=1):
            setting = self._instruments.setting(kind)
            grid.addWidget(Words(kind.label, self), row, 0)
            port, speed, pattern, came = Choice(self), Choice(self), LineField(self), Words("nothing yet", self)
            port.setEditable(True)
            port.addItems(["", *ports()])
            port.setCurrentText(setting.port)
            port.setMinimumWidth(210)
            for baud in _SPEEDS:
                speed.addItem(str(baud), baud)
            speed.setCurrentIndex(max(speed.findData(setting.speed), 0))
            pattern.setText("" if setting.pattern == USUAL_PATTERN else setting.pattern)
            pattern.setPlaceholderText(f"usual: 1.23 {kind.unit}" if kind.unit else "26-0001")
            pattern.setEnabled(bool(kind.unit))
            pattern.setMinimumWidth(190)
            came.setProperty("quiet", True)
            came.setMinimumWidth(150)
            named: tuple[tuple[str, QWidget, str], ...] = (
                ("port", port, "port"),
                ("speed", speed, "speed"),
                ("pattern", pattern, "pattern of its lines"),
            )
            for name, field, label in named:
                field.setObjectName(f"instruments.{kind.key}.{name}")
                field.setAccessibleName(f"{kind.label}: {label}")
            self.ports[kind.key], self.speeds[kind.key] = port, speed
            self.patterns[kind.key], self.came[kind.key] = pattern, came
            parts: tuple[QWidget, ...] = (port, speed, pattern, came)
            for column, part in enumerate(parts, start=1):
                grid.addWidget(part, row, column)
        return grid

    def keep(self) -> None:
        """Listen where it says, where that can be."""
        settings: dict[str, Setting] = {}
        for key in KINDS:
            pattern = self.patterns[key].text().strip() or USUAL_PATTERN
            try:
                check_pattern(pattern)
            except NoReadingError as error:
                mark_wrong(self.patterns[key], True)
                self.problem.setText(str(error))
                return
            mark_wrong(self.patterns[key], False)
            port = self.ports[key].currentText().strip()
            settings[key] = Setting(port, int(self.speeds[key].currentData()), pattern)
        taken = [setting.port for setting in settings.values() if setting.port]
        twice = next((port for port in taken if taken.count(port) > 1), "")
        if twice:
            self.problem.setText(f"{twice} stands twice. Accepted: a port of its own for each instrument")
            return
        self.problem.setText("")
        self._instruments.keep(settings)

    def _on_read(self, told: PortEvent) -> None:
        words = self.came[told.kind.key]
        if told.reading is not None:
            words.setText(f"{told.reading.text()} {told.reading.unit}")
        else:
            words.setText(told.label or told.problem or "listening")
        words.setToolTip(words.text())
