"""Metal left beside a hole, beside a head in a wide band, and in a split shoulder's branch."""

from __future__ import annotations

from yarvel.figures.figure import FigureKey
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.shanks import blanks, fitting, inset, split_shoulder

HOLE, BRANCH = "band-beside-hole", "branch-too-thin"
CODES = (HOLE, BRANCH)


def examine(situation: Situation) -> list[Diagnostic]:
    """What stays on each side against the house's least."""
    calls = []
    for key in (fitting.BESIDE_HOLE, inset.beside_head_mm):
        if situation.has(key):
            calls.append(
                _left(
                    situation,
                    HOLE,
                    key,
                    situation.rules.beside_head_mm,
                    2.0,
                    "Beside the hole",
                    "So little metal beside a hole bends or tears in wear.",
                )
            )
    if situation.has(split_shoulder.branch_mm):
        calls.append(
            _left(
                situation,
                BRANCH,
                split_shoulder.branch_mm,
                situation.rules.branch_least_mm,
                2.0,
                "Branches",
                "A branch this thin before filing bends or breaks where it is spread.",
            )
        )
    return calls


def _left(
    situation: Situation, code: str, key: FigureKey, limit: float, share: float, title: str, message: str
) -> Diagnostic:
    left = round(situation[key], 6)
    level = OK if left >= limit else STOP if left <= limit / 3 else CAUTION
    wider = round(situation[blanks.WIDTH] + share * (limit - left) + 0.05, 1)
    remedy = situation.wider_band(wider) if level != OK and wider <= 15 else None
    return Diagnostic(
        code=code,
        level=level,
        title=title,
        message=message,
        figure=left,
        limit=limit,
        unit="mm",
        about="band",
        of=key,
        remedy=remedy,
        remedy_label=f"Band {wider:.1f} mm wide" if remedy else "",
    )
