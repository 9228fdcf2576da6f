"""Whole dockets laid out in turn, and other turns tried, on slots as the bits of words: compiled (Numba), for a search
lays the same shop out a hundred thousand times. For the process beside the window: importing it takes half a second.

Every row is a line of slots, 64 a word. Hands have one row each, their free time; a station with room for n has n rows,
the k-th of them where k or more are at work. Indices: step, docket (in the order of ``Layout.orders``), row, word.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarvel.day.shop import DAY_SLOTS, MOVE_SLOTS, SHIFT_SLOTS, Assignment, Order, Schedule, Shop, Step
from yarvel.day.timeline import timelines

Words = NDArray[np.uint64]
Ints = NDArray[np.int64]
Floats = NDArray[np.float64]

_ONE, _ALL = np.uint64(1), np.uint64(2**64 - 1)
_WORD = np.uint64(64)
_DE_BRUIJN, _TOP = np.uint64(0x03F79D71B4CB0A89), np.uint64(58)
_PLACES = np.zeros(64, dtype=np.int64)
for _bit in range(64):
    _PLACES[((0x03F79D71B4CB0A89 << _bit) & (2**64 - 1)) >> 58] = _bit
"""Which bit of a word is its only one: C. E. Leiserson, H. Prokop and K. H. Randall, Using de Bruijn sequences to index
a 1 in a computer word (1998)."""
_PUT_BACK, _LATE_UP, _ANYWHERE = 0.3, 0.6, 0.8
"""How often one before a late docket is put back behind it; up to here, the late one is moved up; up to here, any one
anywhere; else two near each other change places."""
_UP_BY, _NEAR_BY, _LOOSER, _HOME = 5.0, 3.0, 0.15, 0.5
"""By how many places, on the average; and how often a docket's steps are let go from where people have seen them, or
held there again, where they have."""


class Layout(NamedTuple):
    """A shop as arrays; -1: none. Of dockets: ``first`` step of each (and one past the last), ``release``, ``due``,
    ``weight``. Of steps: ``slots``, ``task``, ``wait`` (row of ``after``), ``station`` (its first row), ``room``,
    ``opened`` (row of ``opens``), ``person`` and ``start`` where fixed, ``by`` and ``at`` where people have seen them,
    ``people`` from ``able`` on. ``fits`` by length: where it fits between breaks.
    ``evening``: the number of the evening at or after a slot. ``begin``: the rows with what is fixed in them."""

    first: Ints
    release: Ints
    due: Ints
    weight: Floats
    slots: Ints
    task: Ints
    wait: Ints
    station: Ints
    room: Ints
    opened: Ints
    person: Ints
    start: Ints
    by: Ints
    at: Ints
    able: Ints
    people: Ints
    fits: Words
    opens: Words
    after: Ints
    evening: Ints
    begin: Words
    size: int


class DocketSequence(NamedTuple):
    """Dockets in turn, laid out, stage by stage (``rows`` 2 × n + 1: a stage of these turns in ``side``, of those that
    are tried in the other); ``loose`` by docket, whether its steps are let go from where people have seen them; what
    each weighs in its turn, and all before it."""

    order: Ints
    loose: Ints
    side: Ints
    rows: Words
    each: Floats
    before: Floats

    def again(self) -> DocketSequence:
        """The same once more, to go on from on its own."""
        return DocketSequence(
            order=self.order.copy(),
            loose=self.loose.copy(),
            side=self.side.copy(),
            rows=self.rows.copy(),
            each=self.each.copy(),
            before=self.before.copy(),
        )


class Laying:
    """A shop laid out in turns, up to a slot; ``shown``: what people have seen (None: nothing yet)."""

    def __init__(self, shop: Shop, orders: list[Order], until: int, shown: Schedule | None = None) -> None:
        self._orders, self.seen = orders, shown is not None
        self.layout = layout_of(shop, orders, until, shown or {})

    def turns(self, order: Ints, loose: bool | Ints = True) -> DocketSequence | None:
        """These turns laid out, every docket let go or none, or as said of each; None where the axis ends first."""
        count = len(order)
        sequence = DocketSequence(
            order=order.astype(np.int64),
            loose=np.full(count, loose, dtype=np.int64),
            side=np.zeros(count + 1, dtype=np.int64),
            rows=np.zeros((2, count + 1, *self.layout.begin.shape), dtype=np.uint64),
            each=np.zeros(count),
            before=np.zeros(count + 1),
        )
        sequence.rows[0, 0] = self.layout.begin
        sequence.side[1:] = 1
        tried = np.zeros_like(sequence.each)
        if not _laid(self.layout, sequence, sequence.order, sequence.loose, 0, math.inf, tried):
            return None
        _taken(sequence, sequence.order.copy(), sequence.loose.copy(), 0, tried)
        return sequence

    def search(
        self, turns: DocketSequence, chance: np.random.Generator, heat: float, rounds: int, held: float
    ) -> tuple[float, Ints, Ints]:
        """Other turns tried so many times from these on, which become what was gone on with; what the best of them
        weighs, its order and who is let go in it: any, where none weighs less than ``held``."""
        best, loose = turns.order.copy(), turns.loose.copy()
        searched = _searched(self.layout, turns, chance, heat, rounds, held, self.seen, best, loose)
        return float(searched), best, loose

    def plan(self, order: Ints, loose: Ints) -> Schedule:
        """The plan of these turns, which can be laid out."""
        layout, schedule = self.layout, Schedule()
        rows, who, starts = layout.begin.copy(), np.full_like(layout.slots, -1), np.full_like(layout.slots, -1)
        for docket in order:
            _docket(layout, rows, int(docket), loose[docket], who, starts)
            steps = self._orders[docket].steps
            for step, at in zip(steps, range(layout.first[docket], layout.first[docket + 1]), strict=True):
                schedule[step.key] = Assignment(int(who[at]), int(starts[at]))
        return schedule


def layout_of(shop: Shop, orders: list[Order], until: int, shown: Schedule) -> Layout:
    """A shop with these dockets as arrays, up to a slot."""
    size = min(until, shop.axis.size)
    words = -(-size // 64) + 1  # and one that is empty
    steps = [step for order in orders for step in order.steps]
    waits = sorted({step.wait for step in steps if step.wait > 0})
    people = len(shop.hands)
    rows, stations = people, {}
    for name, most in shop.stations.items():
        if most == 1 or 1 < most < people:
            stations[name] = rows, most
            rows += most
    shut = list(shop.shut)
    longest = max((step.slots for step in steps), default=1)
    left = shop.axis.left_in_block[:size]
    begin = np.zeros((rows, words), dtype=np.uint64)
    begin[:people] = [_words(line.free[:size], words) for line in timelines(shop)]
    opens = [_words(shop.opens(name)[:size] == np.arange(size), words) for name in shut]
    able = [len(step.people) for step in steps]
    layout = Layout(
        first=_ints([0, *np.cumsum([len(order.steps) for order in orders])]),
        release=_ints([order.release for order in orders]),
        due=_ints([-1 if order.due is None else order.due for order in orders]),
        weight=np.array([order.weight for order in orders], dtype=np.float64),
        slots=_ints([step.slots for step in steps]),
        task=_ints([step.task for step in steps]),
        wait=_ints([waits.index(step.wait) if step.wait > 0 else -1 for step in steps]),
        station=_ints([stations.get(step.station, (-1, 0))[0] for step in steps]),
        room=_ints([stations.get(step.station, (-1, 0))[1] for step in steps]),
        opened=_ints([shut.index(step.station) if step.station in shut else -1 for step in steps]),
        person=_ints([-1 if step.person is None else step.person for step in steps]),
        start=_ints([-1 if step.start is None or step.person is None else step.start for step in steps]),
        by=_ints([_seen_by(step, shown) for step in steps]),
        at=_ints([shown[step.key].start if step.key in shown else -1 for step in steps]),
        able=_ints([0, *np.cumsum(able)]),
        people=_ints([person for step in steps for person in step.people]),
        fits=np.array([_words(left >= length, words) for length in range(longest + 1)]),
        opens=np.array(opens or np.zeros((1, words)), dtype=np.uint64),
        after=np.array([shop.axis.after(wait) for wait in waits] or np.zeros((1, 1)), dtype=np.int64),
        evening=np.searchsorted(shop.axis.evenings, np.arange(shop.axis.size + 1)),
        begin=begin,
        size=size,
    )
    for step in range(len(steps)):
        if (start := layout.start[step]) >= 0:
            _take(
                begin, layout.person[step], layout.station[step], layout.room[step], start, start + layout.slots[step]
            )
    return layout


def _seen_by(step: Step, shown: Schedule) -> int:
    """Whom people have seen a step with; -1: with nobody, or with hands that cannot do it any more."""
    place = shown.get(step.key)
    return place.person if place is not None and place.person in step.people else -1


def _ints(values: list[Any]) -> Ints:
    return np.array(values, dtype=np.int64)


def _words(flags: NDArray[np.bool_], words: int) -> Words:
    """Flags of slots as bits, the first slot the lowest of the first word."""
    expanded = np.zeros(words * 64, dtype=np.bool_)
    expanded[: len(flags)] = flags
    return np.packbits(expanded, bitorder="little").view(np.uint64)


@njit(cache=True, nogil=True)
def _lateness(shop: Layout, docket: int, end: int) -> float:
    """What it weighs that a docket is done at a slot."""
    due = shop.due[docket]
    if due < 0 or end <= due:
        return 0.0
    late = shop.evening[end] - shop.evening[due] if due > 0 else shop.evening[end] + 1
    return float(shop.weight[docket] * (end - due + DAY_SLOTS * late))


@njit(cache=True, nogil=True)
def _block(word: int, begin: int, end: int) -> np.uint64:
    """The slots from ``begin`` to ``end`` as bits of this word."""
    first, last = max(begin - 64 * word, 0), min(end - 64 * word, 64)
    block = _ALL << np.uint64(first)
    return block if last == 64 else block & ((_ONE << np.uint64(last)) - _ONE)


@njit(cache=True, nogil=True)
def _take(rows: Words, person: int, station: int, room: int, start: int, end: int) -> None:
    """A step takes its time of these hands and a place at its station."""
    for word in range(start >> 6, min(((end - 1) >> 6) + 1, rows.shape[1] - 1)):
        block = _block(word, start, end)
        rows[person, word] &= ~block
        for row in range(station, station + room):
            more = rows[row, word] & block
            rows[row, word] |= block
            block = more


@njit(cache=True, nogil=True)
def _give_back(rows: Words, person: int, station: int, room: int, start: int, end: int) -> None:
    """What :func:`_take` took is free again."""
    for word in range(start >> 6, min(((end - 1) >> 6) + 1, rows.shape[1] - 1)):
        block = _block(word, start, end)
        rows[person, word] |= block
        for row in range(station + room - 1, station - 1, -1):
            less = rows[row, word] & block
            rows[row, word] &= ~less
            block &= ~less


@njit(cache=True, nogil=True)
def _between(
    rows: Words, person: int, full: int, opens: Words, opened: int, fits: Words, slots: int, ready: int, until: int
) -> int:
    """The first slot from ``ready`` to ``until`` on which a step fits with these hands, where its station is not full
    (row ``full``) and open; a number beyond the axis where there is none."""
    last = rows.shape[1] - 2
    if slots > 64:
        return int(_long_between(rows, person, full, opens, opened, fits, slots, ready, until))
    mask = _ALL << np.uint64(ready & 63)
    for word in range(ready >> 6, min(until >> 6, last) + 1):
        low, begins = rows[person, word], fits[slots, word] & mask
        mask = _ALL
        if full >= 0:
            low &= ~rows[full, word]
        if opened >= 0:
            low &= opens[opened, word]
        if low & begins == 0:
            continue
        high, done = rows[person, word + 1], 1
        if full >= 0:
            high &= ~rows[full, word + 1]
        if opened >= 0:
            high &= opens[opened, word + 1]
        while done < slots:
            by = min(done, slots - done)
            low &= (low >> np.uint64(by)) | (high << np.uint64(64 - by))
            high &= high >> np.uint64(by)
            done += by
        low &= begins
        if low != 0:
            only = low & (~low + _ONE)
            return int(64 * word + _PLACES[(only * _DE_BRUIJN) >> _TOP])
    return int(64 * (last + 1))


@njit(cache=True, nogil=True)
def _long_between(
    rows: Words, person: int, full: int, opens: Words, opened: int, fits: Words, slots: int, ready: int, until: int
) -> int:
    """As :func:`_between`, for steps longer than a word: slot by slot."""
    run, last = 0, 64 * (rows.shape[1] - 1)
    for slot in range(ready, min(until + slots, last)):
        word, bit = slot >> 6, np.uint64(slot & 63)
        free = rows[person, word]
        if full >= 0:
            free &= ~rows[full, word]
        if opened >= 0:
            free &= opens[opened, word]
        run = run + 1 if (free >> bit) & _ONE != 0 else 0
        begin = slot - slots + 1
        if run >= slots and (fits[slots, begin >> 6] >> np.uint64(begin & 63)) & _ONE != 0:
            return int(begin)
    return int(last)


@njit(cache=True, nogil=True)
def _docket(shop: Layout, rows: Words, docket: int, loose: int, who: Ints, starts: Ints) -> int:
    """All steps of a docket, each where people have seen it, if that goes; it is let go (``loose``), or was never seen:
    as early as it goes, with the hands that had the step before where others are no sooner. By whom and when goes into
    ``who`` and ``starts``. When it is done; -1 where the axis ends first."""
    ready, last, task = shop.release[docket], -1, -1
    end, size, people = ready, shop.size, shop.people
    for step in range(shop.first[docket], shop.first[docket + 1]):
        person, start, slots = shop.person[step], shop.start[step], shop.slots[step]
        station, room = shop.station[step], shop.room[step]
        if start >= 0 and ready > start:
            _give_back(rows, person, station, room, start, start + slots)
            start = -1
        if start < 0:
            start, full = size, station + room - 1 if room > 0 else -1
            if person < 0 and task == shop.task[step]:
                person = last
            by, at = shop.by[step], shop.at[step]
            stays = not loose and by >= 0 and at >= ready and (person < 0 or person == by)
            if stays and at == _between(rows, by, full, shop.opens, shop.opened[step], shop.fits, slots, at, at):
                start, person = at, by
            elif person >= 0:
                start = _between(rows, person, full, shop.opens, shop.opened[step], shop.fits, slots, ready, size)
            else:
                for place in range(shop.able[step], shop.able[step + 1]):
                    hand = people[place]
                    between = _between(rows, hand, full, shop.opens, shop.opened[step], shop.fits, slots, ready, start)
                    if between < start or (between == start and hand == last):
                        start, person = between, hand
            if start >= size:
                return -1
            _take(rows, person, station, room, start, start + slots)
        who[step], starts[step] = person, start
        last, task, end = person, shop.task[step], start + slots
        ready = end if shop.wait[step] < 0 else shop.after[shop.wait[step], end]
    return int(end)


@njit(cache=True, nogil=True)
def _laid(shop: Layout, turns: DocketSequence, order: Ints, loose: Ints, begin: int, most: float, each: Floats) -> bool:
    """Another ``order``, laid out beside these turns from where it differs; ``each`` takes what lateness and moves
    weigh. False where the axis ends first, or as soon as all of it weighs more than ``most``."""
    who, starts = np.empty_like(shop.slots), np.empty_like(shop.slots)
    total = turns.before[begin]
    rows = turns.rows[turns.side[begin], begin]
    for place in range(begin, len(order)):
        row = turns.rows[1 - turns.side[place + 1], place + 1]
        row[:] = rows
        docket = order[place]
        end = _docket(shop, row, docket, loose[docket], who, starts)
        if end < 0:
            return False
        each[place] = _lateness(shop, docket, end)
        for step in range(shop.first[docket], shop.first[docket + 1]):
            if shop.at[step] >= 0 and (abs(shop.at[step] - starts[step]) > SHIFT_SLOTS or shop.by[step] != who[step]):
                each[place] += MOVE_SLOTS
        total += each[place]
        if total > most:
            return False
        rows = row
    return True


@njit(cache=True, nogil=True)
def _taken(turns: DocketSequence, order: Ints, loose: Ints, begin: int, each: Floats) -> None:
    """What :func:`_laid` laid out is gone on with."""
    for place in range(begin, len(order)):
        turns.order[place], turns.each[place] = order[place], each[place]
        turns.loose[order[place]] = loose[order[place]]
        turns.side[place + 1] = 1 - turns.side[place + 1]
        turns.before[place + 1] = turns.before[place] + each[place]


@njit(cache=True, nogil=True)
def _move(turns: DocketSequence, seen: bool, order: Ints, loose: Ints, late: Ints, chance: np.random.Generator) -> int:
    """Other turns, not far from these, in ``order`` and ``loose``; the first place at which they differ."""
    count, many = len(order), 0
    loose[:] = turns.loose
    for place in range(count):
        order[place] = turns.order[place]
        if turns.each[place] > 0:
            late[many] = place
            many += 1
    if seen and chance.random() < _LOOSER:
        first = int(chance.random() * count)
        loose[order[first]] = 1 - loose[order[first]]
        return first
    way = chance.random()
    if way >= _ANYWHERE and count > 1:
        first = int(chance.random() * (count - 1))
        second = min(count - 1, first + 1 + int(-math.log(1.0 - chance.random()) * _NEAR_BY))
        order[first], order[second] = order[second], order[first]
        return first
    if many and way < _PUT_BACK:
        second = late[int(chance.random() * many)]
        first = int(chance.random() * (second + 1))
    elif many and way < _LATE_UP:
        first = late[int(chance.random() * many)]
        second = max(0, first - 1 - int(-math.log(1.0 - chance.random()) * _UP_BY))
    else:
        first, second = int(chance.random() * count), int(chance.random() * count)
    moved = order[first]
    if seen and second < first and chance.random() < _HOME:  # sooner than others: perhaps where people saw it
        loose[moved] = 0
    for place in range(first, second, 1 if second > first else -1):
        order[place] = order[place + 1] if second > first else order[place - 1]
    order[second] = moved
    return min(first, second)


@njit(cache=True, nogil=True)
def _searched(
    shop: Layout,
    turns: DocketSequence,
    chance: np.random.Generator,
    heat: float,
    rounds: int,
    held: float,
    seen: bool,
    best: Ints,
    best_loose: Ints,
) -> float:
    """So many rounds of a search at one heat: see :meth:`Laying.search`."""
    count = len(turns.order)
    order, loose, late, each = turns.order.copy(), turns.loose.copy(), np.zeros(count, dtype=np.int64), np.zeros(count)
    for _ in range(rounds):
        begin = _move(turns, seen, order, loose, late, chance)
        most = turns.before[count] - heat * math.log(1.0 - chance.random())
        if _laid(shop, turns, order, loose, begin, most, each):
            _taken(turns, order, loose, begin, each)
            if turns.before[count] < held:
                held = turns.before[count]
                best[:], best_loose[:] = turns.order, turns.loose
                if held <= 0:
                    break
    return float(held)
