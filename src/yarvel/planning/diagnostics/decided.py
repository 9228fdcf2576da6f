"""As low as possible: which condition decides the height of the seat."""

from __future__ import annotations

from yarvel.heads import style
from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation
from yarvel.planning.job import LOWEST
from yarvel.shanks.fitting import ASKED, BEARER, CULET, GALLERY, LEAST, MADE, SAWN

CODE = "height-decided"
CODES = (CODE,)
_WORDS = {
    CULET: "The culet decides: it has to stay clear of what lies under it.",
    GALLERY: "The gallery decides: wall or rings need this much room under the stone.",
    SAWN: "The claws decide: their saw cuts have to end above the band.",
    LEAST: "What has to stay of the head decides: lower, it could not be made.",
    ASKED: "The height asked for decides.",
    BEARER: "The ring decides: the claws run on to their point from its underside.",
    MADE: "The head decides: it is as high as it was made.",
}


def examine(situation: Situation) -> list[Diagnostic]:
    """The deciding condition's height from foot to seat against the next one's."""
    ranked = sorted(situation.conditions.items(), key=lambda pair: -pair[1])
    if not ranked:
        return []
    name, height = ranked[0]
    following = ranked[1][1] if len(ranked) > 1 else None
    asked_less = situation.job.fit is not None and situation.job.fit.height != LOWEST
    level = NOTE if name == LEAST and asked_less else OK
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="What decides the height",
            message=_WORDS[name],
            figure=height,
            limit=following,
            unit="mm",
            about="culet",
            of=style.height_mm,
        )
    ]
