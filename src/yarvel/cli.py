"""The command line. Starting it loads no Qt; the window and the bench sheet load it when asked for."""

from __future__ import annotations

import argparse
import gc
import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yarvel import __version__
from yarvel.figures.errors import YarvelError

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from yarvel.figures.rules import HouseRules
    from yarvel.planning.job import Job
    from yarvel.workshop.storage.location import Location

REFUSED = 2
"""Exit status where the input cannot be used."""


def main(arguments: list[str] | None = None) -> int:
    """Run the command line; returns the exit status."""
    options = _parser().parse_args(arguments)
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # matrices are small here: more threads only wait
    try:
        if options.command == "plan":
            return _plan(options)
        if options.command == "sheet":
            return _sheet(options)
        if options.command == "templates":
            return _templates(options)
        if options.command == "solid":
            return _solid(options)
        if options.command in ("backup", "restore"):
            return _copies(options)
        if options.command == "archive":
            return _archive(options)
        if options.command == "move-store":
            return _move(options)
        if options.command == "prepare-store":
            return _prepare(options)
        if options.command == "verify":
            return _verify(options)
        if options.command == "put-aside":
            return _put_aside(options)
        if options.command == "use-store":
            return _use(options)
        if options.command == "simulate":
            return _simulate(options)
        if options.command == "match":
            return _match(options)
        return _window(options)
    except YarvelError as error:
        return _refuse(str(error))
    except BrokenPipeError:
        sys.stderr.close()
        return 0


def _refuse(told: str) -> int:
    """Say why something cannot be done, in lines on standard error; returns the exit status."""
    sys.stderr.write(told.rstrip() + "\n")
    return REFUSED


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="yarvel", description="Heads, seats and shanks from the stone on the gauge.")
    parser.add_argument("--version", action="version", version=f"yarvel {__version__}")
    parser.add_argument(
        "--demo",
        nargs="?",
        const="small",
        default="",
        choices=("small", "large"),
        help="open a made-up workshop, kept in a folder of its own; large: seven people, sixty dockets, a year",
    )
    parser.add_argument(
        "--store",
        metavar="PATH|URL",
        help="open or make the store at this path, or a team's: postgresql://user@host/database",
    )
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    plan = commands.add_parser("plan", help="print the plan of a job file as JSON")
    plan.add_argument("job", type=Path, nargs="?", metavar="JOB.json")
    plan.add_argument("--schema", action="store_true", help="print the JSON Schema of the job file")
    sheet = commands.add_parser("sheet", help="write the bench card of a job file, or its drawing")
    sheet.add_argument("job", type=Path, metavar="JOB.json")
    sheet.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.pdf|.svg|.dxf")
    sheet.add_argument(
        "--sheet",
        choices=("card", "working", "ring"),
        default="card",
        help="of a PDF: the bench card, how it was worked out, or the whole ring (card)",
    )
    sheet.add_argument("--paper", choices=("A4", "A5"), default="A4", help="what the bench card is printed on (A4)")
    templates = commands.add_parser("templates", help="write the templates of a job file at 1:1")
    templates.add_argument("job", type=Path, metavar="JOB.json")
    templates.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.pdf|.svg|.dxf")
    templates.add_argument(
        "--bar",
        type=float,
        nargs=2,
        metavar=("ACROSS", "DOWN"),
        default=(50.0, 50.0),
        help="what the printed bars of 50 mm measure, across and down (PDF; 50 50)",
    )
    solid = commands.add_parser("solid", help="write the closed bodies of a job file, in mm")
    solid.add_argument("job", type=Path, metavar="JOB.json")
    solid.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.stl|.3mf")
    solid.add_argument("--part", default="all", metavar="PART", help="stone, head, shank or all (all)")
    _add_store_commands(commands)
    _add_simulate(commands)
    match = commands.add_parser("match", help="rank a stock of bought heads for a job's stone, as JSON")
    match.add_argument("stock", type=Path, metavar="STOCK.csv")
    match.add_argument("job", type=Path, metavar="JOB.json")
    match.add_argument("--top", type=int, default=10, metavar="N", help="how many heads to print (10)")
    return parser


