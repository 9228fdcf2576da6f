"""Slots as the bits of whole numbers: where a length of work fits first is found by a few shifts, many times as fast as
by walking. For searches that lay the same shop out again and again."""

from __future__ import annotations

import numpy as np

from yarvel.workshop.day.shop import Order, Place, Schedule, Shop, Step
from yarvel.workshop.day.timeline import timelines

_NEAR = 512
"""In so many slots, about a week, a beginning is looked for first."""
_NEAR_MASK, _REACH_MASK = (1 << _NEAR) - 1, (1 << _NEAR + 64) - 1


class Slots:
    """What of a shop is the same in every round, up to a slot: free time, room at stations, where each length fits
    between breaks."""

    def __init__(self, shop: Shop, until: int) -> None:
        self.shop, self.size = shop, min(until, shop.axis.size)
        left = shop.axis.left_in_block[: self.size]
        lengths = {step.slots for _, step in shop.steps()}
        self.fits = {length: _bits(left >= length) for length in lengths}
        self.shifts = {length: _shifts(length) for length in lengths}
        self.free = [_bits(line.free[: self.size]) for line in timelines(shop)]
        whole = (1 << self.size) - 1
        self.room = dict.fromkeys(shop.stations, whole)
        for name in shop.shut:
            self.room[name] = _bits(shop.opens(name)[: self.size] == np.arange(self.size))
        people = len(shop.hands)
        self.counted = {name: most for name, most in shop.stations.items() if 1 < most < people}
        self.alone = {name for name, most in shop.stations.items() if most == 1}
        self.after: dict[float, list[int]] = {
            wait: shop.axis.after(wait).tolist() for wait in {step.wait for _, step in shop.steps()} if wait > 0
        }


def _bits(flags: object) -> int:
    """Flags of slots as a number, the first slot its lowest bit."""
    packed = np.packbits(np.asarray(flags, dtype=np.bool_), bitorder="little")
    return int.from_bytes(packed.tobytes(), "little")


class Laid:
    """One plan as it is laid out, docket by docket; what is fixed has its time from the start. ``on``: from another one
    on, which stays as it is."""

    def __init__(self, slots: Slots, on: Laid | None = None) -> None:
        self._slots = slots
        held = slots if on is None else on
        self._free, self._room = [*held.free], {**held.room}
        self._used = {name: bytearray(slots.size) for name in slots.counted}
        self.plan: Schedule = {}
        self.ends: dict[int, int] = {}
        if on is not None:
            self._used = {name: used[:] for name, used in on._used.items()}
            self.plan, self.ends = {**on.plan}, {**on.ends}
            return
        for _, step in slots.shop.steps():
            if step.start is not None and step.person is not None:
                self._take(step, step.person, step.start)

    @property
    def free(self) -> list[int]:
        """Everybody's time that is left."""
        return self._free

    @property
    def room(self) -> dict[str, int]:
        """Where there is room at each station."""
        return self._room

    def order(self, order: Order) -> bool:
        """All steps of a docket, each as early as it goes, with the hands that had the step before where others are no
        sooner; False where the axis ends first."""
        slots = self._slots
        ready, who, task = order.release, -1, -1
        for step in order.steps:
            person, start = step.person, -1
            if step.start is not None and person is not None:
                if ready <= step.start:
                    start = step.start
                else:
                    self._give_back(step, person, step.start)
            if start < 0:
                people = (person,) if person is not None else (who,) if step.task == task else step.people
                start, person = self._first(step, people, who, ready)
                if start >= slots.size:
                    return False
                self._take(step, person, start)
            assert person is not None, "somebody does it"
            self.plan[step.key] = Place(person, start)
            who, task, end = person, step.task, start + step.slots
            ready = slots.after[step.wait][end] if step.wait > 0 else end
            self.ends[order.key] = end
        return True

    def _first(self, step: Step, people: tuple[int, ...], preferred: int, ready: int) -> tuple[int, int]:
        """Where a step fits first, and with whom."""
        size, shifts = self._slots.size, self._slots.shifts[step.slots]
        fits, room, free = self._slots.fits[step.slots] >> ready, self._room.get(step.station), self._free
        best, who = size, people[0]
        for reach in (_REACH_MASK, -1):
            between = fits & _NEAR_MASK if reach > 0 else fits
            if room is not None:
                run = (room >> ready) & reach
                for shift in shifts:
                    run &= run >> shift
                between &= run
            if not between:
                continue
            for person in people:
                if best == ready and who == preferred:
                    break  # nobody is sooner, and nobody's hands are better
                run = (free[person] >> ready) & reach
                for shift in shifts:
                    run &= run >> shift
                run &= between
                if run:
                    start = ready + (run & -run).bit_length() - 1
                    if start < best or (start == best and person == preferred):
                        best, who = start, person
            if best < size:
                break
        return best, who

    def _take(self, step: Step, person: int, start: int) -> None:
        block = ((1 << step.slots) - 1) << start
        self._free[person] &= ~block
        name = step.station
        if name in self._slots.alone:
            self._room[name] &= ~block
        elif name in self._used:
            used, most = self._used[name], self._slots.counted[name]
            for slot in range(start, min(start + step.slots, len(used))):
                used[slot] += 1
                if used[slot] >= most:
                    self._room[name] &= ~(1 << slot)

    def _give_back(self, step: Step, person: int, start: int) -> None:
        block = ((1 << step.slots) - 1) << start
        self._free[person] |= block
        name = step.station
        if name in self._slots.alone:
            self._room[name] |= block
        elif name in self._used:
            used = self._used[name]
            for slot in range(start, min(start + step.slots, len(used))):
                used[slot] -= 1
                self._room[name] |= 1 << slot


def _shifts(length: int) -> tuple[int, ...]:
    """By how much free slots are laid over themselves, one after the other, until so many in a row are left."""
    found, done = [], 1
    while done < length:
        found.append(min(done, length - done))
        done += found[-1]
    return tuple(found)
