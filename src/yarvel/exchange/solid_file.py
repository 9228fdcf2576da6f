"""Bodies to files: STL and 3MF in mm, one object a body, closed however a reader joins their points."""

from __future__ import annotations

import locale
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yarvel.figures.errors import JobError, Problem
from yarvel.planning.bodies import bodies
from yarvel.planning.plan import Plan

PARTS = ("stone", "head", "shank", "all")
KINDS = (".stl", ".3mf")

_JOINED_MM, _APART_MM = 2e-5, 5e-5
"""Points that lie closer than the first are parted by the second, or a reader would join a surface to itself."""


def write_solid(plan: Plan, target: Path, part: str = "all") -> None:
    """Write one body or all of a plan's.

    Raises
    ------
    JobError : the plan has no such part. OSError : the file cannot be written.
    """
    import lib3mf

    parts = bodies(plan).parts
    if part != "all" and part not in parts:
        raise JobError([Problem("--part", f"this job has no {part}", "one of " + ", ".join([*parts, "all"]))])
    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    meshes = {name: body.to_mesh() for name, body in parts.items() if part in ("all", name)}
    together = parted(np.vstack([np.asarray(mesh.vert_properties)[:, :3] for mesh in meshes.values()]))
    start = 0
    for name, mesh in meshes.items():
        end = start + len(mesh.vert_properties)
        _add(lib3mf, wrapper, model, name, together[start:end], np.asarray(mesh.tri_verts))
        start = end
    kind = target.suffix.lower().removeprefix(".")
    whole = target.with_name(f"{target.stem}.part{target.suffix}")
    before = locale.setlocale(locale.LC_ALL)
    try:
        model.QueryWriter(kind).WriteToFile(str(whole))
        whole.replace(target)
    except lib3mf.ELib3MFException as error:
        whole.unlink(missing_ok=True)
        raise OSError(f"the file could not be written ({error})") from error
    finally:
        locale.setlocale(locale.LC_ALL, before)  # lib3mf leaves the process in the C locale


def _add(
    lib3mf: Any, wrapper: Any, model: Any, name: str, points: NDArray[np.float32], triangles: NDArray[np.uint32]
) -> None:
    body = model.AddMeshObject()
    body.SetName(name)
    body.SetGeometry(
        [lib3mf.Position((float(x), float(y), float(z))) for x, y, z in points.tolist()],
        [lib3mf.Triangle((a, b, c)) for a, b, c in triangles.tolist()],
    )
    model.AddBuildItem(body, wrapper.GetIdentityTransform())


def parted(points: NDArray[Any]) -> NDArray[np.float32]:
    """Points in single precision of which no two lie closer than readers join: those that touch move apart a little."""
    from scipy.spatial import cKDTree

    points32 = np.asarray(points, dtype=np.float32).copy()
    for step in range(1, 16):
        pairs = cKDTree(points32).query_pairs(_JOINED_MM, output_type="ndarray")
        if len(pairs) == 0:
            break
        again = np.unique(pairs[:, 1])
        turn = again * 2.399963 + step
        points32[again] += (_APART_MM * step * np.column_stack([np.cos(turn), np.sin(turn), np.cos(3 * turn)])).astype(
            np.float32
        )
    return points32
