"""A team under attack: four windows with random hands on one PostgreSQL, behind a wire that delays, cuts and delivers
COMMITs late; the server stopped, frozen and killed, windows killed and slowed, clocks skewed, tokens ended, months
signed off under way. At the end everything that a screen acknowledged stands in the store once, under its author, and
the history explains every value. Bounded, and on this machine only."""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

from bench.hand import STOP
from bench.wire import Wire
from sqlalchemy import select
from tests.private_server import PrivateServer, binaries

from yarvel.clock import now
from yarvel.planning.job import merge_patch
from yarvel.workshop.dockets.records import SEVERAL, Change
from yarvel.workshop.preparing import prepare_machine, prepare_store
from yarvel.workshop.replaying import replay
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.schema import ActRow, ChangeRow, DocketRow
from yarvel.workshop.store import Store

SECONDS = 600
LEAST_A_SECOND = 2000 / 600
"""Acts that a quiet machine acknowledges; fewer, and nothing was tried."""
HANDS = {"Oona": 0.0, "Ferran": -40.0, "Yusra": 3600.0, "Ib": -86400.0}
"""Who works, and by how many seconds their clock is wrong."""
PIN = "24680"
HERE = Path(__file__).parent
Told = Callable[[str, float, str, str], None]


def soak(told: Told, seconds: float = SECONDS) -> None:
    """Run it, then hold the store against what the screens said."""
    server = PrivateServer()
    try:
        _team(server)
        wire = Wire(server.port)
        with tempfile.TemporaryDirectory() as folder:
            faults = _run(server, wire, Path(folder), seconds)
            faults |= {f"wire: {name}": count for name, count in wire.counts.items()}
            _judge(f"postgresql://keeper@127.0.0.1:{server.port}/yarvel", Path(folder), seconds, told)
        for name, count in faults.items():
            told(f"soak of {seconds:.0f} s: {name}", count, "times", "")
    finally:
        server.remove()


def _team(server: PrivateServer) -> None:
    """A team's database as the README makes it, with four people, eight dockets and their tasks."""
    psql = [str(binaries() / "psql"), "-X", "-q", "-h", "127.0.0.1", "-p", str(server.port), "-U", "keeper"]
    psql += ["-d", "postgres", "-v", "owner_password=o", "-f", str(HERE.parent / "share/team.sql")]
    subprocess.run(psql, check=True, capture_output=True)
    base = f"@127.0.0.1:{server.port}/yarvel"
    prepare_store(location(f"postgresql://yarvel_owner{base}"))
    for name in HANDS:
        prepare_machine(location(f"postgresql://keeper{base}"), name)
    store = Store(f"postgresql://{_login(next(iter(HANDS)))}{base}")
    store.people.first_owner("Oona", PIN)
    for name in list(HANDS)[1:]:
        store.people.set_pin(store.people.add(name, "lead").id, PIN)
    for number in range(8):
        docket = store.new_docket(f"Customer {number}", "ring")
        store.tasks.plan_tasks(docket.id, [("Close", 20.0)])
    store.close()


def _login(name: str) -> str:
    """The login of the machine at which somebody works."""
    return f"yarvel_{name.lower()}"


FAULTS = (
    "server stopped",
    "server killed",
    "server frozen",
    "window killed",
    "window slowed",
    "token ended",
    "month signed off",
)


def _run(server: PrivateServer, wire: Wire, folder: Path, seconds: float) -> dict[str, int]:
    chance, base = random.Random(5), f"@127.0.0.1:{wire.port}/yarvel"
    keeper = f"postgresql://keeper@127.0.0.1:{server.port}/yarvel"
    faults = dict.fromkeys(FAULTS, 0)
    never = time.monotonic() + seconds + 3600
    hands = {name: _start(base, name, folder, number, never) for number, name in enumerate(HANDS)}
    number = len(hands)
    _until_all_have_begun(folder)
    wire.bad = True
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        time.sleep(chance.uniform(3.0, 8.0))
        fault, name = chance.choice(FAULTS), chance.choice(list(hands))
        faults[fault] += 1
        if fault == "window killed":
            hands[name].kill()
            hands[name].wait()
            number += 1
            hands[name] = _start(base, name, folder, number, never)
        elif fault == "window slowed":
            _slow(hands[name], chance.uniform(2.0, 6.0))
        elif fault == "token ended":
            _say(keeper, f"DELETE FROM sessions WHERE person_id = (SELECT id FROM people WHERE name = '{name}')")
        elif fault == "month signed off":
            _sign_off(f"postgresql://{_login(name)}@127.0.0.1:{server.port}/yarvel", name)
        elif fault == "server frozen":
            _freeze(server, chance.uniform(1.0, 7.0))
        else:
            server.stop("fast" if fault == "server stopped" else "immediate")
            time.sleep(chance.uniform(0.2, 3.0))
            server.start()
    (folder / STOP).touch()
    for hand in hands.values():
        hand.wait(timeout=120)
    (folder / STOP).unlink()
    # Whatever waits is written by windows that nothing disturbs any more.
    wire.bad = False
    calm = [_start(base, name, folder, 1000 + place, time.monotonic() + 25) for place, name in enumerate(HANDS)]
    for hand in calm:
        hand.wait(timeout=120)
    wire.close()
    return faults


