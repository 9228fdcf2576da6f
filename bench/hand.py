"""One window of a team with a random hand at it, in a process of its own: for the soak. Writes down, line by line and
on the disk, what its screen acknowledged."""

from __future__ import annotations

import json
import os
import random
import sys
import time
from datetime import timedelta
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QLineEdit, QPushButton

from yarvel import app
from yarvel.clock import now
from yarvel.desk.dialogs.clash import ClashDialog
from yarvel.desk.signing_in.sign_in_dialog import SignInDialog
from yarvel.workshop.acts import GiveTask, StartTask, StopTask, WeighMetal
from yarvel.workshop.storage.location import Location, location
from yarvel.workshop.store import Store

STOP = "stop"
"""The name of the file at which all hands lay down what they have."""

MOST_WAITING = 12
"""Edits and acts of one window that nobody has acknowledged yet, before its hand rests."""


class RandomHand:
    """Types, weighs, starts and stops; notes what was acknowledged."""

    def __init__(self, url: str, name: str, pin: str, log: Path, seed: int, skew_s: float) -> None:
        self.name, self.pin, self.chance = name, pin, random.Random(seed)
        self._log = log.open("a", encoding="utf-8")
        self._stop = log.parent / STOP
        skew = timedelta(seconds=skew_s)

        def skewed(place: Location) -> Store:
            return Store(place, clock=lambda: now() + skew, by=app.who())

        app._store = skewed
        self.application = QApplication([])
        self.window = app.open_window(self.application, location(url))
        self.window.dockets.opened.connect(lambda: self.window.people.begin(name))
        self.window.show()
        self.window.dockets.begin()
        self.counts: dict[int, int] = {}
        self.pending: list[tuple[int, int, str]] = []
        """Docket, count, and the name of the act: what no screen has acknowledged yet."""
        self.new = seed * 1000
        # milligrams in a range of this hand's own, also of those that write at the end what others left behind
        self.weighed = (seed % 1000 + (90 if seed >= 1000 else 0)) * 100_000
        self.window.dockets.kept.connect(self._on_kept)
        self.window.dockets.keeper.refused.connect(lambda docket, _why: self._let_go(docket, "refused"))
        self.window.dockets.keeper.taken_in.connect(lambda key, docket: self.note(new=docket.item, act=key))
        self._again = 0.0
        self._timer = QTimer()
        self._timer.timeout.connect(self._move)
        self._timer.start(60)

    def note(self, **what: object) -> None:
        """On the disk before anything else happens."""
        self._log.write(json.dumps({"by": self.name, **what}) + "\n")
        self._log.flush()
        os.fsync(self._log.fileno())

    def _on_kept(self) -> None:
        """The label says "stored": the last value of each docket is acknowledged."""
        done, self.pending = self.pending, []
        for docket, count, act in {line[2]: line for line in done}.values():  # of one act its last value
            self.note(docket=docket, count=count, act=act)

    def _let_go(self, docket: object, why: str) -> None:
        """What was refused or gave way to somebody else's is told to the hand, and no screen acknowledges it."""
        self.pending = [one for one in self.pending if one[0] != docket]
        self.note(**{why: docket})

    def _move(self) -> None:
        if self._stop.exists():
            self.window.close()
            self.application.quit()
            return
        for dialog in self.application.topLevelWidgets():
            if isinstance(dialog, SignInDialog) and dialog.isVisible():
                self._sign_in(dialog)
                return
            if isinstance(dialog, ClashDialog) and dialog.isVisible():
                if self.window.session.docket is not None and any("claw_chart" in path for path in dialog._theirs):
                    self._let_go(self.window.session.docket.id, "clashed")  # nobody else changes its count: a defect
                dialog.accept()
                return
        session, dockets = self.window.session, self.window.dockets
        if dockets.gateway.locked or session.docket is None:
            return
        if self._much_waits():
            return
        what = self.chance.random()
        docket = session.docket
        if what < 0.5:
            chart = docket.claw_chart
            held = chart.get(self.name)
            count = max(self.counts.get(docket.id, 0), held if isinstance(held, int) else 0) + 1
            self.counts[docket.id] = count
            session.set_column("claw_chart", {**chart, self.name: count})
            self.pending.append((docket.id, count, dockets.keeper._pending[docket.id][-1].id))
        elif what < 0.6:
            session.patch({"stone": {"depth_mm": round(self.chance.uniform(2.5, 4.5), 2)}}, "Depth")
        elif what < 0.62:
            self.new += 1
            self.window.take_in()
            session.set_column("item", f"new {self.name} {self.new}")
            dockets.open(self.chance.randrange(1, 9))  # nobody waits for a number
        elif what < 0.75:
            dockets.open(self.chance.randrange(1, 9))
        elif what < 0.85:
            self.weighed += 1
            mass = self.weighed / 1000
            deed = WeighMetal(kind="bought", alloy="18k-yellow", mass_g=mass)
            dockets.acts.act(deed, lambda said: self._weighed(mass, said))
        else:
            task, person = self.chance.randrange(1, 9), self.chance.randrange(1, 5)
            deeds = (StartTask(task, person), StopTask(task, False), GiveTask(task, person))
            dockets.acts.act(self.chance.choice(deeds), lambda _said: None)

    def _much_waits(self) -> bool:
        """Whoever sees "storing…" for long lays down what they have: a hand that types on for ever faster than the
        store takes it is never told that all is stored."""
        keeper, acts = self.window.dockets.keeper, self.window.dockets.acts
        edits = [*keeper._pending.values(), *keeper._writing.values()]
        return sum(map(len, edits)) + len(acts._queue) > MOST_WAITING

    def _weighed(self, mass: float, said: str | None) -> None:
        """Noted once it is booked; ``said`` why it was not."""
        if not said:
            self.note(mass=mass)

    def _sign_in(self, dialog: SignInDialog) -> None:
        if dialog.name.findText(self.name) < 0:
            return
        field = dialog.findChild(QLineEdit, "sign.pin")
        if field is not None and (not field.text() or time.monotonic() > self._again):  # nobody answered: once more
            self._again = time.monotonic() + 3
            dialog.name.setCurrentText(self.name)
            field.setText(self.pin)
            next(button for button in dialog.findChildren(QPushButton) if button.text() == "Sign in").click()


if __name__ == "__main__":
    hand = RandomHand(sys.argv[1], sys.argv[2], sys.argv[3], Path(sys.argv[4]), int(sys.argv[5]), float(sys.argv[6]))
    QTimer.singleShot(int(float(sys.argv[7]) * 1000), hand.window.close)
    QTimer.singleShot(int(float(sys.argv[7]) * 1000) + 100, hand.application.quit)
    hand.application.exec()
