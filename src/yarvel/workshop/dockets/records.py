"""Dockets as the rest of the program sees them: frozen records, no ORM."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from typing import Any

import msgspec
from msgspec import Struct

from yarvel.workshop.dockets.fields import (
    CHECKED_BY,
    DATE,
    DOCUMENT,
    LIST,
    NOBODY_BY,
    NUMBER,
    PLANNED_BY,
    RELEASED_BY,
    STATE_BY,
    DocketField,
    fields_of,
    history_label,
)
from yarvel.workshop.storage.authors import NOBODY, Author
from yarvel.workshop.storage.identity import Stamp, digest_of

TAKEN_IN, IN_WORK, READY, HANDED_OVER, ON_HOLD = "taken in", "in work", "ready", "handed over", "on hold"

STATES: dict[str, str] = {
    TAKEN_IN: "taken in",
    "planned": "planned",
    IN_WORK: "in work",
    "checking": "checking",
    READY: "ready",
    HANDED_OVER: "handed over",
    ON_HOLD: "on hold",
}
"""Where a docket stands: a key that stays (two words in it are a key like any other), and what it is called."""
PUT_ASIDE = "put aside"
"""How a docket stands that was taken in by mistake: kept with the reason, out of every list, found on asking."""
CUSTOMER_KINDS = ("shop", "person")

IMPORTANCE: dict[str, float] = {"urgent": 4.0, "may wait": 0.4}
"""How pressing a docket can be, and what a minute of its lateness weighs against that of any other (1)."""
_OWN: dict[str, Any] = {"kind": DOCUMENT, "silent": True, "free": True, "by": NOBODY_BY}
"""What the program writes for itself."""
MOST_G, MOST_PRICE = 100_000.0, 1e9

SEVERAL = "edit"
"""The field of a line of history that tells several fields which were changed in one act."""


def file_stem(number: str) -> str:
    """A docket's number as the name of a file: that of a second stone has a stroke in it."""
    return number.replace("/", "-stone-")


@dataclass(frozen=True, kw_only=True)
class Docket:
    """One docket as stored. ``job_document`` may still lack its stone; ``drafts`` maps a field's path to typed
    text that was not accepted; ``ticks`` are the checks ticked off; ``claw_chart`` what was found on each claw of a
    head in for repair, ``measured`` what was measured before release; ``withdrawn`` why it was put aside."""

    id: int
    number: str
    customer: str = field(metadata=history_label("customer", findable=True, copied=True, detail=False))
    item: str = field(metadata=history_label("item", findable=True, copied=True, detail=False))
    promised_on: date | None = field(metadata=history_label("promised for", kind=DATE, copied=True, detail=False))
    state: str = field(metadata=history_label("state", one_of=STATES, findable=True, detail=False, by=STATE_BY))
    job_document: dict[str, Any]
    drafts: dict[str, str] = field(metadata=history_label("drafts", detail=False, **_OWN))
    ticks: tuple[str, ...] = field(metadata=history_label("checks ticked", kind=LIST, detail=False, by=CHECKED_BY))
    version: int
    created_at: datetime
    updated_at: datetime
    customer_kind: str = field(
        default="", metadata=history_label("customer is", one_of=("", *CUSTOMER_KINDS), copied=True)
    )
    metal: str = field(default="", metadata=history_label("metal", findable=True, copied=True))
    mark: str = field(default="", metadata=history_label("mark", findable=True, copied=True))
    reported: str = field(default="", metadata=history_label("reported", findable=True, copied=True))
    condition: str = field(default="", metadata=history_label("condition"))
    weight_in_g: float | None = field(default=None, metadata=history_label("weight in, g", kind=NUMBER, most=MOST_G))
    earlier_number: str = field(default="", metadata=history_label("came before as"))
    claw_chart: dict[str, Any] = field(
        default_factory=dict, metadata=history_label("claw chart", kind=DOCUMENT, by=PLANNED_BY)
    )
    measured: dict[str, Any] = field(
        default_factory=dict, metadata=history_label("measured", kind=DOCUMENT, by=CHECKED_BY)
    )
    released_by: str = field(default="", metadata=history_label("released by", by=RELEASED_BY))
    release_reason: str = field(default="", metadata=history_label("reason of release", by=RELEASED_BY))
    stones_price: float | None = field(
        default=None, metadata=history_label("price of stones", kind=NUMBER, most=MOST_PRICE)
    )
    estimate: dict[str, Any] = field(default_factory=dict, metadata=history_label("estimate", **_OWN))
    withdrawn: str = field(default="", metadata=history_label("put aside"))
    outside_price: float | None = field(
        default=None, metadata=history_label("outside work", kind=NUMBER, most=MOST_PRICE)
    )
    deposit: float | None = field(default=None, metadata=history_label("deposit", kind=NUMBER, most=MOST_PRICE))
    approved: dict[str, Any] = field(default_factory=dict, metadata=history_label("price approved", kind=DOCUMENT))
    importance: str = field(default="", metadata=history_label("importance", one_of=("", *IMPORTANCE), copied=True))

    @property
    def standing(self) -> str:
        """Where it stands, in words: its state, or that it was put aside."""
        return PUT_ASIDE if self.withdrawn else STATES[self.state]


