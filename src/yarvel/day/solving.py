"""A better plan by constraint programming (OR-Tools CP-SAT): the whole workshop where it is small, else a window of
steps at a time, taken only where it is not worse. Slow to import: used in a process of its own."""

from __future__ import annotations

import random
import threading
import time
from collections.abc import Callable, Collection

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from ortools.sat.python import cp_model

from yarvel.day.shop import (
    DAY_SLOTS,
    MOVE_SLOTS,
    SHIFT_SLOTS,
    Assignment,
    Order,
    Schedule,
    Shop,
    Step,
    cost,
    is_moved,
    weighed,
)
from yarvel.day.turns import in_turns
from yarvel.figures.lookup import first_of

WHOLE_STEPS = 150
"""Up to so many steps the whole workshop is one model."""
_TURNS_SHARE, _MANY_TURNS_SHARE, _TURNS_SECONDS, _REPEATED_ROUNDS = 0.65, 0.9, 0.9, 2000
"""What share of the time whole dockets are given out in turn, at few steps and at many, and how many seconds at least;
how many rounds, where it must repeat. At 480 steps a minute of windows gained 2 to 6 %
of what is late after that."""
WINDOW_STEPS = 24
WINDOW_SECONDS = 0.5

_WINDOW_WORKERS = 1
"""With two, OR-Tools 9 ended by a segmentation fault in most runs of a minute of windows; with one in none of them, and
the plans were as good."""
_LOOK_SECONDS = 0.1

_LATE_SHARE = 0.65
"""How often a window is laid round a late docket rather than round an instant."""
_SCALE = 20
"""Of one slot of lateness in the objective; hand-overs and ends weigh less than one."""
_SUBSOLVERS = ("quick_restart_no_lp", "objective_lb_search")
Key = tuple[int, int]


class Limits(Struct, frozen=True):
    """How long one solution may take: seconds, or (for what must repeat) deterministic time with one worker."""

    seconds: float = 10.0
    deterministic: float | None = None
    workers: int = 2
    seed: int = 1


_USUAL_LIMITS = Limits()


class Improved(Struct, frozen=True):
    """The best plan found; ``proved`` where none is better."""

    plan: Schedule
    proved: bool


def judged(shop: Shop, plan: Schedule, shown: Schedule | None) -> float:
    """What the solver weighs: lateness, moves against the plan shown, hand-overs and ends."""
    plan_cost = cost(shop, plan)
    return weighed(shop, plan, shown) * _SCALE + plan_cost.handed + plan_cost.ends / max(len(shop.orders), 1) / 10


def improve(
    shop: Shop,
    start: Schedule,
    shown: Schedule | None = None,
    limits: Limits = _USUAL_LIMITS,
    tell: Callable[[Schedule], None] = lambda _plan: None,
    stopped: Callable[[], bool] = lambda: False,
) -> Improved:
    """The best plan found from ``start`` on within the limits; ``tell`` gets each better one as it comes. ``shown``:
    the plan that people have seen, from which steps are moved only where that is worth it. ``stopped`` is asked several
    times a second whether to end."""
    began, chance = time.monotonic(), random.Random(limits.seed)
    start = _in_turns(shop, start, shown, limits, tell, stopped)
    if shop.count <= WHOLE_STEPS:
        left = replace(limits, seconds=max(limits.seconds - (time.monotonic() - began), 0.05))
        return _solve(shop, start, shown, None, left, tell, stopped)
    best, held = start, judged(shop, start, shown)
    while (rest := limits.seconds - (time.monotonic() - began)) > 0 and not stopped():
        window = _window(shop, best, chance)
        if not window:
            break
        small = Limits(min(WINDOW_SECONDS, rest), limits.deterministic, _WINDOW_WORKERS, limits.seed)
        plan = _solve(shop, best, shown, window, small, lambda _plan: None, stopped).plan
        worth = judged(shop, plan, shown)
        if worth < held:
            best, held = plan, worth
            tell(best)
        elif worth == held:
            best = plan
    return Improved(best, False)


def _in_turns(
    shop: Shop,
    start: Schedule,
    shown: Schedule | None,
    limits: Limits,
    tell: Callable[[Schedule], None],
    stopped: Callable[[], bool],
) -> Schedule:
    """A better plan to start from, by whole dockets in turn."""
    rounds, workers = (10**9, limits.workers) if limits.deterministic is None else (_REPEATED_ROUNDS, 1)
    share = _TURNS_SHARE if shop.count <= WHOLE_STEPS else _MANY_TURNS_SHARE
    seconds = min(max(limits.seconds * share, _TURNS_SECONDS), limits.seconds)
    return in_turns(shop, start, seconds, rounds, limits.seed, tell, stopped, shown, workers)


