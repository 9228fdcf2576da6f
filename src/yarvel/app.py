"""Puts the parts together: store, session, window."""

from __future__ import annotations

import sys
from datetime import date
from pathlib import Path

from PySide6.QtCore import QSettings, QTimer
from PySide6.QtGui import QGuiApplication, QIcon
from PySide6.QtWidgets import QApplication, QMessageBox

from yarvel.desk.actions import icon
from yarvel.desk.bench.window import BenchWindow
from yarvel.desk.docket_desk import DocketDesk
from yarvel.desk.runner import Runner
from yarvel.desk.session import Session
from yarvel.desk.theme import THEMES, apply_theme
from yarvel.drawing.painters.qt import load_fonts
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.peek import peek
from yarvel.workshop.places import default_store, demo_store

_STORE_DELAY_MS = 30


def run(store: Path | None, demo: bool) -> int:
    """Open the bench window on a store and run until it is closed; returns the exit status.

    Raises
    ------
    StoreError : the store cannot be opened.
    """
    path = store if store is not None else demo_store() if demo else default_store()
    application = QApplication(sys.argv[:1])
    try:
        prepare_store(path, demo)
    except StoreError as error:
        if store is None and not sys.stderr.isatty():
            QMessageBox.critical(None, "Yarvel", str(error))
        raise
    window = open_window(application, path)
    window.show()
    QTimer.singleShot(_STORE_DELAY_MS, window.dockets.begin)
    return application.exec()


def prepare_store(path: Path, demo: bool) -> None:
    """Make or migrate a store before the window opens, where it needs that; fill a new demo store."""
    from yarvel.workshop.migrating import bring_up_to_date

    fresh = not path.exists()
    if fresh and demo:
        from yarvel.demo.scenario import fill
        from yarvel.workshop.store import Store

        made = Store(path)
        fill(made, date.today())
        made.close()
    elif not fresh:
        bring_up_to_date(path)


def open_window(application: QApplication, path: Path) -> BenchWindow:
    """The bench window on the store at ``path``, with the docket that was in hand last."""
    application.setApplicationName("Yarvel")
    QGuiApplication.setDesktopFileName("org.yarvel.Yarvel")
    load_fonts()
    settings = QSettings(str(path.with_suffix(".window.ini")), QSettings.Format.IniFormat)
    theme = str(settings.value("theme", _system_theme()))
    colours = apply_theme(application, theme if theme in THEMES else "light")
    application.setWindowIcon(QIcon(icon("yarvel", colours["accent"])))
    session = Session(HouseRules())
    runner = Runner()
    dockets = DocketDesk(session, runner, lambda: _store(path))
    window = BenchWindow(session, dockets, settings, theme if theme in THEMES else "light", date.today())
    last = settings.value("docket")
    docket = peek(path, int(str(last)) if last is not None else None)
    if docket is not None:
        session.open(docket)
    return window


def _store(path: Path) -> object:
    from yarvel.workshop.store import Store

    return Store(path)


def _system_theme() -> str:
    from PySide6.QtCore import Qt

    return "dark" if QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark else "light"
