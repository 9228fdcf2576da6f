"""The pane where head and stone are turned by hand, beside the sheet."""

from __future__ import annotations

from PySide6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from yarvel.desk.bench.body_requests import BodyRequests
from yarvel.desk.widgets.turning_view import TurningView
from yarvel.desk.widgets.words import Words

_SHARES = (0.46, 0.18, 0.36)
"""How calls, working and this pane share the height when it is opened."""


class TurningPane(QWidget):
    """The view under its title; hidden until it is asked for."""

    def __init__(self, bodies: BodyRequests, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bodies = bodies
        self.view = TurningView(colours, self)
        title = Words("Turn it: drag, or arrow keys", self)
        title.setProperty("quiet", True)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 6, 8, 8)
        column.setSpacing(4)
        column.addWidget(title)
        column.addWidget(self.view, 1)
        bodies.shaped.connect(self.view.show_bodies)
        bodies.cleared.connect(self.view.clear)

    def toggle(self) -> None:
        """Show it or hide it; surfaces are only asked for while it is shown."""
        shown = self.isHidden()
        self.setVisible(shown)
        splitter = self.parentWidget()
        if shown and isinstance(splitter, QSplitter):
            sizes = splitter.sizes()
            whole = max(sum(sizes), 600)
            splitter.setSizes([round(whole * share) for share in _SHARES])
        self._bodies.look(shown)
