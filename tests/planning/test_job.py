"""Jobs, their documents, and merge patches."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.strategies import jobs, json_values
from yarvel.planning.job import Job, from_document, merge_patch, patch_between, to_document

# RFC 7396, appendix A: the published examples for patches of objects.
RFC_7396 = [
    ({"a": "b"}, {"a": "c"}, {"a": "c"}),
    ({"a": "b"}, {"b": "c"}, {"a": "b", "b": "c"}),
    ({"a": "b"}, {"a": None}, {}),
    ({"a": "b", "b": "c"}, {"a": None}, {"b": "c"}),
    ({"a": ["b"]}, {"a": "c"}, {"a": "c"}),
    ({"a": "c"}, {"a": ["b"]}, {"a": ["b"]}),
    ({"a": {"b": "c"}}, {"a": {"b": "d", "c": None}}, {"a": {"b": "d"}}),
    ({"a": [{"b": "c"}]}, {"a": [1]}, {"a": [1]}),
    ({"e": None}, {"a": 1}, {"e": None, "a": 1}),
    ({}, {"a": {"bb": {"ccc": None}}}, {"a": {"bb": {}}}),
]


@pytest.mark.parametrize(("document", "patch", "result"), RFC_7396)
def test_examples_of_rfc_7396(document: dict[str, Any], patch: dict[str, Any], result: dict[str, Any]) -> None:
    """Published: RFC 7396, JSON Merge Patch."""
    assert merge_patch(document, patch) == result


def _without_nulls(value: Any) -> Any:
    if isinstance(value, dict):
        return {name: _without_nulls(inner) for name, inner in value.items() if inner is not None}
    return value


documents = st.dictionaries(st.text(max_size=3), json_values, max_size=5).map(_without_nulls)


@given(documents, documents)
def test_the_patch_between_two_documents_leads_from_one_to_the_other(
    before: dict[str, Any], after: dict[str, Any]
) -> None:
    assert repr(merge_patch(before, patch_between(before, after))) == repr(
        merge_patch(before, patch_between(before, after))
    )
    led = merge_patch(before, patch_between(before, after))
    assert set(led) == set(after)
    assert {name: repr(value) for name, value in led.items() if not isinstance(value, dict)} == {
        name: repr(value) for name, value in after.items() if not isinstance(value, dict)
    }


@given(jobs())
def test_a_job_and_its_document_are_the_same_thing(job: Job) -> None:
    assert from_document(to_document(job)) == job


def test_a_document_holds_only_what_was_given() -> None:
    job = from_document({"format": "yarvel-job/1", "stone": {"diameters_mm": [5.0]}})
    assert to_document(job) == {"format": "yarvel-job/1", "stone": {"cut": "round", "diameters_mm": [5.0]}, "head": {}}
