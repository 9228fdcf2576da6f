"""Parts of the work by key instead of by name: tasks, ticks of checks, standard minutes (now a pace over them)."""

import re
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

_TASKS = {
    "Cut the metal": "stock",
    "Make the head": "head",
    "Fit head and shank": "fit",
    "Hang it": "fit",
    "Solder": "solder",
    "Clean": "clean",
    "Cut the seat": "seat",
    "Close": "set",
    "Finish": "finish",
    "Check before release": "release",
    "Tighten": "tighten",
    "Re-tip": "re-tip",
    "New claws": "new-claws",
    "New head from the drawer": "new-head-bought",
    "New head by hand": "new-head-made",
}
_MINUTES = {
    "Cut the metal": 25.0,
    "Make the head": 62.0,
    "Fit head and shank": 35.0,
    "Hang it": 15.0,
    "Solder": 50.0,
    "Clean": 15.0,
    "Cut the seat": 34.0,
    "Close": 28.0,
    "Finish": 25.0,
    "Check before release": 15.0,
    "Tighten": 10.0,
    "Re-tip": 30.0,
    "New claws": 60.0,
    "New head from the drawer": 75.0,
    "New head by hand": 240.0,
}
"""Standard minutes of before for a head of four claws and ten joints; the part that was typed is the first number."""
_BASE = {**_MINUTES, "Make the head": 30.0, "Solder": 10.0, "Cut the seat": 10.0, "Close": 8.0}
_CHECKS = (
    ("Stone measured again: ", "stone-measured", True),
    ("Straight from the front", "straight", False),
    ("Stone level; ", "level", False),
    ("Claws evenly spaced", "spacing", False),
    ("Claws where they are planned", "spacing", False),
    ("Notch ", "notch", True),
    ("Upper ring hidden", "ring-hidden", False),
    ("Size: ", "size", True),
    ("Culet clear by ", "culet", True),
    ("Joints without gaps", "joints", False),
    ("Nothing catches cloth", "snag", False),
    ("Loose test", "loose", False),
)
_NUMBER = re.compile(r"\d+\.?\d*")


def upgrade() -> None:
    bind = op.get_bind()
    tasks = sa.table("tasks", sa.column("operation", sa.Text()))
    for name, key in _TASKS.items():
        bind.execute(sa.update(tasks).where(tasks.c.operation == name).values(operation=key))
    _paces(bind)
    _ticks(bind)


def _paces(bind: sa.Connection) -> None:
    """Minutes that a workshop typed become its pace over the standard: as much more or less as they were."""
    settings = sa.table("settings", sa.column("name", sa.Text()), sa.column("value", sa.JSON()))
    held = bind.execute(sa.select(settings.c.value).where(settings.c.name == "operation_minutes")).scalar()
    if not isinstance(held, dict):
        return
    paces: dict[str, float] = {}
    for name, minutes in held.items():
        if name in _MINUTES and isinstance(minutes, int | float):
            whole = _MINUTES[name] - _BASE[name] + float(minutes)
            paces[_TASKS[name]] = min(max(round(100 * whole / _MINUTES[name], 1), 10.0), 1000.0)
    bind.execute(sa.insert(settings).values(name="pace", value=paces))


def _ticks(bind: sa.Connection) -> None:
    """A tick was the line as it read; it is a key with the figures that stood in the line. Others stay as they are."""
    dockets = sa.table("dockets", sa.column("id", sa.Integer()), sa.column("ticks", sa.JSON()))
    last = 0
    while rows := bind.execute(
        sa.select(dockets.c.id, dockets.c.ticks).where(dockets.c.id > last).order_by(dockets.c.id).limit(2000)
    ).all():
        last = rows[-1][0]
        changed = [{"key": key, "made": [_mark(tick) for tick in ticks]} for key, ticks in rows if ticks]
        if changed:
            statement = sa.update(dockets).where(dockets.c.id == sa.bindparam("key"))
            bind.execute(statement.values(ticks=sa.bindparam("made", type_=sa.JSON())), changed)


def _mark(tick: Any) -> Any:
    if not isinstance(tick, str):
        return tick
    for start, key, figured in _CHECKS:
        if tick.startswith(start):
            numbers = " ".join(_NUMBER.findall(tick))
            return f"{key}@{numbers}" if figured else key
    return tick
