"""A route as it is told: sections of operations, each line once, cautions once, and the tasks that people take."""

from __future__ import annotations

from collections.abc import Callable
from itertools import groupby

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.figure import Figure
from yarvel.operations import lot as lots
from yarvel.operations.cautions import caution_of
from yarvel.planning.plan import Plan
from yarvel.route.balance import balances, given_back, taken
from yarvel.route.checks import mark_of
from yarvel.route.drawing import lot_text
from yarvel.route.hazards import in_the_work
from yarvel.route.offer import FINISH, FIT, HEAD, MEND, RELEASE, SEAT, SET, SHANK, SOLDER, STOCK, TAKE_IN
from yarvel.route.running import Route, RouteStep

SECTIONS = {
    TAKE_IN: ("take-in", "Take in"),
    STOCK: ("stock", "Cut the metal"),
    SHANK: ("shank", "Make the shank"),
    HEAD: ("head", "Make the head"),
    MEND: ("mend", "Mend the head"),
    FIT: ("fit", "Fit head and shank"),
    SOLDER: ("solder", "Solder"),
    SEAT: ("seat", "Cut the seat"),
    SET: ("set", "Set the stone"),
    FINISH: ("finish", "Finish"),
    RELEASE: ("release", "Check before release"),
}
"""Sections by the stage that their operations belong to: a key that stays, and what it is called."""
CHECK = "release"

LABELS: dict[str, str] = {
    **dict(SECTIONS.values()),
    "clean": "Clean",
    "tighten": "Tighten",
    "re-tip": "Re-tip",
    "new-claws": "New claws",
    "new-head-bought": "New head from the drawer",
    "new-head-made": "New head by hand",
}
"""What a section is called by its key; also those that tasks of before have."""
_LONG_WAIT_MINUTES = 20.0
"""From what wait on nobody stands by: a shorter one is passed at the bench."""
_SHORT_MINUTES = 10.0
"""What takes less is done with what comes next, by the same hands."""


class CardLine(Struct, frozen=True):
    """One operation as it is read: ``mark`` stands for it once it is ticked, and no longer when a figure has moved. The
    pickling after a heat belongs to that heat (``more``)."""

    key: str
    mark: str
    text: str
    step: RouteStep
    more: tuple[RouteStep, ...] = ()

    @property
    def minutes(self) -> float:
        """Minutes with hands, by standard."""
        return sum(step.operation.minutes for step in (self.step, *self.more))


class Section(Struct, frozen=True):
    """Operations that follow each other and belong together; ``caution`` what can hurt, where it is first needed."""

    key: str
    name: str
    lines: tuple[CardLine, ...]
    caution: str = ""

    @property
    def minutes(self) -> float:
        """Minutes with hands, by standard."""
        return sum(line.minutes for line in self.lines)

    @property
    def station(self) -> str:
        """Where most of it is done."""
        by_station: dict[str, float] = {}
        for line in self.lines:
            for step in (line.step, *line.more):
                operation = step.operation
                by_station[operation.kind.station] = by_station.get(operation.kind.station, 0.0) + operation.minutes
        return max(by_station.items(), key=lambda held: held[1])[0]

    @property
    def wait_minutes(self) -> float:
        """Minutes without hands once it is done: of its last operation, and of what would have hands wait long inside
        it (these do something else meanwhile)."""
        waits = [step.operation.kind.wait_minutes for line in self.lines for step in (line.step, *line.more)]
        return sum(wait for wait in waits[:-1] if wait >= _LONG_WAIT_MINUTES) + waits[-1]

    @property
    def skills(self) -> frozenset[str]:
        """Skills of which any does for the longest part of it."""
        by_skill: dict[tuple[str, ...], float] = {}
        for line in self.lines:
            skills = line.step.operation.kind.skills
            by_skill[skills] = by_skill.get(skills, 0.0) + line.minutes
        longest = max(by_skill.items(), key=lambda held: held[1])
        return frozenset(longest[0])


def sections(route: Route, plan: Plan, once: bool = True) -> tuple[Section, ...]:
    """The whole route, section by section; each caution once, where it is first needed, or (``once`` False) with every
    section that needs it, where these are read apart."""
    sections_made: list[Section] = []
    warned: set[str] = set()
    seen: dict[str, int] = {}
    work = in_the_work(plan)
    for stage, steps_of_stage in groupby(route.steps, key=lambda step: step.operation.stage):
        steps = list(steps_of_stage)
        key, name = SECTIONS[stage]
        if key == "fit" and plan.job.shank is None:
            name = "Hang it"
        seen[key] = seen.get(key, 0) + 1
        if seen[key] > 1:  # somebody moved an operation
            key, name = f"{key}-{seen[key]}", f"{name}, once more"
        cautions = dict.fromkeys(caution_of(step.operation, work) for step in steps)
        fresh = [caution for caution in cautions if caution and (caution not in warned or not once)]
        warned.update(fresh)
        sections_made.append(Section(key, name, _lines(steps, plan), " ".join(fresh)))
    return tuple(sections_made)


