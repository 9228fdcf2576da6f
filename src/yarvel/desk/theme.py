"""Colours by role, light and dark, and the one style sheet made from them."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtGui import QColor, QPalette
from PySide6.QtWidgets import QApplication

from yarvel.drawing.painters.qt import font

LIGHT: dict[str, str] = {
    "window": "#e4e0d6",
    "panel": "#f1eee6",
    "raised": "#fbfaf6",
    "line": "#c9c3b4",
    "field": "#ffffff",
    "field-line": "#8f8878",
    "text": "#1c1b18",
    "text-quiet": "#57534a",
    "accent": "#0a5c4c",
    "on-accent": "#ffffff",
    "accent-soft": "#d9e8e2",
    "stop": "#a3152a",
    "caution": "#8a5a00",
    "note": "#2a5599",
    "ok": "#0a5c4c",
    "paper": "#fdfcf8",
    "figure": "#1c1b18",
    "chosen": "#0a5c4c",
    "outline": "#2b2925",
    "cut": "#000000",
    "stone-edge": "#1f4254",
    "facet": "#6c93a6",
    "hidden": "#6b665c",
    "centre": "#93622f",
    "dimension": "#57534a",
    "hatch": "#5a564d",
    "finger-edge": "#96604a",
    "break": "#8a857a",
    "seat-line": "#0a7a63",
    "stretch": "#0a7a63",
    "rule": "#c9c3b4",
    "frame": "#2b2925",
    "mark-stop": "#a3152a",
    "mark-caution": "#8a5a00",
    "mark-note": "#2a5599",
    "metal": "#e6dfcd",
    "metal-cut": "#f2eee2",
    "stone": "#cfe5ee",
    "stone-cut": "#e7f2f6",
    "finger": "#f3e0d5",
}
DARK: dict[str, str] = {
    "window": "#121517",
    "panel": "#1b2023",
    "raised": "#252b2f",
    "line": "#3a4247",
    "field": "#0f1214",
    "field-line": "#76828a",
    "text": "#ece8de",
    "text-quiet": "#aeb4b3",
    "accent": "#5fd0b3",
    "on-accent": "#08201a",
    "accent-soft": "#1d3a34",
    "stop": "#ff8b94",
    "caution": "#f0b756",
    "note": "#8fb8f5",
    "ok": "#5fd0b3",
    "paper": "#171b1d",
    "figure": "#f3efe5",
    "chosen": "#5fd0b3",
    "outline": "#d8d2c4",
    "cut": "#f5f1e7",
    "stone-edge": "#a9d3e6",
    "facet": "#5d8398",
    "hidden": "#9aa09f",
    "centre": "#c79a66",
    "dimension": "#aeb4b3",
    "hatch": "#b8b3a6",
    "finger-edge": "#c98f76",
    "break": "#8d9394",
    "seat-line": "#3fd0a9",
    "stretch": "#3fd0a9",
    "rule": "#3a4247",
    "frame": "#d8d2c4",
    "mark-stop": "#ff8b94",
    "mark-caution": "#f0b756",
    "mark-note": "#8fb8f5",
    "metal": "#4a4638",
    "metal-cut": "#2d2b25",
    "stone": "#2c4653",
    "stone-cut": "#20313a",
    "finger": "#3b2c26",
}
ICONS = Path(__file__).parent / "icons"
THEMES = {"light": LIGHT, "dark": DARK}
BODY_PX, FIELD_PX, TITLE_PX, FIGURE_PX = 14, 17, 15, 22


def apply_theme(application: QApplication, name: str) -> dict[str, str]:
    """Give the whole application one theme; returns its colours by role. A second window finds it given already: every
    widget there is would be styled anew."""
    colours = THEMES[name]
    sheet = _style_sheet(colours)
    if application.styleSheet() == sheet:
        return colours
    application.setStyle("Fusion")
    application.setFont(font(BODY_PX))
    application.setPalette(_palette(colours))
    application.setStyleSheet(sheet)
    return colours


def _palette(colours: dict[str, str]) -> QPalette:
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: "panel",
        QPalette.ColorRole.WindowText: "text",
        QPalette.ColorRole.Base: "field",
        QPalette.ColorRole.AlternateBase: "raised",
        QPalette.ColorRole.Text: "text",
        QPalette.ColorRole.Button: "raised",
        QPalette.ColorRole.ButtonText: "text",
        QPalette.ColorRole.Highlight: "accent",
        QPalette.ColorRole.HighlightedText: "on-accent",
        QPalette.ColorRole.ToolTipBase: "raised",
        QPalette.ColorRole.ToolTipText: "text",
        QPalette.ColorRole.PlaceholderText: "text-quiet",
        QPalette.ColorRole.Link: "accent",
    }
    for role, name in roles.items():
        palette.setColor(role, QColor(colours[name]))
    return palette


def _arrow(colours: dict[str, str], name: str = "arrow") -> str:
    """Path of the small icon for this theme (a style sheet takes no drawing, only a file)."""
    return str(ICONS / f"{name}-{'light' if colours is LIGHT else 'dark'}.svg")


def _style_sheet(colours: dict[str, str]) -> str:
    def role(name: str) -> str:
        return colours[name]

    return f"""
    QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
    QMainWindow, QDialog {{ background: {role("window")}; }}
    QWidget[panel="true"] {{ background: {role("panel")}; }}
    QLabel[quiet="true"] {{ color: {role("text-quiet")}; }}
    QLabel[figure="true"] {{ font-size: {FIGURE_PX}px; font-weight: bold; }}
    QLabel[title="true"] {{ font-size: {TITLE_PX}px; font-weight: bold; }}
    QLabel[problem="true"] {{ color: {role("stop")}; }}
    QFrame#moved {{ background: {role("accent-soft")}; border-left: 6px solid {role("caution")}; }}
    QLabel[veil="true"] {{ font-size: {FIGURE_PX}px; color: {role("text-quiet")}; }}
    QLabel[banner="true"] {{ background: {role("accent-soft")}; color: {role("text")}; padding: 6px 10px; }}
    QFrame[card="true"] {{ background: {role("raised")}; border: 1px solid {role("line")}; border-radius: 3px; }}
    QLineEdit, QComboBox, QDateEdit, QSpinBox {{
        background: {role("field")}; color: {role("text")}; border: 1px solid {role("field-line")};
        border-radius: 2px; padding: 2px 6px; min-height: 24px; font-size: {FIELD_PX}px; }}
    QComboBox {{ font-size: {BODY_PX}px; combobox-popup: 0; qproperty-maxVisibleItems: 24; }}
    QComboBox QAbstractItemView::item {{ min-height: 24px; }}
    QLineEdit:focus, QComboBox:focus, QDateEdit:focus {{ border: 2px solid {role("accent")}; padding: 1px 5px; }}
    QLineEdit[wrong="true"], QComboBox[wrong="true"] {{ border: 2px solid {role("stop")}; padding: 1px 5px; }}
    QComboBox QAbstractItemView {{ background: {role("field")}; color: {role("text")};
        selection-background-color: {role("accent")}; selection-color: {role("on-accent")}; }}
    QScrollBar:vertical {{ background: transparent; width: 9px; margin: 0; }}
    QScrollBar::handle:vertical {{ background: {role("line")}; min-height: 36px; border-radius: 4px; margin: 1px; }}
    QScrollBar::handle:vertical:hover {{ background: {role("field-line")}; }}
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page {{
        background: transparent; height: 0; width: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 9px; }}
    QScrollBar::handle:horizontal {{ background: {role("line")}; min-width: 36px; border-radius: 4px; margin: 1px; }}
    QComboBox::drop-down {{ border: none; width: 22px; }}
    QComboBox::down-arrow {{ image: url({_arrow(colours)}); width: 12px; height: 12px; }}
    QCheckBox::indicator {{ width: 17px; height: 17px; border: 1px solid {role("field-line")}; border-radius: 2px;
        background: {role("field")}; }}
    QListView::indicator, QTableView::indicator {{ width: 15px; height: 15px; border: 1px solid {role("field-line")};
        border-radius: 2px; background: {role("field")}; }}
    QListView::indicator:checked, QTableView::indicator:checked {{ background: {role("accent")};
        border-color: {role("accent")}; image: url({_arrow(colours, "tick")}); }}
    QCheckBox::indicator:checked {{ background: {role("accent")}; border-color: {role("accent")};
        image: url({_arrow(colours, "tick")}); }}
    QCheckBox::indicator:focus {{ border: 2px solid {role("accent")}; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: {role("panel")}; border: none; }}
    QToolBar {{ background: {role("window")}; border: none; spacing: 2px; padding: 3px 6px; }}
    QToolButton {{ color: {role("text")}; padding: 4px 8px; border: 1px solid transparent; border-radius: 2px; }}
    QCalendarWidget QWidget#qt_calendar_navigationbar {{ background: {role("panel")}; }}
    QCalendarWidget QAbstractItemView {{ background: {role("field")}; color: {role("text")}; }}
    QToolButton:disabled {{ color: {role("text-quiet")}; }}
    QToolButton:hover, QToolButton:focus {{ border-color: {role("accent")}; }}
    QToolButton#qt_toolbar_ext_button {{ min-width: 12px; max-width: 12px;
        padding: 0; border: none; }}
    QStatusBar {{ background: {role("window")}; color: {role("text-quiet")}; }}
    QSplitter::handle {{ background: {role("window")}; }}
