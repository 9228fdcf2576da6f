"""Dockets as the rest of the program sees them: frozen records, no ORM."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from yarvel.workshop.authors import NOBODY, Author

TAKEN_IN, IN_WORK, READY, HANDED_OVER = "taken in", "in work", "ready", "handed over"
STATES: dict[str, str] = {
    TAKEN_IN: "taken in",
    "planned": "planned",
    IN_WORK: "in work",
    "checking": "checking",
    READY: "ready",
    HANDED_OVER: "handed over",
    "on hold": "on hold",
}
"""Where a docket stands: a key that stays (two words in it are a key like any other), and what it is called."""
PUT_ASIDE = "put aside"
"""How a docket stands that was taken in by mistake: kept with the reason, out of every list, found on asking."""
CUSTOMER_KINDS = ("shop", "person")
DETAILS = (
    "customer_kind",
    "metal",
    "mark",
    "reported",
    "condition",
    "weight_in_g",
    "earlier_number",
    "claw_chart",
    "measured",
    "released_by",
    "release_reason",
    "stones_price",
    "estimate",
    "withdrawn",
)
"""Columns of a docket beside its number, customer, item, date, state and job."""
SILENT = ("drafts", "estimate")
"""Columns that nobody writes: of what becomes of them the history says nothing."""
SEVERAL = "edit"
"""The field of a line of history that tells several fields which were changed in one act."""


def file_stem(number: str) -> str:
    """A docket's number as the name of a file: that of a second stone has a stroke in it."""
    return number.replace("/", "-stone-")


@dataclass(frozen=True)
class Docket:
    """One docket as stored. ``job_document`` may still lack its stone; ``drafts`` maps a field's path to typed
    text that was not accepted; ``ticks`` are the checks ticked off; ``claw_chart`` what was found on each claw of a
    head in for repair, ``measured`` what was measured before release; ``withdrawn`` why it was put aside."""

    id: int
    number: str
    customer: str
    item: str
    promised_on: date | None
    state: str
    job_document: dict[str, Any]
    drafts: dict[str, str]
    ticks: tuple[str, ...]
    version: int
    created_at: datetime
    updated_at: datetime
    customer_kind: str = ""
    metal: str = ""
    mark: str = ""
    reported: str = ""
    condition: str = ""
    weight_in_g: float | None = None
    earlier_number: str = ""
    claw_chart: dict[str, Any] = field(default_factory=dict)
    measured: dict[str, Any] = field(default_factory=dict)
    released_by: str = ""
    release_reason: str = ""
    stones_price: float | None = None
    estimate: dict[str, Any] = field(default_factory=dict)
    withdrawn: str = ""

    @property
    def standing(self) -> str:
        """Where it stands, in words: its state, or that it was put aside."""
        return PUT_ASIDE if self.withdrawn else STATES[self.state]


@dataclass(frozen=True)
class DocketEdit:
    """What to change on a docket: merge patches for its job, one after the other; plain columns by name.

    Patches are kept apart because two merge patches in turn are not always one (a removal, then a new object).
    ``job_seen`` holds beside each patch the one that leads back, ``fields_seen`` what a column held before: with them
    the store knows what somebody else changed meanwhile. A change without them is simply made. ``author`` is who made
    it, where that is not whoever the store acts for. ``act`` names what it is a part of (one drag, one word typed):
    edits of one act are one line of history; one without a name is an act of its own.
    """

    job_patches: tuple[dict[str, Any], ...] = ()
    fields: dict[str, Any] = field(default_factory=dict)
    job_seen: tuple[dict[str, Any] | None, ...] = ()
    fields_seen: dict[str, Any] = field(default_factory=dict)
    author: Author = NOBODY
    act: str = ""

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
            self.job_patches + later.job_patches,
            {**self.fields, **later.fields},
            self.seen_by_patch() + later.seen_by_patch(),
            {**later_seen, **self.fields_seen},
            later.author,
            self.act if later.silent else later.act,
        )

    def seen_by_patch(self) -> tuple[dict[str, Any] | None, ...]:
        """One entry a patch, None where nothing is known."""
        return (*self.job_seen, *[None] * (len(self.job_patches) - len(self.job_seen)))


@dataclass(frozen=True)
class Change:
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


@dataclass(frozen=True)
class Photograph:
    """A photograph as stored: a JPEG of ``width`` by ``height`` pixels."""

    id: int
    at: datetime
    by: str
    caption: str
    width: int
    height: int
    jpeg: bytes
