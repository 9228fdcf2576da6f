"""The one table of actions: what each is called, drawn as, and which keys it has."""

from __future__ import annotations

from msgspec import Struct
from PySide6.QtCore import QByteArray, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap

from yarvel.desk.theme import ICONS


class ActionInfo(Struct, frozen=True):
    """One action: ``menu`` where it stands; ``tool`` is its word on the tool bar, where it stands there too; ``also``
    another customary key. What it does stands in ``bench.handlers``."""

    name: str
    text: str
    shortcut: str
    menu: str
    tool: str = ""
    also: str = ""


ACTIONS: tuple[ActionInfo, ...] = (
    ActionInfo("new", "Take in a docket", "Ctrl+N", "Docket", tool="Take in"),
    ActionInfo("find", "Find anything…", "Ctrl+F", "Docket", tool="Find"),
    ActionInfo("print", "Print the bench card…", "Ctrl+P", "Docket", tool="Print"),
    ActionInfo("pdf", "Bench card as PDF…", "Ctrl+Shift+P", "Docket"),
    ActionInfo("print-small", "Print the card on A5…", "Ctrl+Alt+5", "Docket"),
    ActionInfo("all-sheets", "Print all sheets…", "Ctrl+Alt+G", "Docket"),
    ActionInfo("receipt", "Receipt…", "Ctrl+Alt+K", "Docket"),
    ActionInfo("estimate", "Estimate on paper…", "Ctrl+Alt+W", "Docket"),
    ActionInfo("invoice", "Invoice…", "Ctrl+Alt+Y", "Docket"),
    ActionInfo("board", "The board", "F7", "Workshop", tool="Board"),
    ActionInfo("tasks", "Make its steps tasks", "Ctrl+Alt+T", "Workshop"),
    ActionInfo("fine", "The fine book", "F9", "Workshop"),
    ActionInfo("customers", "Customers", "F3", "Workshop"),
    ActionInfo("reports", "Reports", "F8", "Workshop"),
    ActionInfo("repair", "Repair: the claw chart", "Ctrl+J", "Docket"),
    ActionInfo("templates", "Templates, 1 : 1…", "Ctrl+Shift+T", "Docket"),
    ActionInfo("lots", "Metal from lots…", "Ctrl+Alt+M", "Docket"),
    ActionInfo("drawer", "The drawer", "F4", "Workshop", tool="Drawer"),
    ActionInfo("solid", "Bodies as STL or 3MF…", "Ctrl+B", "Docket"),
    ActionInfo("drawing", "Drawing as SVG or DXF…", "Ctrl+G", "Docket"),
    ActionInfo("bring-in", "Bring in a job file…", "Ctrl+O", "Docket"),
    ActionInfo("export", "Export the job file…", "Ctrl+Shift+S", "Docket"),
    ActionInfo("archive", "Docket as an archive…", "Ctrl+Alt+A", "Docket"),
    ActionInfo("bring-archive", "Bring in an archive…", "Ctrl+Shift+O", "Docket"),
    ActionInfo("aside", "Put the docket aside…", "Ctrl+Alt+D", "Docket"),
    ActionInfo("copy-job", "Copy the job", "Ctrl+Shift+C", "Docket"),
    ActionInfo("rules", "House rules…", "Ctrl+H", "Workshop"),
    ActionInfo("alloys", "Alloys…", "Ctrl+Shift+H", "Workshop"),
    ActionInfo("species", "Species of stones…", "Ctrl+Alt+E", "Workshop"),
    ActionInfo("letterhead", "Letterhead and currency…", "Ctrl+Alt+U", "Workshop"),
    ActionInfo("instruments", "Instruments…", "Ctrl+Alt+R", "Workshop"),
    ActionInfo("elsewhere", "Save the store elsewhere…", "Ctrl+Alt+S", "Workshop"),
    ActionInfo("people", "People…", "Ctrl+Alt+P", "Workshop"),
    ActionInfo("sign-in", "Sign in…", "Ctrl+Alt+I", "Workshop"),
    ActionInfo("sign-out", "Sign out", "Ctrl+Alt+O", "Workshop"),
    ActionInfo("quit", "Quit", "Ctrl+Q", "Docket", also="Ctrl+W"),
    ActionInfo("undo", "Undo", "Ctrl+Z", "Change", tool="Undo"),
    ActionInfo("redo", "Redo", "Ctrl+Shift+Z", "Change", tool="Redo", also="Ctrl+Y"),
    ActionInfo("remedy", "Take the first remedy", "Ctrl+M", "Change"),
    ActionInfo("copy", "Copy the figure", "Ctrl+Alt+C", "Change"),
    ActionInfo("pane", "Next pane", "F6", "Look"),
    ActionInfo("ring", "Head or whole ring", "Ctrl+R", "Look", tool="Whole ring"),
    ActionInfo("turning", "Turn it by hand", "Ctrl+T", "Look", tool="Turn"),
    ActionInfo("theme", "Light or dark", "Ctrl+L", "Look", tool="Light or dark"),
    ActionInfo("shortcuts", "Shortcuts", "F1", "Look"),
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