def _lines(steps: list[RouteStep], plan: Plan) -> tuple[CardLine, ...]:
    lines: list[CardLine] = []
    for step in steps:
        if lines and _by_turns(lines[-1], step):
            last, turns = lines[-1], step.operation.turns
            text = f"{last.text} {step.operation.text}"
            if turns is not None and turns.keys[-1] == step.operation.key:
                text += f" By turns, usually {turns.usual} times, until {turns.until}."
            lines[-1] = replace(last, text=text, more=(*last.more, step))
            continue
        pickled = step.operation.kind.key == "pickle" and not step.unmet
        if pickled and lines and lines[-1].key in step.operation.after:
            last = lines[-1]
            lines[-1] = replace(last, text=f"{last.text} {step.operation.text}", more=(*last.more, step))
        else:
            lines.append(line_of(step, plan))
    return tuple(lines)


def _by_turns(last: CardLine, step: RouteStep) -> bool:
    """Whether an operation is done by turns with the one before it, and stands where that can be done."""
    turns, before = step.operation.turns, last.step.operation.turns
    return turns is not None and turns == before and step.operation.key != turns.keys[0] and not step.unmet


def line_of(step: RouteStep, plan: Plan) -> CardLine:
    """One operation in words, with what to look at, and what does not hold where it stands."""
    operation = step.operation
    text = operation.text if operation.text.endswith((".", "!", "?")) else f"{operation.text}."
    if operation.look:
        text += f" Look: {operation.look}."
    if step.unmet:
        text += f" Does not hold here: {'; '.join(step.unmet)}."
    figures: tuple[Figure, ...] = tuple(plan.figures[key] for key in operation.figures if key in plan.figures)
    return CardLine(operation.key, mark_of(operation.key, figures), text, step)


def metal_lines(route: Route, plan: Plan, label: Callable[[str], str]) -> tuple[str, ...]:
    """Cutting list and balance; ``label`` names an alloy."""
    poured_together = lots.poured_together(taken(route))
    lot_lines = [f"{lot_text(lot)}." for lot in poured_together if lot.form != lots.SOLDER]
    chips: dict[tuple[str, str], tuple[int, float]] = {}
    for lot in poured_together:
        if lot.form == lots.SOLDER:
            count, grams = chips.get((lot.piece, lot.metal), (0, 0.0))
            chips[lot.piece, lot.metal] = count + lot.count, grams + lot.grams
    lot_lines += [
        f"{piece}, {label(metal)}: {count} chip{'s' if count > 1 else ''}, about {grams:.3f} g."
        for (piece, metal), (count, grams) in chips.items()
    ]
    if not plan.volumes:
        return tuple(lot_lines)
    backs = lots.poured_together(given_back(route))
    lot_lines += [f"Comes back: {lot.piece[:1].lower()}{lot.piece[1:]}, {lot.grams:.2f} g." for lot in backs]
    sums = [
        f"{label(metal)}: issue {balance.issue_g:.2f} g, {balance.back_g:.2f} g of offcuts and about "
        f"{balance.filings_g:.2f} g of filings come back"
        for metal, balance in balances(route).items()
    ]
    return (*lot_lines, f"{'; '.join(sums)}.") if sums else tuple(lot_lines)


def tasks(found: tuple[Section, ...]) -> tuple[Section, ...]:
    """Sections as people take them: what is short goes with what follows, where the same hands can do it."""
    merged: list[Section] = []
    carried: tuple[CardLine, ...] = ()
    caution = ""
    for place, section in enumerate(found):
        lines = (*carried, *section.lines)
        whole = Section(section.key, section.name, lines, " ".join(filter(None, (caution, section.caution))))
        following = found[place + 1] if place + 1 < len(found) else None
        short = whole.minutes < _SHORT_MINUTES and following is not None and following.key != CHECK
        if short and following is not None and whole.skills & following.skills:
            carried, caution = lines, whole.caution
            continue
        merged.append(whole)
        carried, caution = (), ""
    return tuple(merged)
