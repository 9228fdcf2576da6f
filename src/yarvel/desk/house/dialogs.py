"""The house's own numbers: rules, alloys and species, seen and changed in their dialogs."""

from __future__ import annotations

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore


class HouseDialogs(QObject):
    """Opens the dialogs; what they settle is kept for everybody."""

    def __init__(self, window: QWidget, session: Session, dockets: DocketStore) -> None:
        super().__init__(window)
        self._window, self._session, self._dockets = window, session, dockets

    def edit_rules(self) -> None:
        """See and change the house rules."""
        from yarvel.desk.house.house_rules import HouseRulesDialog

        dialog = HouseRulesDialog(self._session.rules, self._session.job, self._window)
        if dialog.exec() and dialog.result_rules is not None:
            self._dockets.rules.keep_rules(dialog.result_rules)

    def edit_alloys(self) -> None:
        """See and change the alloys' numbers."""
        from yarvel.desk.house.alloys import AlloysDialog

        dialog = AlloysDialog(self._session.rules, self._window)
        if dialog.exec() and dialog.result_rules is not None:
            self._dockets.rules.keep_rules(dialog.result_rules)

    def edit_species(self) -> None:
        """See the species of stones, and put in the workshop's own."""
        from yarvel.desk.house.species import SpeciesDialog

        dialog = SpeciesDialog(self._session.rules, self._window)
        if dialog.exec() and dialog.result_rules is not None:
            self._dockets.rules.keep_rules(dialog.result_rules)
