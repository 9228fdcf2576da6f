"""Job files: what is read, what is refused and how."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import BASE
from tests.strategies import documents, jobs, json_values
from yarvel.exchange.job_file import MOST_BYTES, accepted, checked_job, job_text, parse_job, read_job, schema
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.planning.effects import effective, without_effect
from yarvel.planning.job import Job, merge_patch
from yarvel.planning.plan import plan
from yarvel.planning.weighing import weighed

RULES = HouseRules()


def refusal(**parts: Any) -> str:
    with pytest.raises(JobError) as caught:
        checked_job(merge_patch(BASE, parts), RULES)
    return str(caught.value)


BAD: list[tuple[dict[str, Any], str]] = [
    ({"stone": {"diameters_mm": [-6.5]}}, "stone.diameters_mm.0: -6.5 is not accepted: 0.5 to 40 mm"),
    ({"stone": {"diameters_mm": [6.5, 0]}}, "stone.diameters_mm.1: 0 is not accepted: 0.5 to 40 mm"),
    ({"stone": {"diameters_mm": ["6,5"]}}, 'stone.diameters_mm.0: "6,5" is not accepted: 0.5 to 40 mm'),
    ({"stone": {"diameters_mm": []}}, "stone.diameters_mm: [] is not accepted: a list of 1 to 12 readings"),
    ({"stone": {"depth_mm": float("nan")}}, "stone.depth_mm: NaN is not accepted: 0.2 to 40 mm"),
    ({"stone": {"depth_mm": 1e308}}, "is not accepted: 0.2 to 40 mm"),
    ({"stone": {"depth_mm": True}}, "stone.depth_mm: true is not accepted: 0.2 to 40 mm"),
    ({"stone": {"depth_mm": 7.0}}, "stone.depth_mm: 7 mm is more than the stone is wide, 6.5 mm: a depth"),
    ({"stone": {"depth_mm": 0.2}}, "stone.depth_mm: 0.2 mm leaves nothing beside the parts measured"),
    ({"stone": {"diameters_mm": [5.0, 6.5]}}, "stone.diameters_mm: readings from 5 to 6.5 mm are too far apart"),
    ({"stone": {"table_percent": 91}}, "stone.table_percent: 91 is not accepted: 30 to 90 per cent"),
    ({"stone": {"cut": "blob"}}, "stone.cut: unknown cut 'blob': one of round"),
    ({"stone": {"species": "kryptonite"}}, "stone.species: unknown species 'kryptonite': one of diamond, ruby"),
    ({"stone": {"colour": "blue"}}, "stone.colour: unknown key: diameters_mm, length_mm, width_mm"),
    ({"head": {"claws": 9}}, "head.claws: 9 is not accepted: a whole number, 3 to 8"),
    ({"head": {"claws": 4.5}}, "head.claws: 4.5 is not accepted: a whole number, 3 to 8"),
    ({"head": {"claw_mm": 2.9}}, "head.claw_mm: claw wire of 2.9 mm is too thick for a stone of 6.5 mm"),
    ({"head": {"metal": "cheese"}}, "head.metal: unknown metal 'cheese': one of 18k-yellow"),
    ({"shank": {"size": {"system": "UK", "value": "?"}}}, "shank.size.value: '?' is no UK size: UK letter A to Z"),
    ({"shank": {"size": {"system": "moon"}}}, "shank.size.system: unknown system 'moon': one of ISO, US"),
    ({"shank": {"size": None}}, "shank.size: missing: an object with system, value"),
    ({"fit": {"method": "glue"}}, "fit.method: unknown method 'glue': one of inset, on-flat"),
    ({"fit": {"height": "high"}}, 'fit.height: "high" is not accepted: 1 to 25 mm or "lowest"'),
    ({"format": "yarvel-job/2"}, 'format: "yarvel-job/2" is not accepted: "yarvel-job/1"'),
    ({"stone": None}, "stone: missing: an object with diameters_mm"),
]


@pytest.mark.parametrize(("parts", "told"), BAD)
def test_one_line_says_where_what_and_what_is_accepted(parts: dict[str, Any], told: str) -> None:
    lines = refusal(**parts).splitlines()
    assert any(told in line for line in lines), lines


def test_every_problem_is_told_at_once() -> None:
    told = refusal(stone={"depth_mm": -1, "table_percent": 99}, head={"claws": 1})
    assert len(told.splitlines()) == 3


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ('{"format": "yarvel-job/1", "stone": {"diam', "file: EOF while parsing"),
        ("", "file: EOF"),
        ("[]", "file: [] is not accepted"),
        ("null", "file: null is not accepted"),
        ("{}", "stone: missing"),
    ],
)
def test_truncated_and_foreign_texts(text: str, told: str) -> None:
    with pytest.raises(JobError) as caught:
        parse_job(text, RULES)
    assert told in str(caught.value)


def test_of_another_document_only_its_kind_is_told() -> None:
    with pytest.raises(JobError) as caught:
        parse_job('{"format": "yarvel-plan/1", "stone": {"length": {}}, "calls": []}', RULES)
    assert str(caught.value) == 'format: "yarvel-plan/1" is not accepted: "yarvel-job/1"'


def test_files_that_cannot_be_read(tmp_path: Path) -> None:
    huge, binary = tmp_path / "huge.json", tmp_path / "binary.json"
    huge.write_bytes(b" " * (MOST_BYTES + 1))
    binary.write_bytes(b"\xff\xfe\x00\x01")
    for path, told in (
        (huge, "over 1 MB"),
        (binary, "not UTF-8"),
        (tmp_path, "Is a directory"),
        (tmp_path / "none.json", "No such file"),
    ):
        with pytest.raises(JobError, match=told):
            read_job(path, RULES)


@given(json_values)
def test_nothing_foreign_gets_past_a_clear_refusal(value: Any) -> None:
    for document in (value, {"format": "yarvel-job/1", "stone": value}, merge_patch(BASE, {"head": {"claws": value}})):
        try:
            parse_job(json.dumps(document), RULES)
        except JobError as error:
            assert all(problem.path and problem.wrong and problem.accepted for problem in error.problems)


@given(st.text(max_size=60))
def test_no_text_breaks_the_reader(text: str) -> None:
    with pytest.raises(JobError):
        parse_job(text, RULES)


@given(jobs())
def test_what_is_written_reads_back(job: Job) -> None:
    """Less what has no effect, and with the same plan."""
    read = parse_job(job_text(job), RULES)
    assert read == effective(job) and not without_effect(read)
    assert plan(read, RULES, samples=0).figures == plan(job, RULES, samples=0).figures


@given(documents())
def test_the_schema_accepts_what_the_reader_accepts(document: dict[str, Any]) -> None:
    """Names and required keys of the schema against documents within every field's range."""
    made = schema()
    stone = made["$defs"]["StoneJob"]
    assert set(document["stone"]) <= set(stone["properties"])
    branch = "then" if stone["if"]["properties"]["cut"]["enum"].count(document["stone"]["cut"]) else "else"
    assert set(stone[branch]["required"]) <= set(document["stone"])
    assert stone["additionalProperties"] is False
    assert set(document["head"]) <= set(made["$defs"]["HeadJob"]["properties"])


