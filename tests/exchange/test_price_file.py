"""Metal prices from a file: read, refused, dated, and written by a made-up feed in a process of its own."""

from __future__ import annotations

import json
import subprocess
import sys
from datetime import date, datetime
from pathlib import Path

import pytest

from tests.patience import GIVE_UP_S
from yarvel.exchange.price_file import FORMAT, Prices, read_prices, write_prices
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules, WorkshopData, changed_rules, rules_from
from yarvel.metals.alloys import ALLOYS
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.money.estimate import Estimate, is_stale, price_text

AT = datetime(2031, 4, 9, 8, 30)


def test_an_alloy_costs_what_its_elements_cost(tmp_path: Path) -> None:
    """Three quarters gold is three quarters of gold's price and more; one without its palladium has none."""
    path = tmp_path / "prices.json"
    write_prices(Prices(AT, {"Au": 80.0, "Ag": 1.0}), path)
    held = read_prices(path)
    assert held == Prices(AT, {"Au": 80.0, "Ag": 1.0})
    yellow, white = ALLOYS["18k-yellow"], ALLOYS["18k-white"]
    expected = 80 * yellow.parts["Au"] + yellow.parts.get("Ag", 0.0)
    assert held.of(yellow) == pytest.approx(expected) and 60 <= expected < 61
    assert held.of(white) is None, "it holds palladium"
    assert held.of(ALLOYS["sterling-silver"]) == pytest.approx(0.925)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "is no JSON"),
        ("[]", "is no price file"),
        (json.dumps({"format": FORMAT, "at": "yesterday", "per_g": {}}), "is no moment"),
        (json.dumps({"format": FORMAT, "at": "2031-04-09", "per_g": {"Au": -1}}), "is no price"),
        (json.dumps({"format": FORMAT, "at": "2031-04-09", "per_g": {"Xx": 1}}), "is no price"),
        (json.dumps({"format": FORMAT, "at": "2031-04-09", "per_g": {"Au": "80"}}), "is no price"),
    ],
)
def test_what_is_no_price_file_is_refused(tmp_path: Path, text: str, said: str) -> None:
    path = tmp_path / "prices.json"
    path.write_text(text)
    with pytest.raises(JobError, match=said):
        read_prices(path)
    with pytest.raises(JobError, match="a price file that can be read"):
        read_prices(tmp_path / "none.json")


def test_the_day_of_the_prices_is_kept_and_told() -> None:
    rules = HouseRules(custom=WorkshopData(alloys=(("18k-yellow", "price_per_g", 60.0),), prices_on="2031-04-01"))
    assert rules_from(changed_rules(rules)) == rules
    with pytest.raises(JobError, match="a day such as"):
        rules_from({"prices_on": "soon"})
    assert (
        not is_stale("2031-04-01", "2031-04-08") and is_stale("2031-04-01", "2031-04-09") and is_stale("", "2031-04-09")
    )
    made = Estimate(minutes=60.0, labour=80.0, metal=120.0, unpriced=(), prices_on="2031-04-01")
    docket = Docket(
        id=1,
        number="31-0001",
        customer="",
        item="",
        promised_on=None,
        state="taken in",
        job_document={},
        drafts={},
        ticks=(),
        version=1,
        created_at=AT,
        updated_at=AT,
        estimate=made.kept(date(2031, 4, 20)),
    )
    assert "metal at prices of 2031-04-01 (stale)" in price_text(docket, HouseRules())


def test_a_feed_writes_whole_files(tmp_path: Path) -> None:
    """Prices wander from line to line; what is read between is always a whole file."""
    path = tmp_path / "prices.json"
    command = [sys.executable, "-m", "yarvel.cli", "simulate", "prices", "--link", str(path)]
    feed = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
    assert feed.stdin is not None and feed.stdout is not None
    seen = []
    for _ in range(3):
        assert "written" in feed.stdout.readline()
        seen.append(read_prices(path).per_g["Au"])
        feed.stdin.write("\n")
        feed.stdin.flush()
    feed.stdin.close()
    assert feed.wait(GIVE_UP_S) == 0
    feed.stdout.close()
    assert len(set(seen)) == 3 and max(seen) / min(seen) < 1.1
    refused = subprocess.run(command[:-1] + [str(tmp_path / "no/where.json")], input="", capture_output=True, text=True)
    assert refused.returncode == 2 and "can be written to" in refused.stderr
