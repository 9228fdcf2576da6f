"""The one table of actions: what each is called, drawn as, and which keys it has."""

from __future__ import annotations

from msgspec import Struct
from PySide6.QtCore import QByteArray, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPixmap

from yarvel.desk.theme import ICONS


class ActionInfo(Struct, frozen=True):
    """One action: ``handler`` is the window's method, dotted where a part of it answers; ``menu`` where it stands;
    ``tool`` is its word on the tool bar, where it stands there too; ``also`` another customary key."""

    name: str
    text: str
    shortcut: str
    handler: str
    menu: str
    tool: str = ""
    also: str = ""


ACTIONS: tuple[ActionInfo, ...] = (
    ActionInfo("new", "Take in a docket", "Ctrl+N", "take_in", "Docket", "Take in"),
    ActionInfo("find", "Find anything…", "Ctrl+F", "finding.open", "Docket", "Find"),
    ActionInfo("print", "Print the bench card…", "Ctrl+P", "papers.print_sheet", "Docket", "Print"),
    ActionInfo("pdf", "Bench card as PDF…", "Ctrl+Shift+P", "papers.write_pdf", "Docket"),
    ActionInfo("print-small", "Print the card on A5…", "Ctrl+Alt+5", "papers.print_small", "Docket"),
    ActionInfo("all-sheets", "Print all sheets…", "Ctrl+Alt+G", "papers.print_all", "Docket"),
    ActionInfo("receipt", "Receipt…", "Ctrl+Alt+K", "money.receipt", "Docket"),
    ActionInfo("estimate", "Estimate on paper…", "Ctrl+Alt+W", "money.estimate", "Docket"),
    ActionInfo("invoice", "Invoice…", "Ctrl+Alt+Y", "money.invoice", "Docket"),
    ActionInfo("board", "The board", "F7", "board.open", "Workshop", "Board"),
    ActionInfo("tasks", "Make its steps tasks", "Ctrl+Alt+T", "board.plan_tasks", "Workshop"),
    ActionInfo("fine", "The fine book", "F9", "board.open_fine_book", "Workshop"),
    ActionInfo("customers", "Customers", "F3", "customers.open", "Workshop"),
    ActionInfo("reports", "Reports", "F8", "board.open_reports", "Workshop"),
    ActionInfo("repair", "Repair: the claw chart", "Ctrl+J", "intake.open_repair", "Docket"),
    ActionInfo("templates", "Templates, 1 : 1…", "Ctrl+Shift+T", "papers.templates", "Docket"),
    ActionInfo("lots", "Metal from lots…", "Ctrl+Alt+M", "lots.open", "Docket"),
    ActionInfo("drawer", "The drawer", "F4", "drawer.open", "Workshop", "Drawer"),
    ActionInfo("solid", "Bodies as STL or 3MF…", "Ctrl+B", "papers.write_solid", "Docket"),
    ActionInfo("drawing", "Drawing as SVG or DXF…", "Ctrl+G", "papers.write_drawing", "Docket"),
    ActionInfo("bring-in", "Bring in a job file…", "Ctrl+O", "papers.bring_in", "Docket"),
    ActionInfo("papers.export", "Export the job file…", "Ctrl+Shift+S", "papers.export", "Docket"),
    ActionInfo("archive", "Docket as an archive…", "Ctrl+Alt+A", "intake.write_archive", "Docket"),
    ActionInfo("bring-archive", "Bring in an archive…", "Ctrl+Shift+O", "intake.bring_in_archive", "Docket"),
    ActionInfo("aside", "Put the docket aside…", "Ctrl+Alt+D", "intake.put_aside", "Docket"),
    ActionInfo("copy-job", "Copy the job", "Ctrl+Shift+C", "papers.copy_job", "Docket"),
    ActionInfo("rules", "House rules…", "Ctrl+H", "house.edit_rules", "Workshop"),
    ActionInfo("alloys", "Alloys…", "Ctrl+Shift+H", "house.edit_alloys", "Workshop"),
    ActionInfo("species", "Species of stones…", "Ctrl+Alt+E", "house.edit_species", "Workshop"),
    ActionInfo("letterhead", "Letterhead and currency…", "Ctrl+Alt+U", "money.letterhead", "Workshop"),
    ActionInfo("instruments", "Instruments…", "Ctrl+Alt+R", "instruments.edit", "Workshop"),
    ActionInfo("elsewhere", "Save the store elsewhere…", "Ctrl+Alt+S", "papers.save_store_elsewhere", "Workshop"),
    ActionInfo("people", "People…", "Ctrl+Alt+P", "people.show_people", "Workshop"),
    ActionInfo("sign-in", "Sign in…", "Ctrl+Alt+I", "people.sign_in", "Workshop"),
    ActionInfo("sign-out", "Sign out", "Ctrl+Alt+O", "people.sign_out", "Workshop"),
    ActionInfo("quit", "Quit", "Ctrl+Q", "close", "Docket", also="Ctrl+W"),
    ActionInfo("undo", "Undo", "Ctrl+Z", "undo", "Change", "Undo"),
    ActionInfo("redo", "Redo", "Ctrl+Shift+Z", "redo", "Change", "Redo", also="Ctrl+Y"),
    ActionInfo("remedy", "Take the first remedy", "Ctrl+M", "take_first_remedy", "Change"),
    ActionInfo("copy", "Copy the figure", "Ctrl+Alt+C", "working.copy", "Change"),
    ActionInfo("pane", "Next pane", "F6", "pane_round.go_on", "Look"),
    ActionInfo("ring", "Head or whole ring", "Ctrl+R", "switch_sheet", "Look", "Whole ring"),
    ActionInfo("turning", "Turn it by hand", "Ctrl+T", "turning.toggle", "Look", "Turn"),
    ActionInfo("theme", "Light or dark", "Ctrl+L", "switch_theme", "Look", "Light or dark"),
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
