"""What was agreed with a customer, and noted of them, before: every change of their record."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QVBoxLayout, QWidget

from yarvel.clock import here
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.rows_on_demand import fill_rows, fit_columns
from yarvel.workshop.people.customers import LABELS, Agreed

_HEADS = ("When", "Who", "About", "Before", "After")


class AgreedDialog(QDialog):
    """Shows the changes of one record, the newest first; nothing in it can be changed."""

    def __init__(self, name: str, found: Sequence[Agreed], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"What was agreed: {name}")
        open_at(self, 900, 480)
        self.rows = plain_table(self, _HEADS, "What was agreed")
        fill_rows(self.rows, 0, [_row(change) for change in found])
        fit_columns(self.rows)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, self)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(self.rows, 1)
        column.addWidget(buttons)


def _row(one: Agreed) -> tuple[str, ...]:
    before, after = (", ".join(text.split("\n")) for text in (one.before, one.after))
    return (f"{here(one.at):%Y-%m-%d %H:%M}", one.by or "–", LABELS[one.field], before or "–", after or "–")


def earlier_terms(found: Sequence[Agreed]) -> str:
    """The terms of before in a line; "" where there never were others."""
    changed = next((change for change in found if change.field == "terms" and change.before), None)
    if changed is None:
        return ""
    terms = ", ".join(changed.before.split("\n"))
    return f"Until {here(changed.at):%d %b %Y}: {terms}"
