"""Going round the panes by one key."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QWidget


class PaneRound:
    """The panes in the order of the eye; those that are not shown are passed over."""

    def __init__(self, panes: Sequence[QWidget]) -> None:
        self._panes = panes

    def go_on(self) -> None:
        """Move the focus to the next pane."""
        panes = [pane for pane in self._panes if pane.isVisible()]
        focus = QApplication.focusWidget()
        at = next(
            (
                place
                for place, pane in enumerate(panes)
                if focus is not None and (pane is focus or pane.isAncestorOf(focus))
            ),
            -1,
        )
        panes[(at + 1) % len(panes)].setFocus(Qt.FocusReason.ShortcutFocusReason)
