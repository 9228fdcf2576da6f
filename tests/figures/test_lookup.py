"""What is sought is there, or told to be missing."""

from __future__ import annotations

import pytest

from yarvel.figures.lookup import first_of


def test_the_first_is_taken_and_no_more() -> None:
    counted = iter(range(3))
    assert first_of(number for number in counted if number) == 1 and list(counted) == [2]


def test_nothing_is_told_also_within_a_loop() -> None:
    """A bare StopIteration would end the generator as if all were well."""
    with pytest.raises(LookupError):
        tuple(first_of(()) for _ in range(2))
