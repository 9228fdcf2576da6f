"""A bad wire between windows and their server, for the soak: it delays, cuts, loses the answer to a COMMIT, and
delivers a COMMIT late, after whoever sent it has given up and asked again on another connection."""

from __future__ import annotations

import random
import socket
import threading
import time
from collections import Counter
from contextlib import suppress

COMMIT = b"COMMIT\x00"
"""As PostgreSQL's protocol has it in a simple query."""

_DELAYED, _CUT, _UNANSWERED, _LATE = "answers delayed", "connections cut", "COMMITs unanswered", "COMMITs late"
_CHANCES = {_UNANSWERED: 0.01, _LATE: 0.005}
"""Of each COMMIT; a late one holds what it has locked for as long."""
_CHUNK = 65_536


class Wire:
    """Listens at a port of its own; whatever comes goes to the server's, badly while it is ``bad``."""

    def __init__(self, server_port: int, seed: int = 7) -> None:
        self._server_port, self._chance = server_port, random.Random(seed)
        self.counts: Counter[str] = Counter(dict.fromkeys((_DELAYED, _CUT, _UNANSWERED, _LATE), 0))
        self.bad = False
        self._listening = socket.create_server(("127.0.0.1", 0))
        self.port = int(self._listening.getsockname()[1])
        threading.Thread(target=self._listen, daemon=True).start()

    def close(self) -> None:
        """No more connections."""
        self._listening.close()

    def _listen(self) -> None:
        while True:
            try:
                window, _address = self._listening.accept()
            except OSError:
                return
            try:
                server = socket.create_connection(("127.0.0.1", self._server_port), timeout=5)
            except OSError:
                window.close()
                continue
            server.settimeout(None)
            for carry in (self._to_server, self._to_window):
                threading.Thread(target=carry, args=(window, server), daemon=True).start()

    def _to_server(self, window: socket.socket, server: socket.socket) -> None:
        while data := _received(window):
            what = self._drawn(data)
            if what:
                self.counts[what] += 1
                _cut(window)
                if what == _LATE:
                    time.sleep(self._chance.uniform(0.3, 6.0))
            if not _sent(server, data) or what:
                break
        time.sleep(0.5)  # what is on its way to the server is carried out
        _cut(window)
        _cut(server)

    def _drawn(self, data: bytes) -> str:
        """What goes wrong with this, if anything does."""
        if not self.bad:
            return ""
        if COMMIT not in data:
            return _CUT if self._chance.random() < 0.0004 else ""
        drawn = self._chance.random()
        for name, share in _CHANCES.items():
            if drawn < share:
                return name
            drawn -= share
        return ""

    def _to_window(self, window: socket.socket, server: socket.socket) -> None:
        while data := _received(server):
            if self.bad and self._chance.random() < 0.05:
                self.counts[_DELAYED] += 1
                time.sleep(self._chance.expovariate(1 / 0.15))
            if not _sent(window, data):
                break
        _cut(window)


def _received(end: socket.socket) -> bytes:
    try:
        return end.recv(_CHUNK)
    except OSError:
        return b""


def _sent(end: socket.socket, data: bytes) -> bool:
    try:
        end.sendall(data)
    except OSError:
        return False
    return True


def _cut(end: socket.socket) -> None:
    with suppress(OSError):
        end.shutdown(socket.SHUT_RDWR)
    end.close()
