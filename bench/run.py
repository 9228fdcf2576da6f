"""`make bench`: all measurements of one run, as times and as ratios to something measured beside them."""

from __future__ import annotations

import os
import secrets
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from yarvel.planning.job import Job
    from yarvel.planning.plan import Plan

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

HERE = Path(__file__).parent
STARTS = 7


def job() -> Job:
    """The job that is planned and dragged: every part of the first slice in it."""
    from yarvel.planning.job import FORMAT, from_document

    return from_document(
        {
            "format": FORMAT,
            "stone": {"cut": "round", "species": "tourmaline", "diameters_mm": [7.63, 7.71], "depth_mm": 4.88},
            "head": {"claws": 6, "orientation": "in-line"},
            "shank": {"size": {"system": "ISO", "value": "55.5"}, "width_mm": 3.4, "thickness_mm": 2.1},
            "fit": {"method": "inset", "height": "lowest"},
        }
    )


def timed(work: Callable[[], object], rounds: int) -> float:
    """Median milliseconds of one call, after a warm-up."""
    for _ in range(5):
        work()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        times.append((time.perf_counter() - start) * 1000)
    return statistics.median(times)


def reference() -> None:
    """A fixed piece of work, so that runs on different days and machines can be compared."""
    import numpy as np

    def work() -> float:
        total = sum(place * 0.5 for place in range(20_000))
        return total + float(np.sort(np.arange(20_000.0)[::-1]).sum())

    told("reference work (fixed loop and sort)", timed(work, 100), "ms", "")


def planning() -> None:
    """Plan without tolerance, the spread of 2,000 samples, and both together."""
    from yarvel.figures.rules import HouseRules
    from yarvel.planning import sampling
    from yarvel.planning.compute import compute
    from yarvel.planning.plan import plan, spread

    rules, made = HouseRules(), job()
    bare = timed(lambda: plan(made, rules, samples=0), 200)
    worked = compute(made, rules, sampling.nominal(made.stone), made.stone.across_mm)
    spreading = timed(lambda: spread(made, rules, worked, 2000), 100)
    told("plan", bare, "ms", "goal ≤ 3 ms")
    told("spread of 2,000 samples", spreading / bare, "plans' time", "goal ≤ 30")


def matching() -> None:
    """50,000 bought heads against one stone, and against a plain loop over plans (timed on 100 of them)."""
    import numpy as np

    from yarvel.figures.rules import HouseRules
    from yarvel.planning.job import Job, from_document, merge_patch, to_document
    from yarvel.planning.match import Stock, match
    from yarvel.planning.plan import plan

    rules, made, count = HouseRules(), job(), 50_000
    assert isinstance(made, Job)
    rng = np.random.default_rng(9)
    size = rng.uniform(6, 9.5, count)
    stock = Stock(
        codes=tuple(map(str, range(count))),
        made_for=size,
        claw=np.full(count, 1.0),
        claws=rng.integers(3, 9, count).astype(float),
        opening=size - 0.66,
        height=rng.uniform(3, 8, count),
    )
    whole = timed(lambda: match(made, rules, stock), 20)
    jobs = [
        from_document(
            merge_patch(
                to_document(made),
                {
                    "head": {
                        "style": "bought",
                        "made_for_mm": round(float(size[row]), 2),
                        "claw_mm": 1.0,
                        "claws": int(stock.claws[row]),
                        "height_mm": round(float(stock.height[row]), 2),
                    }
                },
            )
        )
        for row in range(100)
    ]
    loop = timed(lambda: [plan(one, rules, samples=0) for one in jobs], 3) / 100 * count
    told("match of 50,000 bought heads", whole, "ms", "goal ≤ 50 ms")
    told("plain loop over plan, against the match", loop / whole, "×", "goal ≥ 100 ×")


def faces(plan: Plan, fine: bool) -> int:
    """How many faces a head's body has, once all of them are worked out."""
    from yarvel.planning.bodies import bodies

    return int(bodies(plan, fine).parts["head"].num_tri())


