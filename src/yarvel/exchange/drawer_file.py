"""The drawer as CSV: in whole or not at all, errors by row and column; out in the same layout."""

from __future__ import annotations

import csv
from collections.abc import Collection, Iterable
from pathlib import Path

from yarvel.exchange.cells import plain, safe
from yarvel.exchange.reading import check_regular
from yarvel.exchange.stock_file import MOST_BYTES, MOST_PROBLEMS
from yarvel.figures.errors import JobError, Problem
from yarvel.metals.alloys import ALLOYS
from yarvel.workshop.drawer.stock import HEAD, KINDS, MOUNT, NAMES, Measure, StockItem, StockKind

COLUMNS = ("kind", "code", "metal", "made_for_mm", *[name for name in NAMES if name not in ("kind", "code", "metal")])
"""Heads give ``made_for_mm``, all others ``size_mm``; both are read for either."""
_TEXTS = ("code", "owner", "note")


def read_drawer(path: Path, metals: Collection[str] = tuple(ALLOYS)) -> list[StockItem]:
    """Read a drawer, of metals that are known.

    Raises
    ------
    JobError : with the first problems found, each naming row and column.
    """
    try:
        check_regular(path)
        if path.stat().st_size > MOST_BYTES:
            raise JobError([Problem(path.name, "the file is over 50 MB", "a CSV file up to 50 MB")])
        with path.open(encoding="utf-8-sig", newline="") as file:
            return _read(csv.reader(file, strict=True), path.name, metals)
    except OSError as error:
        raise JobError([Problem(str(path), error.strerror or "cannot be read", "a readable CSV file")]) from error
    except (UnicodeDecodeError, csv.Error) as error:
        raise JobError(
            [Problem(path.name, f"not CSV text ({error})", "UTF-8 text, columns parted by commas")]
        ) from error


def _read(rows: Iterable[list[str]], name: str, metals: Collection[str]) -> list[StockItem]:
    lines = iter(rows)
    head = [title.strip() for title in next(lines, [])]
    known = [title for title in head if title in COLUMNS]
    if "code" not in known or not {"made_for_mm", "size_mm", "grade"} & set(known):
        raise JobError([Problem(f"{name} row 1", "these columns are not a drawer's", ", ".join(COLUMNS))])
    problems: list[Problem] = []
    items: list[StockItem] = []
    for number, row in enumerate(lines, start=2):
        if not any(cell.strip() for cell in row):
            continue
        if len(row) != len(head):
            problems.append(Problem(f"{name} row {number}", f"{len(row)} cells", f"{len(head)}, as in the first row"))
        else:
            cells = dict(zip(head, (cell.strip() for cell in row), strict=True))
            item = _item(cells, f"{name} row {number}", problems, metals)
            items += [item] if item is not None else []
        if len(problems) >= MOST_PROBLEMS:
            break
    if problems:
        raise JobError(problems)
    return items


def _item(cells: dict[str, str], place: str, problems: list[Problem], metals: Collection[str]) -> StockItem | None:
    kind = KINDS.get(cells.get("kind", "") or HEAD)
    if kind is None:
        problems.append(
            Problem(f"{place} column kind", f"unknown kind {cells['kind']!r}", "one of " + ", ".join(KINDS))
        )
        return None
    given: dict[str, object] = {"kind": kind.key}
    for title in _TEXTS:
        given[title] = plain(cells.get(title, ""))
    metal = cells.get("metal", "")
    if metal and metal not in metals:
        problems.append(Problem(f"{place} column metal", f"unknown metal {metal!r}", "one of " + ", ".join(metals)))
    given["metal"] = metal
    for measure in kind.measures:
        given[measure.name] = _number(cells, kind, measure, place, problems)
    for title, _, words in kind.words:
        word = cells.get(title, "")
        if word not in ("", *words):
            problems.append(
                Problem(f"{place} column {title}", f"{word!r} is not accepted", "one of " + ", ".join(words))
            )
        given[title] = word
    for names in kind.one_of:
        chosen_names = [name for name in names if given[name] is not None]
        called = [_called(name, kind) for name in names]
        if len(chosen_names) != 1 and not {problem.path for problem in problems} & {
            f"{place} column {column}" for column in called
        }:
            nothing = "both given" if chosen_names else "nothing given"
            problems.append(Problem(f"{place} column {called[0]}", nothing, " or ".join(called)))
    return StockItem(**given)  # type: ignore[arg-type]


def _called(name: str, kind: StockKind) -> str:
    """A measure's column, as heads call it."""
    return "made_for_mm" if name == "size_mm" and kind.key in (HEAD, MOUNT) else name


def _number(
    cells: dict[str, str], kind: StockKind, measure: Measure, place: str, problems: list[Problem]
) -> float | None:
    title = measure.name
    text = cells.get(title, "")
    if title == "size_mm" and not text:
        text = cells.get("made_for_mm", "")
        title = _called(title, kind)
    if not text and not measure.required:
        return None
    whole = measure.name == "claws"
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = float("nan")
    if not measure.low <= value <= measure.high or (whole and value != int(value)):
        kind_word = "a whole number, " if whole else ""
        problems.append(
            Problem(
                f"{place} column {title}",
                f"{text!r} is not accepted",
                f"{kind_word}{measure.low:g} to {measure.high:g}",
            )
        )
        return None
    return int(value) if whole else value


def write_drawer(items: Iterable[StockItem], target: Path) -> None:
    """Write a drawer, whole or not at all; texts that a spreadsheet would take for a formula get a ' before them."""
    part = target.with_name(target.name + ".part")
    with part.open("w", encoding="utf-8", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(COLUMNS)
        writer.writerows([_cell(item, title) for title in COLUMNS] for item in items)
    part.replace(target)


def _cell(item: StockItem, title: str) -> str:
    if title in ("made_for_mm", "size_mm"):
        own = (title == "made_for_mm") == (item.kind in (HEAD, MOUNT))
        return "" if not own or item.size_mm is None else f"{item.size_mm:g}"
    value = getattr(item, title)
    if isinstance(value, float):
        return f"{value:.10g}"
    return "" if value is None else safe(str(value))
