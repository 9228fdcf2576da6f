"""The one table of actions: what each is called, drawn as, and which keys it has."""

from __future__ import annotations

from msgspec import Struct
from PySide6.QtCore import QByteArray, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap

from yarvel.desk.theme import ICONS


class ActionInfo(Struct, frozen=True, kw_only=True):
    """One action: ``menu`` where it stands; ``tool`` is its word on the tool bar, where it stands there too; ``also``
    another customary key. What it does stands in ``bench.handlers``."""

    name: str
    text: str
    shortcut: str
    menu: str
    tool: str = ""
    also: str = ""


ACTIONS: tuple[ActionInfo, ...] = (
    ActionInfo(name="new", text="Take in a docket", shortcut="Ctrl+N", menu="Docket", tool="Take in"),
    ActionInfo(name="find", text="Find anything…", shortcut="Ctrl+F", menu="Docket", tool="Find"),
    ActionInfo(name="print", text="Print the bench card…", shortcut="Ctrl+P", menu="Docket", tool="Print"),
    ActionInfo(name="pdf", text="Bench card as PDF…", shortcut="Ctrl+Shift+P", menu="Docket"),
    ActionInfo(name="print-small", text="Print the card on A5…", shortcut="Ctrl+Alt+5", menu="Docket"),
    ActionInfo(name="all-sheets", text="Print all sheets…", shortcut="Ctrl+Alt+G", menu="Docket"),
    ActionInfo(name="receipt", text="Receipt…", shortcut="Ctrl+Alt+K", menu="Docket"),
    ActionInfo(name="estimate", text="Estimate on paper…", shortcut="Ctrl+Alt+W", menu="Docket"),
    ActionInfo(name="invoice", text="Invoice…", shortcut="Ctrl+Alt+Y", menu="Docket"),
    ActionInfo(name="board", text="The board", shortcut="F7", menu="Workshop", tool="Board"),
    ActionInfo(name="tasks", text="Make its steps tasks", shortcut="Ctrl+Alt+T", menu="Workshop"),
    ActionInfo(name="fine", text="The fine book", shortcut="F9", menu="Workshop"),
    ActionInfo(name="customers", text="Customers", shortcut="F3", menu="Workshop"),
    ActionInfo(name="reports", text="Reports", shortcut="F8", menu="Workshop"),
    ActionInfo(name="repair", text="Repair: the claw chart", shortcut="Ctrl+J", menu="Docket"),
    ActionInfo(name="templates", text="Templates, 1 : 1…", shortcut="Ctrl+Shift+T", menu="Docket"),
    ActionInfo(name="lots", text="Metal from lots…", shortcut="Ctrl+Alt+M", menu="Docket"),
    ActionInfo(name="drawer", text="The drawer", shortcut="F4", menu="Workshop", tool="Drawer"),
    ActionInfo(name="solid", text="Bodies as STL or 3MF…", shortcut="Ctrl+B", menu="Docket"),
    ActionInfo(name="drawing", text="Drawing as SVG or DXF…", shortcut="Ctrl+G", menu="Docket"),
    ActionInfo(name="bring-in", text="Bring in a job file…", shortcut="Ctrl+O", menu="Docket"),
    ActionInfo(name="export", text="Export the job file…", shortcut="Ctrl+Shift+S", menu="Docket"),
    ActionInfo(name="archive", text="Docket as an archive…", shortcut="Ctrl+Alt+A", menu="Docket"),
    ActionInfo(name="bring-archive", text="Bring in an archive…", shortcut="Ctrl+Shift+O", menu="Docket"),
    ActionInfo(name="aside", text="Put the docket aside…", shortcut="Ctrl+Alt+D", menu="Docket"),
    ActionInfo(name="copy-job", text="Copy the job", shortcut="Ctrl+Shift+C", menu="Docket"),
    ActionInfo(name="rules", text="House rules…", shortcut="Ctrl+H", menu="Workshop"),
    ActionInfo(name="alloys", text="Alloys…", shortcut="Ctrl+Shift+H", menu="Workshop"),
    ActionInfo(name="species", text="Species of stones…", shortcut="Ctrl+Alt+E", menu="Workshop"),
    ActionInfo(name="letterhead", text="Letterhead, currency and zone…", shortcut="Ctrl+Alt+U", menu="Workshop"),
    ActionInfo(name="instruments", text="Instruments…", shortcut="Ctrl+Alt+R", menu="Workshop"),
    ActionInfo(name="elsewhere", text="Save the store elsewhere…", shortcut="Ctrl+Alt+S", menu="Workshop"),
    ActionInfo(name="drafts", text="Typed and not taken in…", shortcut="Ctrl+Alt+N", menu="Workshop"),
    ActionInfo(name="people", text="People…", shortcut="Ctrl+Alt+P", menu="Workshop"),
    ActionInfo(name="sign-in", text="Sign in…", shortcut="Ctrl+Alt+I", menu="Workshop"),
    ActionInfo(name="sign-out", text="Sign out", shortcut="Ctrl+Alt+O", menu="Workshop"),
    ActionInfo(name="quit", text="Quit", shortcut="Ctrl+Q", menu="Docket", also="Ctrl+W"),
    ActionInfo(name="undo", text="Undo", shortcut="Ctrl+Z", menu="Change", tool="Undo"),
    ActionInfo(name="redo", text="Redo", shortcut="Ctrl+Shift+Z", menu="Change", tool="Redo", also="Ctrl+Y"),
    ActionInfo(name="remedy", text="Take the first remedy", shortcut="Ctrl+M", menu="Change"),
    ActionInfo(name="copy", text="Copy the figure", shortcut="Ctrl+Alt+C", menu="Change"),
    ActionInfo(name="pane", text="Next pane", shortcut="F6", menu="Look"),
    ActionInfo(name="ring", text="Head or whole ring", shortcut="Ctrl+R", menu="Look", tool="Whole ring"),
    ActionInfo(name="turning", text="Turn it by hand", shortcut="Ctrl+T", menu="Look", tool="Turn"),
    ActionInfo(name="theme", text="Light or dark", shortcut="Ctrl+L", menu="Look", tool="Light or dark"),
    ActionInfo(name="shortcuts", text="Shortcuts", shortcut="F1", menu="Look"),
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
