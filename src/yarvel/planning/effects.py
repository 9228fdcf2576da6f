"""Fields of a job that would do nothing: which they are, and the job without them.

A job file that holds one is refused, since whoever wrote it expects something of it. A docket may hold what another
style or fit once read; a change in the window drops it, and a job that is written out leaves it behind.
"""

from __future__ import annotations

from dataclasses import fields, replace

from yarvel.figures.errors import Problem
from yarvel.heads import rings, tube, vees
from yarvel.heads.style import BOUGHT
from yarvel.heads.styles import STYLES, head_fields
from yarvel.planning.compatibility import RINGS_OWN, fields_of
from yarvel.planning.job import LOWEST, FitJob, HeadJob, Job
from yarvel.shanks import basket_point, inset, peg
from yarvel.shanks.methods import METHODS, PENDANT

_ANY_STYLE = ("style", "metal", "exists", "made")

OF_METHODS = ("below_ring_mm", "hole", "split_mm", "let_mm")
"""Fields of a fit that only some methods read."""
_OF_ONE = {"slot": inset.METHOD, "ring": inset.METHOD, "bail": PENDANT}


def without_effect(job: Job) -> list[Problem]:
    """The fields that say something and change nothing, each with what is accepted instead."""
    if job.head.style not in STYLES:
        return []
    return [*_of_head(job), *_of_fit(job)]


def effective(job: Job) -> Job:
    """The job without what has no effect: the same plan."""
    head, fit = HeadJob(), FitJob()
    gone = [problem.path.split(".", 1) for problem in without_effect(job)]
    of_head = {name: getattr(head, name) for part, name in gone if part == "head"}
    of_fit = {name: getattr(fit, name) for part, name in gone if part == "fit"}
    job_effective = replace(job, head=replace(job.head, **of_head)) if of_head else job
    return replace(job_effective, fit=replace(job.fit, **of_fit)) if of_fit and job.fit is not None else job_effective


def read_by(style: str, method: str | None) -> tuple[str, ...]:
    """The fields of a head that a style reads, and those that a fit reads of it."""
    more = ("peg_mm",) if method == peg.METHOD or STYLES[style].COMES == BOUGHT else ()
    return (*STYLES[style].FIELDS, *more)


def _of_head(job: Job) -> list[Problem]:
    head, usual = job.head, HeadJob()
    method = None if job.fit is None else job.fit.method
    read = {*fields_of(head), *read_by(head.style, method), *_ANY_STYLE}
    if head.rings == 0 and "rings" in read:
        read -= set(RINGS_OWN)
    if head.made is not None or head.tube is not None:
        read |= set(STYLES[head.style].FIELDS)  # told with its own reason where the head is checked
    label = STYLES[head.style].LABEL.lower()
    problems = [
        Problem(f"head.{field.name}", f"has no effect on {label}", _accepted(field.name))
        for field in fields(HeadJob)
        if field.name not in read and getattr(head, field.name) != getattr(usual, field.name)
    ]
    if tube.OUTSIDE in read and head.outside_mm is not None and not job.stone.diameters_mm:
        problems.append(Problem(f"head.{tube.OUTSIDE}", "a strip is bent round a stone that is not round", "no value"))
    if "ring_lift_mm" in read and head.rings == 1 and head.ring_lift_mm is not None:
        problems.append(Problem("head.ring_lift_mm", "one ring lies under the girdle, none at the foot", "no value"))
    if "ring_high_mm" in read and head.ring_high_mm is not None and head.ring_section != rings.STRIP:
        problems.append(
            Problem("head.ring_high_mm", "wire is as high as it is wide", "no value, or ring_section strip")
        )
    if "v_foot_mm" in read and head.v_foot_mm is not None and head.v_from != vees.SOLID:
        accepted = f"no value, or v_from {vees.SOLID}"
        problems.append(Problem("head.v_foot_mm", "strip that is folded is as thick below as above", accepted))
    return problems


def _accepted(name: str) -> str:
    if name == "peg_mm":
        return "no value, or peg as the fit"
    styles = ", ".join(key for key, style in STYLES.items() if name in style.FIELDS)
    return f"no value, or one of the styles that read it: {styles}" if name in head_fields() or styles else "no value"


def _of_fit(job: Job) -> list[Problem]:
    fit, usual = job.fit, FitJob()
    if fit is None:
        return []
    read = METHODS[fit.method].FIELDS if fit.method in METHODS else ()
    label = METHODS[fit.method].LABEL.lower() if fit.method in METHODS else "a pendant"
    problems = [
        Problem(f"fit.{name}", f"has no effect on {label}", "no value")
        for name in OF_METHODS
        if name not in read and getattr(fit, name) != getattr(usual, name)
    ]
    problems += [
        Problem(f"fit.{name}", f"has no effect on {label}", f"no value, or {method} as the method")
        for name, method in _OF_ONE.items()
        if fit.method != method and getattr(fit, name) != getattr(usual, name)
    ]
    if fit.height == LOWEST:
        return problems
    if fit.method == PENDANT:
        problems.append(Problem("fit.height", "a pendant stands on no finger", LOWEST))
    elif fit.method == basket_point.METHOD and job.head.rings == 1 and "rings" in STYLES[job.head.style].FIELDS:
        problems.append(
            Problem("fit.height", "with one ring the claws below it decide", f"{LOWEST}, fit.below_ring_mm")
        )
    return problems