""" + "".join(part(role) for part in (_buttons, _lists_and_menus))


def _buttons(role: Callable[[str], str]) -> str:
    return f"""
    QPushButton {{ background: {role("raised")}; color: {role("text")}; border: 1px solid {role("field-line")};
        border-radius: 2px; padding: 4px 10px; min-height: 24px; }}
    QPushButton:hover {{ border-color: {role("accent")}; }}
    QPushButton:focus {{ border: 2px solid {role("accent")}; padding: 3px 9px; }}
    QPushButton[remedy="true"] {{ background: {role("accent")}; color: {role("on-accent")}; border: none;
        text-align: left; font-weight: bold; }}
    QPushButton[fold="true"] {{ text-align: left; border-width: 0 0 1px 0; background: transparent; padding: 4px 2px; }}
    QPushButton[slim="true"] {{ padding: 1px 10px; }}
    QPushButton[slim="true"]:focus {{ padding: 0 9px; }}
    QPushButton:disabled {{ background: transparent; color: {role("text-quiet")};
        border: 1px dashed {role("field-line")}; }}
    QLineEdit:disabled, QComboBox:disabled {{ background: transparent; color: {role("text-quiet")}; }}
    QPushButton[remedy="true"]:focus {{ border: 2px solid {role("text")}; }}
