"""House rules: in one place, within their ranges, stored only where changed."""

from __future__ import annotations

import pytest

from yarvel.figures.errors import JobError
from yarvel.figures.rules import RULES, HouseRules, changed_rules, rules_from


def test_defaults_lie_within_their_ranges_and_name_their_origin() -> None:
    for info in RULES:
        assert info.low <= info.default <= info.high, info.name
        assert info.origin in ("common practice", "from memory")


def test_the_handbooks_common_practice() -> None:
    """Common practice of the trade, no source."""
    rules = HouseRules()
    assert (rules.first_cut_ratio, rules.notch_target, rules.notch_caution, rules.notch_stop, rules.notch_least) == (
        0.25,
        0.33,
        0.40,
        0.50,
        0.20,
    )
    assert (rules.ring_drop_mm, rules.ring_hidden_mm, rules.culet_clearance_mm) == (0.5, 0.15, 0.3)


def test_only_changes_are_kept_and_come_back() -> None:
    rules = rules_from({"splay_deg": 9.0})
    assert changed_rules(rules) == {"splay_deg": 9.0}
    assert rules_from(changed_rules(rules)) == rules
    assert changed_rules(HouseRules()) == {}


def test_what_is_no_rule_or_out_of_range_is_refused_by_name() -> None:
    with pytest.raises(JobError) as caught:
        rules_from({"splay_deg": 80.0, "shine": 1.0})
    told = str(caught.value)
    assert "rules.splay_deg: 80 is outside its range: 0 to 30 °" in told
    assert "rules.shine: no such house rule" in told
