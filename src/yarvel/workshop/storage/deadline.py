"""A deadline of the client's own: a server that has stopped in its tracks answers neither yes nor no, and its operating
system still says that it is alive. Whoever waits for longer than agreed is let go."""

from __future__ import annotations

import os
import socket
import threading
import time
from contextlib import suppress
from typing import Any

from sqlalchemy import Engine, event
from sqlalchemy.exc import DisconnectionError

_LOOK_S = 0.2


def keep_deadline(engine: Engine, seconds: float) -> None:
    """Cut a connection of this engine (PostgreSQL) that has not answered a statement for so long; whoever waits gets
    the driver's own error of a lost connection. A connection that was lost while nobody used it is made anew."""
    waiting = _Waiting(seconds)

    def begin(connection: Any, *_rest: Any) -> None:
        if not connection.invalidated:
            waiting.begin(connection.connection.driver_connection)

    def end(connection: Any, *_rest: Any) -> None:
        if not connection.invalidated:
            waiting.end(connection.connection.driver_connection)

    event.listen(engine, "before_cursor_execute", begin)
    event.listen(engine, "after_cursor_execute", end)
    event.listen(engine, "commit", begin)
    event.listen(engine, "rollback", begin)
    event.listen(engine, "checkin", lambda driver, _record: waiting.end(driver))
    event.listen(engine, "close", lambda driver, _record: waiting.end(driver))

    @event.listens_for(engine, "checkout")
    def _on_checkout(driver: Any, _record: object, _proxy: object) -> None:
        waiting.begin(driver)
        try:
            driver.autocommit = True
            driver.execute("SELECT 1")
            driver.autocommit = False
        except Exception as error:  # whatever the driver says: a new connection is tried
            raise DisconnectionError(str(error)) from error
        finally:
            waiting.end(driver)


class _Waiting:
    """Connections that wait for an answer, and until when."""

    def __init__(self, seconds: float) -> None:
        self._seconds = seconds
        self._until: dict[int, tuple[float, int]] = {}
        self._lock = threading.Lock()
        self._watching = False

    def begin(self, driver: Any) -> None:
        with suppress(Exception), self._lock:  # a connection that is closed already has no socket
            self._until[id(driver)] = time.monotonic() + self._seconds, driver.pgconn.socket
            if not self._watching:
                self._watching = True
                threading.Thread(target=self._watch, daemon=True, name="deadline").start()

    def end(self, driver: Any) -> None:
        with self._lock:
            self._until.pop(id(driver), None)

    def _watch(self) -> None:
        """Ends when nobody waits any more."""
        while True:
            time.sleep(_LOOK_S)
            now = time.monotonic()
            with self._lock:
                late = [key for key, (until, _socket) in self._until.items() if now > until]
                for key in late:
                    _cut(self._until.pop(key)[1])
                if not self._until:
                    self._watching = False
                    return


def _cut(handle: int) -> None:
    """Shut a socket that another thread waits for; that thread wakes up with an error."""
    with suppress(OSError), socket.socket(fileno=os.dup(handle)) as line:
        line.shutdown(socket.SHUT_RDWR)
