"""Every kind of operation by its key: a new one is a record in the module of its stage, and in no other place."""

from __future__ import annotations

from yarvel.operations import cleaning, finishing, fitting, forming, intake, joining, making, seating, setting, stock
from yarvel.operations.operation import OperationKind

_STAGES = (intake, stock, forming, making, fitting, joining, cleaning, seating, setting, finishing)
REGISTER: dict[str, OperationKind] = {kind.key: kind for stage in _STAGES for kind in stage.KINDS}
