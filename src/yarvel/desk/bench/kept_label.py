"""Whether what is on the screen is stored, in the status line; and why not, where that takes long."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.desk.widgets.words import Words

LONG_MS = 5000
STORING, STORED = "storing…", "stored"


class KeptLabel(Words):
    """Nothing says "storing…" for long without the reason."""

    def __init__(self, session: Session, dockets: DocketStore, parent: QWidget) -> None:
        super().__init__(parent)
        self._long = QTimer(self)
        self._long.setSingleShot(True)
        self._long.timeout.connect(self._on_long)
        keeper = dockets.keeper
        session.edited.connect(lambda _edit: self._on_edited())
        dockets.kept.connect(lambda: self.show_text(STORED))
        dockets.waits.connect(lambda: self.show_text("waits on this machine"))
        keeper.unsaved.connect(lambda _why: self.show_text("in this window alone"))
        keeper.unsigned.connect(lambda _why: self.show_text("waits until you sign in again"))
        keeper.clashed.connect(lambda _error: self.show_text("waits for your answer"))
        keeper.refused.connect(lambda _key, _refusal: self.show_text("not stored"))

    def show_text(self, text: str) -> None:
        """Say how it stands; nothing more is awaited."""
        self._long.stop()
        self.setText(text)

    def _on_edited(self) -> None:
        if not self._long.isActive():
            self._long.start(LONG_MS)
        self.setText(STORING)

    def _on_long(self) -> None:
        self.setText("the store takes long; it waits on this machine")