def kept_by_all(shop: Shop, start: Schedule, limits: Limits = _USUAL_LIMITS) -> bool | None:
    """Whether there is a plan in which nobody is late: proved either way, or None within the limits."""
    model = _Model(shop, start, None, None, strict=True)
    state = _solver(limits).solve(model.model)
    if state in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return True
    return False if state == cp_model.INFEASIBLE else None


def _window(shop: Shop, held: Schedule, chance: random.Random) -> set[Key]:
    """Steps to plan anew: a late docket with those that stand in its way, or the hours round an instant."""
    free = [step.key for _, step in shop.steps() if step.start is None]
    if not free:
        return set()
    late = [order for order in shop.orders if order.steps and order.due is not None and _end(order, held) > order.due]
    if late and chance.random() < _LATE_SHARE:
        order = chance.choices(late, [late_order.weight for late_order in late])[0]
        mine = [step.key for step in order.steps if step.start is None]
        people = {held[key].person for key in mine}
        end = _end(order, held)
        rivals = [key for key in free if held[key].person in people and held[key].start <= end and key not in mine]
        chance.shuffle(rivals)
        wanted = [*mine, *rivals][: max(WINDOW_STEPS, len(mine))]
    else:
        middle = held[chance.choice(free)].start
        wanted = sorted(free, key=lambda key: abs(held[key].start - middle))[:WINDOW_STEPS]
    tasks = {task for task, _ in wanted}
    return {key for key in free if key[0] in tasks}


def _end(order: Order, plan: Schedule) -> int:
    last = order.steps[-1]
    return plan[last.key].start + last.slots


