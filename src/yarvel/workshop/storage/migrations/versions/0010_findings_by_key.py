"""What was found on a claw, and why a head came back, by key instead of by name."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

_FINDINGS = {"worn tip": "worn-tip", "thin side": "thin-side", "worn by a neighbour band": "neighbour"}
_CAUSES = {
    "head too small for its stone": "head-too-small",
    "a band worn beside it": "neighbour-band",
    "worn tips": "worn",
    "nothing found": "nothing",
}
_MANY = 2000


def upgrade() -> None:
    """Charts of dockets; the history keeps what was written then."""
    bind = op.get_bind()
    dockets = sa.table("dockets", sa.column("id", sa.Integer()), sa.column("claw_chart", sa.JSON()))
    last = 0
    while rows := bind.execute(
        sa.select(dockets.c.id, dockets.c.claw_chart).where(dockets.c.id > last).order_by(dockets.c.id).limit(_MANY)
    ).all():
        last = rows[-1][0]
        charts = [(key, chart, _keyed(chart)) for key, chart in rows if isinstance(chart, dict)]
        changed = [{"key": key, "made": made} for key, chart, made in charts if made != chart]
        if changed:
            statement = sa.update(dockets).where(dockets.c.id == sa.bindparam("key"))
            bind.execute(statement.values(claw_chart=sa.bindparam("made", type_=sa.JSON())), changed)


def _keyed(chart: dict[str, Any]) -> dict[str, Any]:
    found = dict(chart)
    if isinstance(chart.get("cause"), str):
        found["cause"] = _CAUSES.get(chart["cause"], chart["cause"])
    if isinstance(chart.get("claws"), list):
        found["claws"] = [_claw(row) for row in chart["claws"]]
    return found


def _claw(row: Any) -> Any:
    if not isinstance(row, dict) or not isinstance(row.get("finding"), str):
        return row
    return {**row, "finding": _FINDINGS.get(row["finding"], row["finding"])}