def _slow(hand: subprocess.Popen[bytes], seconds: float) -> None:
    """A window that has a fifth of its time."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        for sign, pause in ((signal.SIGSTOP, 0.2), (signal.SIGCONT, 0.05)):
            hand.send_signal(sign)
            time.sleep(pause)


def _say(keeper: str, statement: str) -> None:
    engine = location(keeper).engine()
    with engine.begin() as connection:
        connection.exec_driver_sql(statement)
    engine.dispose()


def _sign_off(url: str, name: str) -> None:
    """The first month of the last year that is not signed off, while others weigh."""
    store = Store(url)
    store.people.sign_in(name, PIN)
    closed, today = store.closings.all(), now()
    months = [f"{today.year - 1}-{number:02}" for number in range(1, 13)]
    wanted = [month for month in months if month > max(closed, default="")]
    if wanted:
        store.closings.close(wanted[0])
    store.close()


def _until_all_have_begun(folder: Path) -> None:
    """Faults begin once every screen has acknowledged something: a machine may be slow."""
    patience = time.monotonic() + 300
    while time.monotonic() < patience:
        if all((folder / f"{name}.log").exists() and (folder / f"{name}.log").stat().st_size for name in HANDS):
            return
        time.sleep(0.5)
    raise SystemExit("soak: no screen acknowledged anything in five minutes of quiet: nothing was tried")


def _start(base: str, name: str, folder: Path, number: int, end: float) -> subprocess.Popen[bytes]:
    left = max(end - time.monotonic(), 1.0)
    command = [
        sys.executable,
        str(HERE / "hand.py"),
        f"postgresql://{_login(name)}{base}",
        name,
        PIN,
        str(folder / f"{name}.log"),
        str(number),
    ]
    environment = {
        **os.environ,
        "QT_QPA_PLATFORM": "offscreen",
        "XDG_DATA_HOME": str(folder / "data"),
        "XDG_STATE_HOME": str(folder / "state"),
    }
    return subprocess.Popen(
        [*command, str(HANDS[name]), str(left)], env=environment, stderr=(folder / "errors").open("ab")
    )


def _freeze(server: PrivateServer, seconds: float) -> None:
    """Every process of the server stands still for a while; its connections stay open."""
    master = (server.folder / "data" / "postmaster.pid").read_text().split()[0]
    found = subprocess.run(["pgrep", "-P", master], capture_output=True, text=True, check=False).stdout.split()
    pids = [int(pid) for pid in (master, *found)]
    for sign in (signal.SIGSTOP, signal.SIGCONT):
        for pid in pids:
            try:
                os.kill(pid, sign)
            except ProcessLookupError:
                continue
        if sign is signal.SIGSTOP:
            time.sleep(seconds)


def _judge(url: str, folder: Path, seconds: float, told: Told) -> None:
    store = Store(url)
    said = [
        json.loads(line)
        for path in folder.glob("*.log")
        for line in path.read_text().splitlines()
        if line.endswith("}")
    ]
    histories = {docket.id: store.history(docket.id) for docket in store.dockets(limit=100_000)}
    weighed = store.fine.entries()
    edits = [line for line in said if "count" in line]
    masses = [line for line in said if "mass" in line]
    new = [line for line in said if "new" in line]
    acknowledged = len(edits) + len(masses) + len(new)
    told("soak: acts that a screen acknowledged", acknowledged, "acts", f"goal {LEAST_A_SECOND * seconds:.0f} or more")
    refused, clashed = (sum(word in line for line in said) for word in ("refused", "clashed"))
    told("soak: edits told to be refused", refused, "edits", "")
    told("soak: counts asked over against the hand's own", clashed, "edits", "goal 0")
    with store.transaction() as session:
        acts = {row.id: row.by for row in session.execute(select(ActRow.id, ActRow.by))}
        lines = Counter(session.scalars(select(ChangeRow.act).where(ChangeRow.act != "")))
        items = Counter(session.scalars(select(DocketRow.item)))
    named = [line for line in said if line.get("act")]
    told("soak: of these not in the store", sum(line["act"] not in acts for line in named), "acts", "goal 0")
    others = sum(acts.get(line["act"], _whose(line)) != _whose(line) for line in named)
    told("soak: of these under another's name", others, "acts", "goal 0")
    told(
        "soak: edits with more than one line of history",
        sum(lines[line["act"]] > 1 for line in edits),
        "edits",
        "goal 0",
    )
    times = [_times_stored(histories[line["docket"]], line["by"], line["count"]) for line in edits]
    told("soak: counts that the history tells twice", sum(count > 1 for count in times), "edits", "goal 0")
    told("soak: new dockets not there once", sum(items[line["new"]] != 1 for line in new), "dockets", "goal 0")
    lost = sum(
        sum(abs(entry.mass - line["mass"]) < 5e-4 and entry.by == line["by"] for entry in weighed) != 1
        for line in masses
    )
    told("soak: lines of metal that a screen acknowledged", len(masses), "lines", "")
    told("soak: of these not in the fine book once, under their author", lost, "lines", "goal 0")
    twice = len(weighed) - len({round(entry.mass, 3) for entry in weighed})
    told("soak: lines of metal that stand twice", twice, "lines", "goal 0")
    unexplained = sum(_unexplained(store.docket(docket), changes) for docket, changes in histories.items())
    told("soak: values that the history does not explain", unexplained, "values", "goal 0")
    told(
        "soak: what following seals, history and effects tells",
        len(store.closings.verify() + replay(store)),
        "lines",
        "goal 0",
    )
    errors = (folder / "errors").read_text()
    told("soak: errors that nobody foresaw", errors.count("Traceback"), "errors", "goal 0")
    log = folder / "state" / "yarvel" / "yarvel.log"
    told(
        "soak: of these told in a window", log.read_text().count("Traceback") if log.exists() else 0, "errors", "goal 0"
    )
    store.close()


def _whose(line: dict[str, Any]) -> str:
    """Who did it: of a docket that was taken in whoever typed it, whichever window it was that wrote it in the end."""
    return str(line["new"]).split()[1] if "new" in line else str(line["by"])


def _times_stored(changes: list[Change], by: str, count: int) -> int:
    """How often the history says that this person's count became this."""

    def held(change: Change, value: Any) -> Any:
        chart = value.get("claw_chart") if change.field == SEVERAL else value
        return chart.get(by) if isinstance(chart, dict) else None

    return sum(
        change.by == by and held(change, change.after) == count != held(change, change.before)
        for change in changes
        if change.field in ("claw_chart", SEVERAL)
    )


def _unexplained(docket: Any, changes: list[Change]) -> int:
    """Fields that are not as the last line of their history made them, or whose lines do not follow one another."""
    now: dict[str, Any] = {"job": docket.job_document}
    now |= {name: getattr(docket, name) for name in ("claw_chart", "item", "customer")}
    wrong = 0
    for change in reversed(changes):  # from what is there, act by act back to the beginning
        several = change.field == SEVERAL
        befores = change.before if several else {change.field: change.before}
        afters = change.after if several else {change.field: change.after}
        for name in now.keys() & afters.keys():
            if name in ("job", "claw_chart"):
                there = merge_patch(now[name], afters[name]) == now[name]
                now[name] = merge_patch(now[name], befores[name])
            else:
                there, now[name] = now[name] == afters[name], befores[name]
            wrong += not there
    return wrong


if __name__ == "__main__":
    soak(
        lambda what, value, unit, goal: print(f"{what:<64} {value:10.2f} {unit:<8} {goal}", flush=True),
        float(sys.argv[1]) if len(sys.argv) > 1 else SECONDS,
    )
