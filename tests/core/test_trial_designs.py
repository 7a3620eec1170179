"""What each order can show is what was simulated: the table is that of docs/validation.md, and simulates so again."""

import re
from pathlib import Path

import pytest

from chirotend.core.prove.trials import told_better
from chirotend.core.trial.designs import DAYS, trial_designs

ROOT = Path(__file__).parents[2]


def test_the_table_is_the_simulated_one():
    text = (ROOT / "docs/validation.md").read_text(encoding="utf-8").partition("## Trials")[2].partition("\n## ")[0]
    found = {}
    for order, cells in re.findall(r"^\| (phases|again|pairs|turn) \| (.*) \|$", text, re.M):
        either = [float(cell.split(" · ")[1].rstrip("%")) for cell in cells.split(" | ")]
        found[order] = (max(either[:5]), *either[5:])
    assert found == {d.order: (d.nothing, d.recovering, d.one, d.two) for d in trial_designs()}


@pytest.mark.parametrize("design", trial_designs(), ids=lambda d: d.order)
def test_it_simulates_so_again(design):
    """Within four standard deviations of 200 trials."""
    again = 100 * told_better(design.order, "resembling by .3", 200, gain=1.0, days=DAYS)[1]
    assert again == pytest.approx(design.one, abs=4 * (design.one * (100 - design.one) / 200) ** 0.5)
    assert sorted(set(design.example)) == ["A", "B"] and len(design.example) == DAYS
