"""Operations: what the steps of the work are called as tasks, how long they take by standard, which skill they want."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

CLAW, JOINT, PIECE = "claw", "joint", ""
SKILLS = ("mounting", "setting", "polishing", "checking")


@dataclass(frozen=True)
class Operation:
    """One operation: ``minutes`` by standard, and ``each`` more for every claw or joint (``per``); from memory, to be
    changed by the workshop, and held against the times recorded."""

    name: str
    skill: str
    minutes: float
    per: str = PIECE
    each: float = 0.0

    def standard(self, claws: int, joints: int) -> float:
        """Minutes for a head of so many claws and joints."""
        return self.minutes + self.each * {CLAW: claws, JOINT: joints}.get(self.per, 0)


OPERATIONS: dict[str, Operation] = {
    operation.name: operation
    for operation in (
        Operation("Cut the metal", "mounting", 25),
        Operation("Make the head", "mounting", 30, CLAW, 8),
        Operation("Fit head and shank", "mounting", 35),
        Operation("Hang it", "mounting", 15),
        Operation("Solder", "mounting", 10, JOINT, 4),
        Operation("Clean", "polishing", 15),
        Operation("Cut the seat", "setting", 10, CLAW, 6),
        Operation("Close", "setting", 8, CLAW, 5),
        Operation("Finish", "polishing", 25),
        Operation("Check before release", "checking", 15),
        Operation("Tighten", "setting", 10),
        Operation("Re-tip", "mounting", 30),
        Operation("New claws", "mounting", 60),
        Operation("New head from the drawer", "mounting", 75),
        Operation("New head by hand", "mounting", 240),
    )
}


def with_minutes(changed: Mapping[str, float]) -> dict[str, Operation]:
    """The operations with the workshop's own base minutes."""
    return {
        name: Operation(name, operation.skill, changed.get(name, operation.minutes), operation.per, operation.each)
        for name, operation in OPERATIONS.items()
    }


def learned(times: list[tuple[float, float]], least: int = 5) -> float | None:
    """Times against standard: the median of taken over standard minutes; None for fewer than ``least`` of them."""
    ratios = sorted(taken / standard for standard, taken in times if standard > 0)
    if len(ratios) < least:
        return None
    middle = len(ratios) // 2
    return ratios[middle] if len(ratios) % 2 else (ratios[middle - 1] + ratios[middle]) / 2
