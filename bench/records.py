"""The store at size: 100,000 dockets and 1,000,000 lines of history in a file and in a private PostgreSQL."""

from __future__ import annotations

import json
import multiprocessing
import os
import random
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date, datetime, timedelta
from itertools import islice
from pathlib import Path
from typing import Any

from tests.private_server import PrivateServer

from yarvel.workshop.store import Store

DOCKETS, LINES = 100_000, 1_000_000
TASKS, FINE, PHOTOGRAPHS, PEOPLE = 200_000, 100_000, 5_000, 8
WRITERS, WRITE_S = 8, 60
_NAMES = (
    "Alder",
    "Birch",
    "Cobnut",
    "Dogwood",
    "Elm",
    "Furze",
    "Gorse",
    "Hazel",
    "Juniper",
    "Larch",
    "Medlar",
    "Oak",
    "Plum",
    "Quince",
    "Rowan",
    "Sloe",
    "Teasel",
    "Whin",
    "Yew",
)
_TRADES = ("Forge", "Gallery", "Lane", "Row", "Yard", "& Sons", "& Daughter", "Loan", "Antiques", "Workshop")
_ITEMS = ("solitaire", "cluster", "pendant", "dress ring", "tube ring", "trilogy", "signet", "ear stud")
_SPECIES = ("spinel", "tourmaline", "garnet", "zircon", "peridot", "aquamarine", "sapphire", "tanzanite")
_CUTS = ("round", "oval", "princess", "pear", "cushion")
Told = Callable[[str, float, str, str], None]


def records(told: Told) -> None:
    """Find as one types, open, write together; on a file and on a server."""
    with tempfile.TemporaryDirectory() as folder, private_server() as server:
        for kind, place in (("file", str(Path(folder) / "bench.sqlite")), ("server", server.make_database())):
            start = time.perf_counter()
            seed(place)
            told(f"{kind}: {DOCKETS:,} dockets, {LINES:,} lines made", time.perf_counter() - start, "s", "")
            store = Store(place)
            finding(store, kind, told)
            opening(store, kind, told)
            store.close()
            windows(place, kind, told)
        for kind, place in (("file", str(Path(folder) / "older.sqlite")), ("server", server.make_database())):
            migrating(place, kind, told)
        writing(server.make_database(), told)


OLDER = "0016"
"""The last layout before acts had names."""


def migrating(place: str, kind: str, told: Told) -> None:
    """A store of before, with all its lines, brought to today's layout: each line has an act afterwards."""
    from alembic import command
    from alembic.config import Config
    from sqlalchemy import MetaData, func, insert, select

    from yarvel.workshop.storage.location import location
    from yarvel.workshop.storage.migrating import SCRIPTS, bring_up_to_date
    from yarvel.workshop.storage.schema import ActRow

    config = Config()
    config.set_main_option("script_location", str(SCRIPTS))
    engine = location(place).engine()
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, OLDER)
    there = MetaData()
    there.reflect(engine, only=["dockets", "changes"])
    for name, rows in (("dockets", docket_rows()), ("changes", change_rows())):
        table = there.tables[name]
        while some := list(islice(rows, 20_000)):
            kept = [{key: value for key, value in row.items() if key in table.c} for row in some]
            with engine.begin() as connection:
                connection.execute(insert(table), kept)
    engine.dispose()
    start = time.perf_counter()
    bring_up_to_date(location(place))
    took = time.perf_counter() - start
    told(f"{kind}: {LINES:,} lines of layout {OLDER} brought up to date", took, "s", "goal ≤ 60 s")
    store = Store(place)
    with store.transaction() as session:
        acts = session.scalar(select(func.count()).select_from(ActRow)) or 0
    told(f"{kind}: acts made for them", acts, "acts", f"goal {LINES}")
    store.close()


@contextmanager
def private_server() -> Iterator[PrivateServer]:
    """A PostgreSQL for this run."""
    server = PrivateServer()
    try:
        yield server
    finally:
        server.remove()


