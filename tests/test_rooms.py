"""The house's own promises: rooms without Qt, sizes of code, the pinned Qt, what ships with it."""

from __future__ import annotations

import ast
import subprocess
import sys
from graphlib import TopologicalSorter
from importlib.metadata import version
from pathlib import Path

import pytest
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QApplication

import yarvel
from tests.sources import tree
from yarvel.desk.actions import ACTIONS, ICONS
from yarvel.drawing.painters.qt import FONT_FOLDER

TOP = Path(yarvel.__file__).parent
ROOMS = ("figures", "stones", "heads", "shanks", "metals", "solids", "planning", "operations", "route")
NAMES = {
    ".".join(path.relative_to(TOP.parent).with_suffix("").parts).removesuffix(".__init__"): path
    for path in sorted(TOP.rglob("*.py"))
    if "migrations" not in path.parts
}
"""Every module by its name."""


def wanted_at_import(name: str) -> set[str]:
    """Modules of Yarvel that importing this one imports: at its top level, not in a function or for a type check. The
    packages it stands in are being imported already: nothing but modules is taken from one that imports its own."""
    found: set[str] = set()
    for statement in tree(NAMES[name]).body:
        if isinstance(statement, ast.Import):
            found |= {alias.name for alias in statement.names}
        elif isinstance(statement, ast.ImportFrom):
            assert statement.level == 0 and statement.module is not None
            taken = {f"{statement.module}.{alias.name}" for alias in statement.names}
            if name.startswith(f"{statement.module}.") and not taken <= NAMES.keys():
                assert not wanted_at_import(statement.module), (name, statement.module)
            found |= {statement.module, *taken}
    packages = {".".join(one.split(".")[:depth]) for one in found for depth in range(1, one.count(".") + 1)}
    return {one for one in found | packages if one in NAMES and not f"{name}.".startswith(f"{one}.")}


def test_any_module_can_be_the_first_that_is_imported() -> None:
    """No module wants, while it is imported, one that wants it: TopologicalSorter raises CycleError where no order of
    all exists."""
    order = TopologicalSorter({name: wanted_at_import(name) for name in NAMES})
    assert len(list(order.static_order())) > 250


def test_the_core_imports_without_qt_or_a_database() -> None:
    names = [name for name in NAMES if name.split(".")[1:2] and name.split(".")[1] in ROOMS]
    assert len(names) > 50
    code = (
        "import sys, importlib\nfor name in sys.argv[1:]: importlib.import_module(name)\nprint([m for m in sys.modules "
        "if m.split('.')[0] in ('PySide6', 'shiboken6', 'sqlalchemy', 'alembic', 'pydantic', 'sqlite3')])\n"
    )
    done = subprocess.run([sys.executable, "-c", code, *names], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def test_one_place_hands_a_stored_docket_to_the_session() -> None:
    """With what is not written yet on top of it; else the screen shows what is on its way to be something else. The
    quick look into a file, before it is open, is the only other."""
    handing = {
        str(path.relative_to(TOP)) for path in NAMES.values() if "session.open(" in path.read_text(encoding="utf-8")
    }
    assert handing == {"app.py", "desk/storing/new_docket.py"}


def test_qt_keeps_its_references_to_none(qapp: QApplication) -> None:
    """PySide6 6.12.0 on Python 3.11 lost one at every call that returns nothing, and aborted in the end."""
    assert version("PySide6-Essentials").startswith("6.11.")
    image = QImage(8, 8, QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    before = sys.getrefcount(None)
    for _ in range(2000):
        painter.drawPoint(1, 1)
    lost = before - sys.getrefcount(None)
    painter.end()
    assert lost < 100


def test_fonts_and_icons_ship_with_their_licences() -> None:
    assert {path.name for path in FONT_FOLDER.iterdir()} >= {
        "B612-Regular.otf",
        "B612-Bold.otf",
        "DejaVuSans.ttf",
        "LICENSE-B612.txt",
        "LICENSE-DejaVu.txt",
    }
    assert "CC0" in (ICONS / "LICENSE.txt").read_text()
    assert all((ICONS / f"{info.name}.svg").exists() for info in ACTIONS if info.tool)


def test_the_shipped_font_is_as_wide_as_the_layout_believes(qapp: QApplication) -> None:
    from PySide6.QtGui import QFontMetricsF

    from yarvel.drawing.metrics import text_width
    from yarvel.drawing.painters.qt import font, load_fonts

    load_fonts()
    metrics = QFontMetricsF(font(1000))
    for text in ("6.47", "table 5.03", "Section through the claw at 1:30", "Ø 7.14 ± 0.03"):
        assert metrics.horizontalAdvance(text) / 1000 == pytest.approx(text_width(text, 1.0), rel=0.02), text


def test_no_two_actions_share_a_shortcut() -> None:
    keys = [info.shortcut for info in ACTIONS] + [f"Ctrl+{place}" for place in range(1, 10)]
    assert len(keys) == len(set(keys))


def test_the_lock_file_names_no_host() -> None:
    lock = TOP.parents[1] / "requirements.lock"
    text = lock.read_text()
    assert "--hash=sha256:" in text
    assert "http" not in text
    assert "index-url" not in text


def test_a_start_loads_nothing_heavy(tmp_path: Path) -> None:
    """Solver, bodies, DXF and 3MF come when they are first used."""
    store = tmp_path / "demo.sqlite"
    code = (
        "import sys\nfrom pathlib import Path\nfrom PySide6.QtWidgets import QApplication\nfrom yarvel.app import "
        "open_window\napplication = QApplication([])\nwindow = open_window(application, "
        "Path(sys.argv[1]))\nwindow.show()\napplication.processEvents()\nprint([name for name in ('scipy', "
        "'manifold3d', 'lib3mf', 'ezdxf', 'sqlalchemy', 'pydantic') if name in sys.modules])\n"
    )
    from yarvel.app import prepare_store

    prepare_store(store, demo="small")
    done = subprocess.run([sys.executable, "-c", code, str(store)], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"
