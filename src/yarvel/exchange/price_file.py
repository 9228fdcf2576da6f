"""Metal prices from a file that a feed writes: of the elements, a gram, with their moment."""

from __future__ import annotations

import json
import random
from collections.abc import Callable, Iterator
from datetime import datetime
from pathlib import Path
from typing import Any

from msgspec import Struct

from yarvel.figures.errors import JobError, Problem
from yarvel.metals.alloys import Alloy
from yarvel.metals.elements import DENSITIES

FORMAT = "yarvel-prices/1"

PRECIOUS = ("Au", "Ag", "Pt", "Pd")
"""Elements without whose price an alloy that has them is not priced; others count nothing where they have none."""
_MOST = 10_000.0

_MADE_UP = {"Au": 88.0, "Ag": 1.04, "Pt": 41.0, "Pd": 33.0, "Cu": 0.01}
"""What a made-up feed begins with, in nobody's money."""
_STEP = 0.004


class Prices(Struct, frozen=True):
    """Prices a gram by element, and when they were those."""

    at: datetime
    per_g: dict[str, float]

    def of(self, alloy: Alloy) -> float | None:
        """What a gram of an alloy costs by its elements; None where one of the precious ones has no price."""
        wanted = {element for element, share in alloy.parts.items() if share > 0 and element in PRECIOUS}
        if wanted - self.per_g.keys():
            return None
        return sum(share * self.per_g.get(element, 0.0) for element, share in alloy.parts.items())


def read_prices(path: Path) -> Prices:
    """The prices of a file: ``{"format": "yarvel-prices/1", "at": "2031-04-09T08:30", "per_g": {"Au": 88.1}}``.

    Raises
    ------
    JobError : it cannot be read, is none, or holds a price that cannot be.
    """
    try:
        document = json.loads(path.read_text("utf-8"))
    except OSError as error:
        raise JobError([Problem(str(path), error.strerror or str(error), "a price file that can be read")]) from error
    except ValueError as error:
        raise JobError([Problem(str(path), "is no JSON", f"a file of format {FORMAT}")]) from error
    if (
        not isinstance(document, dict)
        or document.get("format") != FORMAT
        or not isinstance(document.get("per_g"), dict)
    ):
        raise JobError([Problem(str(path), "is no price file", f"a file of format {FORMAT} with per_g")])
    problems = [
        Problem(f"per_g.{element}", f"{price!r} is no price", f"0 to {_MOST:g} a gram, of {', '.join(DENSITIES)}")
        for element, price in document["per_g"].items()
        if element not in DENSITIES or not _is_price(price)
    ]
    try:
        at = datetime.fromisoformat(str(document.get("at")))
    except ValueError:
        problems.append(Problem("at", f"{document.get('at')!r} is no moment", "such as 2031-04-09T08:30"))
    if problems:
        raise JobError(problems)
    return Prices(at.replace(tzinfo=None), {str(name): float(price) for name, price in document["per_g"].items()})


def _is_price(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and 0 <= value <= _MOST


def write_prices(prices: Prices, path: Path) -> None:
    """Write a price file, whole or not at all (OSError where it cannot be)."""
    document = {"format": FORMAT, "at": prices.at.isoformat(timespec="minutes"), "per_g": prices.per_g}
    part = path.with_name(f"{path.name}.part")
    part.write_text(json.dumps(document, indent=1) + "\n", "utf-8")
    part.replace(path)


def feed(
    path: Path, typed: Iterator[str], clock: Callable[[], datetime], say: Callable[[str], None], seed: int = 1
) -> None:
    """A made-up feed: prices that wander a little, written once, and again for every line typed."""
    chance, per_g = random.Random(seed), dict(_MADE_UP)
    while True:
        write_prices(Prices(clock(), {name: round(price, 4) for name, price in per_g.items()}), path)
        say(f"{path} written")
        if next(typed, None) is None:
            return
        per_g = {name: price * (1 + chance.gauss(0.0, _STEP)) for name, price in per_g.items()}
