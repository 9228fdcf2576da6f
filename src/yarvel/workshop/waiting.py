"""What is not stored yet, on disk: each edit and act is written down as it is made, with who made it and for which
store, so that neither a crash nor a server that is away loses it, and nothing gets into another store or under another
name."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from contextlib import suppress
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path
from typing import Any

from msgspec import Struct, structs

from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, act_from
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.storage.authors import Author, author_from
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.journal import Journal
from yarvel.workshop.storage.on_disk import flush_file

Key = int | str
"""A docket by its number in the store; one that is not taken in yet by the name of the act that takes it in."""
_FORMER_NEW = 0
"""Stood for a docket that was not taken in yet, up to layout 0016."""
REFUSED = "refused.log"
_OF_OTHERS = "of-another-store.log"

Edits = Mapping[Key, tuple[DocketEdit, ...]]
"""Edits by docket, in the order in which they were made; one an act."""


def gathered(held: tuple[DocketEdit, ...], later: DocketEdit) -> tuple[DocketEdit, ...]:
    """Edits of one docket with another one behind them; what stands under one name is one edit."""
    if held and one_edit(held[-1], later):
        return (*held[:-1], held[-1].then(later))
    return (*held, later)


def one_edit(edit: DocketEdit, later: DocketEdit) -> bool:
    """Whether the later one is a part of the other: by its name; where it has none yet, where one author makes both in
    one act, or the history tells nothing of one."""
    if edit.id and later.id:
        return edit.id == later.id
    goes_on = edit.silent or later.silent or (edit.act != "" and edit.act == later.act)
    return edit.author == later.author and goes_on


class Refusal(Struct, frozen=True):
    """Something that the store would not take: what, why, and whose it was."""

    text: str
    author: Author


class Draft(Struct, frozen=True, kw_only=True):
    """A docket that somebody typed here and the store would not take in from them: the name of the act that would have
    taken it in, what was typed, and why not."""

    id: str
    edit: DocketEdit
    why: str


class WaitingEdits:
    """Edits of dockets that this window has made and the store has not acknowledged, one JSON object a line.

    ``store_id`` says of which store they are, once that is known: what waits for another one is put aside.
    """

    def __init__(self, folder: Path, former: Path | None = None) -> None:
        self.folder, self._journal = folder, Journal(folder, "jsonl")
        self._former = None if former is None else Journal(former, "jsonl")
        self.store_id = ""

    def add(self, docket_id: Key, edit: DocketEdit) -> None:
        """Write an edit down (OSError where the disk is full or cannot be written to)."""
        self._journal.add(self._line(docket_id, edit))

    def replace(self, waiting: Edits) -> None:
        """Only these wait now (OSError: those that waited still do)."""
        self._journal.replace(self._line(docket_id, edit) for docket_id, edits in waiting.items() for edit in edits)

    def taken_over(self) -> dict[Key, tuple[DocketEdit, ...]]:
        """What windows that are gone have left, by docket; their files go away with ``forget``."""
        edits_by_docket: dict[Key, tuple[DocketEdit, ...]] = {}
        former_new = new_id()
        for journal in self._journals():
            for line in journal.left():
                read = _read(line)
                if read is None:
                    continue
                docket_id, edit, store_id = read
                if docket_id == _FORMER_NEW:
                    docket_id, edit = former_new, structs.replace(edit, id=former_new)
                if store_id and self.store_id and store_id != self.store_id:
                    self._keep_line(_OF_OTHERS, line)
                    self._journal.spoiled.append(
                        f"An edit that waited here is of another store; it is kept in {self.folder / _OF_OTHERS}."
                    )
                else:
                    edits_by_docket[docket_id] = gathered(edits_by_docket.get(docket_id, ()), edit)
        return edits_by_docket

    @property
    def spoiled(self) -> list[str]:
        """What lay among the edits that could not be read, and what became of it."""
        return [line for journal in self._journals() for line in journal.spoiled]

    def _journals(self) -> Iterator[Journal]:
        yield self._journal
        if self._former is not None:
            yield self._former

    def put_aside(self, docket_id: Key, edit: DocketEdit, why: str) -> Path:
        """What the store will not take is kept for people to read; returns the file (OSError where it cannot be)."""
        return self._keep_line(REFUSED, f"{json.dumps({'why': why})} {self._line(docket_id, edit)}")

    def drafts(self) -> list[Draft]:
        """Dockets of this store that were refused to whoever typed them here, the newest first. They stay in the file,
        whatever becomes of them: the store knows which are taken in."""
        try:
            lines = (self.folder / REFUSED).read_text(encoding="utf-8").splitlines()
        except OSError:
            return []
        by_id: dict[str, Draft] = {}
        for line in lines:
            why, read = _refused(line)
            if read is not None and isinstance(read[0], str) and read[2] in ("", self.store_id):
                by_id.pop(read[0], None)
                by_id[read[0]] = Draft(id=read[0], edit=structs.replace(read[1], id=read[0]), why=why)
        return list(by_id.values())[::-1]

    def _keep_line(self, name: str, line: str) -> Path:
        return keep_line(self.folder / name, line)

    def forget(self) -> None:
        """What was taken over is written down here by now: away with the others' files."""
        for journal in self._journals():
            journal.forget()

    def close(self) -> None:
        """Let go of the file; away with it where nothing waits."""
        self._journal.close()

    def _line(self, docket_id: Key, edit: DocketEdit) -> str:
        document = {
            "docket": docket_id,
            "store": self.store_id,
            "author": edit.author.document(),
            "job_patches": edit.job_patches,
            "fields": edit.fields,
            "job_seen": edit.job_seen,
            "fields_seen": edit.fields_seen,
            "act": edit.act,
            "id": edit.id,
            "follows": edit.follows,
            "pressed": None if edit.pressed is None else edit.pressed.isoformat(),
        }
        return json.dumps(document, default=_dated)


