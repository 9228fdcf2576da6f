"""How long tests wait before they give up: for minutes. A slow machine is no failure; an event ends each wait."""

from __future__ import annotations

GIVE_UP_S = 300.0
