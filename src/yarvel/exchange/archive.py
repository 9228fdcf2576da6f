"""Dockets as one open archive: a zip with a folder a docket, JSON, photographs and the drawing; read back with care.

Layout (``yarvel-archive/1``): ``archive.json`` names the format and the folders; in each folder ``docket.json`` (the
docket, its history), ``photographs/NN.jpg``, and ``drawing.svg`` where the job can be drawn.
"""

from __future__ import annotations

import json
import lzma
import threading
import zipfile
import zlib
from collections.abc import Callable, Iterable
from dataclasses import asdict, replace
from datetime import UTC, date, datetime
from pathlib import Path, PurePosixPath
from typing import Any

from msgspec import Struct, structs

from yarvel.exchange.photograph import MOST_BYTES as MOST_PICTURE
from yarvel.exchange.photograph import SmallPhotograph, small_photograph
from yarvel.exchange.reading import check_regular
from yarvel.figures.errors import JobError, Problem, StoreError
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import FORMAT as JOB_FORMAT
from yarvel.planning.job import is_measured, stand_in
from yarvel.workshop.dockets.accepting import check_value
from yarvel.workshop.dockets.archive_store import Brought
from yarvel.workshop.dockets.fields import NUMBER, STATE_BY, TEXT
from yarvel.workshop.dockets.records import DETAILS, DOCUMENTS, FIELDS, STATES, Change, Docket, Photograph, file_stem

FORMAT = "yarvel-archive/1"
MOST_FILES, MOST_BYTES, MOST_JSON = 20_000, 2_000_000_000, 20_000_000

MOST_RATIO = 200
"""A file that unpacks to more than this many times its size in the archive is a bomb."""
_ACCEPTED = f"an archive that Yarvel wrote ({FORMAT})"
_TEXTS = tuple(
    name for name, docket_field in FIELDS.items() if docket_field.kind == TEXT and docket_field.by != STATE_BY
)
_NUMBERS = tuple(name for name, docket_field in FIELDS.items() if docket_field.kind == NUMBER)
_LONGEST = 20_000


class Packed(Struct, frozen=True):
    """One docket with all that belongs to it."""

    docket: Docket
    history: tuple[Change, ...]
    photographs: tuple[Photograph, ...]


def write_archive(packed: Iterable[Packed], target: Path) -> int:
    """Write dockets as an archive, whole or not at all; returns how many (OSError where it cannot be written)."""
    part = target.with_name(target.name + ".part")
    names = []
    with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as archive:
        for packed_docket in packed:
            folder = file_stem(packed_docket.docket.number)
            names.append(folder)
            archive.writestr(
                f"{folder}/docket.json",
                json.dumps(_document(packed_docket), indent=1, ensure_ascii=False, default=_plain),
            )
            for number, photograph in enumerate(packed_docket.photographs, start=1):
                archive.writestr(f"{folder}/photographs/{number:02d}.jpg", photograph.jpeg, zipfile.ZIP_STORED)
            drawn = _drawing(packed_docket.docket)
            if drawn:
                archive.writestr(f"{folder}/drawing.svg", drawn)
        archive.writestr("archive.json", json.dumps({"format": FORMAT, "dockets": names}))
    part.replace(target)
    return len(names)


def _document(one: Packed) -> dict[str, Any]:
    docket = asdict(one.docket)
    docket.pop("id")
    return {
        "docket": docket,
        "history": [structs.asdict(change) for change in one.history],
        "photographs": [
            {"at": photograph.at, "by": photograph.by, "caption": photograph.caption} for photograph in one.photographs
        ],
    }


def _plain(value: Any) -> str:
    if isinstance(value, date | datetime):
        return value.isoformat()
    raise TypeError(f"{value!r} cannot be written")


