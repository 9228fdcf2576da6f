"""What is not stored yet, on disk: each edit and act is written down as it is made, so that neither a crash nor a
server that is away loses it."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict
from datetime import date, datetime
from pathlib import Path
from typing import Any

from yarvel.workshop.acts import Act
from yarvel.workshop.dockets import DocketEdit
from yarvel.workshop.journal import Journal

NEW = 0
"""Stands for a docket that is not taken in yet."""
REFUSED = "refused.log"


class WaitingEdits:
    """Edits of dockets that this window has made and the store has not acknowledged, one JSON object a line."""

    def __init__(self, folder: Path) -> None:
        self._folder, self._journal = folder, Journal(folder, "jsonl")

    def add(self, docket_id: int, edit: DocketEdit) -> None:
        """Write an edit down (OSError where the disk is full or cannot be written to)."""
        self._journal.add(_line(docket_id, edit))

    def replace(self, waiting: Mapping[int, DocketEdit]) -> None:
        """Only these wait now (OSError: those that waited still do)."""
        self._journal.replace(_line(docket_id, edit) for docket_id, edit in waiting.items())

    def taken_over(self) -> dict[int, DocketEdit]:
        """What windows that are gone have left, by docket; their files go away with ``forget``."""
        found: dict[int, DocketEdit] = {}
        for line in self._journal.left():
            for docket_id, edit in _read(line):
                found[docket_id] = found[docket_id].then(edit) if docket_id in found else edit
        return found

    def put_aside(self, docket_id: int, edit: DocketEdit, why: str) -> Path:
        """What the store will not take is kept for people to read; returns the file (OSError where it cannot be)."""
        self._folder.mkdir(parents=True, exist_ok=True)
        path = self._folder / REFUSED
        with path.open("a", encoding="utf-8") as file:
            file.write(json.dumps({"why": why}) + " " + _line(docket_id, edit) + "\n")
        return path

    def forget(self) -> None:
        """What was taken over is written down here by now: away with the others' files."""
        self._journal.forget()

    def close(self) -> None:
        """Let go of the file; away with it where nothing waits."""
        self._journal.close()


class WaitingActs:
    """Acts on tasks and the fine book that wait for the store, in the order in which they were done."""

    def __init__(self, folder: Path) -> None:
        self._journal = Journal(folder, "acts")

    def replace(self, acts: Iterable[Act]) -> None:
        """Only these wait now (OSError: those that waited still do)."""
        self._journal.replace(json.dumps({**asdict(act), "at": act.at.isoformat()}) for act in acts)

    def taken_over(self) -> list[Act]:
        """What windows that are gone have left; their files go away with ``forget``."""
        found = []
        for line in self._journal.left():
            try:
                held = json.loads(line)
                found.append(
                    Act(str(held["name"]), dict(held["arguments"]), datetime.fromisoformat(held["at"]), str(held["by"]))
                )
            except (ValueError, KeyError, TypeError):
                continue  # cut off at the end: it was never finished
        return found

    def forget(self) -> None:
        """What was taken over is written down here by now: away with the others' files."""
        self._journal.forget()

    def close(self) -> None:
        """Let go of the file; away with it where nothing waits."""
        self._journal.close()


def _line(docket_id: int, edit: DocketEdit) -> str:
    return json.dumps({"docket": docket_id, **asdict(edit)}, default=_dated)


def _dated(value: Any) -> Any:
    if isinstance(value, date):
        return {"date": value.isoformat()}
    raise TypeError(f"{value!r} cannot be written down")


def _read(line: str) -> list[tuple[int, DocketEdit]]:
    """The edit of a whole line; one that was cut off at the end was never finished."""
    try:
        held = json.loads(line)
        return [
            (
                int(held["docket"]),
                DocketEdit(
                    tuple(held["job_patches"]),
                    _undated(held["fields"]),
                    tuple(held["job_seen"]),
                    _undated(held["fields_seen"]),
                ),
            )
        ]
    except (ValueError, KeyError, TypeError):
        return []


def _undated(fields: dict[str, Any]) -> dict[str, Any]:
    return {
        name: date.fromisoformat(value["date"]) if isinstance(value, dict) and set(value) == {"date"} else value
        for name, value in fields.items()
    }