"""


def _lists_and_menus(role: Callable[[str], str]) -> str:
    return f"""
    QFrame[overlay="true"] {{ background: {role("field")}; border: 1px solid {role("field-line")}; }}
    QFrame[overlay="true"] QListWidget {{ border: none; }}
    QListWidget, QTableWidget, QTableView {{ background: {role("field")}; border: 1px solid {role("line")}; }}
    QTableView {{ alternate-background-color: {role("raised")}; color: {role("text")};
        selection-background-color: {role("accent")}; selection-color: {role("on-accent")}; }}
    QHeaderView::section {{ background: {role("panel")}; color: {role("text")}; border: none;
        border-bottom: 1px solid {role("line")}; padding: 4px 6px; font-weight: bold; }}
    QMenu {{ background: {role("raised")}; color: {role("text")}; border: 1px solid {role("line")}; }}
    QMenu::item:disabled {{ color: {role("text-quiet")}; }}
    QMenu::item:selected {{ background: {role("accent")}; color: {role("on-accent")}; }}
    QMenuBar {{ background: {role("window")}; color: {role("text")}; }}
    QMenuBar::item:selected {{ background: {role("accent-soft")}; }}
    QToolTip {{ background: {role("raised")}; color: {role("text")}; border: 1px solid {role("field-line")}; }}
        QTabWidget::pane {{ border: 1px solid {role("line")}; }}
    QTabBar::tab {{ background: {role("panel")}; color: {role("text")}; border: 1px solid {role("line")};
        padding: 6px 12px; margin-right: 2px; }}
    QTabBar::tab:selected {{ background: {role("field")}; border-bottom: 2px solid {role("accent")}; }}
"""