def solids() -> None:
    """Fine and coarse bodies of a four-claw basket with its seats cut, and of a pear's; every face worked out."""
    from yarvel.figures.rules import HouseRules
    from yarvel.planning.job import Job, from_document, merge_patch, to_document
    from yarvel.planning.plan import plan

    made = job()
    assert isinstance(made, Job)
    base = {**to_document(made), "shank": None, "fit": None}
    pear = {"cut": "pear", "diameters_mm": None, "length_mm": 9.3, "width_mm": 6.4}
    for name, patch, goals in (
        ("four-claw basket", {"head": {"claws": 4}}, ("goal ≤ 120 ms", "goal ≤ 30 ms")),
        ("pear in a basket", {"stone": pear, "head": {"claws": 5}}, ("", "")),
    ):
        done = plan(
            from_document({key: part for key, part in merge_patch(base, patch).items() if part}),
            HouseRules(),
            samples=0,
        )
        for fine, goal in zip((True, False), goals, strict=True):
            told(
                f"{'fine' if fine else 'coarse'} body, {name}",
                timed(partial(faces, done, fine), 20),
                "ms",
                goal,
            )


def whole_ring() -> None:
    """A whole ring: split shoulders, a tapering band, small rounds, an old size, a band beside it; and its bodies."""
    from yarvel.figures.rules import HouseRules
    from yarvel.planning.bodies import bodies, judge
    from yarvel.planning.job import from_document, merge_patch, to_document
    from yarvel.planning.plan import plan
    from yarvel.route.card import sections
    from yarvel.route.running import route_of

    made, rules = job(), HouseRules()
    ring = {
        "head": {"style": "tapered-collet", "claws": None},
        "fit": {"method": "split-shoulder", "beside_mm": 1.7},
        "shank": {
            "width_mm": 4.4,
            "head_thickness_mm": 1.7,
            "profile": "half-round",
            "resized_from": {"system": "ISO", "value": "53"},
            "shoulder": {"diameter_mm": 1.3, "count": 3, "setting": "bezel"},
        },
    }
    whole = from_document(merge_patch(to_document(made), ring))
    one = timed(lambda: plan(whole, rules, samples=0), 100)
    told("plan of a whole ring", one, "ms", "goal ≤ 6 ms")
    routed = plan(whole, rules, samples=0)
    told("route of a whole ring", timed(lambda: route_of(routed), 100) / one, "plans' time", "goal ≤ 1")
    told("the same with its tolerance, 2,000 samples", timed(lambda: plan(whole, rules), 60), "ms", "")
    planned = plan(whole, rules)
    told("its work told, metal and joints", timed(lambda: sections(route_of(planned), planned), 60), "ms", "")
    told("fine bodies of the whole ring", timed(lambda: bodies(planned), 15), "ms", "goal ≤ 250 ms, off the window")
    built = bodies(planned)
    told("what they tell", timed(lambda: judge(planned, built, rules), 15), "ms", "off the window")


def long_stones() -> None:
    """Plan and sheet of a stone that is not round, against the round one's."""
    from yarvel.drawing.sheet import sheet
    from yarvel.figures.rules import HouseRules
    from yarvel.planning.job import Job, from_document, merge_patch, to_document
    from yarvel.planning.plan import plan

    rules, made = HouseRules(), job()
    assert isinstance(made, Job)
    emerald = from_document(
        merge_patch(
            to_document(made),
            {
                "stone": {"cut": "emerald", "diameters_mm": None, "length_mm": 8.4, "width_mm": 6.2, "depth_mm": 4.1},
                "head": {"style": "paired-corner", "claws": None},
            },
        )
    )
    bare = timed(lambda: plan(made, rules, samples=0), 100)
    told(
        "plan of an emerald cut in paired corners",
        timed(lambda: plan(emerald, rules, samples=0), 100) / bare,
        "round plans' time",
        "",
    )
    drawn, other = plan(made, rules, samples=0), plan(emerald, rules, samples=0)
    told(
        "its sheet",
        timed(lambda: sheet(other, 150, 150), 50) / timed(lambda: sheet(drawn, 150, 150), 50),
        "round sheets' time",
        "",
    )


def drawer() -> None:
    """Filtering and ranking 50,000 rows of the drawer's table."""
    from PySide6.QtWidgets import QApplication

    from yarvel.desk.drawer.ranking import rank
    from yarvel.desk.drawer.table import DrawerTable
    from yarvel.figures.rules import HouseRules
    from yarvel.workshop.drawer.stock import HEAD, StockItem

    application = QApplication.instance() or QApplication([])
    table = DrawerTable(lambda _before, _after: None, str)
    items = [
        StockItem(
            kind=HEAD,
            code=f"K{place:05d}",
            metal="18k-yellow",
            size_mm=3 + place % 60 / 10,
            claws=4 + place % 3,
            claw_mm=0.9,
            height_mm=4.0,
        )
        for place in range(50_000)
    ]
    table.take(items)
    told(
        "drawer of 50,000 rows, a word typed",
        timed(lambda: table.show("", "k3123", None, None, None), 20),
        "ms",
        "a stutter is felt from about 100 ms",
    )
    made = job()
    told(
        "drawer of 50,000 heads ranked and shown",
        timed(lambda: table.show("head", "", None, None, rank(made, HouseRules(), items)), 5),
        "ms",
        "",
    )
    assert application is not None