class WaitingActs:
    """Acts on tasks and the fine book that wait for the store, in the order in which they were done."""

    def __init__(self, folder: Path, former: Path | None = None) -> None:
        self.folder, self._journal = folder, Journal(folder, "acts")
        self._former = None if former is None else Journal(former, "acts")

    def replace(self, acts: Iterable[Act]) -> None:
        """Only these wait now (OSError: those that waited still do)."""
        self._journal.replace(json.dumps(act.document()) for act in acts)

    def taken_over(self) -> list[Act]:
        """What windows that are gone have left; their files go away with ``forget``."""
        acts = []
        for journal in self._journals():
            for line in journal.left():
                try:
                    acts.append(act_from(json.loads(line)))
                except (ValueError, AttributeError, StoreError):
                    continue  # cut off at the end: it was never finished
        return acts

    @property
    def spoiled(self) -> list[str]:
        """What lay among the acts that could not be read, and what became of it."""
        return [line for journal in self._journals() for line in journal.spoiled]

    def put_aside(self, act: Act, why: str) -> Path:
        """What the store will not take is kept for people to read (OSError where it cannot be)."""
        return keep_line(self.folder / REFUSED, f"{json.dumps({'why': why})} {json.dumps(act.document())}")

    def _journals(self) -> Iterator[Journal]:
        yield self._journal
        if self._former is not None:
            yield self._former

    def forget(self) -> None:
        """What was taken over is written down here by now: away with the others' files."""
        for journal in self._journals():
            journal.forget()

    def close(self) -> None:
        """Let go of the file; away with it where nothing waits."""
        self._journal.close()


class Refusals:
    """What was refused while its author was not at the window: told when they sign in again, however much later."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._journal = Journal(folder, "told-later")
        self._held: list[Refusal] = []

    def take_over(self) -> None:
        """What windows that are gone have not told yet."""
        for line in self._journal.left():
            try:
                document = json.loads(line)
                self._held.append(Refusal(str(document["text"]), author_from(document["author"])))
            except (ValueError, KeyError, TypeError):
                continue
        with suppress(OSError):  # then they are told where they lie, at the next start
            self._write_down()
            self._journal.forget()

    def add(self, refusal: Refusal) -> None:
        """Keep one until its author is here (OSError where it cannot be written down)."""
        self._held.append(refusal)
        self._write_down()

    def of(self, author: Author) -> list[str]:
        """What is to be told to somebody who is here now; it is told once."""
        mine = [refusal.text for refusal in self._held if refusal.author == author]
        self._held = [refusal for refusal in self._held if refusal.author != author]
        self._write_down()
        return mine

    def _write_down(self) -> None:
        self._journal.replace(
            json.dumps({"text": refusal.text, "author": replace(refusal.author, token="").document()})
            for refusal in self._held
        )

    def close(self) -> None:
        """Let go of the file; away with it where everything is told."""
        self._journal.close()


def keep_line(path: Path, line: str) -> Path:
    """Add a line to a file that people read (OSError where that cannot be)."""
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    with path.open("a", encoding="utf-8") as file:
        file.write(line + "\n")
    path.chmod(0o600)
    flush_file(path)
    return path


def _dated(value: Any) -> Any:
    if isinstance(value, date):
        return {"date": value.isoformat()}
    raise TypeError(f"{value!r} cannot be written down")


def _read(line: str) -> tuple[Key, DocketEdit, str] | None:
    """The docket, edit and store of a whole line; None for one that was cut off at the end: it was never finished."""
    try:
        document = json.loads(line)
        edit = DocketEdit(
            job_patches=tuple(document["job_patches"]),
            fields=_undated(document["fields"]),
            job_seen=tuple(document["job_seen"]),
            fields_seen=_undated(document["fields_seen"]),
            author=author_from(document.get("author")),
            act=str(document.get("act", "")),
            id=str(document.get("id", "")),
            follows=str(document.get("follows", "")),
            pressed=None if document.get("pressed") is None else datetime.fromisoformat(document["pressed"]),
        )
        docket_id = document["docket"]
        return docket_id if isinstance(docket_id, str) else int(docket_id), edit, str(document.get("store", ""))
    except (ValueError, KeyError, TypeError, AttributeError):
        return None


def _refused(line: str) -> tuple[str, tuple[Key, DocketEdit, str] | None]:
    """Of a line of what was refused, why it was, and the edit; None for an act, and for what nobody can read."""
    try:
        why, end = json.JSONDecoder().raw_decode(line)
    except ValueError:
        return "", None
    return (str(why.get("why", "")) if isinstance(why, dict) else ""), _read(line[end:].strip())


def _undated(fields: dict[str, Any]) -> dict[str, Any]:
    return {
        name: date.fromisoformat(value["date"]) if isinstance(value, dict) and set(value) == {"date"} else value
        for name, value in fields.items()
    }
