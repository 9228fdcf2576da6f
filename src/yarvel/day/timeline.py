"""Where a length of work still fits: of one person, of one station."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from yarvel.day.axis import LONGEST_PIECE, Axis, Ints
from yarvel.day.shop import Hands, Shop

_SHUT = 1_000_000


class Fits:
    """Of every length and slot, the first slot from there on in which that length fits in one go; the axis' size where
    none does. ``all``: lengths (0 to ``longest``) × slots, the axis' size included."""

    def __init__(
        self, axis: Axis, free: np.ndarray[tuple[int, ...], np.dtype[np.bool_]], longest: int = LONGEST_PIECE
    ) -> None:
        size, slots = axis.size, np.arange(axis.size)
        taken = np.flatnonzero(~free)
        following = np.append(taken, size)[np.searchsorted(taken, slots)]
        runs = np.minimum(following - slots, axis.left_in_block)
        lengths = np.arange(longest + 1)[:, None]
        begins = np.where(runs[None, :] >= lengths, slots[None, :], size)
        earliest = np.minimum.accumulate(begins[:, ::-1], axis=1)[:, ::-1]
        self.all: Ints = np.concatenate([earliest, np.full((longest + 1, 1), size)], axis=1)


class Timeline:
    """One person's time: what is taken can be given back."""

    def __init__(self, axis: Axis, taken: Iterable[tuple[int, int]] = ()) -> None:
        self._axis = axis
        self.free = np.ones(axis.size, dtype=np.bool_)
        for begin, end in taken:
            self.take(begin, end)

    def take(self, begin: int, end: int) -> None:
        """These slots are taken."""
        self.free[max(begin, 0) : max(end, 0)] = False

    def give_back(self, begin: int, end: int) -> None:
        """These slots are free again."""
        self.free[begin:end] = True

    def fits(self, start: int, slots: int) -> bool:
        """Whether a length fits exactly there."""
        axis = self._axis
        return (
            start >= 0
            and start + slots <= axis.size
            and bool(axis.left_in_block[start] >= slots)
            and bool(self.free[start : start + slots].all())
        )

    def next(self, start: int, slots: int) -> int:
        """The first slot from ``start`` on in which a length fits; the axis' size where none does."""
        axis, size = self._axis, self._axis.size
        at = start
        while at < size:
            room = int(axis.left_in_block[at])
            if room < slots:
                at += room
                continue
            taken = np.flatnonzero(~self.free[at : at + slots])
            if not taken.size:
                return at
            at += int(taken[-1]) + 1
        return size


class Stations:
    """How many work at each station, slot by slot."""

    def __init__(self, shop: Shop) -> None:
        self._room = shop.stations
        self._used = {name: np.zeros(shop.axis.size, dtype=np.int64) for name in shop.stations}
        self._opens = {name: shop.opens(name) for name in shop.shut if name in shop.stations}
        for name, opens in self._opens.items():
            self._used[name][opens[:-1] > np.arange(shop.axis.size)] = _SHUT

    def take(self, station: str, start: int, slots: int, by: int = 1) -> None:
        """Somebody works there (``by`` −1: no longer)."""
        if station in self._used:
            self._used[station][start : start + slots] += by

    def clash(self, station: str, start: int, slots: int) -> int:
        """0 where there is room; else how many slots later to try again at the earliest."""
        if station not in self._used:
            return 0
        full = np.flatnonzero(self._used[station][start : start + slots] >= self._room[station])
        if not full.size:
            return 0
        again = start + int(full[-1]) + 1
        return int(self._opens[station][again] if station in self._opens else again) - start


def timelines(shop: Shop) -> list[Timeline]:
    """Everybody's time without their absences."""
    return [Timeline(shop.axis, hands.away) for hands in shop.hands]


def fits_of(axis: Axis, hands: Hands, taken: Iterable[tuple[int, int]], longest: int) -> Fits:
    """Where work still fits into somebody's time, up to so many slots in one go."""
    return Fits(axis, Timeline(axis, (*hands.away, *taken)).free, longest)
