"""Bodies computed beside the window, in a process of their own: one JSON request a line in, one JSON answer a line out.

It ends when its input does, so it never outlives the window.
"""

from __future__ import annotations

import base64
import json
import sys
from typing import Any

import numpy as np
from msgspec.structs import asdict, replace

from yarvel.figures.errors import YarvelError
from yarvel.figures.figure import Figure, FigureKey, FigureSpec
from yarvel.figures.rules import rules_from, with_drawer
from yarvel.planning.bodies import bodies, judge
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.job import from_document
from yarvel.planning.pendant import BodyReport
from yarvel.planning.plan import plan
from yarvel.planning.proving import proven
from yarvel.planning.sampling import SAMPLES


def answer(request: dict[str, Any]) -> dict[str, Any]:
    """The answer to one request: ``job`` and ``rules`` as documents, ``drawer`` (the workshop's own burs and draw
    plate), ``fine``, ``mesh`` where the bodies are wanted."""
    own = request.get("drawer", {})
    burs_mm, plate_mm = tuple(own.get("burs_mm", ())), tuple(own.get("plate_mm", ()))
    rules = with_drawer(rules_from(request["rules"]), burs_mm, plate_mm)
    made_plan = plan(from_document(request["job"]), rules, samples=SAMPLES if request["fine"] else 0)
    solids = bodies(made_plan, request["fine"])
    answer_document: dict[str, Any] = {"id": request["id"], "fine": request["fine"]}
    if request["fine"]:
        report = judge(made_plan, solids, rules)
        judged = proven(made_plan.judged(report.figures, report.diagnostics))
        answer_document["figures"] = [
            {
                "value": figure.value,
                "plus_minus": figure.plus_minus,
                "spec": {**asdict(figure.spec)},
                "marks": figure.marks,
                "arguments": [float(value) for value in figure.arguments],
            }
            for figure in report.figures
        ]
        answer_document["calls"] = [
            {**asdict(replace(call, of=None)), "of": call.figure_key} for call in judged.diagnostics
        ]
        answer_document["volumes"] = dict(report.volumes)
    if request["mesh"]:
        answer_document["mesh"] = {name: _packed(body.to_mesh()) for name, body in solids.parts.items()}
    return answer_document


def report_from(document: dict[str, Any]) -> BodyReport:
    """Figures and calls of an answer."""
    figures = tuple(
        Figure(
            FigureSpec(**item["spec"]),
            item["value"],
            item["plus_minus"],
            tuple(item["marks"]),
            tuple(item["arguments"]),
        )
        for item in document.get("figures", ())
    )
    calls = tuple(
        Diagnostic(**{**item, "of": FigureKey(item["of"]) if item["of"] else None})
        for item in document.get("calls", ())
    )
    return BodyReport(figures, calls, document.get("volumes", {}))


def _packed(mesh: Any) -> dict[str, str]:
    points = np.ascontiguousarray(np.asarray(mesh.vert_properties)[:, :3], dtype=np.float32)
    triangles = np.ascontiguousarray(np.asarray(mesh.tri_verts), dtype=np.uint32)
    return {
        "points": base64.b64encode(points.tobytes()).decode(),
        "triangles": base64.b64encode(triangles.tobytes()).decode(),
    }


def unpacked(document: dict[str, str]) -> tuple[Any, Any]:
    """Points (n, 3) and triangles (m, 3) of a packed body."""
    points = np.frombuffer(base64.b64decode(document["points"]), dtype=np.float32).reshape(-1, 3)
    triangles = np.frombuffer(base64.b64decode(document["triangles"]), dtype=np.uint32).reshape(-1, 3)
    return points, triangles


def main() -> None:
    """Answer requests until the input ends."""
    for line in sys.stdin:
        request = json.loads(line)
        try:
            answer_document = answer(request)
        except YarvelError as error:
            answer_document = {"id": request["id"], "problem": str(error)}
        sys.stdout.write(json.dumps(answer_document) + "\n")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