def with_fields(docket: Docket, values: Mapping[str, object]) -> Docket:
    """A docket with some of its fields as they are to be; what they may hold the store checks when it is written."""
    changes: dict[str, Any] = dict(values)
    return replace(docket, **changes)


FIELDS: dict[str, DocketField] = fields_of(Docket)
"""Every field of a docket that can be edited, by name."""
DETAILS = tuple(name for name, docket_field in FIELDS.items() if docket_field.detail)
"""Those beside customer, item, date, state, drafts and ticks."""
SILENT = tuple(name for name, docket_field in FIELDS.items() if docket_field.silent)
"""Those of whose becoming the history says nothing."""
DOCUMENTS = tuple(name for name in DETAILS if FIELDS[name].kind == DOCUMENT)
"""Details that hold an object, merged inside."""


EDIT, NEW_DOCKET = "edit", "take-in"
"""What an edit of a docket, and a docket taken in, are written down as."""


class DocketEdit(Struct, frozen=True, kw_only=True):
    """What to change on a docket: merge patches for its job, one after the other; plain columns by name.

    Patches are kept apart because two merge patches in turn are not always one (a removal, then a new object).
    ``job_seen`` holds beside each patch the one that leads back, ``fields_seen`` what a column held before: with them
    the store knows what somebody else changed meanwhile. A change without them is simply made. ``author`` is who made
    it, where that is not whoever the store acts for. ``act`` names what it is a part of (one drag, one word typed):
    edits of one act are one line of history; one without a name is an act of its own. ``id`` is what the store knows it
    by, from its first attempt on: then it is sealed, and what is typed after it has another one and ``follows`` it.
    ``pressed``: when, UTC.
    """

    job_patches: tuple[dict[str, Any], ...] = ()
    fields: dict[str, Any] = msgspec.field(default_factory=dict)
    job_seen: tuple[dict[str, Any] | None, ...] = ()
    fields_seen: dict[str, Any] = msgspec.field(default_factory=dict)
    author: Author = NOBODY
    act: str = ""
    id: str = ""
    follows: str = ""
    pressed: datetime | None = None

    @property
    def silent(self) -> bool:
        """Whether it changes only what the history does not tell."""
        return not self.job_patches and set(self.fields) <= set(SILENT)

    def __bool__(self) -> bool:
        return bool(self.job_patches or self.fields)

    def then(self, later: DocketEdit) -> DocketEdit:
        """Both edits as one, the later one winning where they meet."""
        later_seen = {name: value for name, value in later.fields_seen.items() if name not in self.fields}
        return DocketEdit(
            job_patches=self.job_patches + later.job_patches,
            fields={**self.fields, **later.fields},
            job_seen=self.seen_by_patch() + later.seen_by_patch(),
            fields_seen={**later_seen, **self.fields_seen},
            author=later.author,
            act=self.act if later.silent else later.act,
            id=self.id,
            follows=self.follows,
            pressed=self.pressed or later.pressed,
        )

    def stamp(self, deed: str = EDIT) -> Stamp | None:
        """What it is written down as; None where it has no name."""
        if not self.id:
            return None
        said = {
            "job_patches": self.job_patches,
            "fields": self.fields,
            "job_seen": self.job_seen,
            "fields_seen": self.fields_seen,
        }
        return Stamp(id=self.id, deed=deed, digest=digest_of(said), pressed=self.pressed, follows=self.follows)

    def seen_by_patch(self) -> tuple[dict[str, Any] | None, ...]:
        """One entry a patch, None where nothing is known."""
        return (*self.job_seen, *[None] * (len(self.job_patches) - len(self.job_seen)))


class Change(Struct, frozen=True):
    """One line of a docket's history: one act.

    ``field`` is what was changed, or ``SEVERAL``: then ``before`` and ``after`` hold each of them by its name. Of the
    job, the claw chart and what was measured they are merge patches, the one that leads back and the one that leads on;
    lines of before hold the whole.
    """

    at: datetime
    field: str
    before: Any
    after: Any
    by: str = ""


class Photograph(Struct, frozen=True, kw_only=True):
    """A photograph as stored: a JPEG of ``width`` by ``height`` pixels."""

    id: int
    at: datetime
    by: str
    caption: str
    width: int
    height: int
    jpeg: bytes