def _drawing(docket: Docket) -> str:
    """The job's drawing, where it can be drawn."""
    from yarvel.drawing.painters.svg import svg_text
    from yarvel.drawing.paper import A4, MARGIN
    from yarvel.drawing.sheet import sheet
    from yarvel.planning.job import from_document
    from yarvel.planning.plan import plan

    if not is_measured(docket.job_document.get("stone") or {}):
        return ""
    try:
        plan_made = plan(from_document(docket.job_document), HouseRules(), samples=0)
    except JobError:
        return ""
    return svg_text(sheet(plan_made, A4[0] - 2 * MARGIN, 168.0, grips=False))


def read_archive(
    path: Path,
    rules: HouseRules,
    done: Callable[[int, int], None] = lambda _count, _all: None,
    cancel: threading.Event | None = None,
) -> list[Brought]:
    """Read an archive whole, before anything of it is kept; ``done`` is told how many of how many dockets are read.

    Raises
    ------
    JobError : it is no archive of ours, holds paths outside itself, is too large or a bomb, is damaged, or holds what a
        docket cannot be; every problem with its place.
    """
    brought_in = []
    try:
        check_regular(path)
        with zipfile.ZipFile(path) as archive:
            _look(archive, path)
            folders = _folders(archive, path)
            for count, folder in enumerate(folders, start=1):
                if cancel is not None and cancel.is_set():
                    raise _refused(path.name, "cancelled")
                brought_in.append(_unpacked(archive, folder, rules))
                done(count, len(folders))
        return brought_in
    except (
        zipfile.BadZipFile,
        zipfile.LargeZipFile,
        EOFError,
        NotImplementedError,
        RuntimeError,
        zlib.error,
        lzma.LZMAError,
    ) as error:
        raise _refused(path.name, f"damaged, cut off or no archive ({error})") from error
    except OSError as error:
        raise _refused(path.name, error.strerror or str(error) or "cannot be read") from error
    except (TypeError, ValueError, OverflowError, KeyError, AttributeError, RecursionError, StoreError) as error:
        raise _refused(path.name, f"holds what no docket can be ({error})") from error


def _look(archive: zipfile.ZipFile, path: Path) -> None:
    """Names and sizes, before anything is unpacked."""
    files = archive.infolist()
    if len(files) > MOST_FILES or sum(file.file_size for file in files) > MOST_BYTES:
        raise _refused(path.name, f"{len(files)} files, {sum(file.file_size for file in files) / 1e6:.0f} MB unpacked")
    for file in files:
        parts = PurePosixPath(file.filename).parts
        if file.filename.startswith(("/", "\\")) or ".." in parts or ":" in file.filename or "\\" in file.filename:
            raise _refused(path.name, f"the path {file.filename!r} leads out of the archive")
        if file.file_size > 1_000_000 and file.file_size > MOST_RATIO * max(file.compress_size, 1):
            raise _refused(path.name, f"{file.filename!r} unpacks to {file.file_size / 1e6:.0f} MB from almost nothing")
        if "/photographs/" in file.filename and file.file_size > MOST_PICTURE:
            raise _refused(path.name, f"{file.filename!r} is {file.file_size / 1e6:.0f} MB")
        if file.filename.endswith(".json") and file.file_size > MOST_JSON:
            raise _refused(path.name, f"{file.filename!r} is {file.file_size / 1e6:.0f} MB")


def _folders(archive: zipfile.ZipFile, path: Path) -> list[str]:
    head = _json(archive, "archive.json")
    if head.get("format") != FORMAT:
        raise _refused(path.name, f"its format is {head.get('format')!r}")
    folders = head.get("dockets")
    if not isinstance(folders, list) or not all(isinstance(name, str) and name and "/" not in name for name in folders):
        raise _refused("archive.json", "names no dockets")
    return folders


def _json(archive: zipfile.ZipFile, name: str) -> dict[str, Any]:
    try:
        document = json.loads(archive.read(name), parse_constant=_no_number)
    except KeyError as error:
        raise _refused(name, "is not in it") from error
    except (ValueError, RecursionError) as error:
        raise _refused(name, f"no JSON ({error})") from error
    if not isinstance(document, dict):
        raise _refused(name, "no JSON object")
    try:
        check_value(name, document)
    except StoreError as error:
        raise _refused(name, str(error).removeprefix(name)) from error
    return document


