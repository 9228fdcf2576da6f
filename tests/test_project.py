"""What a fresh machine gets: the make targets, the set-up script, desktop files, documents."""

from __future__ import annotations

import ast
import configparser
import os
import re
import stat
import struct
import subprocess
from pathlib import Path
from xml.etree import ElementTree

import pytest

from tests.patience import GIVE_UP_S
from tests.sources import nodes

TOP = Path(__file__).parents[1]


def fake(folder: Path, name: str, script: str) -> None:
    """A command of this name that stands before the real one."""
    path = folder / name
    path.write_text(f"#!/bin/sh\n{script}\n")
    path.chmod(path.stat().st_mode | stat.S_IXUSR)


@pytest.fixture
def fresh(tmp_path: Path) -> Path:
    """A checkout with the set-up script and nothing set up, and a folder of stand-in commands."""
    (tmp_path / "tools").mkdir()
    (tmp_path / "bin").mkdir()
    (tmp_path / "tools" / "setup.sh").write_text((TOP / "tools" / "setup.sh").read_text())
    (tmp_path / "requirements.lock").write_text("one==1.0\n")
    (tmp_path / "pyproject.toml").write_text("[project]\n")
    return tmp_path


def set_up(fresh: Path, **changed: str) -> subprocess.CompletedProcess[str]:
    path = f"{fresh / 'bin'}:{os.environ['PATH']}"
    return subprocess.run(
        ["sh", "tools/setup.sh"],
        cwd=fresh,
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "PATH": path, **changed},
        timeout=GIVE_UP_S,
    )


def test_missing_libraries_are_named_before_apt_installs_them(fresh: Path) -> None:
    log = fresh / "apt.log"
    fake(
        fresh / "bin",
        "dpkg-query",
        'case "$*" in *libxcb-icccm4*|*libxcb-keysyms1*) exit 1;; *) echo "install ok installed";; esac',
    )
    fake(fresh / "bin", "id", "echo 0")
    fake(fresh / "bin", "apt-get", f'echo "$@" >> {log}')
    for name in ("python3.11", "python3.12", "python3.13", "python3.14"):
        fake(fresh / "bin", name, "exit 1")
    fake(fresh / "bin", "python3", 'case "$*" in *version_info*) exit 1;; *) exit 0;; esac')
    done = set_up(fresh)
    assert "installing system packages with apt: libxcb-icccm4 libxcb-keysyms1" in done.stderr
    assert log.read_text().splitlines() == [
        "update -qq",
        "install -y -qq --no-install-recommends libxcb-icccm4 libxcb-keysyms1",
    ]
    assert "Python 3.11 or newer is needed" in done.stderr


def test_where_apt_cannot_be_used_one_line_says_what_to_install(fresh: Path) -> None:
    fake(fresh / "bin", "dpkg-query", 'case "$*" in *xvfb*) exit 1;; *) echo "install ok installed";; esac')
    fake(fresh / "bin", "id", "echo 1000")
    fake(fresh / "bin", "sudo", "exit 1")
    done = set_up(fresh)
    assert done.returncode == 1
    assert "Install these packages yourself, then run make again: xvfb" in done.stderr


def test_a_second_run_has_nothing_to_do(fresh: Path) -> None:
    fake(fresh / "bin", "dpkg-query", 'echo "install ok installed"')
    fake(fresh / "bin", "apt-get", "exit 9")
    ready = fresh / ".venv" / "bin"
    ready.mkdir(parents=True)
    fake(ready, "python", "exit 9")
    fake(ready, "yarvel", "exit 9")
    (fresh / ".venv" / ".locked").write_text("one==1.0\n")
    (fresh / ".venv" / ".project").write_text("")
    done = set_up(fresh)
    assert (done.returncode, done.stderr) == (0, "")
    (fresh / "requirements.lock").write_text("one==1.1\n")
    assert "installing the locked Python packages" in set_up(fresh).stderr


def test_every_target_is_there_and_ci_calls_the_tests() -> None:
    makefile = (TOP / "Makefile").read_text()
    for target in ("demo", "test", "lint", "bench", "screenshots", "setup"):
        assert re.search(rf"^{target}:", makefile, re.MULTILINE), target
    assert "make test" in (TOP / ".ci" / "run").read_text()
    assert os.access(TOP / ".ci" / "run", os.X_OK)


def test_desktop_file_and_metainfo_belong_together() -> None:
    desktop = configparser.ConfigParser(interpolation=None)
    desktop.optionxform = str  # type: ignore[assignment,method-assign]
    desktop.read(TOP / "share" / "org.yarvel.Yarvel.desktop")
    assert desktop["Desktop Entry"]["Exec"] == "yarvel"
    root = ElementTree.parse(TOP / "share" / "org.yarvel.Yarvel.metainfo.xml").getroot()
    assert root.findtext("launchable") == "org.yarvel.Yarvel.desktop"
    assert root.findtext("id") == desktop["Desktop Entry"]["Icon"]


def test_pictures_are_of_the_size_asked_for_and_shown_in_the_readme() -> None:
    readme = (TOP / "README.md").read_text()
    pictures = sorted((TOP / "docs" / "screenshots").glob("*.png"))
    assert 5 <= len(pictures) < 20
    for picture in pictures:
        width, _ = struct.unpack(">II", picture.read_bytes()[16:24])
        assert 1100 <= width <= 1500
        assert picture.name in readme


def test_links_between_documents_lead_somewhere() -> None:
    for document in [TOP / "README.md", TOP / "CONTRIBUTING.md", *(TOP / "docs").rglob("*.md")]:
        for target in re.findall(r"\]\(([^)#]+)\)", document.read_text()):
            if "://" not in target:
                assert (document.parent / target).exists(), (document.name, target)


