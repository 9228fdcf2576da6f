"""Who made something: what is stored stands under this person's name and by this person's rights, whoever sits at the
window when the store takes it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Author:
    """Somebody who works here and signed in (``id``), or only the name of a machine's account (None).

    ``token`` is what a team's server gave for the PIN; it stands on nobody's screen and in no history.
    """

    name: str = ""
    id: int | None = None
    token: str = field(default="", repr=False, compare=False)

    @property
    def signed(self) -> bool:
        """Whether a PIN said so."""
        return self.id is not None

    def document(self) -> dict[str, Any]:
        """As it is written down with what waits."""
        return {"name": self.name, "id": self.id, "token": self.token}


def author_from(held: object) -> Author:
    """An author as written down; nobody where that is none."""
    if not isinstance(held, Mapping):
        return Author()
    number = held.get("id")
    return Author(str(held.get("name", "")), number if isinstance(number, int) else None, str(held.get("token", "")))


NOBODY = Author()
