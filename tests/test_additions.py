"""One module, one line: what somebody adds in a copy of the sources is known everywhere that it should be."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

import yarvel
from yarvel.workshop.storage.layout import HEAD

SOURCES = Path(yarvel.__file__).parent
TOP = SOURCES.parents[1]


@pytest.fixture
def copy(tmp_path: Path) -> Path:
    """The sources, to be changed."""
    shutil.copytree(SOURCES, tmp_path / "yarvel", ignore=shutil.ignore_patterns("__pycache__"))
    return tmp_path / "yarvel"


def put(path: Path, after: str, line: str) -> None:
    """A line right after the one that holds these words."""
    lines = path.read_text().splitlines(keepends=True)
    place = next(number for number, held in enumerate(lines) if after in held)
    lines.insert(place + 1, line)
    path.write_text("".join(lines))


def run(copy: Path, code: str) -> str:
    """Python with the changed sources in front of ours."""
    script = f"import sys; sys.path.insert(0, {str(copy.parent)!r})\n{code}"
    held = {"QT_QPA_PLATFORM": "offscreen", "PATH": "/usr/bin:/bin", "HOME": str(copy.parent)}
    done = subprocess.run(
        [sys.executable, "-c", script], cwd=copy.parent, env=held, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


MIGRATION = """
import sqlalchemy as sa
from alembic import op

revision, down_revision, branch_labels, depends_on = "9000", "{head}", None, None


def upgrade() -> None:
    op.add_column("dockets", sa.Column("ring_box", sa.Text(), nullable=False, server_default=""))
"""
DOCKET = """
from pathlib import Path
from yarvel.workshop.dockets.history_words import fields_of, told
from yarvel.exchange.archive import read_archive, write_archive, Packed
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store
from yarvel.workshop.storage.rights import TAKE_IN
from yarvel.workshop.dockets.edit_rights import acts_of

store = Store(Path("a.sqlite"))
docket = store.new_docket("Ferrand", "ring")
edit = DocketEdit(fields={"ring_box": "the blue one"})
assert acts_of(edit) == {TAKE_IN}
made = store.edit(docket.id, edit)
assert made.ring_box == "the blue one"
assert [found.id for found in store.dockets("blue")] == [docket.id], "found by it"
assert store.add_stone(docket.id).ring_box == "the blue one", "copied to another stone"
change = store.history(docket.id)[-1]
assert (fields_of(change), told(change)) == ("box it came in", "the blue one")
try:
    store.edit(docket.id, DocketEdit(fields={"ring_box": 3.0}))
    raise SystemExit("a number was taken for a text")
except StoreError:
    pass
write_archive([Packed(store.docket(docket.id), tuple(store.history(docket.id)), ())], Path("a.zip"))
(back,) = read_archive(Path("a.zip"), HouseRules())
assert back.docket.ring_box == "the blue one", "in archives"
store.close()
print("known")
"""


def test_a_dockets_field_is_declared_once(copy: Path) -> None:
    """Its line in the record, its column with a migration; found, copied, told, checked and archived from there."""
    line = (
        '    ring_box: str = field(default="", metadata=history_label("box it came in", findable=True, copied=True))\n'
    )
    put(copy / "workshop/dockets/records.py", "    reported: str = ", line)
    put(
        copy / "workshop/storage/schema.py",
        "    reported: Mapped[str]",
        '    ring_box: Mapped[str] = mapped_column(Text, default="")\n',
    )
    (copy / "workshop/storage/migrations/versions/9000_ring_box.py").write_text(MIGRATION.format(head=HEAD))
    layout = copy / "workshop/storage/layout.py"
    layout.write_text(layout.read_text().replace(f'HEAD = "{HEAD}"', 'HEAD = "9000"'))
    assert run(copy, DOCKET).strip() == "known"


REPORT = '''
"""What waits for a date."""

from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar


def answer(found, rules, today):
    undated = [docket for docket in found.open if docket.promised_on is None]
    lines = tuple(ReportLine((docket.number, docket.item), docket.id, docket.number) for docket in undated)
    ids = tuple(line.docket_id for line in lines)
    return Answer(lines, (LeadingBar(Bar("no date", len(lines), str(len(lines))), ids),))


REPORT = Report(
    key="undated",
    title="Without a date",
    heads=("Docket", "Item"),
    empty="All have one.",
    picture="Dockets without a date",
    answer=answer,
)
'''
WINDOW = """
from datetime import date
from pathlib import Path
from PySide6.QtWidgets import QApplication
from yarvel.desk.reports.window import ReportsWindow
from yarvel.desk.theme import LIGHT
from yarvel.figures.rules import HouseRules
from yarvel.workshop.store import Store

