"""Release: nothing is handed over unchecked without a name and a reason."""

from __future__ import annotations

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.records import HANDED_OVER, DocketEdit
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.rights import NotAllowedError


def check_release(state: str, released_by: str, reason: str, edit: DocketEdit, author: Author) -> None:
    """Refuse an edit that hands over without saying who released it; ``reason`` is wanted where checks were open, which
    the edit tells in ``release_reason`` (the word "checked" where none were).

    Raises
    ------
    StoreError : no name, or no reason.
    NotAllowedError : somebody who signed in releases in another's name.
    """
    said = str(edit.fields.get("released_by", "")).strip()
    if author.signed and said not in ("", author.name):
        raise NotAllowedError(f"released by {said}: {author.name} is signed in: nobody releases in another's name")
    if edit.fields.get("state", state) != HANDED_OVER or state == HANDED_OVER:
        return
    name = str(edit.fields.get("released_by", released_by)).strip()
    why = str(edit.fields.get("release_reason", reason)).strip()
    if not name or not why:
        raise StoreError(
            "handed over: nothing leaves without a name and a reason: who releases it, and “checked” or why not all "
            "checks are closed"
        )
