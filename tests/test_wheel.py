"""What a plain install gets: a wheel, built here, installed elsewhere, and what it wants of its dependencies."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import sysconfig
import tomllib
import venv
from pathlib import Path

import pytest
from packaging.requirements import Requirement

TOP = Path(__file__).parents[1]
PROJECT = tomllib.loads((TOP / "pyproject.toml").read_text())["project"]
LOCKED = re.compile(r"^([A-Za-z0-9_.-]+)==([^ ]+)(?: ; (.*?))? \\$", re.MULTILINE)


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The prefix of an installation from a wheel."""
    folder = tmp_path_factory.mktemp("wheel")
    build = [sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(folder)]
    subprocess.run(build, cwd=TOP, check=True, capture_output=True)
    (wheel,) = folder.glob("*.whl")
    prefix = folder / "installed"
    venv.create(prefix)
    (packages,) = prefix.glob("lib/python*/site-packages")
    (packages / "shared.pth").write_text(sysconfig.get_path("purelib"))  # the locked dependencies, as they are here
    pip = [sys.executable, "-m", "pip", "--python", str(prefix / "bin/python"), "install", "--quiet"]
    subprocess.run([*pip, "--no-deps", "--no-index", "--ignore-installed", str(wheel)], check=True, capture_output=True)
    return prefix


def run(prefix: Path, *arguments: str) -> str:
    """Python as it finds Yarvel in this prefix, away from the checkout."""
    held = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    program = str(prefix / "bin/python")
    done = subprocess.run([program, *arguments], cwd=prefix, env=held, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    return done.stdout


def test_a_wheel_plans_stores_and_draws_elsewhere(installed: Path) -> None:
    """A job planned and printed, a store made by its own migrations, with its fonts and icons."""
    where = run(installed, "-c", "import yarvel; print(yarvel.__file__)")
    assert where.strip().startswith(str(installed))
    job = {
        "format": "yarvel-job/1",
        "stone": {"cut": "round", "species": "iolite", "diameters_mm": [6.3, 6.35], "depth_mm": 3.9},
        "shank": {"size": {"system": "ISO", "value": "53"}},
    }
    (installed / "job.json").write_text(json.dumps(job))
    document = json.loads(run(installed, "-m", "yarvel.cli", "plan", "job.json"))
    assert document["format"] == "yarvel-plan/1" and document["route"]
    run(installed, "-m", "yarvel.cli", "sheet", "job.json", "-o", "sheet.pdf")
    assert (installed / "sheet.pdf").read_bytes().startswith(b"%PDF")
    made = "from yarvel.workshop.store import Store; print(Store('a.sqlite').new_docket(item='ring').number)"
    assert re.fullmatch(r"\d\d-0001", run(installed, "-c", made).strip())


def test_what_a_team_needs_is_in_the_wheel(installed: Path) -> None:
    assert (installed / "share/yarvel/team.sql").read_text() == (TOP / "share/team.sql").read_text()
    assert (installed / "share/applications/org.yarvel.Yarvel.desktop").exists()


def test_what_is_tested_is_what_a_plain_install_gets() -> None:
    """Every dependency has an upper bound, and what is locked lies within its bounds."""
    locked: dict[str, list[str]] = {}
    for name, version, _ in LOCKED.findall((TOP / "requirements.lock").read_text()):
        locked.setdefault(name.lower(), []).append(version)
    for text in PROJECT["dependencies"]:
        wanted = Requirement(text)
        assert any(bound.operator in ("<", "<=", "==", "~=") for bound in wanted.specifier), text
        for version in locked[wanted.name.lower()]:
            assert wanted.specifier.contains(version), (text, version)
