"""The command line. Starting it loads no Qt; the window and the bench sheet load it when asked for."""

from __future__ import annotations

import argparse
import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from yarvel import __version__
from yarvel.figures.errors import YarvelError

if TYPE_CHECKING:
    from yarvel.planning.plan import Plan

REFUSED = 2
"""Exit status where the input cannot be used."""


def main(arguments: list[str] | None = None) -> int:
    """Run the command line; returns the exit status."""
    options = _parser().parse_args(arguments)
    try:
        if options.command == "plan":
            return _plan(options)
        if options.command == "sheet":
            return _sheet(options)
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
    parser.add_argument("--demo", action="store_true", help="open a made-up workshop, kept in a folder of its own")
    parser.add_argument("--store", type=Path, metavar="PATH", help="open or make the store at this path")
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    plan = commands.add_parser("plan", help="print the plan of a job file as JSON")
    plan.add_argument("job", type=Path, nargs="?", metavar="JOB.json")
    plan.add_argument("--schema", action="store_true", help="print the JSON Schema of the job file")
    sheet = commands.add_parser("sheet", help="write the bench sheet of a job file")
    sheet.add_argument("job", type=Path, metavar="JOB.json")
    sheet.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.pdf|.svg")
    match = commands.add_parser("match", help="rank a stock of bought heads for a job's stone, as JSON")
    match.add_argument("stock", type=Path, metavar="STOCK.csv")
    match.add_argument("job", type=Path, metavar="JOB.json")
    match.add_argument("--top", type=int, default=10, metavar="N", help="how many heads to print (10)")
    return parser


def _plan(options: argparse.Namespace) -> int:
    from yarvel.exchange.job_file import read_job, schema
    from yarvel.figures.rules import HouseRules

    if options.schema:
        sys.stdout.write(json.dumps(schema(), indent=2, ensure_ascii=False) + "\n")
        return 0
    if options.job is None:
        return _refuse("JOB.json: missing: a job file to plan, or --schema")
    from yarvel.exchange.plan_file import plan_text
    from yarvel.planning.plan import plan

    rules = HouseRules()
    sys.stdout.write(plan_text(plan(read_job(options.job, rules), rules)))
    return 0


def _sheet(options: argparse.Namespace) -> int:
    from yarvel.exchange.job_file import read_job
    from yarvel.figures.rules import HouseRules
    from yarvel.planning.plan import plan

    kind = options.output.suffix.lower()
    if kind not in (".pdf", ".svg"):
        return _refuse(f"{options.output}: unknown kind of file: a name that ends in .pdf or .svg")
    rules = HouseRules()
    made = plan(read_job(options.job, rules), rules)
    try:
        if kind == ".svg":
            _write_svg(made, options.output)
        else:
            from yarvel.exchange.bench_pdf import write_bench_pdf

            write_bench_pdf(made, options.output, options.job.stem)
    except OSError as error:
        return _refuse(f"{options.output}: {error.strerror or error}: a folder that can be written to")
    return 0


def _match(options: argparse.Namespace) -> int:
    from yarvel.exchange.job_file import read_job
    from yarvel.exchange.stock_file import read_stock
    from yarvel.figures.rules import HouseRules
    from yarvel.planning.match import match, why

    if options.top < 1:
        return _refuse(f"--top: {options.top} is not accepted: a whole number from 1")
    rules = HouseRules()
    stock = read_stock(options.stock, rules)
    found = match(read_job(options.job, rules), rules, stock)
    heads = [{"row": row + 2, "code": stock.codes[row], "notch_ratio": round(float(found.notch_ratio[row]), 4),
              "culet_clearance_mm": round(float(found.culet_clearance[row]), 3),
              "trim_mm": round(float(found.trim[row]), 2), "verdict": str(found.verdict[row]),
              "why": why(found, row, rules)} for row in found.best(options.top)]
    sys.stdout.write(json.dumps({"format": "yarvel-match/1", "heads": heads}, indent=2, ensure_ascii=False) + "\n")
    return 0


def _write_svg(made: Plan, target: Path) -> None:
    from yarvel.drawing.bench_sheet import A4, MARGIN
    from yarvel.drawing.painters.svg import svg_text
    from yarvel.drawing.sheet import sheet

    drawing = sheet(made, A4[0] - 2 * MARGIN, 168, grips=False)
    part = target.with_name(target.name + ".part")
    part.write_text(svg_text(drawing), encoding="utf-8")
    part.replace(target)


def _window(options: argparse.Namespace) -> int:
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")):
        return _refuse("There is no display: start Yarvel in a desktop session, or under a virtual one with: "
                       "xvfb-run -a yarvel" + (" --demo" if options.demo else ""))
    from yarvel.app import run

    return run(options.store, options.demo)


if __name__ == "__main__":
    raise SystemExit(main())