def test_modules_and_functions_keep_to_the_house_sizes() -> None:
    for path in (TOP / "src").rglob("*.py"):
        text = path.read_text()
        assert len(text.splitlines()) <= 600, path
        for node in nodes(path):
            if isinstance(node, ast.FunctionDef):
                assert (node.end_lineno or 0) - node.lineno < 60, (path.name, node.name)
            if isinstance(node, ast.ClassDef):
                assert sum(isinstance(child, ast.FunctionDef) for child in node.body) <= 20, (path.name, node.name)


def test_nothing_in_the_desk_is_of_any_type_but_at_qts_edges() -> None:
    """A misspelt method of the store does not pass mypy: what has no type has it where Qt hands it over."""
    for path in (TOP / "src/yarvel/desk").rglob("*.py"):
        if path.relative_to(TOP / "src/yarvel/desk").as_posix() != "drawer/table.py":  # a model of Qt
            assert not re.search(r"^(from|import) .*\bAny\b", path.read_text(), re.MULTILINE), path.name


SQL_CLOCK = re.compile(r"\bnow\(\)|\b(local|current_)timestamp\b|\bcurrent_(date|time)\b|'now'", re.IGNORECASE)
"""What a database would answer by a clock of its own."""
CLOCKS = ("src/yarvel/workshop/storage/migrations/", "src/yarvel/clock.py")
"""Frozen history, and the clock itself."""


def test_no_text_asks_a_database_what_time_it_is() -> None:
    """Calls in Python are ruff's matter (the banned names in pyproject.toml); this is what it cannot see."""
    found = []
    for folder in ("src", "tests", "bench", "tools"):
        for path in (TOP / folder).rglob("*.py"):
            name = path.relative_to(TOP).as_posix()
            if name.startswith(CLOCKS) or path == Path(__file__):
                continue
            if not SQL_CLOCK.search(path.read_text()):
                continue
            for node in nodes(path):
                if isinstance(node, ast.Constant) and isinstance(node.value, str) and SQL_CLOCK.search(node.value):
                    found.append(f"{name}:{node.lineno}")
    assert found == []


def test_no_test_sleeps() -> None:
    """Waits end with the event that they wait for; a pause is too long on most machines and too short on some."""
    slept = re.compile(r"\bsleep\(|\bqWait\(|bot\.wait\(")
    tests = [path for path in (TOP / "tests").rglob("*.py") if path != Path(__file__)]
    assert [path.name for path in tests if slept.search(path.read_text())] == []


def test_records_are_made_by_name() -> None:
    """Nobody counts which of nine positions is which: more than five values of a record are named where it is made."""
    found = []
    for folder in ("src", "tests", "bench", "tools"):
        for path in (TOP / folder).rglob("*.py"):
            if "versions" in path.parts:
                continue
            for node in nodes(path):
                if (
                    isinstance(node, ast.Call)
                    and len(node.args) > 5
                    and not any(isinstance(a, ast.Starred) for a in node.args)
                ):
                    name = node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
                    if name.lstrip("_")[:1].isupper() and not name.endswith(WIDGETS):
                        found.append(f"{path.relative_to(TOP)}:{node.lineno}: {name}")
    assert found == []


FROM_ROWS = {"Stone", "StockItem", "Species", "OpenDocket", "MetalBalance", "Balance", "ChartedDocket"}
"""Records that are made of rows as they are read, column for column."""


def test_large_records_take_names_only() -> None:
    found = []
    for path in (TOP / "src").rglob("*.py"):
        for node in nodes(path):
            if isinstance(node, ast.ClassDef) and node.name not in FROM_ROWS:
                made = [word for base in node.decorator_list for word in getattr(base, "keywords", [])] + node.keywords
                record = any(ast.unparse(base) == "Struct" for base in node.bases) or any(
                    ast.unparse(base).startswith("dataclass") for base in node.decorator_list
                )
                fields = [
                    part
                    for part in node.body
                    if isinstance(part, ast.AnnAssign) and "ClassVar" not in ast.unparse(part.annotation)
                ]
                if record and len(fields) > 5 and not any(word.arg == "kw_only" for word in made):
                    found.append(f"{path.relative_to(TOP)}:{node.lineno}: {node.name}")
    assert found == []


def test_a_string_explains_the_constant_above_it_or_says_which() -> None:
    """A blank line sets off what it explains; where it is of several, it names them."""
    found = []
    for path in (TOP / "src").rglob("*.py"):
        if "versions" in path.parts:
            continue
        for block in [node for node in nodes(path) if isinstance(node, ast.Module | ast.ClassDef)]:
            for before, above, text in zip(block.body, block.body[1:], block.body[2:], strict=False):
                if not isinstance(text, ast.Expr) or not isinstance(text.value, ast.Constant):
                    continue
                constants = isinstance(before, ast.Assign | ast.AnnAssign) and isinstance(
                    above, ast.Assign | ast.AnnAssign
                )
                beside = constants and above.lineno - (before.end_lineno or 0) == 1
                if beside and not str(text.value.value).startswith("``"):
                    found.append(f"{path.relative_to(TOP)}:{text.lineno}")
    assert found == []


WIDGETS = ("Window", "View", "DocketStore", "RandomHand")
"""What is no record but has its parts handed to it by the place that puts them together."""


def test_what_is_sought_is_there_or_told_to_be_missing() -> None:
    """``next`` without a default ends the loop that it stands in where there is nothing: ``first_of`` says so."""
    found = []
    for path in (TOP / "src").rglob("*.py"):
        for node in nodes(path):
            if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "next" and len(node.args) == 1:
                found.append(f"{path.relative_to(TOP)}:{node.lineno}")
    assert found == []
