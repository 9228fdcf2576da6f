"""Two people on one docket: merged where they touch different fields, asked where they touch the same."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.planning.job import FORMAT, patch_between
from yarvel.workshop.dockets.merging import EditClashError, merge, settled
from yarvel.workshop.dockets.records import Docket, DocketEdit
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.store import Store

NAMES = st.sampled_from(("a", "b", "c"))
VALUES = st.integers(0, 3)
DOCUMENTS = st.dictionaries(NAMES, VALUES | st.dictionaries(NAMES, VALUES, max_size=3), max_size=3)


def docket(job: dict[str, Any], **fields: Any) -> Docket:
    made = Docket(
        id=1,
        number="31-0001",
        customer="",
        item="",
        promised_on=None,
        state="planned",
        job_document=job,
        drafts={},
        ticks=(),
        version=1,
        created_at=datetime(2031, 1, 1),
        updated_at=datetime(2031, 1, 1),
    )
    return replace(made, **fields)


def edit_between(before: dict[str, Any], after: dict[str, Any]) -> DocketEdit:
    return DocketEdit(job_patches=(patch_between(before, after),), fields={}, job_seen=(patch_between(after, before),))


def leaves(value: Any, path: str = "job") -> dict[str, Any]:
    """Dotted path to value, of all that is no object."""
    if isinstance(value, dict):
        return {key: found for name, inner in value.items() for key, found in leaves(inner, f"{path}.{name}").items()}
    return {path: value}


@given(DOCUMENTS, DOCUMENTS, DOCUMENTS)
def test_nothing_is_written_over_silently(base: dict[str, Any], mine: dict[str, Any], theirs: dict[str, Any]) -> None:
    """What they set, changed or took away is so afterwards, or a clash names it."""
    merged = merge(docket(theirs), edit_between(base, mine))
    clashes = tuple(clash.path for clash in merged.clashes)
    before, held, result = leaves(base), leaves(theirs), leaves(merged.job_document)
    for path in {*before, *held}:
        if held.get(path) != before.get(path) and result.get(path) != held.get(path):
            assert path.startswith(clashes)
    if theirs == base:
        assert merged.job_document == mine and not merged.clashes
    if mine == base:
        assert merged.job_document == theirs and not merged.clashes


@given(DOCUMENTS, DOCUMENTS, DOCUMENTS)
def test_an_answer_settles_it(base: dict[str, Any], mine: dict[str, Any], theirs: dict[str, Any]) -> None:
    edit, held = edit_between(base, mine), docket(theirs)
    paths = {clash.path for clash in merge(held, edit).clashes}
    for keep in (set(), paths):
        done = merge(held, settled(held, edit, keep))
        assert not done.clashes
        if not keep and not paths:
            assert done.job_document == merge(held, edit).job_document


def test_ticks_of_both_count() -> None:
    edit = DocketEdit(
        job_patches=(), fields={"ticks": ["level", "gap"]}, job_seen=(), fields_seen={"ticks": ["level", "loupe"]}
    )
    assert merge(docket({}, ticks=("level", "loupe", "snag")), edit).fields["ticks"] == ["level", "snag", "gap"]


def test_the_same_column_clashes_and_says_who(store: Store) -> None:
    made = store.new_docket("Saltmarsh", promised_on=date(2031, 5, 2))
    store.author = Author("Yusra")
    store.edit(
        made.id,
        DocketEdit(
            job_patches=(), fields={"customer": "Saltmarsh & Co"}, job_seen=(), fields_seen={"customer": "Saltmarsh"}
        ),
    )
    with pytest.raises(EditClashError, match="customer changed meanwhile by Yusra") as caught:
        store.edit(
            made.id,
            DocketEdit(
                job_patches=(),
                fields={"customer": "Marsh", "item": "ring"},
                job_seen=(),
                fields_seen={"customer": "Saltmarsh", "item": ""},
            ),
        )
    clash = caught.value.clashes[0]
    assert (clash.seen, clash.theirs, clash.mine) == ("Saltmarsh", "Saltmarsh & Co", "Marsh")
    assert store.docket(made.id).item == "", "nothing of a refused edit is written"
    edit = DocketEdit(
        job_patches=(),
        fields={"customer": "Marsh", "item": "ring"},
        job_seen=(),
        fields_seen={"customer": "Saltmarsh", "item": ""},
    )
    store.edit(made.id, settled(caught.value.docket, edit, {"customer"}))
    after = store.docket(made.id)
    assert (after.customer, after.item) == ("Saltmarsh & Co", "ring")


def test_an_answer_that_comes_too_late_asks_again(store: Store) -> None:
    made = store.new_docket(job_document={"format": FORMAT, "stone": {"depth_mm": 3.0}})
    mine = DocketEdit(job_patches=({"stone": {"depth_mm": 3.1}},), fields={}, job_seen=({"stone": {"depth_mm": 3.0}},))
    store.edit(made.id, DocketEdit(job_patches=({"stone": {"depth_mm": 3.2}},)))
    with pytest.raises(EditClashError) as first:
        store.edit(made.id, mine)
    store.edit(made.id, DocketEdit(job_patches=({"stone": {"depth_mm": 3.3}},)))
    with pytest.raises(EditClashError) as second:
        store.edit(made.id, settled(first.value.docket, mine, ()))
    assert second.value.clashes[0].theirs == 3.3
    store.edit(made.id, settled(second.value.docket, mine, ()))
    assert store.docket(made.id).job_document["stone"]["depth_mm"] == 3.1
