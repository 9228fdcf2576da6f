"""The drawer's rows for a table: filtered, ranked, and counted again where a cell is typed over."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import QAbstractTableModel, QModelIndex, QObject, QPersistentModelIndex, Qt

from yarvel.desk.drawer.ranking import Ranking
from yarvel.desk.widgets.row_order import ordered
from yarvel.desk.widgets.words import tip
from yarvel.workshop.drawer.stock import HEAD, KINDS, MOUNT, UNITS, StockItem

_Index = QModelIndex | QPersistentModelIndex
_SHOWN = (("code", "Code"), ("metal", "Metal"))
_TAIL = (("note", "Note"),)


class DrawerTable(QAbstractTableModel):
    """Rows are positions in the drawer's list; only quantity and note can be typed over."""

    def __init__(
        self,
        changed: Callable[[StockItem, StockItem], None],
        metal: Callable[[str], str],
        parent: QObject | None = None,
    ) -> None:
        super().__init__(parent)
        self._changed, self._metal = changed, metal
        self.items: list[StockItem] = []
        self._texts: list[str] = []
        self._found: list[int] = []
        self._rows: list[int] = []
        self._sorted_by = "", False
        self._columns: list[tuple[str, str]] = []
        self._ranking: Ranking | None = None
        self._match_rows: dict[int, int] = {}

    def take(self, items: list[StockItem]) -> None:
        """Take the drawer's list; filtering follows."""
        self.items = items
        self._texts = [
            " ".join(
                (
                    item.code,
                    KINDS[item.kind].label,
                    self._metal(item.metal),
                    item.cut,
                    item.shape,
                    item.grade,
                    item.note,
                )
            ).lower()
            for item in items
        ]

    def show(self, kind: str, words: str, low: float | None, high: float | None, ranking: Ranking | None) -> None:
        """Show what holds all the words, of this kind ("" for all) and size; ranked where a ranking is given."""
        self.beginResetModel()
        needles = words.lower().split()
        self._ranking = ranking
        self._match_rows = ranking.row_of() if ranking is not None else {}
        places = ranking.order() if ranking is not None else range(len(self.items))
        self._found = [place for place in places if self._fits(place, kind, needles, low, high)]
        self._columns = self._columns_for(kind)
        self._rows = self._in_order()
        self.endResetModel()

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        """Rows by a column; by none (−1) as they were."""
        self.layoutAboutToBeChanged.emit()
        name = self._columns[column][0] if 0 <= column < len(self._columns) else ""
        self._sorted_by = name, order == Qt.SortOrder.DescendingOrder
        self._rows = self._in_order()
        self.layoutChanged.emit()

    def _in_order(self) -> list[int]:
        """What was found, by the column that was asked for, where that is shown."""
        name, falling = self._sorted_by
        if name not in (column for column, _ in self._columns):
            return self._found
        texts = [self._text(place, name) for place in self._found]
        return [self._found[row] for row in ordered(texts, falling)]

    def _fits(self, place: int, kind: str, needles: list[str], low: float | None, high: float | None) -> bool:
        item = self.items[place]
        if kind and self._ranking is None and item.kind != kind:
            return False
        if (low is not None or high is not None) and (
            item.size_mm is None
            or (low is not None and item.size_mm < low)
            or (high is not None and item.size_mm > high)
        ):
            return False
        text = self._texts[place]
        return all(needle in text for needle in needles)

    def _columns_for(self, kind: str) -> list[tuple[str, str]]:
        if self._ranking is not None:
            return [*_SHOWN, *self._ranking.columns]
        if not kind:
            return [("kind", "Kind"), *_SHOWN, ("size_mm", "Size"), ("quantity", "Held"), *_TAIL]
        own = KINDS[kind]
        kept = [item for item in self.items if item.kind == kind]
        columns = [(name, label) for name, label, _ in own.words]
        columns += [(measure.name, measure.label) for measure in own.measures]
        shown_columns = [
            (name, label) for name, label in columns if any(getattr(item, name) not in ("", None) for item in kept)
        ]
        return [*_SHOWN, *(shown_columns if kept else columns), *_TAIL]

    def item_at(self, row: int) -> StockItem:
        """The item in a row of the table."""
        return self.items[self._rows[row]]

    # --- Qt ---------------------------------------------------------------------------------------------------

    def rowCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """How many rows are shown."""
        return 0 if parent.isValid() else len(self._rows)

    def columnCount(self, parent: _Index = QModelIndex()) -> int:  # noqa: B008
        """How many columns this kind has."""
        return 0 if parent.isValid() else len(self._columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Names of the columns."""
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self._columns[section][1]
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.TextAlignmentRole:
            return _side(self._columns[section][0])
        return None

    def data(self, index: _Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """A cell as text; numbers to the right."""
        place, name = self._rows[index.row()], self._columns[index.column()][0]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return self._text(place, name)
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip(self._text(place, name))
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _side(name)
        return None

    def _text(self, place: int, name: str) -> str:
        item = self.items[place]
        if self._ranking is not None and name in self._ranking.judged:
            return self._ranking.told(self._match_rows[place], name)
        if name == "kind":
            return KINDS[item.kind].label if self._ranking is None else item.kind
        if name == "metal":
            return self._metal(item.metal)
        if name == "tall":
            return f"{item.height_mm:.2f}" if item.height_mm is not None else f"{item.height_tip_mm or 0:.2f} to tip"
        value = getattr(item, name)
        if name == "size_mm" and item.kind in (HEAD, MOUNT):
            return _made_for(item)
        if value is None:
            return ""
        if name == "quantity":
            return f"{value:g} {UNITS[item.kind]}".rstrip()
        return f"{value:.2f}" if isinstance(value, float) else str(value)

    def flags(self, index: _Index) -> Qt.ItemFlag:
        """Quantity and note can be typed over."""
        base_flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return (
            base_flags | Qt.ItemFlag.ItemIsEditable
            if self._columns[index.column()][0] in ("quantity", "note")
            else base_flags
        )

    def setData(self, index: _Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Count again, or note something; what is no count is not taken."""
        place, name = self._rows[index.row()], self._columns[index.column()][0]
        item, text = self.items[place], str(value).strip()
        if name == "note":
            changed = replace(item, note=text)
        else:
            number = text.removesuffix(UNITS[item.kind]).strip().replace(",", ".")
            try:
                count = float(number) if number else None
            except ValueError:
                return False
            if count is not None and not 0 <= count <= 1e6:
                return False
            changed = replace(item, quantity=count)
        if changed != item:
            self.items[place] = changed
            self._changed(changed, item)
            self.dataChanged.emit(index, index)
        return True


def _made_for(item: StockItem) -> str:
    """What a head is made for: a diameter, length by width, or the weight on its label."""
    if item.size_mm is None:
        return f"{item.label_ct or 0:g} ct"
    across = "" if item.made_for_width_mm is None else f" × {item.made_for_width_mm:.2f}"
    return f"{item.size_mm:.2f}{across}"


_WORDS = ("code", "kind", "metal", "note", "verdict", "why", "shape", "grade", "cut", "state")


def _side(name: str) -> int:
    """Words to the left, numbers to the right: a column as its heading."""
    side = Qt.AlignmentFlag.AlignLeft if name in _WORDS else Qt.AlignmentFlag.AlignRight
    return int(side | Qt.AlignmentFlag.AlignVCenter)
