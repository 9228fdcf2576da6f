"""Readings of what was made, taken at the operation that measures it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping

from PySide6.QtWidgets import QPushButton, QWidget

from yarvel.desk.dialogs.made_collet import READINGS, MadeColletDialog
from yarvel.desk.session.session import Session
from yarvel.heads.tapered_collet import BY_MEASURE
from yarvel.planning.documents import Document
from yarvel.planning.plan import Plan
from yarvel.route.card import CardLine

MEASURES = "measure-part-collet"
"""The operation at which a made collet is measured."""


class ReadingsButton(QPushButton):
    """Asks for the readings; ``lines`` gives the route's lines as they are now."""

    def __init__(self, session: Session, lines: Callable[[], dict[str, CardLine]], parent: QWidget) -> None:
        super().__init__("Readings…", parent)
        self.setObjectName("work.readings")
        self.setToolTip("What was measured on the made collet; everything later follows it")
        self._session, self._lines = session, lines
        self.clicked.connect(self._on_clicked)

    def _on_clicked(self) -> None:
        """What was measured stands for what was planned; the measuring is done then."""
        plan, docket = self._session.plan, self._session.docket
        if plan is None:
            return
        dialog = MadeColletDialog(shown_in(plan), plan.job.head.made is not None, self.window())
        if dialog.exec() != MadeColletDialog.DialogCode.Accepted:
            return
        before = self._lines()
        patch = readings_patch(self._session.document, dialog)
        if not self._session.patch(patch, "Readings of the made collet") or docket is None:
            return
        after = self._lines()
        ticks = ticks_after(docket.ticks, before, after.values())
        mark = after[MEASURES].mark
        if mark not in ticks and not dialog.forgotten:
            ticks = (*ticks, mark)
        self._session.set_column("ticks", ticks)


def shown_in(plan: Plan) -> dict[str, float]:
    """What the dialog shows at first: the readings, or what is planned; mm."""
    return {name: round(plan[key], 2) for name, _, key in READINGS}


def readings_patch(document: Document, dialog: MadeColletDialog) -> Document:
    """The merge patch of a dialog that was accepted: the readings, and none of what they stand for."""
    if dialog.forgotten:
        return {"head": {"made": None}}
    patch: Document = {"head": {"made": dialog.readings(), **dict.fromkeys(BY_MEASURE)}}
    if "height" in (document.get("fit") or {}):
        patch["fit"] = {"height": None}
    return patch


def ticks_after(ticks: tuple[str, ...], before: Mapping[str, CardLine], after: Collection[CardLine]) -> tuple[str, ...]:
    """Ticks once the readings are in: what was done up to the measuring stays done, though its figures are now what was
    read; what comes later opens where a figure of it has moved."""
    done = set()
    for key, line in before.items():
        if line.mark in ticks:
            done.add(key)
        if key == MEASURES:
            break
    moved = {before[line.key].mark: line.mark for line in after if line.key in done and line.key in before}
    return tuple(moved.get(tick, tick) for tick in ticks)
