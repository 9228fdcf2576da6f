"""Who is at the window: the first start, signing in and out, locking what is left alone; clashes of two people."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, QTimer, Signal
from PySide6.QtWidgets import QApplication, QWidget

from yarvel.desk.storing.docket_store import DocketStore
from yarvel.workshop.dockets.merging import EditClashError
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.rights import OWNER

if TYPE_CHECKING:
    from yarvel.desk.dialogs.clash import ClashDialog
    from yarvel.desk.signing_in.sign_in_dialog import FirstStartDialog, SignInDialog
    from yarvel.workshop.people.person import Person
    from yarvel.workshop.store import Store

LOCK_AFTER_MS = 10 * 60 * 1000
_TOUCHES = (QEvent.Type.KeyPress, QEvent.Type.MouseButtonPress, QEvent.Type.MouseMove, QEvent.Type.Wheel)


class SignInGuard(QObject):
    """Asks who works here where the store wants to know. From the first PIN on, the application is locked while nobody
    is signed in. Dialogs do not block: the window behind waits."""

    told = Signal(str)
    signed = Signal(str)
    locked = Signal(bool)
    pins_wanted = Signal(bool)

    named = Signal(str)
    """Who works at this window where nobody has a PIN: to be remembered, for it is them at the next start too."""

    def __init__(self, window: QWidget, dockets: DocketStore) -> None:
        super().__init__(window)
        self._window, self._dockets = window, dockets
        self.dialog: SignInDialog | FirstStartDialog | None = None
        self.clash: ClashDialog | None = None
        self._last = self._account = ""
        self._alone = QTimer(self)
        self._alone.setSingleShot(True)
        self._alone.timeout.connect(self.lock)
        dockets.clashed.connect(self._on_clash)
        dockets.changed.connect(self._look_for_pins)

    def begin(self, account: str, remembered: str = "") -> None:
        """The store is open: make its owner at the first start, or ask who works here where people have PINs. Where
        they have none it is whoever this window ``remembered``, else the owner; the computer's ``account`` only while
        nobody works here."""
        self._account = account

        def found(state: tuple[list[Person], bool, bool]) -> None:
            people, wanted, on_server = state
            self.pins_wanted.emit(wanted)
            if wanted:
                self._shut("Who works here? The history names whoever signs in.")
                return
            names = [person.name for person in people]
            owners = [person.name for person in people if person.role == OWNER]
            self._open(Author(remembered if remembered in names else next(iter((*owners, *names)), account)))
            if not people:
                self._first_start(account, on_server)

        self._dockets.gateway.ask(
            lambda store: (store.people.all(), store.people.wanted(), store.path is None), found, locked_too=True
        )

    def _first_start(self, account: str, pin_wanted: bool) -> None:
        from yarvel.desk.signing_in.sign_in_dialog import FirstStartDialog, result_of

        def attempt(name: str, pin: str, answered: Callable[[str], None]) -> None:
            self._last = name.strip()
            self._dockets.gateway.ask(
                result_of(lambda store: store.people.first_owner(name, pin)), answered, locked_too=True
            )

        self.dialog = FirstStartDialog(account, pin_wanted, attempt, self._window)
        self.dialog.accepted.connect(self._on_signed)
        self.dialog.open()

    def sign_in(self) -> None:
        """Somebody else comes to the window: it is locked until they have signed in."""
        self._ask_who("Who works here? The history names whoever signs in.")

    def sign_out(self) -> None:
        """Be nobody: the window is locked until somebody signs in."""
        self._ask_who("Nobody is signed in. Sign in to go on.")

    def _ask_who(self, said: str) -> None:
        def found(wanted: bool) -> None:
            if wanted:
                self._shut(said)
            else:
                self.told.emit("Nobody has a PIN here: give the owner one under “People”, then people sign in.")

        self._dockets.gateway.ask(lambda store: store.people.wanted(), found, locked_too=True)

    def show_people(self) -> None:
        """Who works here, as what; PINs."""
        from yarvel.desk.signing_in.people_dialog import PeopleDialog

        PeopleDialog(self._dockets.ask, self._dockets.presses, self._window).exec()
        self._look_for_pins()

    def lock(self) -> None:
        """The window was left alone: nobody goes on in somebody else's name."""
        if self._dockets.gateway.author.signed:
            self._shut("This window was left alone and is locked. Sign in to go on.")

    def _look_for_pins(self) -> None:
        """The first PIN was given, here or elsewhere: from now on somebody signs in."""

        def found(wanted: bool) -> None:
            self.pins_wanted.emit(wanted)
            if wanted and not self._dockets.gateway.author.signed and not self._dockets.gateway.locked:
                self._shut("People sign in here from now on. Who are you?")

        if not self._dockets.gateway.author.signed and not self._dockets.gateway.locked:
            self._dockets.gateway.follow(lambda store: store.people.wanted(), found)

    def _shut(self, said: str) -> None:
        """Lock the whole application, and ask for a name and a PIN."""
        self._alone.stop()
        self._dockets.gateway.lock()
        self.locked.emit(True)
        self.signed.emit("")

        def out(store: Store) -> list[Person]:
            store.people.sign_out()
            return store.people.all()

        self._dockets.gateway.ask(out, lambda people: self._show_sign_in(people, said), locked_too=True)

    def _show_sign_in(self, people: list[Person], said: str) -> None:
        from yarvel.desk.signing_in.sign_in_dialog import SignInDialog, result_of

        if self.dialog is not None and self.dialog.isVisible():
            return

        def attempt(name: str, pin: str, answered: Callable[[str], None]) -> None:
            self._last = name
            self._dockets.gateway.ask(
                result_of(lambda store: store.people.sign_in(name, pin)), answered, locked_too=True
            )

        names = [person.name for person in people if person.has_pin]
        self.dialog = SignInDialog(names, self._last, attempt, said, self._window)
        self.dialog.accepted.connect(self._on_signed)
        self.dialog.quit_wanted.connect(self._window.close)
        self.dialog.open()

    def _on_signed(self) -> None:
        store = self._dockets.gateway.store
        if store is None:
            return
        self._open(store.author if store.author.signed else Author(self._last or self._account))
        if not store.author.signed:
            self.named.emit(self._last)
        if store.author.signed:
            self.pins_wanted.emit(True)
            application = QApplication.instance()
            if application is not None:
                application.removeEventFilter(self)
                application.installEventFilter(self)
            self._alone.start(LOCK_AFTER_MS)

    def _open(self, author: Author) -> None:
        self._dockets.be(author)
        self.locked.emit(False)
        self.signed.emit(author.name if author.signed else "")

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
