"""The one table of actions: what each is called, drawn as, and which keys it has."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QByteArray, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap

from yarvel.desk.theme import ICONS


@dataclass(frozen=True)
class ActionInfo:
    """One action: ``handler`` is the window's method, dotted where a part of it answers; ``menu`` where it stands;
    ``tool`` also on the tool bar."""

    name: str
    text: str
    shortcut: str
    handler: str
    menu: str
    tool: bool = False


ACTIONS: tuple[ActionInfo, ...] = (
    ActionInfo("new", "Take in a docket", "Ctrl+N", "take_in", "Docket", True),
    ActionInfo("find", "Find a docket…", "Ctrl+D", "find_docket", "Docket", True),
    ActionInfo("print", "Print the bench sheet…", "Ctrl+P", "papers.print_sheet", "Docket", True),
    ActionInfo("pdf", "Bench sheet as PDF…", "Ctrl+Shift+P", "papers.write_pdf", "Docket"),
    ActionInfo("bring-in", "Bring in a job file…", "Ctrl+I", "papers.bring_in", "Docket"),
    ActionInfo("papers.export", "Export the job file…", "Ctrl+E", "papers.export", "Docket"),
    ActionInfo("copy-job", "Copy the job", "Ctrl+Shift+C", "papers.copy_job", "Docket"),
    ActionInfo("rules", "House rules…", "Ctrl+H", "edit_rules", "Docket"),
    ActionInfo("quit", "Quit", "Ctrl+Q", "close", "Docket"),
    ActionInfo("undo", "Undo", "Ctrl+Z", "undo", "Change", True),
    ActionInfo("redo", "Redo", "Ctrl+Shift+Z", "redo", "Change", True),
    ActionInfo("remedy", "Take the first remedy", "Ctrl+M", "take_first_remedy", "Change"),
    ActionInfo("copy", "Copy the figure", "Ctrl+Alt+C", "copy_figure", "Change"),
    ActionInfo("pane", "Next pane", "F6", "next_pane", "Look"),
    ActionInfo("theme", "Light or dark", "Ctrl+L", "switch_theme", "Look", True),
    ActionInfo("shortcuts", "Shortcuts", "F1", "show_shortcuts", "Look"),
)


def icon(name: str, colour: str) -> QIcon:
    """The icon of an action in a colour; empty where it has none."""
    file = ICONS / f"{name}.svg"
    if not file.exists():
        return QIcon()
    from PySide6.QtSvg import QSvgRenderer

    drawn = QSvgRenderer(QByteArray(file.read_bytes().replace(b"currentColor", colour.encode())))
    pixmap = QPixmap(QSize(48, 48))
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    drawn.render(painter)
    painter.end()
    return QIcon(pixmap)
