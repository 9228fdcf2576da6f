"""Lines out of the bytes that a port gives: whole ones only, however they come in pieces."""

from __future__ import annotations

LONGEST = 80
"""Bytes of the longest line: what is longer is no reading, and is dropped up to the next end of line."""
QUIET_S = 0.6
"""Half a line that nothing follows for so long is dropped: a plug was pulled, or a battery died."""


class Frames:
    """Feed it bytes with the moment they came; it gives the lines that are whole. Ends of line are CR, LF or both."""

    def __init__(self) -> None:
        self._held = bytearray()
        self._at = 0.0
        self._skipping = False
        self.dropped = 0
        """How many pieces were no line: too long, half, or not ASCII."""

    def feed(self, data: bytes, at: float) -> list[str]:
        """The lines that these bytes complete; ``at`` in seconds, of any clock. That nothing came is fed too: half a
        line grows old by it, and is never mended with what comes much later."""
        if self._held and at - self._at > QUIET_S:
            self._held.clear()
            self.dropped += 1
        if data:
            self._at = at
        lines = []
        for byte in data:
            if byte in b"\r\n":
                lines += self._end()
            elif not self._skipping:
                self._held.append(byte)
                if len(self._held) > LONGEST:
                    self._held.clear()
                    self._skipping = True
                    self.dropped += 1
        return lines

    def _end(self) -> list[str]:
        line, skipped = bytes(self._held).strip(), self._skipping
        self._held.clear()
        self._skipping = False
        if not line or skipped:
            return []
        if not all(32 <= byte < 127 for byte in line):
            self.dropped += 1
            return []
        return [line.decode("ascii")]
