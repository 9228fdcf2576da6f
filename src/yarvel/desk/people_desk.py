"""Who is at the window: the first start, signing in and out, locking what is left alone; clashes of two people."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QEvent, QObject, QTimer, Signal
from PySide6.QtWidgets import QApplication, QWidget

from yarvel.desk.docket_desk import DocketDesk
from yarvel.workshop.merging import EditClashError

if TYPE_CHECKING:
    from yarvel.desk.dialogs.clash import ClashDialog
    from yarvel.desk.dialogs.sign_in import FirstStartDialog, SignInDialog

LOCK_AFTER_MS = 10 * 60 * 1000
_TOUCHES = (QEvent.Type.KeyPress, QEvent.Type.MouseButtonPress, QEvent.Type.MouseMove, QEvent.Type.Wheel)


class PeopleDesk(QObject):
    """Asks who works here where the store wants to know. Dialogs do not block: the window behind waits."""

    told = Signal(str)
    signed = Signal(str)

    def __init__(self, window: QWidget, dockets: DocketDesk) -> None:
        super().__init__(window)
        self._window, self._dockets = window, dockets
        self.dialog: SignInDialog | FirstStartDialog | None = None
        self.clash: ClashDialog | None = None
        self._last = ""
        self._alone = QTimer(self)
        self._alone.setSingleShot(True)
        self._alone.timeout.connect(self.lock)
        dockets.clashed.connect(self._on_clash)

    def begin(self, account: str) -> None:
        """The store is open: make its owner at the first start, or ask who works here where people have PINs."""

        def found(state: tuple[bool, bool, bool]) -> None:
            anybody, wanted, on_server = state
            if not anybody:
                self._first_start(account, on_server)
            elif wanted:
                self.sign_in()

        self._dockets.ask(lambda store: (bool(store.people.all()), store.people.wanted(), store.path is None), found)

    def _first_start(self, account: str, pin_wanted: bool) -> None:
        from yarvel.desk.dialogs.sign_in import FirstStartDialog, result_of

        def attempt(name: str, pin: str, answered: Any) -> None:
            self._last = name.strip()
            self._dockets.ask(result_of(lambda store: store.people.first_owner(name, pin)), answered)

        self.dialog = FirstStartDialog(account, pin_wanted, attempt, self._window)
        self.dialog.accepted.connect(self._on_signed)
        self.dialog.open()

    def sign_in(self, locked: bool = False) -> None:
        """Ask for name and PIN; without any PIN in the store, say how people come to sign in."""

        def found(people: list[Any]) -> None:
            from yarvel.desk.dialogs.sign_in import SignInDialog, result_of

            names = [person.name for person in people if person.has_pin]
            if not names:
                self.told.emit("Nobody has a PIN here: give the owner one under “People”, then people sign in.")
                return

            def attempt(name: str, pin: str, answered: Any) -> None:
                self._last = name
                self._dockets.ask(result_of(lambda store: store.people.sign_in(name, pin)), answered)

            self.dialog = SignInDialog(names, self._last, attempt, locked, self._window)
            self.dialog.accepted.connect(self._on_signed)
            self.dialog.open()

        if self.dialog is None or not self.dialog.isVisible():
            self._dockets.ask(lambda store: store.people.all(), found)

    def sign_out(self) -> None:
        """Be nobody; what is asked next wants somebody again."""
        self._dockets.ask(lambda store: store.people.sign_out(), lambda _done: self._on_out())

    def _on_out(self) -> None:
        self.signed.emit("")
        self.sign_in()

    def show_people(self) -> None:
        """Who works here, as what; PINs."""
        from yarvel.desk.dialogs.people import PeopleDialog

        PeopleDialog(self._dockets.ask, self._window).exec()

    def lock(self) -> None:
        """The window was left alone: nobody goes on in somebody else's name."""
        if self._dockets.signed_in is not None:
            self._dockets.ask(lambda store: store.people.sign_out(), lambda _done: self.signed.emit(""))
            self.sign_in(locked=True)

    def _on_signed(self) -> None:
        self.signed.emit(self._last)
        self._dockets.keeper.try_again()
        self._dockets.acts.try_again()
        if self._dockets.signed_in is not None:
            application = QApplication.instance()
            if application is not None:
                application.removeEventFilter(self)
                application.installEventFilter(self)
            self._alone.start(LOCK_AFTER_MS)

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        """Any touch of the window starts the wait anew."""
        if event.type() in _TOUCHES and self._alone.isActive():
            self._alone.start(LOCK_AFTER_MS)
        return False

    def _on_clash(self, error: EditClashError) -> None:
        from yarvel.desk.dialogs.clash import ClashDialog

        self.clash = ClashDialog(error, self._window)
        self.clash.accepted.connect(
            lambda clash=self.clash: self._dockets.keeper.settle(error.docket.id, clash.keep_theirs)
        )
        self.clash.open()

    def close(self) -> None:
        """The window closes."""
        self._alone.stop()
        application = QApplication.instance()
        if application is not None:
            application.removeEventFilter(self)
