"""``python -m yarvel`` is the command ``yarvel``."""

from __future__ import annotations

from yarvel.cli import main

if __name__ == "__main__":
    raise SystemExit(main())