def _no_number(word: str) -> float:
    raise ValueError(f"{word} is no number")


def _unpacked(archive: zipfile.ZipFile, folder: str, rules: HouseRules) -> Brought:
    name = f"{folder}/docket.json"
    document = _json(archive, name)
    docket = _docket(document.get("docket"), name, rules)
    try:
        history = tuple(
            Change(
                _moment(row["at"]),
                str(row["field"]),
                row.get("before"),
                row.get("after"),
                str(row.get("by", "")),
            )
            for row in document.get("history", [])
        )
        photographs = tuple(
            _photograph(archive, f"{folder}/photographs/{number:02d}.jpg", row)
            for number, row in enumerate(document.get("photographs", []), start=1)
        )
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise _refused(name, f"history or photographs are not whole ({error})") from error
    return Brought(docket, history, photographs)


def _photograph(archive: zipfile.ZipFile, name: str, row: dict[str, Any]) -> tuple[SmallPhotograph, str, str, datetime]:
    return (
        small_photograph(archive.read(name), Path(name)),
        str(row.get("caption", "")),
        str(row.get("by", "")),
        _moment(row["at"]),
    )


def _moment(text: str) -> datetime:
    """A time as Yarvel writes it: UTC, without zone; one with a zone is brought to that."""
    moment = datetime.fromisoformat(text)
    return moment if moment.tzinfo is None else moment.astimezone(UTC).replace(tzinfo=None)


def _docket(held: Any, name: str, rules: HouseRules) -> Docket:
    """A docket whose every field is what it has to be."""
    from yarvel.exchange.job_file import checked_job

    if not isinstance(held, dict):
        raise _refused(name, "holds no docket")
    job = held.get("job_document")
    if not isinstance(job, dict) or job.get("format") != JOB_FORMAT:
        raise _refused(name, "holds no job")
    stone = job.get("stone") or {}
    if not isinstance(stone, dict):
        raise _refused(name, "holds no stone")
    checked_job(job if is_measured(stone) else {**job, "stone": {**stone, **stand_in(stone)}}, rules)
    texts = {text: held.get(text, "") for text in _TEXTS}
    if not all(isinstance(value, str) and len(value) <= _LONGEST for value in texts.values()):
        raise _refused(name, "a text is no text, or too long")
    if held.get("state") not in STATES or not isinstance(held.get("number"), str):
        raise _refused(name, f"state {held.get('state')!r} or number is not one")
    try:
        promised = None if held.get("promised_on") is None else date.fromisoformat(held["promised_on"])
        created, updated = (_moment(held[key]) for key in ("created_at", "updated_at"))
        numbers = {key: None if held.get(key) is None else float(held[key]) for key in _NUMBERS}
    except (KeyError, TypeError, ValueError) as error:
        raise _refused(name, f"a date, weight or price is none ({error})") from error
    documents = {key: held.get(key, {}) for key in DOCUMENTS}
    ticks = held.get("ticks", [])
    if not all(isinstance(value, dict) for value in documents.values()) or not isinstance(ticks, list):
        raise _refused(name, "claw chart, measures or ticks are not whole")
    docket = Docket(
        id=0,
        number=held["number"],
        customer=texts["customer"],
        item=texts["item"],
        promised_on=promised,
        state=held["state"],
        job_document=job,
        drafts={},
        ticks=tuple(str(tick) for tick in ticks),
        version=1,
        created_at=created,
        updated_at=updated,
    )
    details: dict[str, Any] = {key: {**texts, **documents, **numbers}[key] for key in DETAILS}
    return replace(docket, **details)


def _refused(where: str, wrong: str) -> JobError:
    return JobError([Problem(where, wrong, _ACCEPTED)])
