"""Reading a stock of bought heads of any cut from CSV; errors by row and column, nothing half-read."""

from __future__ import annotations

import csv
import math
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from yarvel.exchange.reading import check_regular
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.lookup import first_of
from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS
from yarvel.planning.job import StoneJob
from yarvel.planning.match import Stock
from yarvel.stones.cuts import CUTS

MOST_BYTES = 50_000_000
MOST_PROBLEMS = 20
REQUIRED: dict[str, tuple[float, float]] = {"claw_mm": (0.3, 3), "claws": (LEAST_CLAWS, MOST_CLAWS)}
SIZES: dict[str, tuple[float, float]] = {"made_for_mm": (0.5, 40), "label_ct": (0.01, 100)}

HEIGHTS: dict[str, tuple[float, float]] = {"height_mm": (1, 30), "height_tip_mm": (1, 40)}
"""Of each of these two, one is needed in every row."""
OPTIONAL: dict[str, tuple[float, float]] = {
    "opening_mm": (0.3, 40),
    "made_for_width_mm": (0.5, 40),
    "foot_mm": (0.5, 40),
    "rail_mm": (0.3, 30),
    "quantity": (0, 1e6),
    "inside_mm": (10, 30),
}
"""Columns beside ``code`` and ``cut``, and what their numbers may be. Others are passed over."""
_MOUNT = "mount"
_KINDS = ("", "head", _MOUNT)
_ALL = {**SIZES, **REQUIRED, **HEIGHTS, **OPTIONAL}


def read_stock(path: Path) -> Stock:
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
            return _read(list(csv.reader(file, strict=True)), path.name)
    except OSError as error:
        raise JobError([Problem(str(path), error.strerror or "cannot be read", "a readable CSV file")]) from error
    except (UnicodeDecodeError, csv.Error) as error:
        raise JobError(
            [Problem(path.name, f"not CSV text ({error})", "UTF-8 text, columns parted by commas")]
        ) from error


def _read(rows: list[list[str]], name: str) -> Stock:
    head = [title.strip() for title in rows[0]] if rows else []
    missing = [title for title in ("code", *REQUIRED) if title not in head]
    missing += [" or ".join(pair) for pair in (SIZES, HEIGHTS) if not set(pair) & set(head)]
    if missing:
        raise JobError(
            [
                Problem(
                    f"{name} row 1",
                    f"no column {', '.join(missing)}",
                    "a first row with code, made_for_mm or label_ct, claws, claw_mm, height_mm or height_tip_mm and, "
                    "if known, cut, " + ", ".join(OPTIONAL),
                )
            ]
        )
    places = {title: head.index(title) for title in ("code", "cut", *_ALL) if title in head}
    problems: list[Problem] = []
    codes: list[str] = []
    cuts: list[str] = []
    columns: dict[str, list[float]] = {title: [] for title in _ALL}
    for number, row in enumerate(rows[1:], start=2):
        if not any(cell.strip() for cell in row):
            continue
        if "kind" in head and len(row) == len(head) and row[head.index("kind")].strip() not in _KINDS:
            continue
        if len(row) != len(head):
            problems.append(Problem(f"{name} row {number}", f"{len(row)} cells", f"{len(head)}, as in the first row"))
        else:
            place = f"{name} row {number} column"
            codes.append(row[places["code"]].strip())
            cuts.append(_cut(row[places["cut"]] if "cut" in places else "", f"{place} cut", problems))
            for title in columns:
                text = row[places[title]] if title in places else ""
                columns[title].append(_number(text, title, f"{place} {title}", problems))
            ready = "kind" in head and row[head.index("kind")].strip() == _MOUNT
            if ready and math.isnan(columns["inside_mm"][-1]):
                problems.append(Problem(f"{place} inside_mm", "nothing given for a mount", "10 to 30 mm"))
            elif not ready:
                columns["inside_mm"][-1] = math.nan
            if not problems:
                _one_of_each(columns, place, problems)
        if len(problems) >= MOST_PROBLEMS:
            break
    if problems:
        raise JobError(problems)
    return _stock(codes, cuts, {title: np.array(column) for title, column in columns.items()})


def _stock(codes: list[str], cuts: list[str], columns: dict[str, NDArray[np.float64]]) -> Stock:
    return Stock(
        codes=tuple(codes),
        made_for=columns["made_for_mm"],
        claw=columns["claw_mm"],
        claws=columns["claws"],
        opening=columns["opening_mm"],
        height=columns["height_mm"],
        cuts=tuple(cuts),
        width=columns["made_for_width_mm"],
        tip=columns["height_tip_mm"],
        foot=columns["foot_mm"],
        rail=columns["rail_mm"],
        held=columns["quantity"],
        label=columns["label_ct"],
        inside=columns["inside_mm"],
    )


def _cut(text: str, place: str, problems: list[Problem]) -> str:
    """The cut that a head is made for; round where nothing is said."""
    cut = text.strip() or StoneJob.cut
    if cut not in CUTS:
        problems.append(Problem(place, f"{cut!r} is not accepted", "one of " + ", ".join(CUTS)))
    return cut


def _one_of_each(columns: dict[str, list[float]], place: str, problems: list[Problem]) -> None:
    """Size and height of the last row, each told in one way."""
    for pair in (SIZES, HEIGHTS):
        titles_given = [title for title in pair if not math.isnan(columns[title][-1])]
        if len(titles_given) != 1:
            problems.append(
                Problem(
                    f"{place} {first_of(pair)}", f"{' and '.join(titles_given) or 'nothing'} given", " or ".join(pair)
                )
            )


def _number(text: str, title: str, place: str, problems: list[Problem]) -> float:
    low, high = _ALL[title]
    cleaned = text.strip()
    if not cleaned and title not in REQUIRED:
        return math.nan
    try:
        value = float(cleaned)
    except ValueError:
        value = math.nan
    whole = math.isfinite(value) and (title != "claws" or value == math.floor(value))
    if not (low <= value <= high and whole):
        kind = "a whole number, " if title == "claws" else ""
        unit = " mm" if title.endswith("_mm") else ""
        problems.append(Problem(place, f"{text!r} is not accepted", f"{kind}{low:g} to {high:g}{unit}"))
    return value
