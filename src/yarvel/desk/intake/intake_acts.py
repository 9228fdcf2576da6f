"""What the front desk does beside typing: photographs, labels, the docket's history; labels scanned."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from yarvel.desk.intake.bringing_in import BringingIn
from yarvel.desk.session.session import Session
from yarvel.desk.session.taken_back import UndoStep, remember
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.heads.places import numbers
from yarvel.workshop.dockets.records import Change, Docket, Photograph, file_stem
from yarvel.workshop.people.customers import KnownCustomer
from yarvel.workshop.storage.rights import PHOTOGRAPH, TAKE_IN
from yarvel.workshop.work.deed_codes import read_code

if TYPE_CHECKING:
    from yarvel.desk.intake.photographs import PhotographsDialog
    from yarvel.desk.repair.window import RepairWindow
    from yarvel.workshop.store import Store


_OFFERED = 2000
"""Customers who are offered by name, whoever came last first."""


class IntakeActs(QObject):
    """Answers the take-in station; what came of it is told in a line."""

    told = Signal(str)
    photograph_kept = Signal()

    def __init__(
        self,
        window: QWidget,
        session: Session,
        dockets: DocketStore,
        colours: Callable[[], dict[str, str]],
    ) -> None:
        super().__init__(window)
        self._window, self._session, self._dockets = window, session, dockets
        self._colours = colours
        self.repair: RepairWindow | None = None
        self.bringing: BringingIn | None = None
        self.pictures: PhotographsDialog | None = None
        self.board_scan: Callable[[str], bool] = lambda _number: False
        """What the board does with a label that is scanned while it is in front; whether it did."""

    def add_photograph(self) -> None:
        """Ask for a picture and keep it with the docket."""
        from PySide6.QtWidgets import QFileDialog

        docket = self._docket()
        if docket is None:
            return
        name, _ = QFileDialog.getOpenFileName(
            self._window, "Add a photograph", "", "Pictures (*.jpg *.jpeg *.png *.webp *.tif *.tiff);;All files (*)"
        )
        if name:
            self.take_photograph(Path(name), docket)

    def take_photograph(self, path: Path, docket: Docket) -> None:
        """Make a picture small and keep it, in the background."""

        def work(store: Store) -> Photograph:
            from yarvel.exchange.photograph import read_photograph

            kept: Photograph = store.photographs.add(docket.id, read_photograph(path), path.stem)
            return kept

        content = {"docket": docket.id, "file": str(path)}
        pressed = self._dockets.presses.once(
            PHOTOGRAPH, content, work, lambda store, act: store.photographs.of_act(act)
        )
        self._dockets.ask(pressed, lambda kept: self._on_photograph(kept, docket))

    def _on_photograph(self, kept: Photograph, docket: Docket) -> None:
        self.told.emit(f"Photograph “{kept.caption}” kept with {docket.number}, {kept.width} × {kept.height} pixels.")
        self.photograph_kept.emit()

    def look_for_customers(self, show: Callable[[list[KnownCustomer]], None]) -> None:
        """Whoever brought work before, to be offered as somebody types."""
        self._dockets.ask(lambda store: store.customers.all(limit=_OFFERED), show)

    def put_aside(self) -> None:
        """A docket taken in by mistake goes out of every list, with the reason; one that is put aside comes back."""
        from PySide6.QtWidgets import QInputDialog

        docket = self._docket()
        if docket is None:
            return
        if docket.withdrawn:
            self._set_aside("", f"{docket.number} is back in the lists.")
            return
        reason, said = QInputDialog.getText(
            self._window,
            f"Put {docket.number} aside",
            "Why (it is kept, and found by the word “aside”)",
            text="taken in by mistake",
        )
        if said and reason.strip():
            text = f"{docket.number} is put aside. Undo brings it back; so does the same command."
            self._set_aside(reason.strip(), text)

    def _set_aside(self, reason: str, text: str) -> None:
        docket = self._session.docket
        assert docket is not None
        before, docket_id = docket.withdrawn, docket.id

        def put(value: str) -> None:
            if self._session.docket is not None and self._session.docket.id == docket_id:
                self._session.set_column("withdrawn", value)

        put(reason)
        label = "put the docket aside" if reason else "bring the docket back"
        remember(UndoStep(label, lambda: put(before), lambda: put(reason)), self._session.undo_stack)
        self.told.emit(text)

    def another_stone(self) -> None:
        """Another stone of the same piece: a docket of its own under the same number, taken in hand."""
        from yarvel.workshop.dockets.finding import dockets_of

        docket = self._docket()
        if docket is not None:
            stone = self._dockets.presses.once(
                TAKE_IN,
                {"stone of": docket.id},
                lambda store: store.add_stone(docket.id),
                lambda store, act: dockets_of(store, act)[0],
            )
            self._dockets.ask(stone, self._on_stone)

    def _on_stone(self, docket: Docket) -> None:
        self._dockets.new_docket.open(docket)
        self.told.emit(f"{docket.number} is in hand: measure its stone; it has its own head, tasks and checks.")

    def look_for_photographs(self, show: Callable[[list[Photograph]], None]) -> None:
        """The photographs of the docket in hand, for the take-in station."""
        docket = self._session.docket
        if docket is not None and docket.number:
            self._dockets.ask(lambda store: store.photographs.of(docket.id), show)

    def open_photographs(self, wanted: tuple[list[Photograph], list[Photograph]]) -> None:
        """Look at photographs large: all there are, and those that were chosen."""
        from yarvel.desk.intake.photographs import PhotographsDialog
        from yarvel.desk.repair.photo_marks import marks_on

        session = self._session
        docket, plan, rules = session.docket, session.plan, session.rules
        self.pictures = PhotographsDialog(*wanted, lambda one: marks_on(docket, plan, rules, one), self._window)
        self.pictures.show()

    def look_for_stones(self, show: Callable[[list[Docket]], None]) -> None:
        """All stones of the piece in hand, for the take-in station."""
        docket = self._session.docket
        if docket is not None and docket.number:
            self._dockets.ask(lambda store: store.stones(docket.id), show)

    def print_label(self) -> None:
        """Preview and print the label."""
        from yarvel.desk.papers.papers import preview_and_print
        from yarvel.drawing.label import LabelText, label

        docket = self._docket()
        if docket is not None:
            promised = f"{docket.promised_on:%d.%m.%y}" if docket.promised_on else ""
            text = LabelText(docket.number, docket.customer, docket.item, promised)
            preview_and_print(
                self._window, [label(text)], f"Label of {docket.number}", f"{file_stem(docket.number)} label"
            )

    def show_history(self) -> None:
        """Every change of the docket, who made it and when, and its photographs."""
        docket = self._docket()
        if docket is None:
            return

        def work(store: Store) -> tuple[list[Change], list[Photograph], list[Docket]]:
            return store.history(docket.id), store.photographs.of(docket.id), store.came_before(docket.id)

        def show(found: tuple[list[Change], list[Photograph], list[Docket]]) -> None:
            from yarvel.desk.intake.history import HistoryDialog

            plan = self._session.plan
            claws = () if plan is None else numbers(plan.shape.places)
            HistoryDialog(docket.number, *found, self._window, claws).exec()

        self._dockets.ask(work, show)

    def open_repair(self) -> None:
        """The claw chart of the docket in hand."""
        if self._session.is_new and self._session.plan is None:
            self.told.emit("A claw chart needs the head: measure the stone first, then choose the head that it has.")
            return
        docket = self._docket()
        if docket is None:
            return
        if self._session.plan is None:
            self.told.emit("A claw chart needs the head: measure the stone first, then choose the head that it has.")
            return

        def look(store: Store) -> tuple[list[Docket], list[Photograph]]:
            return store.came_before(docket.id), store.photographs.of(docket.id)

        def show(found: tuple[list[Docket], list[Photograph]]) -> None:
            from yarvel.desk.repair.window import RepairWindow

            before, photographs = found
            self.repair = RepairWindow(self._session, before, self._colours())
            self.repair.show_photographs(photographs)
            self.repair.show()

        self._dockets.ask(look, show)

    def close(self) -> None:
        """The window closes, and what hangs on it."""
        if self.repair is not None:
            self.repair.close()

    def write_archive(self) -> None:
        """The docket in hand as one open archive."""
        from PySide6.QtWidgets import QFileDialog

        docket = self._docket()
        if docket is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self._window, "Docket as an archive", f"{file_stem(docket.number)}.zip", "Archive (*.zip)"
        )
        if not name:
            return

        def work(store: Store) -> str:
            from yarvel.exchange.archive import Packed, write_archive

            packed = Packed(
                store.docket(docket.id), tuple(store.history(docket.id)), tuple(store.photographs.of(docket.id))
            )
            try:
                write_archive([packed], Path(name))
            except OSError as error:
                return f"The archive could not be written: {error.strerror or error}. Choose another folder."
            return f"{docket.number} written to {name}"

        self._dockets.ask(work, self.told.emit)

    def bring_in_archive(self) -> None:
        """Dockets from an archive; the last of them is taken in hand."""
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self._window, "Bring in an archive", "", "Archive (*.zip)")
        if name:
            self.bringing = BringingIn(Path(name), self._window, self._dockets, self._session)
            self.bringing.told.connect(self.told)
            self.bringing.begin()

    def open_scanned(self, number: str) -> None:
        """A label was scanned: its docket is taken in hand; on the board its next task is started."""
        if self.board_scan(number):
            self.told.emit(f"{number} was scanned on the board.")
            return
        if read_code(number) is not None:
            self.told.emit(f"“{number}” is for the board: open it (F7) and scan it there, then the labels.")
            return

        def take(found: Docket | None) -> None:
            if found is None:
                self.told.emit(f"No docket has the number {number}.")
            else:
                self._dockets.new_docket.open(found)
                self.told.emit(f"{number} is in hand.")

        self._dockets.ask(lambda store: store.numbered(number), take)

    def _docket(self) -> Docket | None:
        if self._session.docket is None:
            self.told.emit(
                "This docket has no number yet: it gets one with the first thing typed into it."
                if self._session.is_new
                else "There is no docket in hand: take one in first."
            )
        return self._session.docket