application = QApplication([])
store = Store(Path("a.sqlite"))
number = store.new_docket("Ferrand", "ring").number
ask = lambda work, then: then(work(store))
window = ReportsWindow(ask, ask, HouseRules, LIGHT)
window.reload()
page = window.pages["undated"]
window.tabs.setCurrentWidget(page)
assert page.table.item(0, 0).text() == number and page.bars.isVisibleTo(page)
assert window.tabs.tabText(window.tabs.indexOf(page)) == "Without a date"
opened = []
window.docket_wanted.connect(opened.append)
page.table.cellDoubleClicked.emit(0, 0)
assert opened == [1]
store.close()
print("shown")
"""


def test_a_report_is_one_module_and_one_line(copy: Path) -> None:
    (copy / "desk/reports/undated.py").write_text(REPORT)
    register = copy / "desk/reports/register.py"
    text = register.read_text().replace("metal, pace, worth", "metal, pace, undated, worth")
    register.write_text(text.replace("worth, done)", "worth, done, undated)"))
    assert run(copy, WINDOW).strip() == "shown"


STYLE = '''
"""Petal basket: a wire basket whose claws are broader at their foot by a share that the job gives."""

from yarvel.figures.figure import GEOMETRY, figure
from yarvel.heads import style
from yarvel.heads.field import HeadField
from yarvel.heads import wire_basket
from yarvel.heads.claws import CLAW
from yarvel.heads.wire_basket import clawed, seams, shape, suits

STYLE, LABEL, STANDS_ON, COMES = "petal-basket", "Petal basket", style.CLAWS, style.OF_WIRE
OWN = (HeadField(name="petal_mm", label="Petal", figure="head.petal"),)
FIELDS = (*wire_basket.FIELDS, "petal_mm")


@figure("head.petal", "Petal at the foot", "mm", "1.4·w", GEOMETRY, claw="w", shown_in="head")
def petal_mm(claw):
    """Width in mm of a petal, where none is given."""
    return 1.4 * claw


def begin(ledger, choice, facts, rules):
    """A basket's, and the petal."""
    made = wire_basket.begin(ledger, choice, facts, rules)
    if choice.own["petal_mm"] is None:
        ledger.enter(petal_mm, ledger.value(CLAW))
    else:
        ledger.given(petal_mm, "Petal at the foot", "mm", choice.own["petal_mm"], "chosen", shown_in="head")
    return made
'''
PLANNED = """
import json, sys
from pathlib import Path
from PySide6.QtWidgets import QApplication
from yarvel.app import open_window, prepare_store
from yarvel.exchange.job_file import read_job
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.plan import plan
from yarvel.route.diagnostics import all_diagnostics
from yarvel.route.running import route_of

job = {
    "format": "yarvel-job/1",
    "stone": {"cut": "round", "species": "iolite", "diameters_mm": [6.3, 6.35], "depth_mm": 3.9},
    "head": {"style": "petal-basket", "claws": 4, "petal_mm": 1.55},
    "shank": {"size": {"system": "ISO", "value": "53"}},
}
Path("job.json").write_text(json.dumps(job))
made = plan(read_job(Path("job.json"), HouseRules()), HouseRules())
route = route_of(made)
PETAL = FigureKey("head.petal")
assert made[PETAL] == 1.55 and "head" in plan_document(made)
kinds = [step.operation.kind.key for step in route.steps]
assert "bend-u" in kinds and "close-claws" in kinds and not [step for step in route.steps if step.unmet]
application = QApplication([])
prepare_store(Path("a.sqlite"), demo="small")
window = open_window(application, Path("a.sqlite"))
window.show()
session = window.session
session.patch({"head": {"style": "petal-basket"}}, "Another style")
station = window.run.stations[2]
window.run.open_station(2)
application.processEvents()
assert station.numbers["head.petal_mm"].isVisible() and PETAL in session.plan.figures
session.enter_text("head.petal_mm", "1.6", "Petal")
assert session.plan[PETAL] == 1.6
session.type_over("head.petal", "1.7")
assert session.document["head"]["petal_mm"] == 1.7
session.patch({"head": {"style": "wire-basket"}}, "Back")
application.processEvents()
assert not station.numbers["head.petal_mm"].isVisible()
print("planned", flush=True)
import os
os._exit(0)
"""


def test_a_style_with_a_field_of_its_own_is_one_module_and_one_line(copy: Path) -> None:
    """Its module, the register, the job's schema: the window shows its field, types over its figure, and it is made."""
    (copy / "heads/petal_basket.py").write_text(STYLE)
    register = copy / "heads/styles.py"
    text = register.read_text().replace("paired_corner, tapered_collet", "paired_corner, petal_basket, tapered_collet")
    register.write_text(
        text.replace(
            "    bought.STYLE: bought,\n", "    bought.STYLE: bought,\n    petal_basket.STYLE: petal_basket,\n"
        )
    )
    put(
        copy / "planning/job.py",
        "    made: MadeJob | None = None",
        "    petal_mm: Annotated[float, Between(0.3, 5)] | None = None\n",
    )
    assert "planned" in run(copy, PLANNED)
