"""Reading and writing job files, with errors that say where, what, and what is accepted."""

from __future__ import annotations

import json
import types
from functools import cache
from pathlib import Path
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from pydantic import TypeAdapter, ValidationError

from yarvel.exchange.reading import check_regular
from yarvel.figures.custom import PREFIX as OWN_PREFIX
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.rules import HouseRules
from yarvel.planning.checking import check
from yarvel.planning.effects import effective, without_effect
from yarvel.planning.job import CHOICES, CUSTOM_FIELDS, FORMAT, Between, Count, Job, from_document, to_document
from yarvel.stones.cuts import CUTS

MOST_BYTES = 1_000_000
"""A job file is a few hundred bytes; one over this size is not read."""

_UNITS = {"mm": "mm", "ct": "ct", "deg": "degrees", "percent": "per cent"}


@cache
def _adapter() -> TypeAdapter[Job]:
    return TypeAdapter(Job)


def read_job(path: Path, rules: HouseRules) -> Job:
    """Read a job file.

    Raises
    ------
    JobError : the file is missing, too large, not text, no job, or an impossible one; or it says what has no effect.
    """
    try:
        check_regular(path)
        with path.open("rb") as file:
            raw = file.read(MOST_BYTES + 1)
    except OSError as error:
        raise JobError([Problem(str(path), error.strerror or "cannot be read", "a readable job file")]) from error
    if len(raw) > MOST_BYTES:
        raise JobError([Problem(str(path), "the file is over 1 MB", "a job file up to 1 MB")])
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise JobError([Problem(str(path), "the file is not UTF-8 text", f"a {FORMAT} JSON document")]) from error
    job = parse_job(text, rules)
    if problems := without_effect(job):
        raise JobError(problems)
    return job


def parse_job(text: str, rules: HouseRules) -> Job:
    """A job from the text of its JSON document, checked whole.

    Raises
    ------
    JobError : with every problem found.
    """
    try:
        job = from_document(to_document(_adapter().validate_json(text, strict=True)))
    except ValidationError as error:
        problems = _problems(error)
        foreign = [problem for problem in problems if problem.path == "format" and problem.wrong != "missing"]
        raise JobError(foreign or problems) from error  # of another document nothing else counts
    check(job, rules)
    return job


def checked_job(document: dict[str, Any], rules: HouseRules) -> Job:
    """A job from a document held in memory, checked whole (JobError where it does not hold)."""
    return parse_job(json.dumps(document), rules)


def job_text(job: Job) -> str:
    """The job as the text of a job file, without what has no effect."""
    return json.dumps(to_document(effective(job)), indent=2, ensure_ascii=False) + "\n"


def warm() -> None:
    """Make ready what reading the first job needs: 0.17 s of a processor, better spent while a window opens."""
    _adapter()


def schema() -> dict[str, Any]:
    """The JSON Schema of the job file, with the words that list fields take."""
    json_schema = _adapter().json_schema(mode="validation")
    json_schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    json_schema["title"] = FORMAT
    names = {
        "stone": "StoneJob",
        "head": "HeadJob",
        "shank": "ShankJob",
        "shank.size": "SizeJob",
        "shank.shoulder": "ShoulderJob",
        "shank.resized_from": "SizeJob",
        "fit": "FitJob",
        "fit.bail": "BailJob",
        "fit.bail.bought": "BoughtBailJob",
        "joints": "JointsJob",
        "setting": "SettingJob",
        "repair": "RepairJob",
    }
    for path, words in CHOICES.items():
        part, name = path.rsplit(".", 1)
        taken: dict[str, Any] = {"enum": list(words)}
        if path in CUSTOM_FIELDS:  # which of its own a workshop knows stands in its house rules
            taken = {"anyOf": [taken, {"pattern": f"^{OWN_PREFIX}"}]}
        json_schema["$defs"][names[part]]["properties"][name].update(taken)
    long = [key for key, cut in CUTS.items() if not cut.is_round]
    json_schema["$defs"]["StoneJob"].update(
        {
            "if": {"properties": {"cut": {"enum": long}}, "required": ["cut"]},
            "then": {"required": ["length_mm", "width_mm"]},
            "else": {"required": ["diameters_mm"]},
        }
    )
    return json_schema


