"""Widths of the shipped font, so that texts can be laid out without a window system."""

from __future__ import annotations

from yarvel.drawing.primitives import Text

_WIDTHS = {
    0.2: "'|",
    0.25: ",;·",
    0.3: "ijI.:°²³",
    0.35: "l! ",
    0.4: 'frt"',
    0.45: "sJ()-[",
    0.5: "cz=]",
    0.525: "a",
    0.55: "ekvxyFLS$*/?\\_`−–",
    0.6: "bdghnopquCEKPTYZ+}±β",
    0.65: "0123456789ABDGRVX<>πσ{",
    0.7: "HU&α",
    0.75: "wN^~½¼¾Δ→",
    0.8: "OQ×√⌀",
    0.85: "#",
    0.9: "mM%",
    0.95: "W",
    1.0: "@",
}
_EM = {letter: width for width, letters in _WIDTHS.items() for letter in letters}
_OTHER = 0.7
_BOLD = 1.08
CAP_HEIGHT = 0.75
DESCENT = 0.25


def text_width(text: str, size: float, bold: bool = False) -> float:
    """Width in mm of a text set at ``size`` mm to the em."""
    width = sum(_EM.get(letter, _OTHER) for letter in text) * size
    return width * _BOLD if bold else width


def box(text: Text) -> tuple[float, float, float, float]:
    """Left, top, right, bottom in mm of a text as it is set."""
    width = text_width(text.text, text.size, text.bold)
    left = text.at[0] - {"start": 0.0, "middle": width / 2, "end": width}[text.anchor]
    return left, text.at[1] - CAP_HEIGHT * text.size, left + width, text.at[1] + DESCENT * text.size