def dragging() -> None:
    """Steps of a drag in a real window: from the new value to the painted sheet."""
    from PySide6.QtWidgets import QApplication

    from yarvel.app import open_window, prepare_store

    with tempfile.TemporaryDirectory() as folder:
        store = Path(folder) / "demo.sqlite"
        prepare_store(store, demo="small")
        held = QApplication.instance()
        application = held if isinstance(held, QApplication) else QApplication([])
        window = open_window(application, store)
        window.show()
        application.processEvents()
        times = []
        for step in range(140):
            start = time.perf_counter()
            window.session.drag({"fit": {"height": round(4.2 + 0.01 * step, 2)}}, "drag")
            window.sheet.repaint()
            times.append((time.perf_counter() - start) * 1000)
        window.session.end_drag()
        window.close()
    times = sorted(times[10:])
    told("sheet while dragging, p50", times[len(times) // 2], "ms", "")
    told("sheet while dragging, p95", times[int(len(times) * 0.95)], "ms", "goal ≤ 33 ms")


def starting() -> None:
    """From the start of the process to a usable window, against an empty PySide6 window; memory of ours."""
    with tempfile.TemporaryDirectory() as folder:
        store = Path(folder) / "demo.sqlite"
        subprocess.run([sys.executable, str(HERE / "start.py"), str(store), "fill"], check=True)
        empty, ours, memory = [], [], 0.0
        for _ in range(STARTS):
            empty.append(started("empty")[0])
            took, memory = started(str(store))
            ours.append(took)
    told("start-up, empty PySide6 window", statistics.median(empty), "ms", "")
    told("start-up, bench window with a docket", statistics.median(ours), "ms", "")
    told("start-up ratio", statistics.median(ours) / statistics.median(empty), "×", "goal ≤ 2.0 ×")
    told("resident memory, store open", memory, "MB", "goal ≤ 200 MB")


def store_at_size() -> None:
    """A hundred thousand dockets, on a file and on a server; eight writers for a minute."""
    sys.path.insert(0, str(HERE.parent))
    from bench.records import records

    records(told)


def plan_of_the_day() -> None:
    """Plans of made-up workshops and of published job shops."""
    sys.path.insert(0, str(HERE.parent))
    from bench.day import day

    day(told)


def fresh_examples() -> None:
    """All properties of the tests on examples that nobody has drawn before; the seed is told, to draw them again."""
    seed = secrets.randbelow(2**32)
    command = [sys.executable, "-m", "pytest", "tests", "-m", "hypothesis", "-n", "auto", "-q"]
    done = subprocess.run(
        [*command, "--hypothesis-profile=fresh", f"--hypothesis-seed={seed}"], cwd=HERE.parent, check=False
    )
    told(f"properties on fresh examples, seed {seed}: status", done.returncode, "", "goal 0")


def under_attack() -> None:
    """Ten thousand spoiled inputs an importer; ten minutes of a team whose server and windows are killed."""
    sys.path.insert(0, str(HERE.parent))
    from bench.fuzz import fuzz
    from bench.soak import soak

    fuzz(told)
    soak(told)


def started(what: str) -> tuple[float, float]:
    """Milliseconds until the child says it is usable, and its resident memory in MB when all is loaded."""
    start = time.perf_counter()
    child = subprocess.Popen([sys.executable, str(HERE / "start.py"), what], stdout=subprocess.PIPE, text=True)
    assert child.stdout is not None
    line = child.stdout.readline()
    took = (time.perf_counter() - start) * 1000
    memory = child.stdout.readline()
    child.wait()
    if line.strip() != "usable":
        raise SystemExit(f"start.py said {line!r}")
    return took, float(memory or 0)


def told(what: str, value: float, unit: str, goal: str) -> None:
    """One line of the report."""
    print(f"{what:<48} {value:10.2f} {unit:<12} {goal}", flush=True)


if __name__ == "__main__":
    reference()
    planning()
    matching()
    solids()
    whole_ring()
    long_stones()
    drawer()
    dragging()
    starting()
    store_at_size()
    plan_of_the_day()
    fresh_examples()
    under_attack()
