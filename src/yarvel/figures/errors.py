"""What can go wrong, said in one line: where, what, and what is accepted."""

from __future__ import annotations

from msgspec import Struct


class YarvelError(Exception):
    """Base of every error that Yarvel raises on purpose."""


class Problem(Struct, frozen=True):
    """One thing that is wrong with what was given.

    Attributes
    ----------
    path : dotted place in the document, such as ``stone.depth_mm``.
    wrong : what is wrong with the value there.
    accepted : what would be accepted instead.
    """

    path: str
    wrong: str
    accepted: str

    def __str__(self) -> str:
        return f"{self.path}: {self.wrong}: {self.accepted}"


class JobError(YarvelError):
    """A job that cannot be read or is impossible; carries every problem found."""

    def __init__(self, problems: list[Problem]) -> None:
        super().__init__("\n".join(str(problem) for problem in problems))
        self.problems = problems


class SizeError(YarvelError):
    """A finger size that its system does not know."""

    def __init__(self, wrong: str, accepted: str) -> None:
        super().__init__(f"{wrong}: {accepted}")
        self.wrong = wrong
        self.accepted = accepted


class StoreError(YarvelError):
    """A store that cannot be opened, read or written."""


class StoreGoneError(StoreError):
    """A store that does not answer now: a server that is away, a full disk, a file that is held. Worth trying again."""


class DoneAlreadyError(StoreError):
    """A thing that is in the store by now: it was done before, and its answer was lost."""


class StoreMovedError(StoreGoneError):
    """The file that was opened is no longer where it was: deleted, moved, or another in its place."""