def docket_rows() -> Iterator[dict[str, Any]]:
    """Made-up dockets, the same in every run."""
    from yarvel.workshop.dockets.words import words_of

    chance, start = random.Random(20260), datetime(2020, 1, 6, 9)
    for number in range(1, DOCKETS + 1):
        at = start + timedelta(minutes=31 * number)
        made: dict[str, Any] = {
            "id": number,
            "number": f"{at:%y}-{number:06d}",
            "state": "handed over" if number < DOCKETS * 0.9 else "in work",
            "customer": f"{chance.choice(_NAMES)} {chance.choice(_TRADES)}",
            "customer_kind": "shop",
            "item": f"{chance.choice(_SPECIES)} {chance.choice(_ITEMS)}",
            "metal": "18k",
            "mark": "750",
            "reported": chance.choice(("stone turns", "claw caught", "worn tips", "")),
            "condition": "",
            "promised_on": at.date() + timedelta(days=12),
            "job_document": {
                "format": "yarvel-job/1",
                "stone": {
                    "cut": chance.choice(_CUTS),
                    "species": chance.choice(_SPECIES),
                    "diameters_mm": [round(chance.uniform(3, 9), 2)],
                    "depth_mm": round(chance.uniform(2, 5), 2),
                },
                "head": {"style": "wire-basket", "claws": chance.choice((4, 6))},
            },
            "drafts": {},
            "ticks": [],
            "claw_chart": {},
            "measured": {},
            "estimate": {},
            "earlier_number": "",
            "released_by": "",
            "release_reason": "",
            "version": 11,
            "created_at": at,
            "updated_at": at,
        }
        yield {**made, "words": words_of(made)}


def change_rows() -> Iterator[dict[str, Any]]:
    """Ten lines of history a docket."""
    start = datetime(2020, 1, 6, 9)
    each = LINES // DOCKETS
    for number in range(1, LINES + 1):
        docket = (number - 1) // each + 1
        at = start + timedelta(minutes=31 * docket + number % each)
        yield {
            "id": number,
            "docket_id": docket,
            "at": at,
            "by": _NAMES[number % 7],
            "field": "state",
            "before": "planned",
            "after": "in work",
        }


def people_rows() -> Iterator[dict[str, Any]]:
    """Eight people, one of them at the front desk."""
    for number in range(1, PEOPLE + 1):
        role = "front desk" if number == PEOPLE else "owner" if number == 1 else "bench"
        yield {"id": number, "name": _NAMES[number], "role": role, "skills": ["setting"]}


def task_rows() -> Iterator[dict[str, Any]]:
    """Two tasks a docket; those of the newest tenth are open."""
    for number in range(1, TASKS + 1):
        docket = (number + 1) // 2
        yield {
            "id": number,
            "docket_id": docket,
            "position": number % 2,
            "operation": ("Close", "Finish")[number % 2],
            "state": "open" if docket >= DOCKETS * 0.9 else "done",
            "person_id": number % (PEOPLE - 1) + 1,
            "standard_minutes": 30.0,
            "note": "",
            "ticks": [],
        }


def time_rows() -> Iterator[dict[str, Any]]:
    """What the done tasks took."""
    chance, start = random.Random(11), datetime(2020, 1, 6, 9)
    for number in range(1, int(TASKS * 0.9)):
        began = start + timedelta(minutes=15 * number)
        taken = timedelta(minutes=round(chance.uniform(12, 60), 1))
        person = number % (PEOPLE - 1) + 1
        yield {"task_id": number, "person_id": person, "started_at": began, "stopped_at": began + taken}