class _Model:
    """The steps in ``free`` as variables, all others as time that is taken."""

    def __init__(
        self,
        shop: Shop,
        hint: Schedule,
        shown: Schedule | None,
        free: Collection[Key] | None,
        strict: bool = False,
    ) -> None:
        self.shop, self.hint, self.shown, self._strict = shop, hint, shown, strict
        self.model = cp_model.CpModel()
        self.free = {step.key for _, step in shop.steps()} if free is None else set(free)
        last = max((place.start for place in hint.values()), default=0)
        self.horizon = min(shop.axis.size, last + 2 * len(shop.axis.left_in_block) // max(len(shop.axis.days), 1) + 100)
        self.starts: dict[Key, cp_model.IntVar] = {}
        self.presences: dict[Key, dict[int, cp_model.IntVar]] = {}
        self._by_person: list[list[cp_model.IntervalVar]] = [[] for _ in shop.hands]
        self._by_station: dict[str, list[cp_model.IntervalVar]] = {name: [] for name in shop.stations}
        self._terms: list[cp_model.LinearExprT] = []
        for order in shop.orders:
            if any(step.key in self.free for step in order.steps):
                self._order(order)
        self._taken()
        for intervals in self._by_person:
            self.model.add_no_overlap(intervals)
        for name, intervals in self._by_station.items():
            if shop.stations[name] == 1:
                self.model.add_no_overlap(intervals)
            else:
                self.model.add_cumulative(intervals, [1] * len(intervals), shop.stations[name])
        if not self._strict:
            self.model.minimize(sum(self._terms))

    def _order(self, order: Order) -> None:
        """One docket: its steps one after the other, how late it is, and its hand-overs."""
        ready: cp_model.LinearExprT = order.release
        known: int | None = order.release
        for place, step in enumerate(order.steps):
            if step.key not in self.free:
                hinted = self.hint[step.key]
                if known is None:
                    self.model.add(ready <= hinted.start)
                known = int(self.shop.axis.after(step.wait)[hinted.start + step.slots])
                ready = known
                continue
            self._step(step, known or 0)
            start = self.starts[step.key]
            if known is None or known > 0:
                self.model.add(start >= ready)
            self._same_hands(order, place)
            last = place + 1 == len(order.steps)
            ready, known = (start + step.slots, None) if last else (self._after(step, start), None)
        if known is None:
            self._lateness(order, ready)
            self._terms.append(2 * ready)

    def _step(self, step: Step, earliest: int) -> None:
        axis, model, hinted = self.shop.axis, self.model, self.hint[step.key]
        fits = np.flatnonzero(axis.left_in_block[: self.horizon] >= step.slots)
        fits = fits[fits >= earliest]
        if step.station in self.shop.shut:
            fits = fits[self._opens(step)[fits]]
        fixed = step.start is not None and hinted.start == step.start
        if fixed:
            domain = cp_model.Domain(hinted.start, hinted.start)
        else:
            cuts = np.flatnonzero(np.diff(fits) > 1)
            edges = np.concatenate([[0], cuts + 1]), np.concatenate([cuts, [len(fits) - 1]])
            domain = cp_model.Domain.from_intervals(
                [[int(fits[hand]), int(fits[other])] for hand, other in zip(*edges, strict=True)]
            )
        start = model.new_int_var_from_domain(domain, f"s{step.key}")
        model.add_hint(start, hinted.start)
        people = step.people if step.person is None else (step.person,)
        chosen = {}
        for person in people:
            there = model.new_bool_var(f"p{step.key}.{person}")
            model.add_hint(there, hinted.person == person)
            self._by_person[person].append(
                model.new_optional_fixed_size_interval_var(start, step.slots, there, f"i{step.key}.{person}")
            )
            chosen[person] = there
        model.add_exactly_one(chosen.values())
        if step.station in self._by_station:
            self._by_station[step.station].append(model.new_fixed_size_interval_var(start, step.slots, f"t{step.key}"))
        self.starts[step.key], self.presences[step.key] = start, chosen
        before = None if self.shown is None else self.shown.get(step.key)
        if before is not None:
            stays = model.new_bool_var(f"k{step.key}")
            model.add(start >= before.start - SHIFT_SLOTS).only_enforce_if(stays)
            model.add(start <= before.start + SHIFT_SLOTS).only_enforce_if(stays)
            if before.person in chosen:
                model.add_implication(stays, chosen[before.person])
            else:
                model.add(stays == 0)
            model.add_hint(stays, not is_moved(before, hinted))
            self._terms.append(int(MOVE_SLOTS * _SCALE * 20) * (1 - stays))

    def _opens(self, step: Step) -> np.ndarray[tuple[int, ...], np.dtype[np.bool_]]:
        """Of every slot, whether a step that begins there is over before its station shuts."""
        free = self.shop.opens(step.station) == np.arange(self.shop.axis.size + 1)
        shut = np.concatenate([[0], np.cumsum(~free)])
        last = np.minimum(np.arange(len(free)) + step.slots, len(free))
        open_slots: np.ndarray[tuple[int, ...], np.dtype[np.bool_]] = shut[last] == shut[: len(free)]
        return open_slots

    def _same_hands(self, order: Order, place: int) -> None:
        """Pieces of one task have the same hands; between tasks a hand-over costs a little."""
        step, before = order.steps[place], order.steps[place - 1] if place else None
        if before is None:
            return
        mine, theirs = self.presences[step.key], self.presences.get(before.key)
        if theirs is None:
            person = self.hint[before.key].person
            if step.task == before.task and person in mine:
                self.model.add(mine[person] == 1)
            elif person in mine:
                self._terms.append(20 * (1 - mine[person]))
            return
        if step.task == before.task:
            for person in mine.keys() & theirs.keys():
                self.model.add(mine[person] == theirs[person])
            return
        same = self.model.new_bool_var(f"h{step.key}")
        self.model.add_hint(same, self.hint[step.key].person == self.hint[before.key].person)
        for person in mine:
            if person in theirs:
                self.model.add_implication(mine[person], theirs[person]).only_enforce_if(same)
            else:
                self.model.add(mine[person] == 0).only_enforce_if(same)
        self._terms.append(20 * (1 - same))

    def _after(self, step: Step, start: cp_model.IntVar) -> cp_model.LinearExprT:
        """When the next step may begin."""
        if step.wait <= 0:
            return start + step.slots
        table = self.shop.axis.after(step.wait)[step.slots : self.horizon + step.slots + 1]
        ready = self.model.new_int_var(0, self.shop.axis.size, f"w{step.key}")
        self.model.add_element(start, [int(value) for value in table], ready)
        self.model.add_hint(ready, int(table[min(self.hint[step.key].start, len(table) - 1)]))
        return ready

    def _lateness(self, order: Order, end: cp_model.LinearExprT) -> None:
        if order.due is None:
            return
        if self._strict:
            self.model.add(end <= order.due)
            return
        axis, weight = self.shop.axis, round(order.weight * _SCALE * 20)
        done = _end(order, self.hint)
        late = self.model.new_int_var(0, axis.size, f"l{order.key}")
        self.model.add(late >= end - order.due)
        self.model.add_hint(late, max(done - order.due, 0))
        self._terms.append(weight * late)
        first = int((axis.evenings >= order.due).argmax()) if order.due > 0 else -1
        before: cp_model.IntVar | None = None
        for evening in [
            order.due,
            *(int(evening_slot) for evening_slot in axis.evenings[first + 1 :] if evening_slot < self.horizon),
        ]:
            over = self.model.new_bool_var(f"d{order.key}.{evening}")
            self.model.add(end <= evening).only_enforce_if(~over)
            self.model.add_hint(over, done > evening)
            if before is not None:
                self.model.add_implication(over, before)
            self._terms.append(weight * int(DAY_SLOTS) * over)
            before = over

    def _taken(self) -> None:
        """Absences and everything that is not planned anew, merged where it overlaps."""
        for person, hands in enumerate(self.shop.hands):
            away = [*hands.away]
            away += [
                (self.hint[step.key].start, self.hint[step.key].start + step.slots)
                for _, step in self.shop.steps()
                if step.key not in self.free and self.hint[step.key].person == person
            ]
            for begin, end in _merged(away):
                name = f"a{person}.{begin}"
                self._by_person[person].append(self.model.new_fixed_size_interval_var(begin, end - begin, name))
        for _, step in self.shop.steps():
            if step.key not in self.free and step.station in self._by_station:
                begin = self.hint[step.key].start
                self._by_station[step.station].append(
                    self.model.new_fixed_size_interval_var(begin, step.slots, f"u{step.key}")
                )

    def plan(self, value: Callable[[cp_model.IntVar], int]) -> Schedule:
        """The plan that the solver found."""
        schedule = dict(self.hint)
        for key, start in self.starts.items():
            person = first_of(hand for hand, there in self.presences[key].items() if value(there))
            schedule[key] = Assignment(person, value(start))
        return schedule


def _merged(spans: list[tuple[int, int]]) -> list[tuple[int, int]]:
    merged: list[tuple[int, int]] = []
    for begin, end in sorted(spans):
        if end <= begin:
            continue
        if merged and begin <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(merged[-1][1], end))
        else:
            merged.append((begin, end))
    return merged