def accepted(path: str) -> str:
    """What the field at a dotted path accepts, in words; path parts that are numbers count as list places."""
    if path in CHOICES:
        own = " or one of the workshop's own" if path in CUSTOM_FIELDS else ""
        return f"one of {', '.join(CHOICES[path])}{own}"
    kind: Any = Job
    for name in path.split("."):
        if name.isdigit():
            kind = next((arg for arg in _flat(kind) if get_origin(arg) is tuple), kind)
            kind = get_args(kind)[0] if get_args(kind) else kind
            continue
        part = next((arm for arm in _flat(kind) if hasattr(arm, "__dataclass_fields__")), None)
        hints = get_type_hints(part, include_extras=True) if part is not None else {}
        if name not in hints:
            return "see yarvel plan --schema"
        kind = hints[name]
    return _in_words(kind, path)


def _flat(kind: Any) -> list[Any]:
    if get_origin(kind) is Annotated:
        return [kind, *_flat(get_args(kind)[0])]
    if get_origin(kind) in (Union, types.UnionType):
        return [arm for argument in get_args(kind) for arm in _flat(argument)]
    return [kind]


def _in_words(kind: Any, path: str) -> str:
    unit = next((word for end, word in _UNITS.items() if end in path.rsplit(".", 1)[-1].split("_")), "")
    if path == "fit.height" or path.startswith("stone.diameters_mm."):
        unit = "mm"
    words: list[str] = []
    for arm in _flat(kind):
        if get_origin(arm) is Annotated:
            for extra in arm.__metadata__:
                if isinstance(extra, Between):
                    whole = "a whole number, " if arm.__origin__ is int else ""
                    words.append(f"{whole}{extra.low:g} to {extra.high:g} {unit}".rstrip())
                elif isinstance(extra, Count):
                    words.append(f"a list of {extra.least} to {extra.most} readings of 0.5 to 40 mm")
        elif get_origin(arm) is Literal:
            words += [f'"{word}"' for word in get_args(arm)]
        elif arm is bool:
            words.append("true or false")
        elif arm is str:
            words.append("a text in quotes")
        elif hasattr(arm, "__dataclass_fields__"):
            words.append("an object with " + ", ".join(arm.__dataclass_fields__))
    return " or ".join(dict.fromkeys(words)) or "see yarvel plan --schema"


def _problems(error: ValidationError) -> list[Problem]:
    problems: dict[str, Problem] = {}
    for item in error.errors(include_url=False):
        names = [str(name) for name in item["loc"] if not _is_branch(name)]
        path = ".".join(name or '""' for name in names)
        if item["type"] == "json_invalid":
            problems["file"] = Problem("file", item["msg"].removeprefix("Invalid JSON: "), f"a {FORMAT} JSON document")
        elif item["type"] in ("unexpected_keyword_argument", "extra_forbidden"):
            parent = path.rsplit(".", 1)[0] if "." in path else ""
            known = accepted(parent) if parent else "format, stone, head, shank, fit"
            problems[path] = Problem(path, "unknown key", known.replace("an object with ", ""))
        elif item["type"] in ("missing", "missing_argument"):
            problems[path] = Problem(path, "missing", accepted(path))
        else:
            given = json.dumps(item["input"], default=str)
            short = given if len(given) <= 60 else given[:57] + "…"
            problems.setdefault(path or "file", Problem(path or "file", f"{short} is not accepted", accepted(path)))
    return [
        problem for path, problem in problems.items() if not any(other.startswith(f"{path}.") for other in problems)
    ]


def _is_branch(name: Any) -> bool:
    text = str(name)
    return text.startswith(("constrained-", "literal[", "function-", "float", "tuple["))
