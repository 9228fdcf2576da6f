"""Fixtures that more than one room's tests use."""

from __future__ import annotations

import atexit
import ctypes
import gc
import itertools
import os
import shutil
import tempfile
from collections.abc import Callable, Generator, Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, settings
from manifold3d import Manifold

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from tests import sources, stated
from tests.private_server import PrivateServer
from tests.ready import Fill, as_keeper, blank, database_with, file_with, morning
from yarvel import clock
from yarvel.figures.rules import HouseRules
from yarvel.planning import weighing
from yarvel.planning.job import Job, from_document, merge_patch
from yarvel.planning.plan import Plan, plan
from yarvel.workshop.people import pins
from yarvel.workshop.store import Store

settings.register_profile(
    "yarvel", deadline=None, max_examples=60, derandomize=True, suppress_health_check=[HealthCheck.too_slow]
)
settings.register_profile("fresh", settings.get_profile("yarvel"), derandomize=False, database=None)
settings.load_profile("yarvel")


def _one_thread_for_bodies() -> None:
    """Bodies are built by one thread in each test process: as many processes run as there are cores, and threads that
    wait for one another cost half as much again. How many there are is settled when the first body is built."""
    cores = os.sched_getaffinity(0)
    os.sched_setaffinity(0, {min(cores)})
    Manifold.cube((1, 1, 1)).hull().volume()
    os.sched_setaffinity(0, cores)


_one_thread_for_bodies()
weighing._MOST_HELD = 400
"""What bodies tell of a job is kept for whichever test asks for the same one."""
stated.begin()
os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp(prefix="yarvel-state-")
atexit.register(shutil.rmtree, os.environ["XDG_STATE_HOME"], ignore_errors=True)
os.environ["PYTHONPATH"] = os.pathsep.join(filter(None, (str(stated.CHILDREN), os.environ.get("PYTHONPATH"))))

_LONG = ("test_remedies", "test_migrating", "test_copies", "test_faults", "test_hanging", "test_head_styles")
"""Files of tests that take long: begun first, so that no process waits for another's at the end."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    items.sort(key=lambda item: item.path.stem not in _LONG)


SHIPPED_COST = pins.COST
"""What a PIN costs in a workshop; in tests hundreds are tried, so theirs cost little but where this is asked for."""
pins.COST = "m=64,t=1,p=1"


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item, call: pytest.CallInfo[None]) -> Generator[None, Any, Any]:
    """What fails says when it was, by which seeds, and how to see it again."""
    report = yield
    if report.failed:
        report.sections.append(("Again", _again(item)))
    return report


def _again(item: pytest.Item) -> str:
    seed, hashed = item.config.getoption("--hypothesis-seed"), os.environ.get("PYTHONHASHSEED", "random")
    shifted = os.environ.get("FAKETIME")
    words = [f"PYTHONHASHSEED={hashed}", f"QT_QPA_PLATFORM={os.environ['QT_QPA_PLATFORM']}"]
    words += [f"faketime -f '{shifted}'"] if shifted else []
    words += [".venv/bin/python -m pytest", *([f"--hypothesis-seed={seed}"] if seed is not None else [])]
    when = f"{clock.now():%A, %-d %B %Y, %H:%M} UTC in the zone {os.environ['TZ']}"
    drawn = "the tests' own names" if seed is None else f"seed {seed}"
    return f"It was {when}; examples were drawn by {drawn}.\n{' '.join(words)} '{item.nodeid}'"


def pytest_collection_finish() -> None:
    """What collecting made stays; a sweep need not look at it again, and comes as seldom as in the program."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(10_000, 20, 50)


BASE: dict[str, Any] = {
    "format": "yarvel-job/1",
    "stone": {"cut": "round", "species": "spinel", "diameters_mm": [6.5], "depth_mm": 3.97},
    "head": {
        "style": "wire-basket",
        "claws": 4,
        "claw_mm": 1.0,
        "notch_ratio": 0.33,
        "orientation": "in-line",
        "metal": "18k-yellow",
    },
    "shank": {
        "size": {"system": "ISO", "value": "54"},
        "width_mm": 2.8,
        "thickness_mm": 2.0,
        "profile": "flat",
        "metal": "18k-yellow",
    },
    "fit": {"method": "on-flat", "height": "lowest"},
}
"""A plain four-claw ring; tests change what they are about."""


def job_with(**parts: dict[str, Any] | None) -> Job:
    """The plain ring with some of its parts patched; None takes a part away."""
    return from_document(merge_patch(BASE, parts))


_TRIM = ctypes.CDLL("libc.so.6").malloc_trim
"""Gives what a test held back to the machine: no process keeps it."""
_ENDED, _TRIMMED_EVERY = itertools.count(1), 10


@pytest.fixture(scope="module", autouse=True)
def _sources_are_let_go() -> Iterator[None]:
    yield
    sources.forget()


@pytest.fixture(autouse=True)
def _stated_moment() -> Iterator[None]:
    """Every test begins at the same moment of the same day, and leaves no other zone behind."""
    stated.begin()
    yield
    stated.live_in(stated.ZONE)
    if next(_ENDED) % _TRIMMED_EVERY == 0:
        _TRIM(0)


@pytest.fixture(params=["file", "team"])
def each_store(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Store]:
    """Both kinds of store, empty, living at the tests' moment."""
    place = tmp_path / "store.sqlite" if request.param == "file" else request.getfixturevalue("team_store")
    made = Store(place, clock=morning)
    yield made
    made.close()


@pytest.fixture(scope="session")
def rules() -> HouseRules:
    return HouseRules()


@pytest.fixture(scope="session")
def planned(rules: HouseRules) -> Callable[..., Plan]:
    """Plans the plain ring with parts patched."""

    def make(samples: int = 400, house: HouseRules = rules, **parts: dict[str, Any] | None) -> Plan:
        return plan(job_with(**parts), house, samples)

    return make


@pytest.fixture
def store_path(tmp_path: Path) -> Path:
    return tmp_path / "workshop" / "store.sqlite"


@pytest.fixture
def filling() -> Fill:
    """What is in the store at first; modules say what they need."""
    return blank


@pytest.fixture
def store(store_path: Path, filling: Fill) -> Iterator[Store]:
    made = Store(file_with(store_path, filling), clock=morning)
    yield made
    made.close()


@pytest.fixture(scope="session")
def server() -> Iterator[PrivateServer]:
    """The private PostgreSQL that all tests share; none of them stops it."""
    made = PrivateServer()
    yield made
    made.remove()


@pytest.fixture
def team(server: PrivateServer) -> Iterator[str]:
    """Address of an empty database of its own, dropped afterwards."""
    url = server.make_database()
    yield url
    server.drop(url)


@pytest.fixture
def team_store(request: pytest.FixtureRequest, server: PrivateServer, filling: Fill) -> Iterator[str]:
    """Address of a database of its own that is a store already, by the windows' role (marked ``keeper``: by the
    server's keeper), dropped afterwards."""
    url = database_with(server, filling)
    yield as_keeper(url) if request.node.get_closest_marker("keeper") else url
    server.drop(url)
