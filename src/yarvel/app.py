"""Puts the parts together: store, session, window."""

from __future__ import annotations

import gc
import sys
from contextlib import suppress
from datetime import timedelta
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings, Qt, QTimer
from PySide6.QtGui import QGuiApplication, QIcon
from PySide6.QtWidgets import QApplication, QMessageBox

from yarvel import clock
from yarvel.clock import kept
from yarvel.desk.actions import icon
from yarvel.desk.background.runner import Runner
from yarvel.desk.bench.handlers import HANDLERS
from yarvel.desk.bench.window import BenchWindow
from yarvel.desk.instruments.scanner import Scanner
from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.desk.theme import THEMES, apply_theme
from yarvel.desk.widgets.kept_widths import keep_widths_in
from yarvel.drawing.painters.qt import load_fonts
from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.peek import last_moment, peek, peek_rules, pins_wanted
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.location import Location, location
from yarvel.workshop.storage.places import chosen_store, demo_store
from yarvel.workshop.waiting import WaitingActs, WaitingEdits

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_BODIES_DELAY_MS = 1200
_COLLECT_DELAY_MS = 20

_COLLECT_AFTER = 10_000, 20, 50
"""Objects and rounds between looks for rubbish: a look at everything takes a tenth of a second, so seldom."""
_STORE_DELAY_MS = 30


def run(store: str | None, demo: str) -> int:
    """Open the bench window on a store and run until it is closed; returns the exit status. ``demo``: small, large or
    "" for none.

    Raises
    ------
    StoreError : the store cannot be opened.
    """
    path = location(store if store is not None else demo_store(demo) if demo else chosen_store())
    application = QApplication(sys.argv[:1])
    try:
        made_up = prepare_store(path, demo)
    except StoreError as error:
        if store is None and not sys.stderr.isatty():
            _tell(str(error))
        raise
    window = open_window(application, path)
    window.dockets.opened.connect(lambda: window.people.begin(who(), remembered_name(path)))

    def unexpected(_kind: type[BaseException], error: BaseException, _trace: TracebackType | None) -> None:
        window.dockets.gateway.tell_unexpected(error)

    sys.excepthook = unexpected  # what goes wrong in a slot is told as what goes wrong in the background is
    window.show()
    if made_up:
        window.tell(f"A made-up workshop with a day of its own: in it, it is {clock.today():%A, %-d %B %Y}.")
    QTimer.singleShot(_COLLECT_DELAY_MS, collect_again)
    QTimer.singleShot(_STORE_DELAY_MS, window.dockets.begin)
    QTimer.singleShot(_BODIES_DELAY_MS, window.bodies.begin)
    return application.exec()


def collect_again() -> None:
    """The window is up: what is there stays, and rubbish is looked for from now on."""
    gc.freeze()
    gc.set_threshold(*_COLLECT_AFTER)
    gc.enable()


def live_on(path: Path) -> None:
    """A made-up workshop lives at a day of its own: where it was left, or at its first morning."""
    from yarvel.demo.scenario import BEGINS

    left = last_moment(path)
    clock.begin_at(kept(BEGINS) if left is None else left + timedelta(minutes=1))


def prepare_store(where: Path | Location, demo: str) -> bool:
    """Make or migrate a store before the window opens, where it needs that; fill a new demo store. Returns whether it
    is a made-up workshop, which lives at a day of its own: a store that somebody names and that is there already is
    none, and what is done in it is never dated by another clock."""
    from yarvel.workshop.storage.migrating import bring_up_to_date

    place = location(where)
    path = place.path
    if path is None:
        with suppress(StoreGoneError):  # the window opens all the same, and waits for the server
            bring_up_to_date(place)
        return False
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        fresh = not path.exists()
    except OSError as error:
        raise StoreError(f"{path.parent}: {error.strerror or error}: a folder that can be written to") from error
    made_up = bool(demo) and (fresh or path == demo_store(demo))
    if made_up:
        live_on(path)
    if fresh and demo:
        from yarvel.demo.large import fill_large
        from yarvel.demo.scenario import fill
        from yarvel.workshop.store import Store

        store = Store(path)
        (fill_large if demo == "large" else fill)(store, clock.today())
        store.close()
    elif not fresh:
        bring_up_to_date(path)
    return made_up


def _load_beside(dockets: DocketStore) -> None:
    """The code of the other windows, beside the work: so that opening one keeps nobody waiting."""

    def load(_store: Store) -> None:
        from yarvel.desk.board import window as _board
        from yarvel.desk.fine import window as _fine
        from yarvel.desk.reports import window as _reports

        assert _board and _fine and _reports

    if not dockets.gateway.locked:
        dockets.gateway.look(load, lambda _loaded: None)


def open_window(application: QApplication, where: Path | Location) -> BenchWindow:
    """The bench window on a store, with the docket that was in hand last."""
    place = location(where)
    application.setApplicationName("Yarvel")
    QGuiApplication.setDesktopFileName("org.yarvel.Yarvel")
    load_fonts()
    settings = QSettings(str(place.window_file), QSettings.Format.IniFormat)
    keep_widths_in(settings)
    theme = str(settings.value("theme", _system_theme()))
    colours = apply_theme(application, theme if theme in THEMES else "light")
    application.setWindowIcon(QIcon(icon("yarvel", colours["accent"])))
    runner = Runner()
    # Of a server nobody knows before it answers whether people sign in there: as it was the last time, else locked.
    remembered = str(settings.value("pins", "true")) == "true"
    locked = remembered if place.path is None else pins_wanted(place.path)
    seen = peek_rules(place.path) if place.path is not None and not locked else None
    session = Session(seen or HouseRules())
    dockets = DocketStore(
        session,
        runner,
        lambda: _store(place),
        Author() if locked else Author(remembered_name(place) or who()),
        locked,
        WaitingEdits(place.waiting_folder, place.former_waiting_folder),
        WaitingActs(place.waiting_folder, place.former_waiting_folder),
    )
    window = BenchWindow(session, dockets, settings, theme if theme in THEMES else "light", HANDLERS)
    for serving in (session, runner, dockets.gateway, dockets, settings):
        serving.setParent(window)
    dockets.opened.connect(lambda: _load_beside(dockets))
    window.instruments.begin()
    scanner = Scanner(application, window)
    scanner.scanned.connect(window.intake.open_scanned)
    scanner.unknown.connect(lambda text: window.tell(f"What was scanned is no label of Yarvel: {text[:40]}"))
    last = settings.value("docket")
    docket = None
    if place.path is not None and not locked:
        docket = peek(place.path, int(str(last)) if last is not None else None)
    if docket is not None:
        session.open(docket)
    return window


def _store(place: Location) -> Store:
    from yarvel.workshop.store import Store

    return Store(place, by=who())


def remembered_name(place: Location) -> str:
    """Who said that they work at this machine's window on a store where nobody has a PIN; "" while nobody did."""
    return str(QSettings(str(place.window_file), QSettings.Format.IniFormat).value("who", ""))


def who() -> str:
    """Who works at this machine, by its own account: a name for the history only until somebody works here."""
    import getpass

    try:
        return getpass.getuser()
    except (KeyError, OSError):
        return ""


def _system_theme() -> str:
    from PySide6.QtCore import Qt

    return "dark" if QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark else "light"


def _tell(text: str) -> None:
    """Why there is no window, in a box of our own look."""
    box = QMessageBox(QMessageBox.Icon.NoIcon, "Yarvel", text)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.addButton("Close", QMessageBox.ButtonRole.AcceptRole)
    box.exec()