def test_the_schema_lists_the_words_that_fields_take() -> None:
    made = schema()["$defs"]
    assert made["FitJob"]["properties"]["method"]["enum"] == [
        "inset",
        "on-flat",
        "let-in",
        "fish-mouth",
        "peg",
        "basket-point",
        "split-shoulder",
        "cast-on",
        "pendant",
    ]
    assert "platinum-950" in made["HeadJob"]["properties"]["metal"]["anyOf"][0]["enum"]
    assert accepted("shank.profile") == "one of flat, square, half-round, court"


def test_the_plan_document_has_the_names_that_others_rely_on() -> None:
    job = checked_job(merge_patch(BASE, {"fit": {"method": "inset"}}), RULES)
    document = plan_document(weighed(plan(job, RULES, 100)))
    assert document["format"] == "yarvel-plan/1"
    rooms = {
        "stone": {
            "mean_diameter",
            "depth",
            "crown_height",
            "girdle",
            "pavilion_depth",
            "weight_formula",
            "weight_model",
            "volume",
        },
        "head": {
            "claw",
            "inner_opening",
            "outer_over_claws",
            "upper_ring_outer",
            "upper_ring_wire_length",
            "lower_ring_outer",
            "lower_ring_wire_length",
            "claw_length",
            "u_piece_length",
            "height",
            "mass",
            "claw_azimuths_deg",
        },
        "seat": {
            "depth",
            "notch_ratio",
            "first_cut",
            "remaining",
            "opening",
            "plane_above_finger",
            "culet_clearance",
            "bur_steps_mm",
        },
        "shank": {
            "inside_diameter",
            "inside_circumference",
            "blank_length",
            "gap_inside",
            "gap_outside",
            "mark_half",
            "mark_half_outside",
            "hollow_limit",
            "cut_length",
            "removed_arc_deg",
            "size_if_sprung",
            "mass",
        },
    }
    for room, names in rooms.items():
        assert names <= set(document[room]), room
    figure = document["head"]["inner_opening"]
    assert set(figure) == {"value", "plus_minus", "unit", "label", "formula", "source"}
    assert figure["formula"] == "D − 2·ρ·w"
    assert set(document["joints"][0]) >= {"what", "grade", "flow_c", "order", "group"}
    assert {joint["group"] for joint in document["joints"]} >= {"shank-seam", "upper-ring-seam", "head-to-shank"}
    known = [(line["key"], set(line)) for line in document["route"]]
    names = "kind key on joints count text look figures minutes skills station wait_minutes when caution state"
    names += " takes gives loss_g by_turns waits_for_reading"
    assert all(held == set(names.split()) for _, held in known)
    assert len({key for key, _ in known}) == len(known)
    assert {"stock", "balance", "balance_by_metal"} <= set(document)
    heats = [line for line in document["route"] if line["kind"] in ("solder", "anneal")]
    assert all(line["station"] == "torch" and line["state"]["stone"] == "absent" for line in heats)
    assert sum("Torch" in (line["caution"] or "") for line in heats) == 2, "each caution once, where it is first needed"
    gap = next(line["state"]["parts"]["shank"] for line in document["route"] if line["key"] == "fit-ends-gap")
    assert gap == {"temper": "annealed", "shape": "sawn-open"}
    assert set(document["calls"][0]) >= {"code", "level", "figure", "limit", "unit", "message", "remedy"}
    json.dumps(document, allow_nan=False)