def _add_simulate(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Made-up instruments."""
    simulate = commands.add_parser("simulate", help="be an instrument, at a port of its own, for trying and for tests")
    simulate.add_argument("instrument", choices=("gauge", "scale", "carat-scale", "scanner", "prices"))
    simulate.add_argument("--link", type=Path, metavar="PATH", help="a name for its port")
    simulate.add_argument("--noise", type=float, default=0.0, metavar="X", help="spread of its readings, in its unit")
    simulate.add_argument("--drift", type=float, default=0.0, metavar="X", help="its drift from reading to reading")
    simulate.add_argument(
        "--fault",
        default="none",
        choices=("none", "half", "doubled", "unit", "garbage", "moving", "silent"),
        help="what is wrong with it",
    )
    simulate.add_argument("--seed", type=int, default=1, metavar="N", help="of its chance")


def _add_store_commands(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """What is done to stores as a whole."""
    backup = commands.add_parser("backup", help="copy the store, in use or not, and verify the copy")
    backup.add_argument("target", type=Path, metavar="COPY.sqlite", help="a file; with --nightly a folder")
    backup.add_argument("--nightly", action="store_true", help="one copy a day into the folder, the newest 14 kept")
    restore = commands.add_parser("restore", help="put a copy in the place of the store; what was there is kept")
    restore.add_argument("source", type=Path, metavar="COPY.sqlite")
    restore.add_argument(
        "--without-digest", action="store_true", help="also a copy that has no digest beside it (COPY.sqlite.sha256)"
    )
    archive = commands.add_parser("archive", help="write dockets as one open archive (JSON, photographs, drawings)")
    archive.add_argument("target", type=Path, metavar="OUT.zip")
    archive.add_argument("--docket", metavar="NUMBER", help="this docket alone (all)")
    move = commands.add_parser("move-store", help="carry a whole store over to a new place, verified row by row")
    move.add_argument("source", metavar="FROM", help="a store: a path, or postgresql://owner@host/database")
    move.add_argument("target", metavar="TO", help="an empty place for one, of either kind")
    commands.add_parser("verify", help="whether every month is what was signed off, and all else what its acts made it")
    commands.add_parser("put-aside", help="list the rows that were mended or put aside when the store's checks came")
    use = commands.add_parser("use-store", help="open this store from now on where none is named")
    use.add_argument("store_to_use", nargs="?", metavar="PATH|URL", help="left out: the workshop's own again")
    prepare = commands.add_parser(
        "prepare-store", help="bring a team's database up to date and grant its windows' role what it needs"
    )
    prepare.add_argument("owner", metavar="URL", help="postgresql://yarvel_owner@host/database")
    prepare.add_argument("--role", default="yarvel", help="the windows' role (yarvel)")
    prepare.add_argument(
        "--roles", action="store_true", help="a role of its own for everybody who works here; as the server's superuser"
    )
    prepare.add_argument("--machine", metavar="NAME", help="a login of its own for one machine; as the superuser")


def _plan(options: argparse.Namespace) -> int:
    from yarvel.exchange.job_file import read_job, schema

    if options.schema:
        sys.stdout.write(json.dumps(schema(), indent=2, ensure_ascii=False) + "\n")
        return 0
    if options.job is None:
        return _refuse("JOB.json: missing: a job file to plan, or --schema")
    from yarvel.exchange.plan_file import plan_text
    from yarvel.planning.plan import plan
    from yarvel.planning.proving import proven
    from yarvel.planning.weighing import weighed

    rules = _rules(options)
    sys.stdout.write(plan_text(proven(weighed(plan(read_job(options.job, rules), rules)))))
    return 0


def _sheet(options: argparse.Namespace) -> int:
    from yarvel.exchange.drawing_file import KINDS, write_drawing
    from yarvel.exchange.job_file import read_job
    from yarvel.planning.plan import plan

    kind = options.output.suffix.lower()
    if kind not in (".pdf", *KINDS):
        return _refuse(f"{options.output}: unknown kind of file: a name that ends in .pdf, .svg or .dxf")
    from yarvel.planning.pendant import is_pendant
    from yarvel.planning.weighing import weighed

    rules = _rules(options)
    plan_made = plan(read_job(options.job, rules), rules)
    if is_pendant(plan_made):  # where its ring goes is known by its bodies only
        plan_made = weighed(plan_made)
    try:
        if kind in KINDS:
            write_drawing(plan_made, options.output)
        else:
            from yarvel.exchange.bench_pdf import write_bench_pdf

            write_bench_pdf(plan_made, options.output, options.job.stem, options.sheet, options.paper)
    except OSError as error:
        return _refuse(f"{options.output}: {error.strerror or error}: a folder that can be written to")
    return 0


def _templates(options: argparse.Namespace) -> int:
    from yarvel.drawing.templates import templates
    from yarvel.drawing.tiling import LEAST_BAR_MM, MOST_BAR_MM, Printer
    from yarvel.exchange.drawing_file import KINDS, write_templates
    from yarvel.exchange.job_file import read_job
    from yarvel.planning.plan import plan

    kind = options.output.suffix.lower()
    if kind not in (".pdf", *KINDS):
        return _refuse(f"{options.output}: unknown kind of file: a name that ends in .pdf, .svg or .dxf")
    if not all(LEAST_BAR_MM <= bar <= MOST_BAR_MM for bar in options.bar):
        return _refuse(
            f"--bar: {options.bar[0]:g} {options.bar[1]:g} is not accepted: {LEAST_BAR_MM:g} to {MOST_BAR_MM:g} mm "
            "each, what a bar of 50 mm measures"
        )
    rules = _rules(options)
    plan_made = plan(read_job(options.job, rules), rules)
    if not templates(plan_made):
        return _refuse(f"{options.job}: has no templates: a head with claws, rings, a collet, or a shank")
    try:
        if kind in KINDS:
            write_templates(plan_made, options.output)
        else:
            from yarvel.exchange.bench_pdf import write_template_pdf

            write_template_pdf(plan_made, options.output, options.job.stem, Printer(*options.bar))
    except OSError as error:
        return _refuse(f"{options.output}: {error.strerror or error}: a folder that can be written to")
    return 0


def _solid(options: argparse.Namespace) -> int:
    from yarvel.exchange.job_file import read_job
    from yarvel.exchange.solid_file import KINDS, PARTS, write_solid
    from yarvel.planning.plan import plan

    if options.output.suffix.lower() not in KINDS:
        return _refuse(f"{options.output}: unknown kind of file: a name that ends in {' or '.join(KINDS)}")
    if options.part not in PARTS:
        return _refuse(f"--part: {options.part!r} is not accepted: one of {', '.join(PARTS)}")
    rules = _rules(options)
    plan_made = plan(read_job(options.job, rules), rules)
    try:
        write_solid(plan_made, options.output, options.part)
    except OSError as error:
        return _refuse(f"{options.output}: {error.strerror or error}: a folder that can be written to")
    return 0


def _archive(options: argparse.Namespace) -> int:
    from yarvel.exchange.archive import Packed, write_archive
    from yarvel.workshop.store import Store

    place = _place(options)
    if place.path is not None and not place.path.exists():
        return _refuse(f"{place}: there is no store: a store that Yarvel made")
    store = Store(place)
    try:
        docket = store.numbered(options.docket) if options.docket else None
        if options.docket and docket is None:
            return _refuse(f"--docket: no docket has the number {options.docket}: one from the finder")
        chosen = [docket] if docket is not None else sorted(store.dockets(limit=10_000_000), key=lambda made: made.id)
        packed = (
            Packed(chosen_docket, tuple(store.history(chosen_docket.id)), tuple(store.photographs.of(chosen_docket.id)))
            for chosen_docket in chosen
        )
        count = write_archive(packed, options.target)
    except OSError as error:
        return _refuse(f"{options.target}: {error.strerror or error}: a folder that can be written to")
    finally:
        store.close()
    sys.stdout.write(f"{options.target}: {count} dockets\n")
    return 0


def _copies(options: argparse.Namespace) -> int:
    from yarvel.clock import local_now, today
    from yarvel.workshop.metal.seals_seen import older_than_seals
    from yarvel.workshop.storage.backup import backup, nightly_of, restore
    from yarvel.workshop.storage.moving import copy_of_team

    place = _place(options)
    if options.command == "restore":
        if place.path is None:
            return _refuse(
                "--store: a team's copy is put back with: yarvel move-store COPY.sqlite "
                "postgresql://yarvel_owner@host/database, into an empty database"
            )
        older = older_than_seals(options.source, place.path)
        put, kept = restore(options.source, place.path, local_now(), options.without_digest)
        where = f"; what was there is {kept}" if kept is not None else ""
        back = f"{place}: {sum(put.rows.values())} rows in {len(put.rows)} tables put back{where}"
        sys.stdout.writelines(f"{line}\n" for line in (back, older) if line)
        return 0
    path = place.path
    rows: dict[str, int] = {}

    def copy(target: Path) -> None:
        rows.update(copy_of_team(place, target).rows if path is None else backup(path, target).rows)

    try:
        if options.nightly:
            nightly = nightly_of(options.target, today(), copy)
        else:
            copy(options.target)
            nightly = options.target
    except OSError as error:
        return _refuse(f"{options.target}: {error.strerror or error}: a folder that can be written to")
    lines = (
        f"{nightly}: {sum(rows.values())} rows in {len(rows)} tables, verified" if nightly else "today's copy is there"
    )
    sys.stdout.write(lines + "\n")
    return 0


def _verify(options: argparse.Namespace) -> int:
    """Follow the months that are signed off from the first on, and what stands back to the acts that made it; 1 where
    something is not what it was."""
    from yarvel.workshop.replaying import replay
    from yarvel.workshop.store import Store

    place = _place(options)
    if place.path is not None and not place.path.exists():
        return _refuse(f"{place}: there is no store: a store that Yarvel made")
    store = Store(place)
    try:
        wrong, closings = store.closings.verify(), store.closings.all()
        otherwise = replay(store)
    finally:
        store.close()
    for line in (*wrong, *otherwise):
        sys.stderr.write(f"{line}\n")
    sealed = [month for month, closing in closings.items() if closing.digest]
    said = f"{len(sealed)} months are what was signed off" if not wrong else f"{len(wrong)} of {len(sealed)} are not"
    bare = len(closings) - len(sealed)
    sys.stdout.write(f"{said}{f'; {bare} were signed off before months were sealed' if bare else ''}.\n")
    else_said = f"{len(otherwise)} things are not" if otherwise else "All else is"
    sys.stdout.write(f"{else_said} what acts made of it.\n")
    return 1 if wrong or otherwise else 0


def _move(options: argparse.Namespace) -> int:
    from yarvel.workshop.storage.location import location
    from yarvel.workshop.storage.moving import move_store

    source, target = location(options.source), location(options.target)
    moved = move_store(source, target)
    sys.stdout.write(
        f"{target}: {sum(moved.rows.values())} rows in {len(moved.rows)} tables, each the same as in {source} (sha256 "
        f"{moved.digest[:16]}); {source} is as it was\n"
    )
    return 0


def _put_aside(options: argparse.Namespace) -> int:
    from yarvel.workshop.store import Store

    store = Store(_place(options))
    try:
        lines = [f"{table} {row}: {why}: {done}\n" for table, row, why, done in store.house.put_aside()]
    finally:
        store.close()
    sys.stdout.write("".join(lines) or "nothing was put aside\n")
    return 0


def _place(options: argparse.Namespace) -> Location:
    """The store that is meant."""
    from yarvel.workshop.storage.location import location
    from yarvel.workshop.storage.places import chosen_store, demo_store

    return location(options.store or (demo_store(options.demo) if options.demo else chosen_store()))


def _rules(options: argparse.Namespace) -> HouseRules:
    """The house rules of the store that is named, its own alloys, species and burs with them; else those of everybody,
    so that a job file means the same on every machine."""
    from yarvel.figures.rules import HouseRules

    if not options.store:
        return HouseRules()
    from yarvel.workshop.drawer.drawer_store import rules_of
    from yarvel.workshop.store import Store

    store = Store(_place(options))
    try:
        return rules_of(store)
    finally:
        store.close()


def _use(options: argparse.Namespace) -> int:
    from yarvel.workshop.storage.location import location
    from yarvel.workshop.storage.migrating import server_revision, stored_revision
    from yarvel.workshop.storage.places import choose_store, default_store, holds_password, setting_file

    said = options.store_to_use
    place = location(said) if said else location(default_store())
    if said is not None and place.path is None:
        if holds_password(said):
            return _refuse("use-store: an address without a password: keep that in ~/.pgpass")
        server_revision(place)
    elif said is not None and place.path is not None:
        stored_revision(place.path)
        said = str(place.path.absolute())
    try:
        choose_store(said)
    except OSError as error:
        return _refuse(f"{setting_file()}: {error.strerror or error}: a folder that can be written to")
    sys.stdout.write(f"From now on Yarvel opens {said or place} ({setting_file()}).\n")
    return 0


def _prepare(options: argparse.Namespace) -> int:
    from yarvel.workshop.preparing import prepare_machine, prepare_roles, prepare_store
    from yarvel.workshop.storage.location import location

    place = location(options.owner)
    if options.machine is not None:
        login = prepare_machine(place, options.machine, options.role)
        sys.stdout.write(f"{place}: {login} (a password for it, in psql: \\password {login})\n")
        return 0
    if options.roles:
        made = prepare_roles(place, options.role)
        lines = [f"  {name}: {role} (a password for it, in psql: \\password {role})\n" for name, role in made.items()]
        sys.stdout.write(f"{place}: {len(made)} new roles\n" + "".join(lines))
        return 0
    granted = prepare_store(place, options.role)
    sys.stdout.write(f"{place}: ready for windows as {options.role}\n" + "".join(f"  {line}\n" for line in granted))
    return 0


def _match(options: argparse.Namespace) -> int:
    from yarvel.exchange.job_file import read_job
    from yarvel.exchange.stock_file import read_stock
    from yarvel.heads import tube
    from yarvel.planning.match import match, why
    from yarvel.planning.match_bails import takes_bail

    if options.top < 1:
        return _refuse(f"--top: {options.top} is not accepted: a whole number from 1")
    rules = _rules(options)
    job = read_job(options.job, rules)
    if job.head.style == tube.STYLE:
        return _match_tubes(options, job, rules)
    stock = read_stock(options.stock)
    ranking = match(job, rules, stock)
    heads = [
        {
            "row": row + 2,
            "code": stock.codes[row],
            "notch_ratio": _known(ranking.notch_ratio, row, 4),
            "culet_clearance_mm": _known(ranking.culet_clearance, row, 3),
            "trim_mm": _known(ranking.trim, row, 2),
            "covered": _known(ranking.covered, row, 4),
            "resize_mm": _known(ranking.resize, row, 2),
            "held": _known(stock.held, row, 2),
            "verdict": str(ranking.verdict[row]),
            "why": why(ranking, row, rules),
        }
        for row in ranking.best(options.top)
    ]
    answer: dict[str, Any] = {"format": "yarvel-match/1", "heads": heads}
    if takes_bail(job):
        answer["bails"] = _match_bails(options, job, rules)
    sys.stdout.write(json.dumps(answer, indent=2, ensure_ascii=False) + "\n")
    return 0


def _match_bails(options: argparse.Namespace, job: Job, rules: HouseRules) -> list[dict[str, Any]]:
    """Bails of the file for a pendant's ring and chain."""
    from yarvel.exchange.drawer_file import read_drawer
    from yarvel.metals.alloys import alloys_of
    from yarvel.planning.match_bails import match_bails, why_bail
    from yarvel.workshop.drawer.stock import BAIL
    from yarvel.workshop.drawer.stock_columns import bails_of

    bails = bails_of([item for item in read_drawer(options.stock, alloys_of(rules)) if item.kind == BAIL])
    ranking = match_bails(job, rules, bails)
    best = sorted(range(len(bails)), key=lambda row: (float(ranking.cost[row]), row))[: options.top]
    return [
        {
            "code": bails.codes[row],
            "opening_mm": _known(bails.opening, row, 2),
            "through_mm": _known(bails.through, row, 2),
            "chain_room_mm": _known(ranking.chain_room, row, 2),
            "ring_room_mm": _known(ranking.ring_room, row, 2),
            "ring_mm": _known(ranking.ring_mm, row, 1),
            "held": _known(bails.held, row, 2),
            "verdict": str(ranking.verdict[row]),
            "why": why_bail(ranking, row, rules),
        }
        for row in best
    ]


def _match_tubes(options: argparse.Namespace, job: Job, rules: HouseRules) -> int:
    """Tubes and bezels, where the job's head is to be one."""
    from yarvel.exchange.drawer_file import read_drawer
    from yarvel.metals.alloys import alloys_of
    from yarvel.planning.match_tubes import match_tubes, why_tube
    from yarvel.workshop.drawer.stock_columns import is_tube, tubes_of

    tubes_kept = [item for item in read_drawer(options.stock, alloys_of(rules)) if is_tube(item)]
    tubes = tubes_of(tubes_kept)
    ranking = match_tubes(job, rules, tubes)
    best = sorted(range(len(tubes_kept)), key=lambda row: (float(ranking.cost[row]), row))[: options.top]
    rows = [
        {
            "kind": tubes_kept[row].kind,
            "code": tubes.codes[row],
            "outside_mm": _known(tubes.outside, row, 2),
            "wall_mm": _known(tubes.wall, row, 2),
            "rim_mm": _known(ranking.lip, row, 3),
            "ledge_mm": _known(ranking.ledge, row, 3),
            "spare_mm": _known(ranking.spare, row, 2),
            "held": _known(tubes.held, row, 2),
            "verdict": str(ranking.verdict[row]),
            "why": why_tube(ranking, row, rules),
        }
        for row in best
    ]
    sys.stdout.write(json.dumps({"format": "yarvel-match/1", "tubes": rows}, indent=2, ensure_ascii=False) + "\n")
    return 0


def _known(column: NDArray[np.float64] | None, row: int, places: int) -> float | None:
    """A column's number in one row, rounded; None where nothing is known."""
    return None if column is None or column[row] != column[row] else round(float(column[row]), places)


def _simulate(options: argparse.Namespace) -> int:
    """Be an instrument until the input ends: each line typed is what lies under it."""
    from yarvel.instruments.kinds import KINDS
    from yarvel.instruments.simulated import Manner, run

    def say(text: str) -> None:
        sys.stdout.write(text + "\n")
        sys.stdout.flush()

    if options.instrument == "prices":
        return _simulate_prices(options, say)
    kind = KINDS["gram-scale" if options.instrument == "scale" else options.instrument]
    manner = Manner(options.noise, options.drift, options.fault, options.seed)
    try:
        run(kind, manner, sys.stdin, options.link, say)
    except OSError as error:
        return _refuse(f"{options.link}: {error.strerror or error}: a name in a folder that can be written to")
    except KeyboardInterrupt:
        pass
    return 0


def _simulate_prices(options: argparse.Namespace, say: Callable[[str], None]) -> int:
    """A feed of metal prices, into the file that ``--link`` names."""
    from yarvel.clock import local_now
    from yarvel.exchange.price_file import feed

    if options.link is None:
        return _refuse("prices: no file to write: --link PATH.json")
    try:
        feed(options.link, sys.stdin, local_now, say, options.seed)
    except OSError as error:
        return _refuse(f"{options.link}: {error.strerror or error}: a file in a folder that can be written to")
    return 0


def _window(options: argparse.Namespace) -> int:
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")):
        return _refuse(
            "There is no display: start Yarvel in a desktop session, or under a virtual one with: xvfb-run -a "
            "yarvel" + (f" --demo {options.demo}" if options.demo else "")
        )
    gc.disable()  # a start makes much and drops little: looking for rubbish meanwhile is a third of its time
    from yarvel.app import run

    return run(options.store, options.demo)


if __name__ == "__main__":
    raise SystemExit(main())
