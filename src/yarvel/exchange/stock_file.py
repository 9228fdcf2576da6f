"""Reading a stock of bought heads from CSV; errors by row and column, nothing half-read."""

from __future__ import annotations

import csv
import math
from pathlib import Path

import numpy as np

from yarvel.exchange.reading import check_regular
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.rules import HouseRules
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS
from yarvel.heads.notches import made_for_opening_mm
from yarvel.planning.match import Stock

MOST_BYTES = 50_000_000
MOST_PROBLEMS = 20
REQUIRED: dict[str, tuple[float, float]] = {
    "made_for_mm": (0.5, 40),
    "claw_mm": (0.3, 3),
    "claws": (LEAST_CLAWS, MOST_CLAWS),
    "height_mm": (1, 30),
}
OPTIONAL: dict[str, tuple[float, float]] = {"opening_mm": (0.3, 40)}
"""Columns beside ``code``, and what their numbers may be. Others are passed over."""


def read_stock(path: Path, rules: HouseRules) -> Stock:
    """Read a stock of heads.

    Raises
    ------
    JobError : with the first problems found, each naming row and column.
    """
    try:
        check_regular(path)
        if path.stat().st_size > MOST_BYTES:
            raise JobError([Problem(str(path), "the file is over 50 MB", "a CSV file up to 50 MB")])
        with path.open(encoding="utf-8-sig", newline="") as file:
            return _read(list(csv.reader(file, strict=True)), path.name, rules)
    except OSError as error:
        raise JobError([Problem(str(path), error.strerror or "cannot be read", "a readable CSV file")]) from error
    except (UnicodeDecodeError, csv.Error) as error:
        raise JobError(
            [Problem(path.name, f"not CSV text ({error})", "UTF-8 text, columns parted by commas")]
        ) from error


def _read(rows: list[list[str]], name: str, rules: HouseRules) -> Stock:
    head = [title.strip() for title in rows[0]] if rows else []
    missing = [title for title in ("code", *REQUIRED) if title not in head]
    if missing:
        raise JobError(
            [
                Problem(
                    f"{name} row 1",
                    f"no column {', '.join(missing)}",
                    "a first row with code, " + ", ".join(REQUIRED) + " and, if known, opening_mm",
                )
            ]
        )
    places = {title: head.index(title) for title in ("code", *REQUIRED, *OPTIONAL) if title in head}
    problems: list[Problem] = []
    codes: list[str] = []
    columns: dict[str, list[float]] = {title: [] for title in (*REQUIRED, *OPTIONAL)}
    for number, row in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        if "kind" in head and len(row) == len(head) and row[head.index("kind")].strip() not in ("", "head"):
            continue
        if len(row) != len(head):
            problems.append(Problem(f"{name} row {number}", f"{len(row)} cells", f"{len(head)}, as in the first row"))
        else:
            codes.append(row[places["code"]].strip())
            for title in columns:
                text = row[places[title]] if title in places else ""
                columns[title].append(_number(text, title, f"{name} row {number} column {title}", problems))
        if len(problems) >= MOST_PROBLEMS:
            break
    if problems:
        raise JobError(problems)
    made_for, claw, opening = (np.array(columns[title]) for title in ("made_for_mm", "claw_mm", "opening_mm"))
    usual = made_for_opening_mm(made_for, rules.notch_target, claw)
    return Stock(
        tuple(codes),
        made_for,
        claw,
        np.array(columns["claws"]),
        np.where(np.isnan(opening), usual, opening),
        np.array(columns["height_mm"]),
    )


def _number(text: str, title: str, place: str, problems: list[Problem]) -> float:
    low, high = {**REQUIRED, **OPTIONAL}[title]
    cleaned = text.strip()
    if not cleaned and title in OPTIONAL:
        return math.nan
    try:
        value = float(cleaned)
    except ValueError:
        value = math.nan
    whole = math.isfinite(value) and (title != "claws" or value == math.floor(value))
    if not (low <= value <= high and whole):
        kind = "a whole number, " if title == "claws" else ""
        unit = "" if title == "claws" else " mm"
        problems.append(Problem(place, f"{text!r} is not accepted", f"{kind}{low:g} to {high:g}{unit}"))
    return value
