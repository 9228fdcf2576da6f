"""How wide people like their columns, kept on this machine from one start to the next."""

from __future__ import annotations

from PySide6.QtCore import QCoreApplication, QSettings
from PySide6.QtWidgets import QTableView

_PLACE = "window_settings"


def keep_widths_in(settings: QSettings) -> None:
    """Where this program keeps them."""
    application = QCoreApplication.instance()
    if application is not None:
        application.setProperty(_PLACE, settings.fileName())  # by its name: settings may be gone before a table is


def keep_widths(table: QTableView, name: str) -> None:
    """Keep a table's widths as they are now, under its name."""
    settings = _settings()
    if settings is not None:
        widths = [table.columnWidth(column) for column in range(table.model().columnCount())]
        settings.setValue(_key(name), ",".join(str(width) for width in widths))


def kept_widths(table: QTableView, name: str) -> bool:
    """Give a table the widths that it had; False where none are kept, or for other columns."""
    settings = _settings()
    widths = [] if settings is None else str(settings.value(_key(name)) or "").split(",")
    if len(widths) != table.model().columnCount() or not all(width.isdigit() for width in widths):
        return False
    for column, width in enumerate(widths):
        table.setColumnWidth(column, int(width))
    return True


def _key(name: str) -> str:
    return f"widths/{name.casefold().replace(' ', '-').replace('/', '-')}"


def _settings() -> QSettings | None:
    application = QCoreApplication.instance()
    place = "" if application is None else str(application.property(_PLACE) or "")
    return QSettings(place, QSettings.Format.IniFormat) if place else None
