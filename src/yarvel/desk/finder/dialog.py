"""Find anything in a few keystrokes: dockets, customers, what lies in the drawer, commands, as you type."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from msgspec import Struct
from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QImage, QKeyEvent, QPixmap
from PySide6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from yarvel.clock import here
from yarvel.desk.actions import ActionInfo
from yarvel.desk.finder.found_picture import HIGH_MM, WIDE_MM, Picture
from yarvel.desk.theme import BODY_PX
from yarvel.desk.widgets.drawn import Drawn
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import LineField, Words
from yarvel.drawing.painters.qt import font
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.drawer.stock import StockItem
from yarvel.workshop.everywhere import Hits, stock_text
from yarvel.workshop.people.customers import KnownCustomer

Ask = Callable[[str, Callable[[Hits], None]], None]
Found = Docket | KnownCustomer | StockItem | ActionInfo
Draw = Callable[[Found, Callable[[Picture], None]], None]

_PER_MM = 3.4

_REST_MS = 120
"""So long somebody rests on a row before it is drawn."""
_COMMANDS = 6


class _Row(Struct, frozen=True):
    found: Found
    text: str


class Finder(QDialog):
    """``found`` is what was chosen, or None."""

    def __init__(
        self,
        ask: Ask,
        draw: Draw,
        commands: Sequence[ActionInfo],
        colours: dict[str, str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._ask, self._draw, self._commands = ask, draw, commands
        self.found: Found | None = None
        self._held: list[_Row] = []
        self.setWindowTitle("Find")
        open_at(self, 1060, 520)
        self.words = LineField(self)
        self.words.setPlaceholderText("number, customer, stone, size, metal, person, date, code, command …")
        self.words.setAccessibleName("Words to find")
        self.rows = QListWidget(self)
        self.rows.setAccessibleName("Found")
        self.rows.setFont(font(BODY_PX))
        self.rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows.setTextElideMode(Qt.TextElideMode.ElideRight)
        self._empty = Words(self)
        self._empty.setWordWrap(True)
        self._empty.setProperty("quiet", True)
        self.drawing = Drawn(colours, _PER_MM, self)
        self.photograph = Words(self)
        self.photograph.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.told = Words(self)
        self.told.setObjectName("finder.told")
        self.told.setWordWrap(True)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(_REST_MS)
        self._rest.timeout.connect(self._look)
        self._lay_out()
        self.words.textChanged.connect(self._on_words)
        self.rows.itemActivated.connect(lambda _item: self._take())
        self.rows.currentRowChanged.connect(lambda _row: self._on_row())
        self._on_words("")

    def _lay_out(self) -> None:
        left, right = QVBoxLayout(), QVBoxLayout()
        for widget in (self.words, self.rows, self._empty):
            left.addWidget(widget)
        for shown in (self.photograph, self.drawing, self.told):
            right.addWidget(shown)
        right.addStretch(1)
        beside = QWidget(self)
        beside.setLayout(right)
        beside.setFixedWidth(round(WIDE_MM * _PER_MM) + 16)
        whole = QHBoxLayout(self)
        whole.addLayout(left, 1)
        whole.addWidget(beside)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down move through what was found while typing; Enter opens."""
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self.rows.count():
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.rows.setCurrentRow(max(0, min(self.rows.currentRow() + step, self.rows.count() - 1)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.rows.currentItem() is not None:
            self._take()
        else:
            super().keyPressEvent(event)

    def _on_words(self, words: str) -> None:
        self._ask(words, lambda found: self._show(words, found))

    def _show(self, words: str, hits: Hits) -> None:
        if words != self.words.text():
            return
        self._held = [
            *(_Row(docket, row_text(docket)) for docket in hits.dockets),
            *(_Row(customer, f"Customer: {customer.name} – {customer.dockets} dockets") for customer in hits.customers),
            *(_Row(stock_row, f"In the drawer: {stock_text(stock_row)}") for stock_row in hits.stock),
            *(
                _Row(of_command, f"Command: {of_command.text.rstrip('…')} ({of_command.shortcut})")
                for of_command in self._of_commands(words)
            ),
        ]
        self.rows.blockSignals(True)
        self.rows.clear()
        for row in self._held:
            item = QListWidgetItem(row.text)
            item.setToolTip(row.text)
            self.rows.addItem(item)
        self.rows.setCurrentRow(0 if self._held else -1)
        self.rows.blockSignals(False)
        self._empty.setText(
            ""
            if self._held
            else "Nothing holds these words: take some away. Dockets put aside are found by the word “aside”."
            if words
            else "No dockets yet. Close this and press Ctrl+N to take one in."
        )
        self._on_row()

    def _of_commands(self, words: str) -> list[ActionInfo]:
        wanted = words.casefold().split()
        chosen_commands = [
            command for command in self._commands if all(word in command.text.casefold() for word in wanted)
        ]
        return chosen_commands[:_COMMANDS] if wanted else []

    @property
    def _chosen(self) -> Found | None:
        row = self.rows.currentRow()
        return self._held[row].found if 0 <= row < len(self._held) else None

    def _on_row(self) -> None:
        """Another row: what it says in full at once, its picture when somebody rests there."""
        chosen = self._chosen
        self.told.setText("" if chosen is None else told_text(chosen))
        self._show_picture(Picture())
        self._rest.start()

    def _look(self) -> None:
        chosen = self._chosen
        if isinstance(chosen, Docket | StockItem):
            self._draw(chosen, lambda picture: self._show_picture(picture) if chosen == self._chosen else None)

    def _show_picture(self, picture: Picture) -> None:
        if picture.where and self._chosen is not None:
            self.told.setText(f"{told_text(self._chosen)}\n{picture.where}")
        self.drawing.show_drawing(picture.drawing, "What it looks like")
        image = QImage() if picture.photograph is None else QImage.fromData(picture.photograph.jpeg)
        self.photograph.setVisible(not image.isNull())
        if not image.isNull():
            smooth = Qt.TransformationMode.SmoothTransformation
            wide, high = round(WIDE_MM * _PER_MM), round(HIGH_MM * _PER_MM)
            pixels = image.scaled(wide, high, Qt.AspectRatioMode.KeepAspectRatio, smooth)
            self.photograph.setPixmap(QPixmap.fromImage(pixels))

    def _take(self) -> None:
        self.found = self._chosen
        self.accept()


def row_text(docket: Docket) -> str:
    """One docket in one row."""
    promised = f"for {docket.promised_on:%d %b %Y}" if docket.promised_on else "no date"
    named = " · ".join(word for word in (docket.customer, docket.item) if word) or "not named yet"
    return f"{docket.number}   {named}   –  {docket.standing}, {promised}"


def told_text(found: Found) -> str:
    """What is told beside the list."""
    if isinstance(found, Docket):
        more = (found.reported, f"Changed {here(found.updated_at):%d %b %Y}")
        return "\n".join(line for line in (row_text(found), *more) if line)
    if isinstance(found, KnownCustomer):
        record = found.record
        lines = (found.name, *(() if record is None else (record.kind, record.contact, record.terms, record.note)))
        return "\n".join(line for line in lines if line)
    if isinstance(found, StockItem):
        return stock_text(found).replace(" · ", "\n")
    return f"{found.text.rstrip('…')}\n{found.menu} · {found.shortcut}"
