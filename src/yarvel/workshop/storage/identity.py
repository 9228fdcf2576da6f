"""What names a thing that was done, wherever it is written down: made where the key is pressed, never again for
anything else. The store's own count orders acts, never the time in their names."""

from __future__ import annotations

import hashlib
import json
import os
import uuid
from collections.abc import Mapping
from datetime import UTC, date, datetime
from typing import Any

from msgspec import Struct

from yarvel.clock import now

_VERSION, _VARIANT = 0x7 << 12, 0b10 << 62


def new_id() -> str:
    """A new name: a UUID of version 7 (RFC 9562, section 5.7): 48 bits of milliseconds, the rest chance."""
    ms = int(now().replace(tzinfo=UTC).timestamp() * 1000) & (2**48 - 1)
    chance = int.from_bytes(os.urandom(10), "big")
    high = (ms << 16) | _VERSION | (chance >> 68)
    return str(uuid.UUID(int=(high << 64) | _VARIANT | (chance & (2**62 - 1))))


def is_of_before(act: str) -> bool:
    """Whether a name was given to what was written before things done had names (layout 0021: a UUID of version 8, made
    from what stood there)."""
    return act[14:15] == "8"


class Stamp(Struct, frozen=True, kw_only=True):
    """One thing done: ``id`` its name, ``deed`` what kind of thing it is, ``digest`` of its content (a name stands for
    one content), ``pressed`` when the key was pressed (UTC, by the machine's clock), ``follows`` the act that this one
    goes on from, answers for or takes back."""

    id: str
    deed: str
    digest: str = ""
    pressed: datetime | None = None
    follows: str = ""


def digest_of(content: Mapping[str, Any]) -> str:
    """What tells one content from another: SHA-256 of it, keys in order."""
    return hashlib.sha256(json.dumps(content, sort_keys=True, default=_plain).encode()).hexdigest()


def _plain(value: object) -> object:
    if isinstance(value, date):
        return value.isoformat()
    return str(value)
