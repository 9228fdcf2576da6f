"""A PostgreSQL of the tests' own, on a free loopback port, in a folder of its own."""

from __future__ import annotations

import os
import pwd
import shutil
import socket
import subprocess
import tempfile
from itertools import count
from pathlib import Path

from sqlalchemy import create_engine, text

from tests.patience import GIVE_UP_S

_NUMBERS = count(1)
_TRIES = 20


def binaries() -> Path:
    """The folder of the newest installed server's commands."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda path: int(path.parts[-3]))
    if found:
        return found[-1].parent
    on_path = shutil.which("initdb")
    assert on_path is not None, "PostgreSQL's server is not installed: make setup installs it"
    return Path(on_path).resolve().parent


class PrivateServer:
    """Made and started at once; PostgreSQL refuses to run as root, so its own user runs it then."""

    def __init__(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="yarvel-postgres-", dir="/tmp"))
        self._as_user: list[str] = []
        if os.getuid() == 0:
            user = pwd.getpwnam("postgres")
            os.chown(self.folder, user.pw_uid, user.pw_gid)
            self._as_user = ["runuser", "-u", "postgres", "--"]
        self._run(
            "initdb",
            "-D",
            str(self.folder / "data"),
            "-U",
            "keeper",
            "-A",
            "trust",
            "-N",
            "-E",
            "UTF8",
            "--locale=C.UTF-8",
        )
        for left in reversed(range(_TRIES)):  # somebody else may take the port before the server does
            with socket.socket() as probe:
                probe.bind(("127.0.0.1", 0))
                self.port = probe.getsockname()[1]
            try:
                self.start()
                break
            except subprocess.CalledProcessError:
                if not left:
                    raise

    @property
    def address(self) -> str:
        """Its URL without a database."""
        return f"postgresql://keeper@127.0.0.1:{self.port}"

    def start(self) -> None:
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories= -c fsync=off"
        self._control("-o", options, "-l", str(self.folder / "log"), "-w", "-t", str(round(GIVE_UP_S)), "start")

    def stop(self, mode: str = "immediate") -> None:
        self._control("-m", mode, "-w", "stop")

    def remove(self) -> None:
        self.stop()
        for _ in range(_TRIES):  # one of its processes may still be writing its last
            shutil.rmtree(self.folder, ignore_errors=True)

    def make_database(self, like: str = "template1") -> str:
        """The URL of a new database: empty, or as another (its name or URL), to which nobody is connected, is."""
        name = f"workshop_{next(_NUMBERS)}"
        self.say(f"CREATE DATABASE {name} TEMPLATE {like.rpartition('/')[2]}")
        return f"{self.address}/{name}"

    def drop(self, url: str) -> None:
        self.say(f"DROP DATABASE {url.rpartition('/')[2]} WITH (FORCE)")

    def say(self, statement: str) -> None:
        """One statement, as the superuser."""
        admin = create_engine(
            self.address.replace("postgresql://", "postgresql+psycopg://") + "/postgres", isolation_level="AUTOCOMMIT"
        )
        with admin.connect() as connection:
            connection.execute(text(statement))
        admin.dispose()

    def _control(self, *arguments: str) -> None:
        self._run("pg_ctl", "-D", str(self.folder / "data"), *arguments)

    def _run(self, command: str, *arguments: str) -> None:
        subprocess.run(
            [*self._as_user, str(binaries() / command), *arguments],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            check=True,
            cwd="/",
        )
