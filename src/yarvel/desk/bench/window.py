"""The bench window: the run at one side, the sheet in the middle, calls and working at the other."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from pathlib import Path

from PySide6.QtCore import QSettings, QSize, Qt, QTimer
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
    QShortcut,
)
from PySide6.QtWidgets import QApplication, QMainWindow, QSplitter, QToolBar, QVBoxLayout, QWidget

from yarvel.desk.actions import ACTIONS, icon
from yarvel.desk.bench.body_requests import BodyRequests
from yarvel.desk.bench.calls_panel import CallsPanel
from yarvel.desk.bench.kept_label import KeptLabel
from yarvel.desk.bench.moved_notice import MovedNotice
from yarvel.desk.bench.pane_round import PaneRound
from yarvel.desk.bench.repair_notice import RepairNotice
from yarvel.desk.bench.run_panel import RunPanel
from yarvel.desk.bench.sheet_view import SheetView
from yarvel.desk.bench.turning_pane import TurningPane
from yarvel.desk.bench.working_panel import WorkingPanel
from yarvel.desk.board.task_windows import TaskWindows
from yarvel.desk.customers.opener import CustomersOpener
from yarvel.desk.drawer.lots_opener import LotsOpener
from yarvel.desk.drawer.opener import DrawerOpener
from yarvel.desk.finder.finding import Finding
from yarvel.desk.house.dialogs import HouseDialogs
from yarvel.desk.instruments.listening import Instruments
from yarvel.desk.intake.drafts import Drafts
from yarvel.desk.intake.intake_acts import IntakeActs
from yarvel.desk.papers.money_acts import MoneyActs
from yarvel.desk.papers.paper_acts import PaperActs
from yarvel.desk.session.session import Session
from yarvel.desk.signing_in.lock import Lock
from yarvel.desk.signing_in.sign_in_guard import SignInGuard
from yarvel.desk.stations.checks import ChecksStation
from yarvel.desk.stations.hand_over import HandOverStation
from yarvel.desk.stations.head import HeadStation
from yarvel.desk.stations.seat import SeatStation
from yarvel.desk.stations.shank import ShankStation
from yarvel.desk.stations.stone import StoneStation
from yarvel.desk.stations.take_in import TakeIn
from yarvel.desk.stations.work_station import WorkStation
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.desk.theme import THEMES, apply_theme
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import Words

_BANNER_MS = 8000
STONE_STATION = 1


class BenchWindow(QMainWindow):
    """Puts the panels together and answers the actions."""

    def __init__(
        self,
        session: Session,
        dockets: DocketStore,
        settings: QSettings,
        theme: str,
        handlers: Mapping[str, Callable[[BenchWindow], object]],
    ) -> None:
        super().__init__()
        self.session, self.dockets = session, dockets
        self._settings, self._theme, self._handlers = settings, theme, handlers
        colours = THEMES[theme]
        hand_over, take_in, work = HandOverStation(session), TakeIn(session), WorkStation(session)
        stations = [
            take_in,
            StoneStation(session),
            HeadStation(session),
            SeatStation(session),
            ShankStation(session),
            work,
            ChecksStation(session),
            hand_over,
        ]
        self.papers = PaperActs(self, session, dockets, settings)
        self.intake = IntakeActs(self, session, dockets, lambda: THEMES[self._theme])
        self.board = TaskWindows(self, session, dockets, lambda: THEMES[self._theme])
        self.people, self.drafts = SignInGuard(self, dockets), Drafts(dockets, self)
        self.house = HouseDialogs(self, session, dockets)
        self.instruments = Instruments(self, session, settings)
        self.money = MoneyActs(self, session, dockets)
        self.run = RunPanel(session, stations, colours, self)
        self.sheet = SheetView(session, colours, self)
        self.calls = CallsPanel(session, colours, self)
        self.working = WorkingPanel(session, colours, self)
        self.bodies = BodyRequests(session, self)
        self.drawer = DrawerOpener(session, dockets)
        self.customers = CustomersOpener(session, dockets, self.board.undo_stack, partial(_in_front, self))
        opened = self.customers.show, self.drawer.show, lambda name: self._actions[name].trigger()
        self.finding = Finding(self, session, dockets, lambda: THEMES[self._theme], *opened)
        self.lots = LotsOpener(self, session, dockets, self.board.do_all)
        self.turning = TurningPane(self.bodies, colours, self)
        self.pane_round = PaneRound((self.run, self.sheet, self.calls, self.working, self.turning.view))
        self.banner, self._who_label, self._kept_label = Words(self), Words(self), KeptLabel(session, dockets, self)
        self._kept_label.setContentsMargins(8, 0, 12, 0)
        self._who_label.setObjectName("who")
        self._who_label.setContentsMargins(12, 0, 8, 0)
        self._actions: dict[str, QAction] = {}
        hand_over.print_wanted.connect(self.papers.print_sheet)
        hand_over.pdf_wanted.connect(self.papers.write_pdf)
        hand_over.open_asked.connect(self.board.look_left_open)
        hand_over.deeds_wanted.connect(self.board.do_all)
        work.operation_chosen.connect(self.sheet.show_at)
        _connect_take_in(self, take_in)
        self.setAcceptDrops(True)
        self._lay_out()
        self._add_actions()
        self._connect()
        self._restore()
        if dockets.gateway.locked:
            self.lock.shut()

    def _lay_out(self) -> None:
        self.banner.setProperty("banner", True)
        self.banner.setWordWrap(True)
        self.banner.setObjectName("banner")
        self.banner.hide()
        self.elsewhere = MovedNotice(self)
        self.elsewhere.wanted.connect(self.papers.save_store_elsewhere)
        self._banner_timer = QTimer(self)
        self._banner_timer.setSingleShot(True)
        self._banner_timer.timeout.connect(self.banner.hide)
        middle = QWidget(self)
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.banner)
        column.addWidget(self.elsewhere)
        column.addWidget(RepairNotice(self.session, middle))
        column.addWidget(self.sheet, 1)
        self._judging = QSplitter(Qt.Orientation.Vertical, self)
        self._judging.addWidget(self.calls)
        self._judging.addWidget(self.working)
        self._judging.addWidget(self.turning)
        self._judging.setSizes([470, 230, 240])
        self.turning.setVisible(False)
        self._panes = QSplitter(Qt.Orientation.Horizontal, self)
        for pane in (self.run, middle, self._judging):
            self._panes.addWidget(pane)
        self._panes.setStretchFactor(1, 1)
        self._panes.setSizes([304, 684, 292])
        self._panes.setChildrenCollapsible(False)
        self.lock = Lock(self, self._panes)
        self.statusBar().addWidget(self._who_label)
        self.statusBar().addPermanentWidget(self._kept_label)
        self.statusBar().setSizeGripEnabled(False)
        open_at(self, 1280, 800)

    def _add_actions(self) -> None:
        bar = QToolBar("Tools", self)
        bar.setObjectName("tools")
        bar.setMovable(False)
        bar.setIconSize(QSize(20, 20))
        bar.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        menus = {name: self.menuBar().addMenu(f"&{name}") for name in dict.fromkeys(info.menu for info in ACTIONS)}
        QShortcut(QKeySequence("F10"), self, lambda: self.menuBar().setActiveAction(self.menuBar().actions()[0]))
        for info in ACTIONS:
            action = QAction(icon(info.name, THEMES[self._theme]["text"]), info.text, self)
            action.setShortcuts([QKeySequence(keys) for keys in (info.shortcut, info.also) if keys])
            action.setToolTip(f"{info.text.rstrip('…')} ({info.shortcut})")
            handler = self._handlers[info.name]
            action.triggered.connect(lambda _checked=False, handler=handler: handler(self))
            menus[info.menu].addAction(action)
            self._actions[info.name] = action
            if info.tool:
                action.setIconText(info.tool)
                bar.addAction(action)
        self.addToolBar(bar)
        for place in range(len(self.run.stations)):
            QShortcut(QKeySequence(f"Ctrl+{place + 1}"), self, lambda place=place: self.run.open_station(place))

    def _connect(self) -> None:
        session, stack = self.session, self.session.undo_stack
        session.docket_changed.connect(self._on_docket)
        self.dockets.told.connect(self.tell)
        self.dockets.gateway.moved.connect(self._on_moved)
        self.dockets.put_aside.connect(self._on_put_aside)
        self.people.locked.connect(lambda locked: self.lock.shut() if locked else self.lock.open())
        self.people.pins_wanted.connect(lambda wanted: self._settings.setValue("pins", wanted))
        self.people.named.connect(lambda name: self._settings.setValue("who", name))
        _remember_size_system(self, self._settings)
        self.people.signed.connect(session.be)
        self.people.signed.connect(lambda _name: self.drafts.look())
        self.sheet.refused.connect(self.tell)
        tellers = (self.papers, self.bodies, self.intake, self.instruments, self.money, self.lots, self.board)
        for teller in (*tellers, self.people, self.drafts):
            teller.told.connect(self.tell)
        self.instruments.label.connect(self.intake.open_scanned)
        self.instruments.shut = lambda: self.lock.is_shut
        self.people.signed.connect(lambda name: self._who_label.setText(f"signed in: {name}" if name else ""))
        self.dockets.changed.connect(self.board.look_again)
        self.dockets.changed.connect(self.customers.look_again)
        self.board.customer_wanted.connect(self.customers.show)
        self.board.docket_wanted.connect(partial(_in_front, self))
        self.board.help_wanted.connect(self.show_shortcuts)
        for name, able in (("undo", stack.canUndoChanged), ("redo", stack.canRedoChanged)):
            self._actions[name].setEnabled(False)
            able.connect(self._actions[name].setEnabled)
        self._on_docket()

    def _restore(self) -> None:
        for name, target in (("panes", self._panes), ("judging", self._judging)):
            saved = self._settings.value(name)
            if saved:
                target.restoreState(saved)
        if str(self._settings.value("turning", "false")) == "true":
            self.turning.toggle()
        if saved := self._settings.value("geometry"):
            self.restoreGeometry(saved)
        self.run.open_station(int(str(self._settings.value("station", STONE_STATION))))

    def _on_docket(self) -> None:
        docket = self.session.docket
        if docket is None:
            self.setWindowTitle("A new docket – Yarvel" if self.session.is_new else "Yarvel")
            return
        words = " · ".join(word for word in (docket.number, docket.customer, docket.item) if word)
        if not self.lock.is_shut:
            self.setWindowTitle(f"{words} – Yarvel")
        self._settings.setValue("docket", docket.id)

    def _on_moved(self, moved: bool) -> None:
        """The store's file is no longer where it was: nothing counts as stored until it is, or is saved elsewhere."""
        self.elsewhere.setVisible(moved)
        self._kept_label.show_text("not stored: the file is gone" if moved else "")

    def _on_put_aside(self, count: int) -> None:
        """Told once: what the store's checks found when they came."""
        if count and str(self._settings.value("put_aside", 0)) != str(count):
            self._settings.setValue("put_aside", count)
            self.tell(
                f"{count} rows of this store could not be right; they were mended or put aside, and nothing was "
                "dropped. yarvel put-aside lists them."
            )

    def tell(self, text: str) -> None:
        """Say something calmly above the sheet, for a while."""
        self.banner.setText(text)
        self.banner.show()
        self._banner_timer.start(_BANNER_MS)

    # --- actions ------------------------------------------------------------------------------------------

    def take_in(self) -> None:
        """A new docket, ready for the first reading."""
        self.dockets.take_in()
        self.run.open_station(STONE_STATION)

    def undo(self) -> None:
        """Undo the last change of the job."""
        self.session.undo_stack.undo()

    def redo(self) -> None:
        """Redo what was undone."""
        self.session.undo_stack.redo()

    def take_first_remedy(self) -> None:
        """Take the remedy of the worst call that has one."""
        call = self.calls.worst_with_remedy()
        if call is None:
            self.tell("No call offers a change now.")
        else:
            self.session.take_remedy(call)

    def switch_sheet(self) -> None:
        """The sheet shows the head, or the whole ring with its finger."""
        self.sheet.switch()
        if self.sheet.whole_ring and (self.session.plan is None or self.session.plan.band is None):
            self.tell("There is no ring yet: type a finger size into the station Shank.")

    def switch_theme(self) -> None:
        """Light to dark and back."""
        self._theme = "dark" if self._theme == "light" else "light"
        application = QApplication.instance()
        if isinstance(application, QApplication):
            colours = apply_theme(application, self._theme)
            for panel in (self.run, self.sheet, self.calls, self.working, self.turning.view):
                panel.set_colours(colours)
            for info in ACTIONS:
                self._actions[info.name].setIcon(icon(info.name, colours["text"]))
            self._settings.setValue("theme", self._theme)

    def show_shortcuts(self) -> None:
        """The list of shortcuts."""
        from yarvel.desk.dialogs.shortcuts import ShortcutsDialog

        stations = [
            (f"Station {station.TITLE.lower()}", f"Ctrl+{place + 1}") for place, station in enumerate(self.run.stations)
        ]
        listed = [(info.text.rstrip("…"), info.shortcut) for info in ACTIONS]
        ShortcutsDialog(listed + stations, self).exec()

    # --- window ---------------------------------------------------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """A job file may be dropped."""
        if any(url.toLocalFile().endswith(".json") for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Take a dropped job file in."""
        for url in event.mimeData().urls():
            if url.toLocalFile().endswith(".json"):
                self.papers.take_in_file(Path(url.toLocalFile()))

    def closeEvent(self, event: QCloseEvent) -> None:
        """Remember the panes, write what is left."""
        self._settings.setValue("geometry", self.saveGeometry())
        self._settings.setValue("panes", self._panes.saveState())
        self._settings.setValue("judging", self._judging.saveState())
        self._settings.setValue("station", max(self.run.open_place, 0))
        self._settings.setValue("turning", self.turning.isVisible())
        self._settings.sync()
        self.bodies.finish()
        self.instruments.finish()
        self.drawer.close()
        self.customers.close()
        self.intake.close()
        self.board.close()
        self.people.close()
        self.dockets.finish()
        super().closeEvent(event)


def _in_front(window: BenchWindow, docket_id: int) -> None:
    """A docket that another window has asked for, in hand and in front."""
    window.dockets.open(docket_id)
    window.raise_()
    window.activateWindow()


def _connect_take_in(window: BenchWindow, take_in: TakeIn) -> None:
    """What the front desk's station asks for."""
    take_in.photograph_wanted.connect(window.intake.add_photograph)
    take_in.photographs_asked.connect(window.intake.look_for_photographs)
    take_in.photographs_opened.connect(window.intake.open_photographs)
    window.intake.photograph_kept.connect(take_in.look_at_photographs)
    take_in.label_wanted.connect(window.intake.print_label)
    take_in.history_wanted.connect(window.intake.show_history)
    take_in.price_wanted.connect(window.board.work_out_price)
    take_in.date_wanted.connect(window.board.propose_date)
    take_in.customer_wanted.connect(window.customers.open)
    take_in.customers_asked.connect(window.intake.look_for_customers)
    take_in.approval_wanted.connect(window.money.approve)
    window.intake.board_scan = window.board.scanned
    take_in.stone_wanted.connect(window.intake.another_stone)
    take_in.stone_chosen.connect(window.dockets.open)
    take_in.stones_asked.connect(window.intake.look_for_stones)


def _remember_size_system(window: BenchWindow, settings: QSettings) -> None:
    """Sizes are typed in the system that was chosen last, also after a restart."""
    for station in window.run.stations:
        if isinstance(station, ShankStation):
            station.be_used_to(str(settings.value("size_system", "")))
            station.system_chosen.connect(lambda system: settings.setValue("size_system", system))