def fine_rows() -> Iterator[dict[str, Any]]:
    """Metal out and back, four lines a docket."""
    kinds = ("issued", "returned", "filings", "used")
    for number in range(1, FINE + 1):
        yield {
            "id": number,
            "at": datetime(2020, 1, 6, 9) + timedelta(minutes=31 * number),
            "by": _NAMES[number % 7],
            "kind": kinds[number % 4],
            "alloy": ("18k-yellow", "platinum-950")[number // 4 % 2],
            "mass_g": (6.0, 1.0, 0.4, 4.5)[number % 4],
            "person_id": number // 4 % (PEOPLE - 1) + 1,
            "docket_id": number // 4 + 1,
            "note": "",
        }


def photograph_rows() -> Iterator[dict[str, Any]]:
    """Small pictures of noise, which no database makes smaller."""
    chance = random.Random(12)
    for number in range(1, PHOTOGRAPHS + 1):
        yield {
            "docket_id": DOCKETS - number,
            "at": datetime(2025, 1, 6, 9),
            "by": _NAMES[1],
            "caption": "as it came",
            "width": 400,
            "height": 300,
            "jpeg": chance.randbytes(12_000),
        }


def seed(place: str) -> None:
    """Fill an empty store."""
    from sqlalchemy import insert, text

    from yarvel.workshop.storage.schema import (
        ChangeRow,
        DocketRow,
        FineRow,
        PersonRow,
        PhotographRow,
        TaskRow,
        TaskTimeRow,
    )

    store = Store(place)
    store._engine = (
        store.location.engine()
    )  # without the windows' deadline: twenty thousand rows are one statement here
    for table, rows in (
        (DocketRow, docket_rows()),
        (ChangeRow, change_rows()),
        (PersonRow, people_rows()),
        (TaskRow, task_rows()),
        (TaskTimeRow, time_rows()),
        (FineRow, fine_rows()),
        (PhotographRow, photograph_rows()),
    ):
        while some := list(islice(rows, 20_000)):
            with store.transaction() as session:
                session.execute(insert(table), some)
    with store.transaction() as session:
        if store.location.is_server:
            for name in ("dockets", "changes", "people", "tasks", "task_times", "fine_entries", "photographs"):
                session.execute(text(f"SELECT setval(pg_get_serial_sequence('{name}', 'id'), max(id)) FROM {name}"))
        session.execute(text("ANALYZE"))
    store.close()


def typed() -> list[str]:
    """What the finder is asked as somebody types: every beginning of forty queries."""
    chance = random.Random(7)
    asked = []
    for _ in range(40):
        words = chance.choice(
            (
                f"{chance.choice(_NAMES)} {chance.choice(_TRADES)}",
                f"{chance.choice(_SPECIES)} {chance.choice(_CUTS)}",
                f"{20 + chance.randrange(6)}-{chance.randrange(1, DOCKETS):06d}",
                chance.choice(_ITEMS),
                "750 worn",
                f"2024-{chance.randrange(1, 13):02d}-{chance.randrange(1, 29):02d}",
                "nowhere to be found",
            )
        )
        asked += [words[:length] for length in range(1, len(words) + 1)]
    return asked


def finding(store: Store, kind: str, told: Told) -> None:
    """Each question to the store, and its statements alone with the same answers fetched by the bare driver."""
    from sqlalchemy import event

    statements: list[tuple[str, Any]] = []
    engine = store._engine

    def note(_connection: Any, _cursor: Any, statement: str, parameters: Any, _context: Any, _many: bool) -> None:
        statements.append((statement, parameters))

    ours, bare = [], []
    raw = engine.raw_connection()
    cursor = raw.cursor()
    for words in typed():
        statements.clear()
        event.listen(engine, "before_cursor_execute", note)
        store.dockets(words, 60)
        event.remove(engine, "before_cursor_execute", note)
        asked = [pair for pair in statements if pair[0].lstrip().upper().startswith("SELECT")]
        start = time.perf_counter()
        store.dockets(words, 60)
        ours.append(1000 * (time.perf_counter() - start))
        start = time.perf_counter()
        for statement, parameters in asked:
            cursor.execute(statement, parameters)
            cursor.fetchall()
        bare.append(1000 * (time.perf_counter() - start))
    cursor.close()
    raw.close()
    told(f"{kind}: find as typed, p50 of {len(ours)}", statistics.median(ours), "ms", "")
    told(f"{kind}: find as typed, p95", p95(ours), "ms", "goal ≤ 50 ms")
    told(f"{kind}: find against its bare SQL, p95", p95(ours) / p95(bare), "×", "goal ≤ 1.5 ×")


def opening(store: Store, kind: str, told: Told) -> None:
    """A docket with its history, as the window asks for them."""
    chance, times = random.Random(3), []
    for _ in range(200):
        docket_id = chance.randrange(1, DOCKETS + 1)
        start = time.perf_counter()
        store.docket(docket_id)
        store.history(docket_id)
        store.photographs.of(docket_id)
        times.append(1000 * (time.perf_counter() - start))
    told(f"{kind}: a docket and its history, p95", p95(times), "ms", "goal ≤ 100 ms, with the window")


def windows(place: str, kind: str, told: Told) -> None:
    """A window on it, in a process of its own."""
    done = subprocess.run(
        [sys.executable, str(Path(__file__).parent / "start.py"), "large", place, str(DOCKETS)],
        capture_output=True,
        text=True,
        check=True,
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
    )
    for name, (value, unit, goal) in json.loads(done.stdout).items():
        told(f"{kind}: {name}", value, unit, goal)


def p95(times: list[float]) -> float:
    """The time that nineteen of twenty stay under."""
    return sorted(times)[int(len(times) * 0.95)]


def writing(place: str, told: Told) -> None:
    """Eight people write to the same twenty dockets for a minute; every change is there afterwards."""
    store = Store(place)
    ids = [store.new_docket(f"Docket {number}", promised_on=date(2031, 1, 1)).id for number in range(20)]
    pool = multiprocessing.get_context("spawn").Pool(WRITERS)
    found = pool.starmap(write, [(place, hand, ids, WRITE_S) for hand in range(WRITERS)])
    pool.close()
    pool.join()
    last: dict[tuple[int, str], int] = {}
    for done, _refused in found:
        last.update(done)
    lost = sum(store.docket(docket_id).claw_chart.get(hand) != count for (docket_id, hand), count in last.items())
    edits = sum(last.values())
    lines = sum(
        len([change for change in store.history(docket_id) if change.field == "claw_chart"]) for docket_id in ids
    )
    store.close()
    told(f"server: edits of {WRITERS} writers in {WRITE_S} s", edits, "edits", "")
    told("server: lines of history missing", edits - lines, "lines", "goal 0")
    told("server: updates lost", lost, "fields", "goal 0")
    told("server: edits refused, deadlocks told", sum(refused for _, refused in found), "edits", "goal 0")


def write(place: str, hand: int, ids: list[int], seconds: float) -> tuple[dict[tuple[int, str], int], int]:
    """One person: every edit raises this person's own count in a docket that others write to at the same time."""
    from yarvel.figures.errors import YarvelError
    from yarvel.workshop.dockets.records import DocketEdit

    store, chance, name = Store(place, by=f"hand {hand}"), random.Random(hand), f"h{hand}"
    counts: dict[tuple[int, str], int] = {}
    refused, end = 0, time.monotonic() + seconds
    while time.monotonic() < end:
        docket_id = chance.choice(ids)
        held = counts.get((docket_id, name), 0)
        seen = {name: held} if held else {}
        try:
            store.edit(
                docket_id,
                DocketEdit(
                    job_patches=(),
                    fields={"claw_chart": {name: held + 1}},
                    job_seen=(),
                    fields_seen={"claw_chart": seen},
                ),
            )
            counts[docket_id, name] = held + 1
        except YarvelError:
            refused += 1
    store.close()
    return counts, refused


if __name__ == "__main__":
    records(lambda what, value, unit, goal: print(f"{what:<52} {value:10.2f} {unit:<8} {goal}", flush=True))