class _Teller(cp_model.CpSolverSolutionCallback):
    """Tells of each better plan as the solver finds it."""

    def __init__(self, held: _Model, tell: Callable[[Schedule], None]) -> None:
        super().__init__()
        self._held, self._tell = held, tell

    def on_solution_callback(self) -> None:
        """One more solution."""
        self._tell(self._held.plan(self.value))


def _solver(limits: Limits) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.linearization_level = 0
    solver.parameters.cp_model_probing_level = 0  # presolve would take all of the time there is
    solver.parameters.max_presolve_iterations = 1
    solver.parameters.random_seed = limits.seed
    solver.parameters.max_time_in_seconds = limits.seconds
    solver.parameters.num_workers = 1 if limits.deterministic is not None else limits.workers
    if limits.deterministic is not None:
        solver.parameters.max_deterministic_time = limits.deterministic
    elif limits.workers > 1:
        solver.parameters.extra_subsolvers.extend(_SUBSOLVERS)
    return solver


def _stop_when(solver: cp_model.CpSolver, stopped: Callable[[], bool], over: threading.Event) -> None:
    """End a search that nobody waits for any more."""
    while not over.wait(_LOOK_SECONDS):
        if stopped():
            solver.stop_search()


def _solve(
    shop: Shop,
    hint: Schedule,
    shown: Schedule | None,
    free: Collection[Key] | None,
    limits: Limits,
    tell: Callable[[Schedule], None],
    stopped: Callable[[], bool],
) -> Improved:
    model = _Model(shop, hint, shown, free)
    solver = _solver(limits)
    best = judged(shop, hint, shown)

    def better(plan: Schedule) -> None:
        nonlocal best
        worth = judged(shop, plan, shown)
        if worth < best:
            best = worth
            tell(plan)

    over = threading.Event()
    watch = threading.Thread(target=_stop_when, args=(solver, stopped, over), daemon=True)
    watch.start()
    state = solver.solve(model.model, _Teller(model, better))
    over.set()
    watch.join()
    if state not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Improved(hint, False)
    improved_plan = model.plan(solver.value)
    if judged(shop, improved_plan, shown) > judged(
        shop, hint, shown
    ):  # the hint is not given back before presolve is over
        improved_plan = hint
    return Improved(improved_plan, state == cp_model.OPTIMAL and free is None)
