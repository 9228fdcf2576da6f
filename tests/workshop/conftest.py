"""Both stores: a file, and a private PostgreSQL on a free loopback port, started and stopped by the tests."""

from __future__ import annotations

import os
import pwd
import shutil
import socket
import subprocess
import time
from collections.abc import Iterator
from datetime import datetime
from itertools import count
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from yarvel.workshop.store import Store

_NUMBERS = count(1)


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    """Every test of the store runs on both kinds, but those that look into the file itself."""
    on_both = ("test_store", "test_tasks", "test_people", "test_merging", "test_fine_book")
    if "store" in metafunc.fixturenames and metafunc.module.__name__.endswith(on_both):
        kinds = ["file"] if "store_path" in metafunc.fixturenames else ["file", "team"]
        metafunc.parametrize("store_kind", kinds)


@pytest.fixture
def store_kind() -> str:
    return "file"


def _binaries() -> Path | None:
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda path: int(path.parts[-3]))
    if found:
        return found[-1].parent
    on_path = shutil.which("initdb")
    return None if on_path is None else Path(on_path).resolve().parent


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Address of a private server, without a database name; PostgreSQL refuses to run as root, so its own user does."""
    binaries = _binaries()
    assert binaries is not None, "PostgreSQL's server is not installed: make setup installs it"
    folder = Path(f"/tmp/yarvel-postgres-{os.getpid()}")
    folder.mkdir(mode=0o700)
    as_user: list[str] = []
    if os.getuid() == 0:
        user = pwd.getpwnam("postgres")
        os.chown(folder, user.pw_uid, user.pw_gid)
        as_user = ["runuser", "-u", "postgres", "--"]
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "check": True, "cwd": "/"}
    subprocess.run([*as_user, str(binaries / "initdb"), "-D", str(folder / "data"), "-U", "yarvel", "-A", "trust", "-N",
                    "-E", "UTF8", "--locale=C.UTF-8"], **quiet)  # type: ignore[call-overload]
    options = f"-p {port} -c listen_addresses=127.0.0.1 -c unix_socket_directories= -c fsync=off"
    control = [*as_user, str(binaries / "pg_ctl"), "-D", str(folder / "data")]
    subprocess.run([*control, "-o", options, "-l", str(folder / "log"), "-w", "start"],
                   **quiet)  # type: ignore[call-overload]
    yield f"postgresql://yarvel@127.0.0.1:{port}"
    subprocess.run([*control, "-m", "immediate", "stop"], **quiet)  # type: ignore[call-overload]
    for _ in range(20):
        shutil.rmtree(folder, ignore_errors=True)
        if not folder.exists():
            break
        time.sleep(0.1)


@pytest.fixture
def team(request: pytest.FixtureRequest) -> Iterator[str]:
    """Address of an empty database of its own, dropped afterwards."""
    address = request.getfixturevalue("server")
    name = f"workshop_{next(_NUMBERS)}"
    admin = create_engine(address.replace("postgresql://", "postgresql+psycopg://") + "/postgres",
                          isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        connection.execute(text(f"CREATE DATABASE {name}"))
    yield f"{address}/{name}"
    with admin.connect() as connection:
        connection.execute(text(f"DROP DATABASE {name} WITH (FORCE)"))
    admin.dispose()


@pytest.fixture
def place(request: pytest.FixtureRequest, store_kind: str, tmp_path: Path) -> Path | str:
    """Where this test's store is."""
    where: Path | str = request.getfixturevalue("team") if store_kind == "team" else (
        tmp_path / "workshop" / "store.sqlite")
    return where


@pytest.fixture
def store(place: Path | str) -> Iterator[Store]:
    made = Store(place, clock=lambda: datetime(2031, 4, 9, 8, 30))
    yield made
    made.close()
