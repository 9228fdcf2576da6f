"""Release: nothing is handed over unchecked without a name and a reason."""

from __future__ import annotations

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.records import HANDED_OVER, Docket, DocketEdit
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.rights import NotAllowedError

CHECKED = "checked"
"""The reason of a release with no check open."""


def check_release(docket: Docket, edit: DocketEdit, author: Author) -> None:
    """Refuse an edit of this docket, as it is stored, that hands over without saying who released it; a reason is
    wanted where checks were open, which the edit tells in ``release_reason`` (the word "checked" where none were: and
    then something was).

    Raises
    ------
    StoreError : no name, no reason, or "checked" where nothing was ticked and nothing measured.
    NotAllowedError : somebody who signed in releases in another's name.
    """
    state, released_by, reason = docket.state, docket.released_by, docket.release_reason
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
    looked_at = [value for name in ("ticks", "measured") for value in (getattr(docket, name), edit.fields.get(name))]
    if why.split(";")[0].strip().casefold() == CHECKED and not any(looked_at):
        raise StoreError(
            "handed over: “checked”, and no check is ticked and nothing measured: tick what was looked at, or say why "
            "it leaves unchecked"
        )
